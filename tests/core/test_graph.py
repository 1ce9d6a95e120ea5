"""Order, ranks and loops."""

from __future__ import annotations

import numpy as np

from bindu.core.account.labels import node_label
from bindu.core.edits import applied
from bindu.core.edits.parts import AddPart
from bindu.core.edits.steps import AddStep, ChangeStep
from bindu.core.evaluation import evaluate
from bindu.core.graph.graph import graph_of
from bindu.core.graph.loops import earlier_values
from bindu.core.graph.still_looped import feeding_of, still_looped
from bindu.core.nodes.identity import OWN, QUATERNION, NodeId, Stage, at_tap
from bindu.core.scene.channels import ChannelRef
from bindu.core.scene.model import Scene
from bindu.core.scene.settings import AimSettings, FormulaSettings, Target
from tests.demos import demo


def driven(part: str, name: str, channel: str, text: str) -> AddStep:
    """A formula whose step's identity is its name."""
    return AddStep(part, name, FormulaSettings(channel, text), id=name.replace(" ", ""))


def two_parts(*steps: AddStep) -> Scene:
    """A buoy and an eel with these formulas."""
    return applied(Scene(last=10), [AddPart("buoy", id="p1"), AddPart("eel", id="p2"), *steps])


def test_two_steps_that_read_each_other_are_a_loop_held_at_the_tap_before() -> None:
    scene = two_parts(
        driven("p1", "pull", "translation.x", "{eel.translation.x} + 1"),
        driven("p2", "follow", "translation.x", "{buoy.translation.x} * 2"),
    )
    graph = graph_of(scene)
    assert [node_label(scene, i) for i in graph.loops[0].chain] == [
        "buoy.translation.x @driven · pull",
        "eel.translation.x @driven · follow",
        "buoy.translation.x @driven · pull",
    ]
    assert graph.loops[0].held == NodeId("p2", "translation.x", OWN)
    evaluation = evaluate(scene)
    assert evaluation.channel(ChannelRef("p1", "translation.x"), "final")[0] == 1.0
    assert evaluation.channel(ChannelRef("p2", "translation.x"), "final")[0] == 2.0


def test_reading_an_earlier_tap_is_no_loop() -> None:
    for tap, loops in (("keyed", 0), ("driven", 1), ("final", 1)):
        step = driven("p1", "self", "translation.x", f"{{buoy.translation.x@{tap}}} + 1")
        assert len(graph_of(two_parts(step)).loops) == loops


def test_a_late_step_sees_what_is_driven_by_it_as_it_was_before() -> None:
    scene = two_parts(
        driven("p2", "follow", "translation.x", "{buoy.translation.x@driven} * 2"),
        AddStep(
            "p1", "settle", FormulaSettings("translation.x", "{eel.translation.x} + 3"), "late"
        ),
    )
    evaluation = evaluate(scene)
    assert not evaluation.graph.loops
    assert evaluation.channel(ChannelRef("p1", "translation.x"), "final")[0] == 3.0


def test_position_and_rotation_that_read_each_other_are_no_loop() -> None:
    scene = two_parts(
        driven("p1", "look", "rotation.y", "world_x({eel})"),
        driven("p2", "look back", "rotation.y", "distance({buoy}, {eel})"),
    )
    assert not graph_of(scene).loops


def test_a_child_that_moves_its_parent_is_a_loop_through_the_world() -> None:
    scene = applied(
        Scene(last=5),
        [
            AddPart("raft", id="p1"),
            AddPart("oar", "p1", id="p2"),
            driven("p1", "drift", "translation.x", "world_x({oar}) + 1"),
        ],
    )
    graph = graph_of(scene)
    assert graph.loops[0].held == NodeId("p2", "world position", at_tap("keyed"))
    assert evaluate(scene).channel(ChannelRef("p1", "translation.x"), "final")[0] == 1.0


def test_a_loop_elsewhere_changes_no_bit_of_the_rest() -> None:
    plain = demo("ferry-crossing")
    looped = applied(
        plain,
        [
            AddPart("buoy", id="b1"),
            AddPart("eel", id="b2"),
            driven("b1", "pull", "translation.x", "{eel.translation.x} + {ferry.translation.x}"),
            driven("b2", "follow", "translation.x", "{buoy.translation.x}"),
        ],
    )
    before, after = evaluate(plain), evaluate(looped)
    for node_id in before.graph.order:
        np.testing.assert_array_equal(before.results[node_id].values, after.results[node_id].values)
    assert {i.part for i in after.graph.held} == {"b1", "b2"}


def test_earlier_values_are_those_of_steps_and_then_of_taps_the_nearest_first() -> None:
    aim = AddStep("p1", "look", AimSettings((Target("p2"),)), id="look")
    x = [driven("p1", name, "translation.x", "1") for name in ("one", "two", "three")]
    scene = two_parts(*x, aim)

    def found(quantity: str, stage: Stage) -> list[NodeId]:
        return list(earlier_values(scene, NodeId("p1", quantity, stage)))

    steps = [NodeId("p1", "translation.x", Stage("step", name)) for name in ("two", "one")]
    assert found("translation.x", Stage("step", "three")) == [
        *steps,
        NodeId("p1", "translation.x", OWN),
    ]
    # What writes a whole group is beside what other steps of its zone write: the tap before.
    keyed, driven_tap = (at_tap("keyed"), at_tap("driven"))
    for quantity in ("rotation", QUATERNION):
        before = [NodeId("p1", quantity, driven_tap), NodeId("p1", quantity, keyed)]
        assert found(quantity, Stage("step", "look")) == before
        assert found(quantity, driven_tap) == before[1:]
        late = NodeId("p1", QUATERNION, Stage("step", "look"))
        assert found(quantity, at_tap("late"))[:2] == [late, late]
    world = NodeId("p1", "world matrix", driven_tap)
    assert found("world matrix", at_tap("bound"))[0] == world
    assert found("rotation", Stage("default")) == []


def test_of_a_loop_with_two_ways_round_the_other_one_is_left() -> None:
    scene = applied(
        two_parts(driven("p1", "pull", "translation.x", "1")),
        [
            AddPart("reed", id="p3"),
            driven("p2", "follow", "translation.x", "{buoy.translation.x} * 2"),
            driven("p3", "sway", "translation.x", "{eel.translation.x} * 3"),
            ChangeStep(
                "pull",
                settings=FormulaSettings(
                    "translation.x", "{eel.translation.x} + {reed.translation.x}"
                ),
            ),
        ],
    )
    graph = graph_of(scene)
    (loop,) = graph.loops
    feeding = feeding_of(graph, loop)
    assert {node.part for node in loop.members} == {"p1", "p2", "p3"}

    def left(step: str) -> set[str]:
        changed = applied(scene, [ChangeStep(step, on=False)])
        return {node.part for node in still_looped(loop, feeding, changed)}

    assert left("sway") == {"p1", "p2"}
    assert left("follow") == set()
