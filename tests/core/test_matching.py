"""FK and IK brought together: matches and switches in rigs of every kind."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

import numpy as np
import pytest

from bindu.core.account.limbs import switches
from bindu.core.curves.model import Key
from bindu.core.edits import AnyEdit, applied
from bindu.core.edits.channels import SetValue
from bindu.core.edits.duplicate import DuplicatePart
from bindu.core.edits.keying import KeyValue
from bindu.core.edits.keys import PutKeys
from bindu.core.edits.layers import AddLayer
from bindu.core.edits.matching import (
    MatchLimbs,
    MendSwitch,
    MoveSwitch,
    RemoveSwitch,
    SwitchLimbs,
    blend_ref,
)
from bindu.core.edits.parts import LockChannels
from bindu.core.edits.spaces import SwitchSpace
from bindu.core.edits.steps import AddStep
from bindu.core.evaluation import answering, evaluate
from bindu.core.placing.matching import apart
from bindu.core.refusal import Refusal
from bindu.core.scene.channels import ChannelRef
from bindu.core.scene.model import Scene
from bindu.core.scene.settings import FollowSettings, FormulaSettings, SpaceSettings
from tests.core.seeds import formula
from tests.core.test_limbs import rig
from tests.evaluated import Evaluated, known

LEG = ("b1",)
PARTS = ("hip", "thigh", "knee", "ankle", "toe")
Numbers = np.ndarray[Any, Any]
Rig = Callable[[np.random.Generator, bool], Scene]


def carried(random: np.random.Generator, mirrored: bool) -> Scene:
    """A leg whose base follows the body by half, whose goal goes from space to space, whose pole
    is in another one, with keys on a layer, a formula that adds to the knee, soft reach and a
    turn."""
    scene = rig(random, mirrored)
    edits: list[AnyEdit] = [
        AddStep("hip", "follow", FollowSettings(), id="f1"),
        SetValue("hip", "f1.rotation", 0.5),
        AddStep("goal", "spaces", SpaceSettings(("", "0", "body")), id="h1"),
        SwitchSpace("h1", 5, "0"),
        SwitchSpace("h1", 13, "body"),
        AddStep("pole", "spaces", SpaceSettings(("", "0", "body")), id="h2"),
        SwitchSpace("h2", 0, "body"),
        AddLayer("under", "root", "replace", id="l2"),
        KeyValue(4, (("knee", "rotation.x", -40.0), ("goal", "translation.x", 0.3)), "l2"),
        KeyValue(16, (("knee", "rotation.x", 50.0), ("ankle", "rotation.y", 10.0)), "l2"),
        SetValue("root", "l2.weight", 0.75),
        AddLayer("over", "root", id="l1"),
        KeyValue(10, (("hip", "rotation.x", 33.0), ("goal", "translation.y", 0.4)), "l1"),
        formula("knee", "rotation.z", "5 * sin(20 * frame)", "x1", "add"),
        SetValue("body", "b1.turn", 25.0),
        SetValue("body", "b1.soft", 0.1),
    ]
    return applied(scene, edits)


def world(scene: Scene) -> Numbers:
    """World matrices of the leg, shape (parts, F, 3, 4)."""
    found = known(scene)
    return np.stack([np.broadcast_to(found.world(part), (21, 3, 4)) for part in PARTS])


def off(scene: Scene, *frames: int) -> tuple[float, float]:
    """How far FK and IK are apart on frames, metres and degrees."""
    metres, degrees = apart(known(scene), scene.limbs["b1"], np.array(frames))
    return float(metres.max()), float(degrees.max())


@pytest.mark.parametrize("make", [rig, carried])
def test_fk_and_ik_are_one_pose_after_a_match_there_and_back(make: Rig) -> None:
    scene = make(np.random.default_rng(0), make is carried)
    for way in ("fk", "ik"):
        one = applied(scene, [MatchLimbs(LEG, way, 7)])  # type: ignore[arg-type]
        span = applied(scene, [MatchLimbs(LEG, way, 4, 15)])  # type: ignore[arg-type]
        keyed = applied(scene, [MatchLimbs(LEG, way, 0, 20, on="keys")])  # type: ignore[arg-type]
        for made, frames in ((one, (7,)), (span, tuple(range(4, 16))), (keyed, (0, 10, 20))):
            if way == "ik":
                metres, degrees = off(made, *frames)
                assert metres <= 1e-9 and degrees <= 1e-7
            else:
                # The pose as it was is that of FK alone now.
                alone = world(applied(made, [SetValue("body", "b1.blend", 0.0)]))
                np.testing.assert_allclose(alone[:, frames], world(scene)[:, frames], atol=1e-9)


@pytest.mark.parametrize("make", [rig, carried])
def test_a_switch_never_jumps_and_leaves_what_was_before_alone(make: Rig) -> None:
    scene = make(np.random.default_rng(100), make is rig)
    before = world(scene)
    made = scene
    for n, frame in enumerate((5, 9, 13)):
        way = ("fk", "ik")[n % 2]
        pose = world(made)
        made = applied(made, [SwitchLimbs(LEG, way, frame)])  # type: ignore[arg-type]
        after = world(made)
        np.testing.assert_allclose(after[:, : frame + 1], pose[:, : frame + 1], atol=1e-9)
    np.testing.assert_allclose(world(made)[:, :6], before[:, :6], atol=1e-9)
    keys = made.curves[blend_ref(made.limbs["b1"])].keys
    assert [(k.frame, k.value) for k in keys if k.frame] == [
        (4.0, 1.0), (5.0, 0.0), (8.0, 0.0), (9.0, 1.0), (12.0, 1.0), (13.0, 0.0)
    ]  # fmt: skip
    assert all(key.interpolation == "hold" for key in keys)
    moved = applied(made, [MoveSwitch("b1", 9, 11)])
    assert off(moved, 11) <= (1e-9, 1e-7)
    keys = moved.curves[blend_ref(made.limbs["b1"])].keys
    assert [k.frame for k in keys if k.value == 1.0 and k.frame > 5] == [11.0]
    np.testing.assert_allclose(world(moved)[:, :9], world(made)[:, :9], atol=1e-9)


def test_there_and_back_twelve_times_does_not_drift() -> None:
    scene = rig(np.random.default_rng(3))
    first = applied(scene, [MatchLimbs(LEG, "fk", 8)])
    made = first
    with answering(Evaluated()):
        for _ in range(12):
            made = applied(made, [MatchLimbs(LEG, "ik", 8), MatchLimbs(LEG, "fk", 8)])
    np.testing.assert_allclose(world(made)[:, 8], world(first)[:, 8], atol=1e-9)


def test_a_switch_over_frames_blends_from_one_pose_to_the_other() -> None:
    scene = rig(np.random.default_rng(5))
    made = applied(scene, [SwitchLimbs(LEG, "fk", 6, over=4)])
    values = evaluate(made).channel(ChannelRef("body", "b1.blend"), "final")
    np.testing.assert_allclose(values[5:12], [1, 1, 0.75, 0.5, 0.25, 0, 0])
    np.testing.assert_allclose(world(made)[:, :7], world(scene)[:, :7], atol=1e-9)


def test_several_limbs_switch_at_once() -> None:
    scene = rig(np.random.default_rng(6))
    scene = applied(scene, [DuplicatePart("body")])
    both = tuple(scene.limbs)
    made = applied(scene, [SwitchLimbs(both, "fk", 9)])
    for limb in both:
        metres, degrees = apart(evaluate(made), made.limbs[limb], np.array([9]))
        assert metres.max() <= 1e-9 and degrees.max() <= 1e-7


def test_a_straight_leg_is_matched_with_the_pole_in_the_plane_of_its_axis() -> None:
    scene = rig(np.random.default_rng(7))
    still = [PutKeys("goal", f"translation.{a}", (Key(0.0, 9.0),)) for a in "xyz"]
    scene = applied(scene, still)
    made = applied(scene, [MatchLimbs(LEG, "fk", 10), SetValue("body", "b1.blend", 0.0)])
    again = applied(made, [MatchLimbs(LEG, "ik", 10)])
    assert off(again, 10) <= (1e-9, 1e-7)


def test_what_keeps_a_match_from_being_exact_is_said_and_nothing_changes() -> None:
    scene = rig(np.random.default_rng(8))
    locked = applied(scene, [LockChannels("knee", ("rotation.x",))])
    with pytest.raises(Refusal, match="knee.rotation.x: it is locked"):
        applied(locked, [MatchLimbs(LEG, "fk", 7)])
    fixed = AddStep("knee", "fixed", FormulaSettings("rotation.x", "10", "set"))
    with pytest.raises(Refusal, match=r"FK would still be .* off the pose .*“fixed” of knee"):
        applied(scene, [fixed, MatchLimbs(LEG, "fk", 7)])
    with pytest.raises(Refusal, match="it is IK there already"):
        applied(scene, [SwitchLimbs(LEG, "ik", 7)])
    driven = AddStep("body", "auto", FormulaSettings("b1.blend", "1", "set"))
    with pytest.raises(Refusal, match="the blend is written by “auto”"):
        applied(scene, [driven, SwitchLimbs(LEG, "fk", 7)])
    still = Scene(
        curves={}, **{k: v for k, v in vars(scene).items() if k in ("parts", "steps", "limbs")}
    )
    with pytest.raises(Refusal, match="nothing of it has keys there"):
        applied(still, [MatchLimbs(LEG, "fk", 0, 20, on="keys")])


def test_only_what_must_be_keyed_is_keyed() -> None:
    """A leg that stands still, without a key: a switch keys what changes, and no more."""
    scene = rig(np.random.default_rng(9))
    still = Scene(
        last=20, **{k: v for k, v in vars(scene).items() if k in ("parts", "steps", "limbs")}
    )
    matched = applied(still, [MatchLimbs(LEG, "fk", 0)])
    made = applied(matched, [SwitchLimbs(LEG, "fk", 8)])
    assert {ref for ref in made.curves if ref not in matched.curves} == {
        blend_ref(made.limbs["b1"])
    }


def test_a_key_changed_before_a_switch_makes_it_jump_until_it_is_mended() -> None:
    scene = carried(np.random.default_rng(11), False)
    made = applied(scene, [SwitchLimbs(LEG, "fk", 9), SwitchLimbs(LEG, "ik", 14)])
    limb = made.limbs["b1"]
    assert [s.jumps for s in switches(evaluate(made), limb)] == [False, False]
    spoiled = applied(made, [PutKeys("pole", "translation.x", (Key(4.0, 0.7), Key(10.0, -0.9)))])
    first = next(switches(evaluate(spoiled), limb))
    assert first.jumps and first.frame == 9 and first.degrees > 0.1
    mended = applied(spoiled, [MendSwitch("b1", 9)])
    assert not next(switches(evaluate(mended), limb)).jumps
    np.testing.assert_allclose(world(mended)[:, :9], world(spoiled)[:, :9], atol=1e-9)
    gone = applied(mended, [RemoveSwitch("b1", 9)])
    assert [s.frame for s in switches(evaluate(gone), limb)] == []
    with pytest.raises(Refusal, match="leg: there is no switch on frame 3"):
        applied(made, [RemoveSwitch("b1", 3)])
