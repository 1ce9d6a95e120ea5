"""Rotations in the corners: gimbal lock, fast spins, and what lies under mirrored, unevenly scaled
and turned parents."""

from __future__ import annotations

import itertools
from collections import Counter

import numpy as np
import pytest
from scipy.spatial.transform import Rotation

from bindu.core.curves.model import Key
from bindu.core.edits import AnyEdit, applied
from bindu.core.edits.channels import SetValue
from bindu.core.edits.keys import PutKeys
from bindu.core.edits.parts import AddPart
from bindu.core.edits.scene import ChangeScene
from bindu.core.edits.steps import AddStep
from bindu.core.evaluation import Evaluation
from bindu.core.geometry.angles import nearest_angles, shown_angles
from bindu.core.geometry.looking import looking, looking_all_along
from bindu.core.geometry.rotation import angles_quaternion, mean_rotation
from bindu.core.geometry.turning import shortest_turn
from bindu.core.scene.channels import AXES, TRANSFORM_CHANNELS, ChannelRef
from bindu.core.scene.model import Scene
from bindu.core.scene.settings import (
    AimSettings,
    ConstraintSettings,
    FollowSettings,
    GivenSettings,
    LimitSettings,
    Space,
    SpaceSettings,
    Target,
)
from tests.core import rigs
from tests.core.troubles import troubles

ORDERS = tuple("".join(order) for order in itertools.permutations("xyz"))


def keyed(part: str, channel: str, *values: float, last: float = 6.0) -> PutKeys:
    """Linear keys at even distances."""
    frames = np.linspace(0.0, last, len(values))
    keys = (Key(float(f), float(v), "linear") for f, v in zip(frames, values, strict=True))
    return PutKeys(part, channel, tuple(keys))


def shown(made: Evaluation, part: str, tap: str) -> rigs.Matrix:
    """A part's nine channels on all frames at a tap."""
    frames = len(made.times.frames)
    found = [made.channel(ChannelRef(part, c), tap) for c in TRANSFORM_CHANNELS]  # type: ignore[arg-type]
    return np.stack([np.broadcast_to(values, frames) for values in found], axis=1)


@pytest.mark.parametrize("order", ORDERS)
def test_angles_are_those_of_the_rotation_and_go_on_from_each_other(order: str) -> None:
    random = np.random.default_rng(3)
    steps = random.normal(size=(400, 3)) * 25.0
    way = np.cumsum(steps, axis=0)
    axes = ["xyz".index(axis) for axis in order]
    way[100:140, axes[1]] = 90.0  # through the lock, and standing in it
    way[200:220, axes[1]] = -90.0
    turns = angles_quaternion(way, order)  # type: ignore[arg-type]
    found = nearest_angles(turns, order, way[0])  # type: ignore[arg-type]
    back = Rotation.from_euler(order, found[:, axes], degrees=True)
    assert (back.inv() * Rotation.from_quat(turns)).magnitude().max() < 1e-12
    # No other way to write a frame's angles is nearer to the frame before.
    other = found.copy()
    other[:, axes] = found[:, axes] * (1.0, -1.0, 1.0) + 180.0
    for before, now, turned in zip(found, found[1:], other[1:], strict=False):
        apart = turned - before - 360.0 * np.round((turned - before) / 360.0)
        assert np.sum((now - before) ** 2) <= np.sum(apart**2) + 1e-6
    locked, _ = shown_angles(turns[99:140], way[99:100], order)  # type: ignore[arg-type]
    outer = [axes[0], axes[2]]
    kept = np.diff(locked[1:, outer], axis=0)
    # At the lock only the sum, or the difference, of the outer angles is given; what it does not
    # say stays as it was.
    assert np.abs(np.abs(kept[:, 0]) - np.abs(kept[:, 1])).max() < 1e-9


def test_a_step_without_weight_changes_no_angle() -> None:
    """Through the lock, with spins of several turns a frame, in every order."""
    random = np.random.default_rng(8)
    for n, order in enumerate(ORDERS * 4):
        edits: list[AnyEdit] = [
            ChangeScene(first=0, last=6),
            AddPart("still", id="p1"),
            AddPart("spun", id="p2", rotation_order=order),  # type: ignore[arg-type]
        ]
        size = 2000.0 if n % 2 else 200.0
        for axis in AXES:
            edits.append(keyed("p2", f"rotation.{axis}", *random.uniform(-size, size, 4)))
        if n % 3 == 0:
            edits.append(keyed("p2", f"rotation.{order[1]}", 0.0, 90.0, 90.0, 270.0))
        settings = ConstraintSettings((Target("p1"),), kind="rotation")
        edits += [AddStep("p2", "none", settings, id="s1"), SetValue("p2", "s1.weight", 0.0)]
        made = rigs.evaluated(applied(Scene(), edits))
        np.testing.assert_array_equal(shown(made, "p2", "final"), shown(made, "p2", "driven"))


def test_the_pose_at_the_lock_is_not_turned_by_a_limit() -> None:
    edits: list[AnyEdit] = [
        ChangeScene(first=0, last=6),
        AddPart("still", id="p1"),
        AddPart("turned", id="p2"),
        SetValue("p2", "rotation.x", 100.0),
        keyed("p2", "rotation.y", 0.0, 180.0),
        SetValue("p2", "rotation.z", 95.0),
        AddStep("p2", "none", ConstraintSettings((Target("p1"),), kind="rotation"), id="s1"),
        SetValue("p2", "s1.weight", 0.0),
        AddStep("p2", "limit", LimitSettings("rotation.z", -100.0, 100.0)),
    ]
    made = rigs.evaluated(applied(Scene(), edits))
    assert rigs.group(made, "p2", "rotation", 3, "final") == pytest.approx([100.0, 90.0, 95.0])


def _under(random: np.random.Generator, seen: Counter[str]) -> tuple[list[AnyEdit], str]:
    """A parent, itself under another, of which some are mirrored, uneven or turned; counts what
    it draws."""
    edits: list[AnyEdit] = [ChangeScene(first=0, last=6)]
    for n, above in ((1, None), (2, "p1")):
        edits.append(AddPart(f"above {n}", above, id=f"p{n}"))
        edits += [keyed(f"p{n}", f"rotation.{a}", *random.uniform(-170, 170, 3)) for a in AXES]
        edits += [keyed(f"p{n}", f"translation.{a}", *random.uniform(-3, 3, 2)) for a in AXES]
        sizes = random.uniform(0.4, 2.5, 3)
        if random.random() < 0.5:
            sizes[:] = sizes[0]
        else:
            seen["uneven"] += 1
        signs = random.choice([-1.0, 1.0, 1.0], 3)
        seen["mirrored"] += int(np.prod(signs) < 0)
        edits += [
            keyed(f"p{n}", f"scale.{a}", float(s * g), float(s * g * 1.3))
            for a, s, g in zip(AXES, sizes, signs, strict=True)
        ]
    return edits, "p2"


def _child(
    random: np.random.Generator, name: str, parent: str, part: str, pose: rigs.Matrix | None = None
) -> tuple[list[AnyEdit], rigs.Matrix]:
    """A part with keys; with ``pose`` with the same ones as another."""
    if pose is None:
        pose = random.uniform(-150, 150, (9, 3))
        pose[:3] /= 50.0
        pose[6:] = random.uniform(0.5, 2.0, (3, 1)) * random.choice([-1.0, 1.0, 1.0], (3, 1))
    edits: list[AnyEdit] = [AddPart(name, parent, id=part)]
    edits += [keyed(part, c, *pose[n]) for n, c in enumerate(TRANSFORM_CHANNELS)]
    return edits, pose


def _nothing(kind: str, target: str, parent: str) -> GivenSettings:
    """A step that should do nothing to a part posed as its target is."""
    targets = (Target(target),)
    if kind == "space":
        return SpaceSettings(("", "0", target))
    if kind == "space of the parent":
        return SpaceSettings((parent, "0"))
    if kind == "follow":
        return FollowSettings(("translation", "rotation", "scale"))
    for name in ("rotation", "scale", "full", "position"):
        if kind == name:
            return ConstraintSettings(targets, kind=name)  # type: ignore[arg-type]
    if kind == "one axis":
        space = Space("part", parent)
        return ConstraintSettings(targets, ("y",), kind="rotation", read=space, write=space)
    local = Space("local")
    axes = ("x", "y", "z") if kind == "local" else ("y",)
    return ConstraintSettings(targets, axes, read=local, write=local, kind="rotation")  # type: ignore[arg-type]


@pytest.mark.parametrize(
    "kind",
    ["space", "space of the parent", "follow", "rotation", "scale", "full", "position", "local",
     "local axis", "one axis"],
)  # fmt: skip
@pytest.mark.parametrize("weight", [1.0, 0.0, 0.4])
def test_what_should_do_nothing_does_nothing_under_any_parent(kind: str, weight: float) -> None:
    random = np.random.default_rng(17)
    seen: Counter[str] = Counter()
    for _ in range(6):
        edits, parent = _under(random, seen)
        target, pose = _child(random, "target", parent, "p3")
        owner, _ = _child(random, "owner", parent, "p4", pose)
        step = AddStep("p4", "step", _nothing(kind, "p3", parent), id="s1")
        scene = applied(Scene(), [*edits, *target, *owner, step])
        scene = applied(scene, [SetValue("p4", "s1.weight", weight)])
        made = rigs.evaluated(scene)
        np.testing.assert_allclose(
            shown(made, "p4", "final"), shown(made, "p4", "driven"), atol=1e-9, rtol=0
        )
    assert seen["uneven"] >= 4 and seen["mirrored"] >= 4, seen


def test_one_axis_read_and_written_locally_is_the_channel_itself() -> None:
    local = Space("local")
    for angles, wanted in (((100.0,) * 3, 100.0), ((20.0, 500.0, -700.0), 500.0)):
        edits: list[AnyEdit] = [AddPart("helper", id="p1"), AddPart("owner", id="p2")]
        edits += [SetValue("p1", f"rotation.{a}", v) for a, v in zip(AXES, angles, strict=True)]
        edits += [SetValue("p1", "scale.x", -1.0), SetValue("p2", "rotation.x", 33.0)]
        settings = ConstraintSettings((Target("p1"),), ("y",), read=local, write=local,
                                      kind="rotation")  # fmt: skip
        made = rigs.evaluated(applied(Scene(), [*edits, AddStep("p2", "hinge", settings)]))
        found = rigs.rotation(made, "p2", 0, "final")
        assert rigs.apart(found, rigs.turned(np.array([33.0, wanted, 0.0]), "xyz")) < 1e-12


def test_an_aim_meets_its_target_whatever_the_scale_above() -> None:
    random = np.random.default_rng(23)
    seen: Counter[str] = Counter()
    for n in range(40):
        edits, parent = _under(random, seen)
        owner: list[AnyEdit] = [AddPart("owner", parent, id="p4"), AddPart("seen", id="p5")]
        owner += [keyed("p5", f"translation.{a}", *random.uniform(-9, 9, 3)) for a in AXES]
        axis = tuple(float(v) for v in random.normal(size=3))
        up = ("none", "direction")[n % 2]
        settings = AimSettings((Target("p5"),), axis, (0.3, 1.0, -0.2), up)  # type: ignore[arg-type]
        made = rigs.evaluated(applied(Scene(), [*edits, *owner, AddStep("p4", "look", settings)]))
        for frame in range(7):
            place = rigs.world(made, "p4", frame)
            looks = place[:3, :3] @ axis
            wanted = rigs.world(made, "p5", frame)[:3, 3] - place[:3, 3]
            turn = np.cross(looks / np.linalg.norm(looks), wanted / np.linalg.norm(wanted))
            assert np.linalg.norm(turn) < 1e-9 and looks @ wanted > 0.0
    assert seen["uneven"] >= 30 and seen["mirrored"] >= 20, seen


def test_a_mirror_belongs_to_the_axes_that_the_target_mirrors() -> None:
    """A full constraint to a mirrored target takes its very channels; one to a part under a
    mirrored parent turns x round."""
    edits: list[AnyEdit] = [AddPart("raft", id="p1"), AddPart("target", id="p2")]
    edits += [AddPart("on the raft", "p1", id="p3"), AddPart("owner", id="p4")]
    edits += [SetValue("p2", "scale.y", -2.0), SetValue("p2", "rotation.z", 40.0)]
    edits += [SetValue("p1", "scale.z", -1.0), SetValue("p3", "rotation.y", 30.0)]
    for target, scale in (("p2", (1.0, -2.0, 1.0)), ("p3", (-1.0, 1.0, 1.0))):
        settings = ConstraintSettings((Target(target),), kind="full")
        made = rigs.evaluated(applied(Scene(), [*edits, AddStep("p4", "with", settings)]))
        assert rigs.group(made, "p4", "scale", 0, "final") == pytest.approx(scale)
        np.testing.assert_allclose(made.world("p4"), made.world(target), atol=1e-12)
    turned = ConstraintSettings((Target("p2"),), kind="rotation")
    made = rigs.evaluated(applied(Scene(), [*edits, AddStep("p4", "with", turned)]))
    assert rigs.group(made, "p4", "rotation", 0, "final") == pytest.approx([0.0, 0.0, 40.0])


@pytest.mark.parametrize("kind", ["full", "rotation"])
def test_what_a_shear_loses_is_found(kind: str) -> None:
    edits: list[AnyEdit] = [
        ChangeScene(first=0, last=6),
        AddPart("raft", id="p1"),
        SetValue("p1", "scale.x", 2.0),
        AddPart("mast", "p1", id="p2"),
        keyed("p2", "rotation.z", 0.0, 45.0),
        AddPart("owner", id="p3"),
        AddStep("p3", "with", ConstraintSettings((Target("p2"),), kind=kind), id="s1"),
    ]
    made = rigs.evaluated(applied(Scene(), edits))
    (found,) = [one for one in troubles(made) if "shear" in one.text]
    # At 45 degrees both axes are as long, and the corner is 2·atan(1/2) wide.
    assert (found.part, found.spans[0][0]) == ("p3", 1)
    assert f"{90.0 - np.degrees(2.0 * np.arctan(0.5)):.3g}°" in found.text
    straight = applied(made.scene, [SetValue("p1", g, 2.0) for g in ("scale.y", "scale.z")])
    assert not [one for one in troubles(rigs.evaluated(straight)) if "shear" in one.text]


def test_the_mean_of_rotations_is_the_geodesic_one() -> None:
    random = np.random.default_rng(29)
    for count in (2, 3, 5):
        turns = [Rotation.random(60, random_state=int(random.integers(1e6))) for _ in range(count)]
        near = [Rotation.from_rotvec(t.as_rotvec() * 0.4) for t in turns]
        weights = [random.random(60) for _ in turns]
        found = mean_rotation([t.as_quat() for t in near], weights)
        swapped = mean_rotation([t.as_quat() for t in near[::-1]], weights[::-1])
        for n in range(60):
            wanted = rigs.mean([t[n] for t in near], [float(w[n]) for w in weights])
            assert rigs.apart(Rotation.from_quat(found[n]), wanted) < 1e-10
            assert rigs.apart(Rotation.from_quat(swapped[n]), wanted) < 1e-10
        # Weights that stand still, as most do.
        still = mean_rotation([t.as_quat() for t in near], [one[:1] for one in weights])
        for n in range(60):
            wanted = rigs.mean([t[n] for t in near], [float(w[0]) for w in weights])
            assert rigs.apart(Rotation.from_quat(still[n]), wanted) < 1e-10
    # Two that are 170 degrees apart: an even turn from one to the other, without a pop.
    ends = [
        Rotation.identity().as_quat()[None],
        Rotation.from_euler("z", 170, True).as_quat()[None],
    ]
    shares = np.linspace(0.0, 1.0, 35)
    angles = Rotation.from_quat(mean_rotation(ends, [1.0 - shares, shares])).magnitude()
    assert np.degrees(angles) == pytest.approx(170.0 * shares)


def test_what_looks_at_things_together_with_others_looks_as_it_does_alone() -> None:
    """Ways close by the pole, where the side that up asks for goes over to the opposite one."""
    around = np.linspace(0.0, np.pi, 24)
    aside = np.array([0.3, 1e-3, -1e-5, -0.2])
    directions = np.stack(
        [
            np.stack([np.cos(around), np.sin(around), np.full_like(around, by)], axis=-1)
            for by in aside
        ]
    )
    ups = np.broadcast_to([0.0, 1.0, 0.0], (len(aside), 1, 3))
    axis, up_axis = (0.0, 0.0, 1.0), (1.0, 0.0, 0.0)
    together = looking_all_along(directions, ups, axis, up_axis)
    assert together is not None
    for found, way in zip(together, directions, strict=True):
        alone = looking(way, ups[0], axis, up_axis)
        assert alone is not None
        np.testing.assert_allclose(np.abs(np.sum(found * alone[0], axis=1)), 1.0, atol=1e-12)
        turned = Rotation.from_quat(found)
        np.testing.assert_allclose(
            turned.apply(axis), way / np.linalg.norm(way, axis=1)[:, None], atol=1e-12
        )
        # Never over to the other side from one frame to the next.
        assert (turned[1:] * turned[:-1].inv()).magnitude().max() < np.pi / 2
    # Up says nothing on one frame of one of them: each is to look for itself.
    directions[1, 11] = (0.0, 1.0, 0.0)
    assert looking_all_along(directions, ups, axis, up_axis) is None


def test_the_side_is_less_than_a_quarter_turn_from_where_the_least_turn_carries_it() -> None:
    random, over = np.random.default_rng(17), 0
    axis, up_axis = (1.0, 0.0, 0.0), (0.0, 1.0, 0.0)
    for _ in range(200):
        ways, ups = random.normal(size=(2, 2, 3))
        ways /= np.linalg.norm(ways, axis=1)[:, None]
        found = looking(ways, ups, axis, up_axis)
        assert found is not None
        sides = Rotation.from_quat(found[0]).apply((0.0, 0.0, 1.0))
        across = np.cross(*ways)
        angle = np.arctan2(np.linalg.norm(across), np.dot(*ways))
        carried = Rotation.from_rotvec(angle * across / np.linalg.norm(across)).apply(sides[0])
        assert np.dot(carried, sides[1]) >= -1e-12
        # Up alone would have asked for the opposite one.
        over += bool(np.dot(np.cross(ways[1], ups[1]), sides[1]) < 0.0)
    assert over > 50


def test_the_shortest_turns_of_a_stack_are_what_each_is_by_itself_opposite_ones_too() -> None:
    random = np.random.default_rng(4)
    start, end, about = (random.normal(size=(3, 4, 3)) for _ in range(3))
    end[0] = -2.0 * start[0]
    # Nothing of the axis is across these: another one is taken that is.
    about[0, :2] = start[0, :2]
    start[1, 0], end[2, 0] = 0.0, 0.0
    turns = shortest_turn(start, end, about)
    for place in np.ndindex(3, 4):
        alone = shortest_turn(*(one[place][None] for one in (start, end, about)))[0]
        assert np.array_equal(turns[place], alone)
        if start[place].any() and end[place].any():
            made = Rotation.from_quat(turns[place]).apply(start[place])
            assert made / np.linalg.norm(made) == pytest.approx(
                end[place] / np.linalg.norm(end[place]), abs=1e-12
            )
        else:
            assert turns[place].tolist() == [0.0, 0.0, 0.0, 1.0]
