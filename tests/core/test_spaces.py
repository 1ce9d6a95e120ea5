"""Spaces: handovers without a jump, moved, deleted, mended; pick and carry."""

from __future__ import annotations

from dataclasses import replace

import numpy as np
import pytest

from bindu.core.curves.model import Key
from bindu.core.edits import applied
from bindu.core.edits.keys import PutKeys
from bindu.core.edits.parts import AddPart, RemoveParts
from bindu.core.edits.spaces import (
    KeepPlaces,
    MoveHandover,
    PickAndCarry,
    RemoveHandover,
    SwitchSpace,
)
from bindu.core.edits.steps import AddStep, ChangeStep
from bindu.core.evaluation import Evaluation, evaluate
from bindu.core.placing.handovers import handover_states
from bindu.core.refusal import Refusal
from bindu.core.scene.channels import ChannelRef
from bindu.core.scene.model import Scene
from bindu.core.scene.settings import (
    AimSettings,
    ConstraintSettings,
    PathPoint,
    PathSettings,
    SpaceSettings,
    Target,
)
from tests.core import rigs
from tests.core.troubles import troubles
from tests.wide import cases

SETUPS = cases(12, 60)


def _free_rig(seed: int) -> tuple[np.random.Generator, Scene, list[str]]:
    """A random rig with a space step on p1, and the parts that may be its spaces."""
    random = np.random.default_rng(seed)
    scene = rigs.random_rig(random, 5, scaled=bool(seed % 2))
    others = rigs.free_of(scene, "p1")
    return random, scene, others


def _spaced(scene: Scene, spaces: tuple[str, ...], carries: str = "full") -> Scene:
    return rigs.bound(scene, "p1", SpaceSettings(spaces, carries))  # type: ignore[arg-type]


def _in_space(made: Evaluation, frame: int, space: str) -> rigs.Matrix:
    """The part as it is on a frame, seen from a space."""
    scene = made.scene
    owner = scene.parts["p1"].parent if space == "" else None if space == "0" else space
    outer = rigs.world(made, owner, frame) if owner else np.eye(4)
    return np.linalg.inv(outer) @ rigs.world(made, "p1", frame)


@pytest.mark.parametrize("keep", ["offset", "keys"])
def test_handovers_keep_the_world_place(keep: str) -> None:
    """By the offset, or by keys, the place is that which the space before would have given."""
    checked = 0
    for seed in range(SETUPS):
        random, scene, others = _free_rig(seed)
        if not others:
            continue
        spaces = ("", "0", *others)
        scene = _spaced(scene, spaces)
        order = [str(s) for s in random.permutation(spaces)[:3]]
        for frame, space in zip((2, 4, 5), order, strict=True):
            before = rigs.evaluated(scene)
            scene = SwitchSpace("s1", frame, space, keep).apply(scene)  # type: ignore[arg-type]
            after = rigs.evaluated(scene)
            for n in range(frame if keep == "offset" else 0):
                np.testing.assert_array_equal(after.world("p1")[n], before.world("p1")[n])
            if keep == "offset":
                rigs.near(after.world("p1")[frame], before.world("p1")[frame])
            else:
                places = rigs.group(before, "p1", "translation", frame, "final")
                assert np.isfinite(places).all()
            checked += 1
        states = handover_states(rigs.evaluated(scene), [scene.steps["s1"]])
        if keep == "offset":
            assert not any(state.jumps for state in states)
    assert checked > SETUPS


def test_a_still_part_stays_still_in_a_space_that_carries_it() -> None:
    """Between handovers a part without keys keeps its place as seen from its space."""
    for seed in range(SETUPS):
        random, scene, others = _free_rig(seed)
        if not others:
            continue
        for channel in [c.channel for c in scene.curves if c.part == "p1"]:
            keys = tuple(Key(float(f), float(random.uniform(-9, 9)), "hold") for f in (0,))
            scene = PutKeys("p1", channel, (*keys, Key(3.0, keys[0].value, "hold"))).apply(scene)
            key = Key(float(rigs.LAST), keys[0].value, "hold")
            scene = PutKeys("p1", channel, (key,)).apply(scene)
        scene = _spaced(scene, ("", *others[:1]))
        scene = SwitchSpace("s1", 2, others[0]).apply(scene)
        scene = SwitchSpace("s1", 5, "").apply(scene)
        made = rigs.evaluated(scene)
        carried = [_in_space(made, frame, others[0]) for frame in (2, 3, 4)]
        size = np.linalg.norm(carried[0][:3, 0])
        for place in carried[1:]:
            rigs.near(place[:3, 3], carried[0][:3, 3])
            turned = place[:3, 0] / np.linalg.norm(place[:3, 0])
            rigs.near(turned, carried[0][:3, 0] / size)


@pytest.mark.parametrize("carries", ["position", "rotation"])
def test_only_the_position_or_the_rotation_can_change_its_space(carries: str) -> None:
    for seed in range(cases(14, 60)):
        _, scene, others = _free_rig(seed)
        if not others:
            continue
        scene = _spaced(scene, ("", others[0]), carries)
        before = rigs.evaluated(scene)
        made = rigs.evaluated(SwitchSpace("s1", 3, others[0]).apply(scene))
        for frame in rigs.FRAMES:
            a, b = rigs.world(before, "p1", frame), rigs.world(made, "p1", frame)
            if carries == "position":
                rigs.near(a[:3, :3], b[:3, :3])
            else:
                rigs.near(a[:3, 3], b[:3, 3])
        place = before.world("p1")[3]
        rigs.near(made.world("p1")[3], place)


def _crate() -> Scene:
    """A crate that a davit takes from the quay to the deck, all moving along x."""
    scene = applied(
        Scene(last=20),
        [AddPart("crate", id="p1"), AddPart("davit", id="p2"), AddPart("ferry", id="p3")],
    )
    for part, way in (("p2", 10.0), ("p3", 40.0)):
        keys = (Key(0.0, 0.0, "linear"), Key(20.0, way, "linear"))
        scene = PutKeys(part, "translation.x", keys).apply(scene)
    scene = AddStep("p1", "spaces", SpaceSettings(("0", "p2", "p3")), id="s1").apply(scene)
    scene = SwitchSpace("s1", 5, "p2").apply(scene)
    return SwitchSpace("s1", 10, "p3").apply(scene)


def _x(scene: Scene) -> rigs.Matrix:
    return np.asarray(rigs.evaluated(scene).world("p1")[:, 0, 3])


def _expected(first: int, second: int, last: int = 21) -> rigs.Matrix:
    way = np.zeros(last)
    for frame in range(1, last):
        way[frame] = way[frame - 1] + (0.0 if frame <= first else 0.5 if frame <= second else 2.0)
    return way


def test_a_moved_or_deleted_handover_keeps_all_later_places() -> None:
    scene = _crate()
    rigs.near(_x(scene), _expected(5, 10))
    scene = MoveHandover("s1", 5, 8).apply(scene)
    rigs.near(_x(scene), _expected(8, 10))
    with pytest.raises(Refusal, match="there is a handover on frame 10 already"):
        MoveHandover("s1", 8, 12).apply(scene)
    scene = RemoveHandover("s1", 8).apply(scene)
    rigs.near(_x(scene), _expected(10, 10))


def test_handovers_that_jump_after_an_edit_are_listed_and_mended() -> None:
    scene = _crate()
    moved = PutKeys("p2", "translation.x", (Key(20.0, 30.0, "linear"),)).apply(scene)
    moved = PutKeys("p3", "translation.z", (Key(0.0, 0.0, "hold"), Key(10.0, 3.0, "hold"))).apply(
        moved
    )
    states = {s.frame: s for s in handover_states(rigs.evaluated(moved), [moved.steps["s1"]])}
    # The davit is 5 m farther on frame 5 and on frame 10 too; the deck went 3 m aside.
    assert [s.frame for s in states.values() if s.jumps] == [5, 10]
    assert states[5].metres == pytest.approx(5.0) and states[5].degrees == 0.0
    mended = KeepPlaces("s1").apply(moved)
    assert not any(s.jumps for s in handover_states(rigs.evaluated(mended), [mended.steps["s1"]]))
    with pytest.raises(Refusal, match="no handover jumps"):
        KeepPlaces("s1").apply(mended)


def test_a_blend_goes_smoothly_from_the_old_place_to_the_new() -> None:
    scene = SwitchSpace("s1", 5, "p2", "jump", 4).apply(_crate())
    scene = RemoveHandover("s1", 10).apply(scene)
    davit = np.arange(21) * 0.5
    share = np.clip((np.arange(21) - 5) / 4, 0.0, 1.0)
    share = share * share * (3 - 2 * share)
    rigs.near(_x(scene), share * davit)


def test_pick_and_carry_from_nothing() -> None:
    scene = applied(Scene(last=20), [AddPart("fish", id="p1"), AddPart("beak", id="p2")])
    scene = PutKeys("p2", "translation.y", (Key(0.0, 0.0, "linear"), Key(20.0, 20.0))).apply(scene)
    carried = PickAndCarry("p1", "p2", 5, 9).apply(scene)
    wanted = np.clip(np.arange(21) - 5.0, 0.0, 4.0)
    rigs.near(rigs.evaluated(carried).world("p1")[:, 1, 3], wanted)
    again = PickAndCarry("p1", "p2", 12).apply(carried)
    assert len(again.steps) == len(carried.steps)
    wanted += np.clip(np.arange(21) - 12.0, 0.0, None)
    rigs.near(rigs.evaluated(again).world("p1")[:, 1, 3], wanted)


def test_bad_lists_of_spaces_are_refused() -> None:
    scene = _crate()
    for spaces, reason in (
        (("", "p1"), "crate cannot be a space of its own; choose another part"),
        (("0", "0"), "world is listed twice"),
        (("",), "has 2 to 100"),
        (("", "p9"), "no part with the identity"),
    ):
        with pytest.raises(Refusal, match=reason):
            ChangeStep("s1", settings=SpaceSettings(spaces)).apply(scene)
    with pytest.raises(Refusal, match="parent is not in its list of spaces; add it first"):
        SwitchSpace("s1", 3, "").apply(scene)


def test_the_place_is_kept_to_a_nanometre_over_many_handovers() -> None:
    _, scene, others = _free_rig(4)
    scene = _spaced(scene, ("", "0", *others))
    spaces = ["0", others[0], "", others[-1], "0", ""]
    for frame, space in enumerate(spaces, start=1):
        before = evaluate(scene).world("p1")[frame]
        scene = SwitchSpace("s1", frame, space).apply(scene)
        rigs.near(evaluate(scene).world("p1")[frame], before)


def test_a_jump_is_a_finding_that_says_how_far_and_where() -> None:
    scene = _crate()
    assert troubles(evaluate(scene)) == ()
    aside = (Key(0.0, 0.0, "hold"), Key(10.0, 3.0, "hold"))
    moved = PutKeys("p3", "translation.z", aside).apply(scene)
    (found,) = troubles(evaluate(moved))
    assert (found.part, found.step, found.frame) == ("p1", "s1", 10)
    assert found.text.startswith("crate: jumps 3 m where it goes from davit to ferry on frame 10.")
    step = moved.steps["s1"]
    settings = step.settings
    assert isinstance(settings, SpaceSettings)
    blended = tuple(replace(one, blend=4) for one in settings.handovers)
    eased = ChangeStep("s1", settings=replace(settings, handovers=blended)).apply(moved)
    assert troubles(evaluate(eased)) == ()
    assert troubles(evaluate(ChangeStep("s1", on=False).apply(moved))) == ()


def test_another_list_of_spaces_leaves_every_place_as_it_is() -> None:
    scene = AddPart("gull", id="p4").apply(_crate())
    settings = scene.steps["s1"].settings
    assert isinstance(settings, SpaceSettings)
    before = rigs.evaluated(scene).world("p1")
    for spaces in (("p4", "p3", "0", "p2"), ("0", "p2", "p3", "p4"), ("p3", "p2", "0")):
        other = ChangeStep("s1", settings=replace(settings, spaces=spaces)).apply(scene)
        np.testing.assert_array_equal(rigs.evaluated(other).world("p1"), before)
    without = replace(settings, spaces=("0", "p3"))
    with pytest.raises(Refusal, match="davit is active from frame 5; hand over to another"):
        ChangeStep("s1", settings=without).apply(scene)


def test_a_deleted_target_leaves_the_others() -> None:
    """What another part goes by lets go of a deleted one; where nothing else is left it goes."""
    names = {"p1": "boat", "p2": "buoy", "p3": "post", "p4": "gull"}
    scene = applied(Scene(last=4), [AddPart(name, id=i) for i, name in names.items()])
    both = (Target("p2"), Target("p3"))
    points = (PathPoint("p2"), PathPoint("p3"), PathPoint("p4"))
    scene = rigs.bound(scene, "p1", ConstraintSettings(both, kind="position"), "s1")
    scene = rigs.bound(scene, "p1", AimSettings(both[:1]), "s2")
    scene = rigs.bound(scene, "p1", SpaceSettings(("", "p2", "p3")), "s3")
    scene = rigs.bound(scene, "p4", PathSettings(points[:2]), "s4")
    scene = rigs.bound(scene, "p1", PathSettings(points), "s5")
    scene = SwitchSpace("s3", 2, "p3").apply(scene)
    scene = PutKeys("p1", "s1.weight.p2", (Key(0.0, 0.0), Key(4.0, 1.0))).apply(scene)
    with pytest.raises(Refusal, match="it is read by"):
        RemoveParts(("p2",)).apply(scene)
    left = RemoveParts(("p2",), readers=True).apply(scene)
    assert set(left.steps) == {"s1", "s3", "s5"}
    assert left.steps["s1"].settings == ConstraintSettings(both[1:], kind="position")
    assert left.steps["s5"].settings == PathSettings(points[1:])
    assert [curve.channel for curve in left.curves] == ["s3.space"]
    spaces = left.steps["s3"].settings
    assert isinstance(spaces, SpaceSettings) and spaces.spaces == ("", "p3")
    active = evaluate(left).channel(ChannelRef("p1", "s3.space"), "final")
    np.testing.assert_array_equal(active, [0.0, 0.0, 1.0, 1.0, 1.0])
    # A space that is active cannot be left out: its step goes with the part.
    assert "s3" not in RemoveParts(("p3",), readers=True).apply(scene).steps
