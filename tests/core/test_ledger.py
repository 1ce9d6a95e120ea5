"""The ledger tells the same numbers as the curves."""

from __future__ import annotations

import pytest
from hypothesis import given

from bindu.core.account.causes import causes_of, reached_from
from bindu.core.account.ledger import effect, group_ledger, ledger_of, step_cost, values_at
from bindu.core.curves.model import Key
from bindu.core.edits import AnyEdit, applied
from bindu.core.edits.channels import SetValue
from bindu.core.edits.keys import PutKeys
from bindu.core.edits.parts import AddPart
from bindu.core.edits.steps import AddStep, ChangeStep
from bindu.core.evaluation import evaluate
from bindu.core.nodes.identity import after
from bindu.core.scene.channels import TAPS, ChannelRef
from bindu.core.scene.model import Scene
from bindu.core.scene.parts import Rest
from bindu.core.scene.settings import ConstraintSettings, FormulaSettings, LimitSettings, Target
from tests.demos import demo
from tests.strategies import histories

PADDLE = ChannelRef("p3", "rotation.z")


@given(histories(20))
def test_each_bead_passes_its_value_to_the_next_and_taps_are_the_last_of_their_zone(
    history: list[Scene],
) -> None:
    evaluation = evaluate(history[-1])
    for part in evaluation.scene.parts:
        for channel in evaluation.scene.channel_ids(part):
            ref = ChannelRef(part, channel)
            ledger = ledger_of(evaluation, ref)
            working = [bead for bead in ledger.beads if bead.outgoing]
            assert working[0].incoming is None
            for before, bead in zip(working, working[1:], strict=False):
                assert bead.incoming == before.outgoing
            for tap, node_id in ledger.taps:
                last = [b for b in working if TAPS.index(b.zone) <= TAPS.index(tap)][-1]
                assert node_id == last.outgoing
                curve = evaluation.channel(ref, tap)
                assert values_at(evaluation, node_id, 3.0) == curve[3 if len(curve) > 1 else 0]


def test_what_came_in_what_went_out_and_what_was_read() -> None:
    evaluation = evaluate(demo("ferry-crossing"))
    value, turn, pin = ledger_of(evaluation, PADDLE).beads
    assert (value.kind, value.description) == ("value", "at its default")
    assert turn.description == "-degrees(travelled({ferry}) / {paddle.radius}) / 4"
    assert [seen.label for seen in turn.reads] == ["ferry travelled", "paddle.radius"]
    assert values_at(evaluation, turn.reads[0].node, 120.0) == pytest.approx(9.0)
    assert pin.description == "-240° … 20°"
    changes = effect(evaluation, pin)
    assert changes is not None
    assert not changes[62]
    assert changes[118]


def test_a_muted_step_stands_in_the_ledger_and_changes_nothing() -> None:
    evaluation = evaluate(applied(demo("ferry-crossing"), [ChangeStep("s1", on=False)]))
    _, turn, pin = ledger_of(evaluation, PADDLE).beads
    assert turn.incoming is turn.outgoing is None
    assert pin.outgoing is not None
    assert values_at(evaluation, pin.outgoing, 62.0) == 0.0


def test_a_held_read_shows_the_value_that_is_taken() -> None:
    scene = applied(
        demo("ferry-crossing"),
        [
            AddStep(
                "p1", "push", FormulaSettings("translation.y", "{paddle.rotation.z} + 5"), id="s28"
            ),
            AddStep(
                "p3", "lift", FormulaSettings("translation.y", "{ferry.translation.y}"), id="s29"
            ),
            AddStep(
                "p2", "echo", FormulaSettings("translation.y", "{deck.translation.y} + 1"), id="s30"
            ),
        ],
    )
    evaluation = evaluate(scene)
    echo = ledger_of(evaluation, ChannelRef("p2", "translation.y")).beads[1]
    assert echo.held
    assert echo.reads[0].node == echo.incoming
    assert echo.outgoing is not None
    assert values_at(evaluation, echo.outgoing, 0.0) == 1.0


def test_a_whole_group_is_accounted_for_step_by_step() -> None:
    """The account of a translation joins a formula on one axis and a constraint on all."""
    half = ConstraintSettings((Target("p2"),), kind="position")
    scene = applied(
        Scene(last=10),
        [
            AddPart("boat", id="p1"),
            AddPart("buoy", rest=Rest((4.0, 5.0, 6.0)), id="p2"),
            AddStep("p1", "drift", FormulaSettings("translation.y", "frame"), id="s1"),
            AddStep("p1", "half way", half, id="s2"),
            SetValue("p1", "s2.weight", 0.5),
        ],
    )
    evaluation = evaluate(scene)
    beads = group_ledger(evaluation, "p1", "translation")
    assert [one.bead.name for one in beads] == ["own values", "drift", "half way"]
    flow = [[values_at(evaluation, node, 8) for node in one.outgoing] for one in beads]
    assert flow == [[0.0, 0.0, 0.0], [0.0, 8.0, 0.0], [2.0, 6.5, 3.0]]
    assert [one.incoming for one in beads[1:]] == [one.outgoing for one in beads[:-1]]
    assert {seen.label for seen in beads[2].bead.reads} >= {"buoy world position"}


@pytest.mark.parametrize("name", ["ferry-crossing", "the-mooring", "the-lamplighter"])
def test_the_cost_of_a_step_is_that_of_all_it_makes(name: str) -> None:
    scene = demo(name)
    evaluation = evaluate(scene)
    for step in scene.steps.values():
        nodes = [r for node, r in evaluation.results.items() if node.stage == after(step)]
        assert step_cost(evaluation, step) == pytest.approx(sum(r.seconds for r in nodes))
        assert step_cost(evaluation, step) > 0.0 or not step.on


def test_values_set_by_hand_in_what_carries_are_among_the_causes() -> None:
    edits: list[AnyEdit] = [AddPart("raft", id="p1"), AddPart("box", "p1", id="p2")]
    edits += [SetValue("p1", "scale.x", 2.0), SetValue("p2", "translation.x", 0.5)]
    edits += [PutKeys("p2", "translation.y", (Key(0.0, 1.0), Key(4.0, 3.0)))]
    edits += [SetValue("p2", "translation.z", 0.25), AddPart("lamp", id="p3")]
    up = FormulaSettings("translation.z", "1", "add")
    edits += [AddStep("p1", "up", up), AddStep("p2", "up", up)]
    edits += [AddStep("p3", "at", ConstraintSettings((Target("p2"),), kind="position"))]
    evaluation = evaluate(applied(Scene(last=4), edits))
    causes = causes_of(evaluation, ChannelRef("p3", "translation.x"), 0.0)
    told = {cause.label: (cause.kind, cause.value) for cause in causes}
    assert evaluation.channel(ChannelRef("p3", "translation.x"), "final").tolist() == [1.0] * 5
    assert told["raft.scale.x @keyed"] == ("set value", 2.0)
    assert told["box.translation.x @keyed"] == ("set value", 0.5)
    assert told["box.translation.y @keyed"] == ("keys", 1.0)
    # Also where a step begins with it.
    assert told["box.translation.z @keyed"] == ("set value", 0.25)
    # What is at its default is no cause.
    assert not {"raft.scale.y @keyed", "raft.translation.z @keyed"} & told.keys()


@pytest.mark.parametrize("value", [1.0, 2.0])
def test_a_value_that_is_read_reaches_its_own_part_too(value: float) -> None:
    formula = FormulaSettings("translation.x", "{raft.scale.x}")
    edits: list[AnyEdit] = [AddPart("raft", id="p1"), SetValue("p1", "scale.x", value)]
    edits += [AddPart("box", "p1", id="p2"), AddPart("lamp", id="p3")]
    evaluation = evaluate(applied(Scene(), [*edits, AddStep("p3", "by", formula)]))
    reached = [one.label for one in reached_from(evaluation, ChannelRef("p1", "scale.x"))]
    places = ["raft's place", "box's place", "lamp's place"]
    assert sorted(reached) == sorted(["lamp.translation.x @driven · by", *places])


def test_a_group_that_is_reached_is_told_once() -> None:
    edits: list[AnyEdit] = [AddPart("raft", id="p1"), AddPart("lamp", id="p2")]
    limit = LimitSettings("rotation.y", high=30.0)
    edits += [
        AddStep("p2", "at", ConstraintSettings((Target("p1"),))),
        AddStep("p2", "stop", limit),
    ]
    evaluation = evaluate(applied(Scene(), edits))
    reached = [one.label for one in reached_from(evaluation, ChannelRef("p1", "translation.x"))]
    groups = [f"lamp.{group} @bound · at" for group in ("translation", "rotation", "scale")]
    told = [*groups, "lamp.rotation.y @final · stop", "raft's place", "lamp's place"]
    assert sorted(reached) == sorted(told)


@pytest.mark.parametrize("axis", ["x", "y", "z"])
def test_an_axis_reaches_the_group_that_a_step_writes_from_it_whichever_it_is(axis: str) -> None:
    edits: list[AnyEdit] = [AddPart("raft", id="p1"), AddPart("lamp", id="p2")]
    edits += [
        AddStep("p2", "at", ConstraintSettings((Target("p1"),)), id="s1"),
        SetValue("p2", "s1.weight", 0.5),
    ]
    evaluation = evaluate(applied(Scene(), edits))
    ref = ChannelRef("p2", f"rotation.{axis}")
    reached = [one.label for one in reached_from(evaluation, ref)]
    assert reached == ["lamp.rotation @bound · at", "lamp's place"]
