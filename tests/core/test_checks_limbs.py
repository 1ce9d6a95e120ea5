"""Checks of limbs: keys of the way that is off, sides, poles."""

from __future__ import annotations

import numpy as np
import pytest
from scipy.spatial.transform import Rotation

from bindu.core.account.limbs import limb_account
from bindu.core.checks.registry import findings, offers_of
from bindu.core.curves.model import Array, Key
from bindu.core.edits import AnyEdit, applied
from bindu.core.edits.channels import SetValue
from bindu.core.edits.keys import PutKeys
from bindu.core.edits.limbs import PutLimb
from bindu.core.edits.parts import AddPart, LockChannels
from bindu.core.edits.retime import DeleteKeys, KeyPick
from bindu.core.evaluation import evaluate
from bindu.core.scene.model import Scene
from bindu.core.scene.parts import Rest
from tests.core.checked import found, plain


def test_a_limb_animated_both_ways_and_never_switched_is_found() -> None:
    parts = [AddPart(name, above, id=name, rest=Rest((0.0, -0.4, 0.05 * n))) for n, (name, above) in
             enumerate((("hip", "body"), ("knee", "hip"), ("ankle", "knee")))]  # fmt: skip
    limb = PutLimb("leg", "body", ("hip", "knee", "ankle"), "goal", id="b1")
    goal = AddPart("goal", id="goal", rest=Rest((0.0, -0.9, 0.1)))
    scene = plain(*parts, goal, limb)
    swing = tuple(Key(float(f), v) for f, v in ((0, 0.0), (60, 0.2)))
    by_ik = applied(scene, [PutKeys("goal", "translation.z", swing)])
    assert not found(by_ik, "unkeyed switch")
    both = applied(by_ik, [PutKeys("knee", "rotation.x", swing)])
    (one,) = found(both, "unkeyed switch")
    assert one.part == "body" and "IK throughout" in one.text and "the joints" in one.text
    by_fk = applied(both, [SetValue("body", "b1.blend", 0.0)])
    assert "FK throughout" in found(by_fk, "unkeyed switch")[0].text
    keyed = applied(both, [PutKeys("body", "b1.blend", (Key(0.0, 0.0, "hold"), Key(30.0, 1.0)))])
    assert not found(keyed, "unkeyed switch")


def test_keys_of_the_way_that_is_off_are_found_and_taking_them_away_moves_nothing() -> None:
    """IK from 20 to 39: the goal's keys at 0, 41, 50 and 60 and the knee's at 28 and 32 are never
    seen; those next to the switches hold them."""
    rest = ((0.0, -0.1, 0.0), (0.0, -0.4, 0.05), (0.0, -0.4, -0.05))
    names, scene = ("body", "hip", "knee", "ankle"), plain()
    for name, above, at in zip(names[1:], names, rest, strict=False):
        scene = applied(scene, [AddPart(name, above, id=name, rest=Rest(at))])
    holds = (Key(0.0, 0.0, "hold"), Key(20.0, 1.0, "hold"), Key(40.0, 0.0, "hold"))
    goal = tuple(Key(float(f), 0.004 * f, "linear") for f in (0, 19, 20, 30, 40, 41))
    goal += (Key(50.0, 0.3, "linear"), Key(60.0, -0.1, "linear"))
    bends = ((0, 0), (10, 25), (19, 8), (20, 30), (28, 70), (32, 5), (40, 9), (60, 40))
    knee = tuple(Key(float(f), float(v), "linear") for f, v in bends)
    edits = [
        AddPart("goal", id="goal", rest=Rest((0.0, -0.8, 0.1))),
        AddPart("knob", "goal", id="knob"),
        AddPart("pole", id="pole", rest=Rest((0.0, -0.4, 2.0))),
        PutLimb("leg", "body", names[1:], "goal", "pole", id="b1"),
        PutKeys("body", "b1.blend", holds),
        PutKeys("goal", "translation.z", goal),
        PutKeys("knee", "rotation.x", knee),
    ]
    scene = applied(scene, edits)
    by_way = {one.key: one for one in found(scene, "unseen keys")}
    assert {key: one.amount for key, one in by_way.items()} == {"b1 FK": 4, "b1 IK": 2}
    assert by_way["b1 FK"].spans == ((0, 18), (41, 60))
    assert by_way["b1 IK"].spans == ((21, 39),)
    for one in by_way.values():
        (offer,) = offers_of(evaluate(scene), one)
        mended = applied(scene, offer.edits)
        assert one.key not in {left.key for left in found(mended, "unseen keys")}
        for part in ("hip", "knee", "ankle"):
            a, b = (evaluate(s).world(part) for s in (scene, mended))
            np.testing.assert_allclose(a, b, atol=1e-7)
    # What carries something that is seen counts, and so does what the pole does not settle.
    prop = applied(scene, [AddPart("fish", "goal", role="prop")])
    assert {one.key for one in found(prop, "unseen keys")} == {"b1 IK"}
    free = applied(scene, [PutLimb("leg", "body", names[1:], "goal", None, id="b1")])
    assert {one.key for one in found(free, "unseen keys")} <= {"b1 FK", "b1 IK"}
    gone = (KeyPick("body", "b1.blend"), KeyPick("knee", "rotation.x"))
    never = applied(scene, [DeleteKeys(gone), SetValue("body", "b1.blend", 0.0)])
    assert not found(never, "unkeyed switch")
    assert {one.key for one in found(never, "unseen keys")} == {"b1 FK"}


def on_the_line(*pole: AnyEdit) -> Scene:
    """A leg whose pole stands in front of it, and comes onto the line from hip to ankle."""
    names = ("body", "hip", "knee", "ankle")
    scene = plain(AddPart("goal", id="goal", rest=Rest((0.1, -0.75, 0.2))))
    for name, above in zip(names[1:], names, strict=False):
        bent = Rest((0.0, -0.4, {"knee": 0.05, "ankle": -0.05}.get(name, 0.0)))
        scene = applied(scene, [AddPart(name, above, id=name, rest=bent)])
    limb = PutLimb("leg", "body", names[1:], "goal", "pole", id="b1")
    return applied(scene, [AddPart("pole", id="pole", rest=Rest((0.05, -0.575, 0.1))), limb, *pole])


def bends(scene: Scene) -> Array:
    """How far the leg bends, and to which side."""
    return limb_account(evaluate(scene), scene.limbs["b1"]).bend


@pytest.mark.parametrize("to_own_side", [True, False])
def test_a_limb_that_turns_over_is_found_and_limits_keep_it_on_one_side(to_own_side: bool) -> None:
    """The knee is keyed from one side to the other; the pole holds it where it is all the time, so
    that the thigh goes half a turn about the line from hip to ankle at once."""
    ahead = AddPart("ahead", id="ahead", rest=Rest((0.0, -0.4, 3.0)))
    scene = on_the_line(
        ahead, PutLimb("leg", "body", ("hip", "knee", "ankle"), "goal", "ahead", id="b1")
    )
    ends = (25.0, -40.0) if to_own_side else (40.0, -25.0)
    own = np.sign(bends(scene)[0])
    keys = tuple(Key(f, own * v, "linear") for f, v in zip((0.0, 60.0), ends, strict=True))
    over = applied(scene, [PutKeys("knee", "rotation.x", keys)])
    assert not found(scene, "other side")
    (one,) = found(over, "other side")
    bend = bends(over)
    (row,) = np.flatnonzero(np.diff(np.sign(bend)))
    assert one.frame == row + 1 and one.amount == pytest.approx(abs(bend[row + 1] - bend[row]))
    thigh = Rotation.from_matrix(evaluate(over).world("hip")[:, :, :3])
    turned = np.degrees((thigh[:-1].inv() * thigh[1:]).magnitude())
    assert int(np.argmax(turned)) == row and turned[row] > 90
    (offer,) = offers_of(evaluate(over), one)
    mended = evaluate(applied(over, offer.edits))
    assert not findings(mended, only={"other side"})
    most = np.sign(np.sign(bend).sum())
    assert (np.sign(bends(mended.scene)) == most).all()
    np.testing.assert_allclose(mended.world("ankle"), evaluate(over).world("ankle"), atol=1e-9)
    off = applied(over, [SetValue("body", "b1.blend", 0.0)])
    assert not found(off, "other side")


def test_a_pole_on_the_line_is_moved_to_the_side_to_which_fk_bends() -> None:
    passing = (Key(0.0, 1.2), Key(20.0, 0.0, "linear"), Key(30.0, 0.0), Key(60.0, 0.9))
    for edits, span in (((), (0, 60)), ((PutKeys("pole", "translation.z", passing),), (20, 30))):
        before = evaluate(on_the_line(*edits))
        (one,) = findings(before, only={"pole"})
        assert one.spans == (span,)
        (offer,) = offers_of(before, one)
        mended = evaluate(applied(before.scene, offer.edits))
        assert not findings(mended, only={"pole", "pop", "without effect"})
        knee = np.broadcast_to(mended.world("knee"), (61, 3, 4))[span[0] : span[1] + 1, 2, 3]
        assert knee.min() > 0.2, "its knee stays in front"
        was, now = (np.broadcast_to(e.world("pole"), (61, 3, 4)) for e in (before, mended))
        outside = [f for f in range(61) if not span[0] - 6 < f < span[1] + 6]
        np.testing.assert_allclose(now[outside], was[outside], atol=1e-9)
    locked = evaluate(applied(on_the_line(), [LockChannels("pole", ("translation.x",))]))
    (one,) = findings(locked, only={"pole"})
    assert not offers_of(locked, one)
