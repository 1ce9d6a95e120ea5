"""Checks of rotations: gimbal lock, jumps of angles, the turn about one axis."""

from __future__ import annotations

import numpy as np
import pytest
from scipy.spatial.transform import Rotation

from bindu.core.checks.registry import findings, offers_of, ways_of
from bindu.core.curves.model import Key
from bindu.core.edits import AnyEdit, applied
from bindu.core.edits.axis import TurnAboutAxis
from bindu.core.edits.channels import SetValue
from bindu.core.edits.continuous import MakeAnglesContinuous
from bindu.core.edits.keys import PutKeys
from bindu.core.edits.parts import AddPart, LockChannels
from bindu.core.edits.steps import AddStep
from bindu.core.evaluation import evaluate
from bindu.core.refusal import Refusal
from bindu.core.scene.channels import ChannelRef
from bindu.core.scene.parts import Rest
from bindu.core.scene.settings import FormulaSettings
from tests.core.checked import LAST, found, plain


def turned(angles: dict[float, tuple[float, float, float]]) -> list[AnyEdit]:
    """Keys of a rotation."""
    return [
        PutKeys(
            "foot", f"rotation.{axis}", tuple(Key(f, v[n], "linear") for f, v in angles.items())
        )
        for n, axis in enumerate("xyz")
    ]


def test_gimbal_is_how_near_the_middle_angle_comes_and_the_best_order_keeps_away() -> None:
    scene = plain(*turned({0.0: (0, 0, 0), 30.0: (20, 87, 10), 60.0: (0, 0, 0)}))
    (one,) = found(scene, "gimbal")
    assert one.frame == 30 and one.amount == pytest.approx(3.0)
    best, *_ = offers_of(evaluate(scene), one)
    mended = applied(scene, best.edits)
    assert not found(mended, "gimbal")
    for frame in (0, 30, 60):
        a, b = (evaluate(s).world("foot")[frame, :, :3] for s in (scene, mended))
        np.testing.assert_allclose(a, b, atol=1e-10)
    # What that does to the way between keys is told and drawn, measured here by other means.
    angles = np.stack(
        [evaluate(scene).channel(ChannelRef("foot", f"rotation.{a}"), "keyed") for a in "xyz"]
    )
    turns = Rotation.from_euler(scene.parts["foot"].rotation_order, angles.T, degrees=True)
    away = []
    for a, b in ((0, 30), (30, 60)):
        way = turns[a].inv() * turns[a : b + 1]
        axis = way[-1].as_rotvec() / way[-1].magnitude()
        along = np.hypot(way.as_quat()[:, 3], way.as_quat()[:, :3] @ axis)
        away.append(np.degrees(2 * np.arccos(np.minimum(along, 1.0))))
    assert max(away[0].max(), away[1].max()) > 1.0
    worst = int(np.argmax(away[0])), 30 + int(np.argmax(away[1]))
    assert f"by up to {max(map(np.max, away)):.3g}°, most on " in one.text
    assert any(f"most on {frame}. Another" in one.text for frame in worst)
    goes, would = ways_of(evaluate(scene), one)
    assert would.dashed and len(goes.points) == len(would.points) == 31
    assert np.linalg.norm(goes.points - would.points, axis=1).max() > 1e-3
    # A wheel that turns about the middle axis alone comes to no harm.
    wheel = plain(*turned({0.0: (5, 0, 0), 60.0: (5, 400, 0)}))
    assert not found(wheel, "gimbal")


@pytest.mark.parametrize("order", ["xyz", "zxy", "yzx"])
@pytest.mark.parametrize("seed", range(4))
def test_continuous_angles_keep_every_pose_and_every_spin(order: str, seed: int) -> None:
    """A smooth turn, baked on every frame, with jumps by turns and flips put in at random; a spin
    of two turns at its end stays."""
    random = np.random.default_rng(seed)
    scene = applied(plain(), [AddPart("top", rotation_order=order, id="top")])  # type: ignore[arg-type]
    size = np.array([60.0, 50.0, 70.0])
    smooth = np.stack([size * np.sin(f / 14.0 + np.arange(3)) for f in range(LAST + 1)])
    broken = smooth.copy()
    middle = "xyz".index(order[1])
    for at in random.choice(np.arange(2, 50), 4, replace=False):
        if random.random() < 0.5:
            broken[at:, int(random.integers(3))] += 360.0
        else:
            flipped = 180.0 - broken[at:, middle]
            broken[at:] += 180.0
            broken[at:, middle] = flipped
    broken[55:, 0] += 720.0
    rows = [f for f in range(LAST + 1) if not 50 < f < 55]
    for n, a in enumerate("xyz"):
        keys = tuple(Key(float(f), float(broken[f, n]), "linear") for f in rows)
        scene = applied(scene, [PutKeys("top", f"rotation.{a}", keys)])
    (one,) = found(scene, "angle jump", "top")
    mended = applied(scene, [MakeAnglesContinuous(("top",))])
    assert not found(mended, "angle jump")
    before, after = evaluate(scene), evaluate(mended)
    worlds = [one.world("top")[rows] for one in (before, after)]
    np.testing.assert_allclose(worlds[1], worlds[0], atol=1e-10)
    channels = [ChannelRef("top", f"rotation.{a}") for a in "xyz"]
    angles = np.stack([after.channel(one, "keyed")[rows] for one in channels], axis=1)
    steps = np.abs(np.diff(angles, axis=0)).max(axis=1)
    assert np.array_equal(np.flatnonzero(steps > 30), [50]) and steps[50] > 700
    with pytest.raises(Refusal, match="none of their angles jumps"):
        applied(mended, [MakeAnglesContinuous(("top",))])
    assert one.amount > 180


@pytest.mark.parametrize(
    ("turn", "frames", "jumps"),
    [(360.0, 3.0, False), (360.0, 2.0, True), (359.0, 3.0, True), (-360.0, 3.0, False)],
)
def test_a_whole_turn_is_a_spin_over_more_than_two_frames(
    turn: float, frames: float, jumps: bool
) -> None:
    scene = plain(*turned({10.0: (0, 0, 0), 10.0 + frames: (turn, 0, 0)}))
    assert bool(found(scene, "angle jump")) == jumps


def test_a_tilted_spin_is_measured_from_the_axis_between_its_keys() -> None:
    start, end = (-60.0, 10.0, 0.0), (40.0, 80.0, 70.0)
    scene = plain(*turned({0.0: start, 60.0: end}))
    (one,) = found(scene, "tilted spin")
    share = np.linspace(0, 1, LAST + 1)[:, None]
    angles = np.array(start) + share * (np.array(end) - start)
    order = evaluate(scene).scene.parts["foot"].rotation_order
    turns = Rotation.from_euler(order, angles, degrees=True)
    way = turns[0].inv() * turns
    axis = way[-1].as_rotvec() / way[-1].magnitude()
    about = Rotation.from_rotvec(
        2 * np.arctan2(way.as_quat()[:, :3] @ axis, way.as_quat()[:, 3])[:, None] * axis
    )
    off = np.degrees((about.inv() * way).magnitude())
    np.testing.assert_allclose(np.asarray(one.amounts), off, atol=1e-5)
    goes, would = ways_of(evaluate(scene), one)
    world = evaluate(scene).world("foot")
    above = Rotation.from_matrix(world[:, :, :3]) * turns.inv()
    (out,) = [
        a
        for a in np.eye(3) * 0.25
        if np.allclose(world[:, :, :3] @ a + world[:, :, 3], goes.points)
    ]
    ideal = (above * turns[0] * about).apply(out) + world[:, :, 3]
    np.testing.assert_allclose(would.points, ideal, atol=1e-9)
    assert would.dashed and not goes.dashed
    np.testing.assert_allclose(would.points[[0, -1]], goes.points[[0, 60]], atol=1e-9)
    for offer in offers_of(evaluate(scene), one):
        mended = applied(scene, offer.edits)
        left = found(mended, "tilted spin")
        assert not left or left[0].amount < 0.76 * one.amount
        worlds = [evaluate(s).world("foot")[[0, 60]] for s in (scene, mended)]
        np.testing.assert_allclose(worlds[1], worlds[0], atol=1e-9)
    helper, *_, keys = offers_of(evaluate(scene), one)
    assert (helper.kind, keys.kind) == ("helper", "more keys")
    keyed = evaluate(applied(scene, keys.edits))
    assert not findings(keyed, only={"tilted spin"})
    now = np.stack([keyed.channel(ChannelRef("foot", f"rotation.{a}"), "keyed") for a in "xyz"], 1)
    new = keyed.scene.curves[ChannelRef("foot", "rotation.x")].frames.astype(int)
    assert 3 <= len(new) <= 9 and np.abs(np.diff(now, axis=0)).max() < 30
    gone = Rotation.from_euler(order, now, degrees=True)
    assert ((turns[0] * about)[new].inv() * gone[new]).magnitude().max() < 1e-9
    assert np.degrees(((turns[0] * about).inv() * gone).magnitude()).max() < 20.0
    straight = Rotation.from_matrix(evaluate(applied(scene, helper.edits)).world("foot")[:, :, :3])
    whole = way[-1].as_rotvec()
    wanted = turns[0] * Rotation.from_rotvec(share * whole)
    assert (wanted.inv() * straight).magnitude().max() < 1e-9
    assert not found(plain(*turned({0.0: (0, 0, 0), 60.0: (0, 170, 0)})), "tilted spin")


def test_more_keys_leave_the_keys_of_single_axes_and_what_lies_beside_them() -> None:
    """y is keyed where the others are not, z not at all."""
    x = PutKeys("foot", "rotation.x", (Key(0.0, 0.0), Key(20.0, -70.0), Key(60.0, 80.0)))
    y = PutKeys("foot", "rotation.y", (Key(0.0, 5.0), Key(10.0, 0.0), Key(60.0, 110.0)))
    scene = plain(x, y, SetValue("foot", "rotation.z", 30.0))
    (one,) = found(scene, "tilted spin")
    offer = offers_of(evaluate(scene), one)[-1]
    assert offer.kind == "more keys"
    mended = applied(scene, offer.edits)
    assert not found(mended, "tilted spin")
    worlds = [evaluate(s).world("foot")[[0, 10, 20, 60]] for s in (scene, mended)]
    np.testing.assert_allclose(worlds[1], worlds[0], atol=1e-9)
    locked = applied(scene, [LockChannels("foot", ("rotation.z",))])
    added = applied(scene, [AddStep("foot", "more", FormulaSettings("rotation.z", "5"))])
    for other in (locked, added):
        (one,) = found(other, "tilted spin")
        assert "more keys" not in {offer.kind for offer in offers_of(evaluate(other), one)}


def test_a_helper_about_one_axis_keeps_every_key_and_says_why_it_cannot() -> None:
    """A disc that hangs askew, keyed at four places of a turn about its own axis, moved by 0.3."""
    order = "xyz"
    tilt, axis = Rotation.from_euler(order, (35, 50, -20), degrees=True), np.array([0.2, 0.9, 0.4])
    axis /= np.linalg.norm(axis)
    at = {0.0: 0.0, 20.0: 130.0, 40.0: 20.0, 60.0: 170.0}
    scene = plain(
        *turned({f: tuple((tilt * Rotation.from_rotvec(np.radians(a) * axis)).as_euler(order, True))
                 for f, a in at.items()}),
        SetValue("foot", "translation.x", 0.3),
        SetValue("foot", "scale.y", 2.0),
        AddPart("toe", "foot", id="toe", rest=Rest((0.0, 1.0, 0.0))),
    )  # fmt: skip
    assert scene.parts["foot"].rotation_order == order
    made = applied(scene, [TurnAboutAxis("foot")])
    frames = [int(f) for f in at]
    for part in ("foot", "toe"):
        a, b = (evaluate(s).world(part)[frames] for s in (scene, made))
        np.testing.assert_allclose(b, a, atol=1e-9)
    helper = made.parts["foot"].parent
    assert helper and made.parts[helper].name == "foot axis" and made.parts[helper].role == "helper"
    keys = made.curves[ChannelRef(helper, "rotation.x")].keys
    spun = [abs(b.value - a.value) for a, b in zip(keys, keys[1:], strict=False)]
    np.testing.assert_allclose(spun, [130, 110, 150], atol=1e-9)
    again = AddStep("hat", "reads", FormulaSettings("rotation.x", "{foot.rotation.x}"))
    refused: list[tuple[list[AnyEdit], str]] = [
        ([PutKeys("foot", "translation.x", (Key(0.0, 0.0), Key(9.0, 1.0)))], "position is keyed"),
        ([PutKeys("foot", "rotation.x", (Key(30.0, 80.0),))], "about several axes"),
        ([AddPart("hat", id="hat"), again], "reads its channels"),
        ([AddStep("foot", "spins", FormulaSettings("rotation.y", "frame"))], "is written by"),
    ]
    for edits, why in refused:
        with pytest.raises(Refusal, match=why):
            applied(scene, [*edits, TurnAboutAxis("foot")])
    with pytest.raises(Refusal, match="fewer than two keys"):
        applied(scene, [TurnAboutAxis("body")])
