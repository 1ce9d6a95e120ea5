"""A change of a pose on one frame, carried over a span: exact inside, fading beside it."""

from __future__ import annotations

import numpy as np
import pytest
from scipy.spatial.transform import Rotation

from bindu.core.curves.model import Key
from bindu.core.edits import AnyEdit, applied
from bindu.core.edits.carry import CarryChange
from bindu.core.edits.channels import SetValue
from bindu.core.edits.keying import KeyValue, SetChannels
from bindu.core.edits.keys import PutKeys, SetOutside
from bindu.core.edits.parts import AddPart
from bindu.core.edits.scene import ChangeScene
from bindu.core.edits.steps import AddStep
from bindu.core.evaluation import evaluate
from bindu.core.refusal import Refusal
from bindu.core.scene.channels import ChannelRef
from bindu.core.scene.model import Scene
from bindu.core.scene.parts import Rest
from bindu.core.scene.settings import FollowSettings

LAST = 60
X = ChannelRef("arm", "translation.x")


def wavy(channel: str, size: float, *, part: str = "arm", kind: str = "smooth") -> PutKeys:
    frames = (0, 7, 16, 30, 41, 52, 60)
    return PutKeys(
        part, channel, tuple(Key(float(f), size * float(np.sin(f)), kind) for f in frames)
    )  # type: ignore[arg-type]


def rig(*edits: AnyEdit) -> Scene:
    """An arm on a body that turns and moves."""
    parts = [
        AddPart("body", id="body"),
        AddPart("arm", "body", id="arm", rest=Rest((0.5, 0.2, 0.0), (20.0, 0.0, 40.0))),
        AddPart("hand", "arm", id="hand", rest=Rest((1.0, 0.0, 0.0))),
    ]
    turns = [wavy(f"rotation.{a}", 40.0, part="body") for a in "xyz"]
    turns.append(wavy("translation.y", 0.4, part="body"))
    return applied(Scene(), [ChangeScene(first=0, last=LAST), *parts, *turns, *edits])


def values(scene: Scene, ref: ChannelRef = X) -> np.ndarray:
    found = evaluate(scene).channel(ref, "keyed")
    return np.broadcast_to(found, LAST + 1).copy()


@pytest.mark.parametrize("kind", ["smooth", "linear", "ease both", "bounce", "hold"])
@pytest.mark.parametrize("frame", [25, 30])
def test_inside_it_is_the_very_change_outside_nothing_moves(kind: str, frame: int) -> None:
    before = rig(wavy("translation.x", 0.3, kind=kind))
    was = float(values(before)[frame])
    after = applied(before, [SetChannels(frame, (("arm", "translation.x", was + 0.5),))])
    made = applied(after, [CarryChange(frame, ((*X, was),), 20, 36, 6, 10)])
    by = values(made) - values(before)
    assert np.allclose(by[20:37], 0.5, atol=1e-9)
    assert np.allclose(by[:15], 0.0, atol=1e-9) and np.allclose(by[46:], 0.0, atol=1e-9)
    assert by.min() > -1e-9 and by.max() < 0.5 + 1e-9
    if kind == "smooth":
        steps = np.diff(by[14:21])
        assert np.all(steps > -1e-9) and steps[0] < 0.08 and steps[-1] < 0.08


def test_over_the_whole_range_and_without_keys() -> None:
    before = rig(wavy("translation.x", 0.3))
    after = applied(before, [SetChannels(30, (("arm", "translation.x", 2.0),))])
    was = float(values(before)[30])
    made = applied(after, [CarryChange(30, ((*X, was),), 0, LAST)])
    np.testing.assert_allclose(values(made) - values(before), 2.0 - was, atol=1e-9)
    assert {k.frame for k in made.curves[X].keys} == {k.frame for k in before.curves[X].keys}
    bare = rig()
    set_ = applied(bare, [SetChannels(30, (("arm", "translation.x", 2.0),))])
    made = applied(set_, [CarryChange(30, ((*X, 0.0),), 20, 40, 5, 5)])
    assert np.allclose(values(made)[20:41], 2.0) and np.allclose(values(made)[[0, 15, 45]], 0.0)
    whole = applied(set_, [CarryChange(30, ((*X, 0.0),), 0, LAST)])
    assert X not in whole.curves and np.all(values(whole) == 2.0)


def test_a_curve_that_repeats_changes_in_one_span_only() -> None:
    keys = (Key(0.0, 0.0), Key(10.0, 1.0), Key(20.0, 0.0))
    before = rig(PutKeys(*X, keys), SetOutside(*X, after="repeat"))
    was = float(values(before)[50])
    after = applied(before, [KeyValue(50, ((*X, was - 0.3),))])
    made = applied(after, [CarryChange(50, ((*X, was),), 47, 53, 2, 2)])
    by = values(made) - values(before)
    outside = np.r_[0:45, 56:61]
    assert np.allclose(by[47:54], -0.3, atol=1e-2) and np.abs(by[outside]).max() < 0.02


@pytest.mark.parametrize("follows", [None, 0.4])
def test_in_the_world_it_moves_and_turns_as_far_whatever_carries_it(follows: float | None) -> None:
    def dense(channel: str, size: float) -> PutKeys:
        keys = (Key(float(f), size * float(np.sin(f / 9.0))) for f in range(LAST + 1))
        return PutKeys("arm", channel, tuple(keys))

    edits: list[AnyEdit] = [dense("translation.x", 0.3), dense("rotation.y", 30.0)]
    if follows is not None:
        edits.append(AddStep("arm", "follows", FollowSettings(), id="s1"))
        edits.append(SetValue("arm", "s1.rotation", follows))
    before = rig(*edits)
    to = {"translation.x": 0.7, "translation.y": -0.2, "rotation.y": 50.0, "rotation.x": 5.0}
    was = tuple(("arm", c, float(values(before, ChannelRef("arm", c))[30])) for c in to)
    after = applied(before, [SetChannels(30, tuple(("arm", c, v) for c, v in to.items()))])
    made = applied(after, [CarryChange(30, was, 20, 40, 8, 8, "in the world")])
    start, one, every = (evaluate(s).world("arm") for s in (before, after, made))
    moved = every[:, :, 3] - start[:, :, 3]
    wanted = one[30, :, 3] - start[30, :, 3]
    np.testing.assert_allclose(moved[20:41], np.broadcast_to(wanted, (21, 3)), atol=1e-9)
    rotations = [Rotation.from_matrix(world[:, :, :3]) for world in (start, every)]
    turned = rotations[1] * rotations[0].inv()
    wanted_turn = Rotation.from_matrix(one[30, :, :3]) * rotations[0][30].inv()
    assert (wanted_turn.inv() * turned[20:41]).magnitude().max() < 1e-9
    outside = [*range(13), *range(48, LAST + 1)]
    np.testing.assert_allclose(every[outside], start[outside], atol=1e-9)
    # A hand that is changed too goes along once, not twice; on its keys it is exact.
    gripped = applied(after, [SetChannels(30, (("hand", "translation.x", 0.4),))])
    whole = (*was, ("hand", "translation.x", 0.0))
    both = applied(gripped, [CarryChange(30, whole, 20, 40, 1, 1, "in the world")])
    start, one, every = (evaluate(s).world("hand")[:, :, 3] for s in (before, gripped, both))
    wanted = np.broadcast_to(one[30] - start[30], (3, 3))
    np.testing.assert_allclose((every - start)[[20, 30, 40]], wanted, atol=1e-9)


def test_what_cannot_be_carried_is_refused() -> None:
    before = rig(wavy("translation.x", 0.3))
    was = float(values(before)[30])
    after = applied(before, [SetChannels(30, (("arm", "translation.x", 2.0),))])
    for edit, why in (
        (CarryChange(30, ((*X, was),), 40, 50), "must hold frame 30"),
        (CarryChange(30, ((*X, was),), 40, 20), "its first frame first"),
        (CarryChange(30, ((*X, was),), -5, 50), "choose a span within"),
        (CarryChange(30, ((*X, was),), 20, 50, 0), "a fade lasts"),
        (CarryChange(30, ((*X, float("nan")),), 20, 50), "must be a number"),
        (CarryChange(30, (), 20, 50), "nothing was changed"),
    ):
        with pytest.raises(Refusal, match=why):
            applied(after, [edit])
    with pytest.raises(Refusal, match="nothing was changed"):
        applied(before, [CarryChange(30, ((*X, was),), 20, 50)])
