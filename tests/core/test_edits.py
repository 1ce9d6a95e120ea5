"""Edits: each can be taken back exactly, and what cannot be done is refused clearly."""

from __future__ import annotations

import re
from dataclasses import replace

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from bindu.core.curves.model import Key, Tangent
from bindu.core.edits import AnyEdit, applied, label_of
from bindu.core.edits.channels import AddChannel, ChangeChannel, RemoveChannel, SetValue
from bindu.core.edits.duplicate import DuplicatePart
from bindu.core.edits.keys import ChangeKeys, InsertKey, KeyChange, PutKeys, RemoveKeys
from bindu.core.edits.parts import (
    AddPart,
    ChangePart,
    LockChannels,
    MovePart,
    RemoveParts,
    RenamePart,
)
from bindu.core.edits.patch import inverse, patch_between, patched
from bindu.core.edits.scene import ChangeScene
from bindu.core.edits.steps import AddStep, ChangeStep, MoveStep, RemoveStep
from bindu.core.evaluation import evaluate
from bindu.core.formula.references import to_names
from bindu.core.refusal import Refusal
from bindu.core.scene.channels import ChannelRef
from bindu.core.scene.model import Scene
from bindu.core.scene.names import part_named
from bindu.core.scene.parts import Rest, Shape
from bindu.core.scene.settings import FormulaSettings, LimitSettings
from bindu.store.rows import patch_json, patch_of
from tests.demos import demo
from tests.strategies import edits, histories
from tests.wide import cases

CARGO = ("p18", "p20", "p21", "p22")
FERRY = applied(demo("ferry-crossing"), [RemoveParts(CARGO)])
"""The ferry without its cargo."""
TURN = FormulaSettings("rotation.z", "frame")


@settings(max_examples=cases(20, 300))
@given(histories(20))
def test_any_sequence_of_edits_is_undone_and_redone_exactly(history: list[Scene]) -> None:
    pairs = list(zip(history, history[1:], strict=False))
    patches = [patch_of(patch_json(patch_between(a, b))) for a, b in pairs]
    scene = history[-1]
    for before, patch in zip(reversed(history[:-1]), reversed(patches), strict=True):
        scene = patched(scene, inverse(patch))
        assert scene == before
    for after, patch in zip(history[1:], patches, strict=True):
        scene = patched(scene, patch)
        assert scene == after


@pytest.mark.parametrize(
    ("edit", "says"),
    [
        (AddPart("deck"), "deck: there is a part with this name already"),
        (AddPart("de.ck"), "'de.ck' is no name"),
        (AddPart("x" * 81), "at most 80 characters"),
        (AddPart("new", parent="p77"), "no part with the identity 'p77'"),
        (AddPart("new", rest=Rest((float("nan"), 0, 0))), "rest of new: must be a number"),
        (AddPart("new", shape=Shape(colour="red")), "#RRGGBB"),
        (RenamePart("p1", "mast"), "already"),
        (MovePart("p1", "p6"), "ferry: lantern lies below it"),
        (MovePart("p1", "p1"), "ferry: ferry lies below it"),
        (RemoveParts(("p1",)), None),
        (SetValue("p3", "c1", 9.0), "paddle.radius: 9 is outside its range 0.05 … 5"),
        (SetValue("p3", "c9", 1.0), "paddle has no channel 'c9'"),
        (SetValue("p1", "translation.x", 1.0), "ferry.translation.x: it has keys"),
        (SetValue("p3", "s1.weight", 2.0), "paddle.turn by distance.weight: 2 is outside"),
        (AddChannel("p3", "radius"), "has a channel 'radius' already"),
        (AddChannel("p3", "translation.x"), "is no name"),
        (AddChannel("p3", "size", low=3.0, high=1.0), "goes down"),
        (AddChannel("p3", "mode", kind="choice", options=("one",)), "2 to 100 options"),
        (ChangeChannel("p3", "rotation.z", "spin"), "belongs to every part"),
        (RemoveChannel("p3", "c1"), "paddle.radius: it is read by “turn by distance”"),
        (PutKeys("p1", "translation.x", (Key(float("nan"), 0.0),)), "frame must be a number"),
        (PutKeys("p1", "translation.x", (Key(0.0, 0.0, left=Tangent(0, -1)),)), "negative length"),
        (InsertKey("p1", "translation.x", 50.0), "there is a key at frame 50 already"),
        (ChangeKeys("p1", "translation.x", (KeyChange(51.0),)), "no key at frame 51"),
        (ChangeKeys("p1", "translation.x", (KeyChange(50.0, 70.0),)), "at frame 70 already"),
        (RemoveKeys("p2", "translation.x", (1.0,)), "deck.translation.x: it has no keys"),
        (AddStep("p3", "stop pin", TURN), "has a step 'stop pin' already"),
        (AddStep("p3", "spin", TURN, "bound"), "a formula belongs to driven or late, not bound"),
        (AddStep("p3", "spin", replace(TURN, text="{x.y}")), "paddle · spin · formula: column 2"),
        (AddStep("p3", "cap", LimitSettings("rotation.z", 4.0, 1.0)), "low 4 lies above high 1"),
        (MoveStep("s2", "driven"), "a limit belongs to final, not driven"),
        (ChangeStep("s1", settings=LimitSettings("rotation.z", 1.0)), "it is a formula"),
        (ChangeScene(last=-5), "lies before the first"),
        (ChangeScene(fps=0.0), "between 1 and 1000"),
        (ChangeScene(last=10**7), "at most 100,000 frames"),
    ],
)
def test_what_cannot_be_done_is_refused_with_its_place(edit: AnyEdit, says: str | None) -> None:
    if says is None:
        assert set(applied(FERRY, [edit]).parts) == {"p7", "p8", "p9"}
        return
    with pytest.raises(Refusal, match=re.escape(says)):
        applied(FERRY, [edit])


def test_deleting_what_others_read_says_who_reads_it() -> None:
    scene = applied(
        FERRY,
        [AddStep("p8", "watch", FormulaSettings("rotation.y", "distance({lantern}, {far post})"))],
    )
    with pytest.raises(Refusal, match=r"ferry: it is read by “watch” of far post\.rotation\.y"):
        applied(scene, [RemoveParts(("p1",))])
    late = FormulaSettings("rotation.x", "{far post.watch.weight}")
    scene = applied(scene, [AddStep("p7", "echo", late)])
    left = applied(scene, [RemoveParts(("p1", "p6"), readers=True)])
    assert set(left.parts) == {"p7", "p8", "p9"}
    assert not left.steps
    evaluate(left)


def test_locked_channels_take_no_edit_by_hand() -> None:
    scene = applied(FERRY, [LockChannels("p1", ("translation.x",))])
    with pytest.raises(Refusal, match="it is locked"):
        applied(scene, [InsertKey("p1", "translation.x", 5.0)])
    assert applied(scene, [LockChannels("p1", ("translation.x",), False)]) == FERRY


def test_with_the_last_key_the_curve_goes_and_the_value_stays() -> None:
    scene = applied(FERRY, [RemoveKeys("p1", "translation.x", (50.0, 70.0, 110.0))])
    scene = applied(scene, [RemoveKeys("p1", "translation.x", (10.0,))])
    ref = ChannelRef("p1", "translation.x")
    assert ref not in scene.curves
    assert scene.set_value(ref) == -4.5


def test_removing_a_step_takes_the_keys_of_its_weight_along() -> None:
    keyed = applied(FERRY, [PutKeys("p3", "s1.weight", (Key(0.0, 1.0), Key(9.0, 0.0)))])
    gone = applied(keyed, [RemoveStep("s1")])
    assert ChannelRef("p3", "s1.weight") not in gone.curves
    assert "s1" not in gone.steps


def test_a_duplicate_moves_as_the_original_and_reads_its_own_copies() -> None:
    keyed = applied(FERRY, [PutKeys("p3", "s1.weight", (Key(0.0, 1.0), Key(9.0, 0.5)))])
    scene = applied(keyed, [DuplicatePart("p1")])
    assert len(scene.parts) == len(FERRY.parts) + 14
    whole = evaluate(scene)
    for name in ("ferry", "paddle", "lantern"):
        original, copy = part_named(scene, name), part_named(scene, f"{name} 2")
        np.testing.assert_array_equal(whole.world(original), whole.world(copy))
    paddle = part_named(scene, "paddle 2")
    turn = scene.steps_of[paddle][0]
    assert to_names(scene, turn.settings.text) == (  # type: ignore[union-attr]
        "-degrees(travelled({ferry 2}) / {paddle 2.radius}) / 4"
    )
    assert scene.driven["d2"].name == "lower gangway 2"
    assert to_names(scene, scene.driven["d2"].driver) == "{ferry 2.landing}"
    slower = applied(scene, [SetValue(paddle, scene.channels_of[paddle][0].id, 2.0)])
    assert evaluate(slower).world("p3").tobytes() == whole.world("p3").tobytes()
    assert set(applied(scene, [DuplicatePart(paddle)]).parts) - set(scene.parts) == {"p32"}


def test_a_part_goes_before_a_sibling() -> None:
    scene = applied(FERRY, [MovePart("p9", None, "p7"), MovePart("p6", "p1", "p2")])
    fittings = [f"p{n}" for n in range(10, 18)]
    order = [part for part in scene.tree_order if part not in fittings]
    assert order == ["p1", "p6", "p2", "p3", "p4", "p5", "p9", "p7", "p8"]
    with pytest.raises(Refusal, match="rope: what it should go before"):
        applied(FERRY, [MovePart("p9", None, "p2")])


def test_a_joined_key_keeps_one_angle_and_a_bent_smart_key_becomes_broken() -> None:
    bend = KeyChange(50.0, right=Tangent(30.0, 8.0), mode="joined")
    key = (
        applied(FERRY, [ChangeKeys("p1", "translation.x", (bend,))])
        .curves[ChannelRef("p1", "translation.x")]
        .key_at(50.0)
    )
    assert key is not None
    assert (key.left.angle, key.right.angle, key.mode) == (30.0, 30.0, "joined")
    free = applied(FERRY, [ChangeKeys("p1", "translation.x", (replace(bend, mode=None),))])
    broken = free.curves[ChannelRef("p1", "translation.x")].key_at(50.0)
    assert broken is not None
    assert broken.mode == "broken"


def test_labels_say_what_an_edit_does() -> None:
    move = ChangeKeys("p1", "translation.x", (KeyChange(50.0, 52.0, 1.0),))
    assert label_of(FERRY, [move]) == "move the key of ferry.translation.x at 50"
    both = [RenamePart("p1", "raft"), ChangePart("p2", side="left")]
    assert label_of(FERRY, both) == "rename ferry to raft and 1 more"
    assert label_of(FERRY, [ChangeStep("s1", on=False)]) == "mute “turn by distance”"


@settings(max_examples=cases(20, 300))
@given(histories(10), st.data())
def test_labels_and_refusals_speak_with_names(history: list[Scene], data: st.DataObject) -> None:
    """Whatever is edited: what it does, or why not, is told without identities."""
    scene = history[-1]
    for _ in range(8):
        edit = data.draw(edits(scene))
        try:
            after = edit.apply(scene)
        except Refusal as refusal:
            said = str(refusal)
        else:
            said = label_of(scene, [edit])
            scene = after
        assert said and not re.search(r"\b[pcslg][0-9]+\b", said), said


@pytest.mark.parametrize(
    ("edit", "code"),
    [
        (RenamePart("p9", "mast"), "gone"),
        (RenamePart("p2", "one"), "taken"),
        (RenamePart("p2", "a.b"), "text"),
        (RenamePart("p2", "x" * 81), "too much"),
        (RemoveParts(()), "choice"),
        (RemoveParts(("p1",)), "in use"),
        (SetValue("p1", "translation.x", float("inf")), "number"),
        (SetValue("p1", "translation.y", 1.0), "locked"),
        (MoveStep("s1", "final"), "impossible"),
        (AddStep("p1", "f", FormulaSettings("rotation.x", "{three.rotation.x}")), "unknown"),
    ],
)
def test_a_refusal_has_a_code_for_programs_which_stays_when_it_is_passed_on(
    edit: AnyEdit, code: str
) -> None:
    follows = FormulaSettings("translation.x", "{one.translation.x}")
    scene = applied(
        Scene(),
        [
            AddPart("one"),
            AddPart("two"),
            AddStep("p2", "follows", follows, id="s1"),
            LockChannels("p1", ("translation.y",)),
        ],
    )
    with pytest.raises(Refusal) as refused:
        edit.apply(scene)
    assert refused.value.code == refused.value.at("elsewhere").code == code
