"""Loops and false loops of bound parts, their remedies, and values one frame back."""

from __future__ import annotations

import networkx as nx
import numpy as np
import pytest

from bindu.core.account.loop_report import loop_reports
from bindu.core.account.mutual import mutual_pairs
from bindu.core.curves.model import Key
from bindu.core.edits import AnyEdit, applied
from bindu.core.edits.channels import SetValue
from bindu.core.edits.keys import PutKeys
from bindu.core.edits.parts import AddPart
from bindu.core.edits.steps import AddStep, ChangeStep
from bindu.core.evaluation import evaluate, evaluate_after
from bindu.core.graph.build import build_nodes, roots
from bindu.core.graph.graph import graph_of
from bindu.core.graph.kinds.ties import ties_of
from bindu.core.graph.loops import digraph
from bindu.core.nodes.identity import NodeId, Stage
from bindu.core.scene.channels import ChannelRef
from bindu.core.scene.model import Scene
from bindu.core.scene.settings import (
    AimSettings,
    ConstraintSettings,
    FormulaSettings,
    SpaceSettings,
    Target,
)
from tests.core import rigs
from tests.wide import cases


def _parts(count: int, *, last: int = 8) -> list[AnyEdit]:
    edits: list[AnyEdit] = []
    for n in range(1, count + 1):
        edits.append(AddPart(f"part {n}", id=f"p{n}"))
        keys = (Key(0.0, float(n), "linear"), Key(float(last), float(n * n), "linear"))
        edits.append(PutKeys(f"p{n}", "translation.x", keys))
    return edits


def _goes_with(part: str, target: str, step: str) -> AddStep:
    settings = ConstraintSettings((Target(target),), offset=(0.0, 0.0, 1.0), kind="position")
    return AddStep(part, f"with {target}", settings, id=step)


def _ring(count: int) -> Scene:
    """Each part goes with the next one, and the last with the first."""
    edits = _parts(count)
    for n in range(1, count + 1):
        edits.append(_goes_with(f"p{n}", f"p{n % count + 1}", f"s{n}"))
    return applied(Scene(last=8), edits)


@pytest.mark.parametrize("count", [2, 3, 12])
def test_a_loop_is_reported_with_remedies_that_break_it(count: int) -> None:
    scene = _ring(count)
    evaluation = evaluate(scene)
    (report,) = loop_reports(evaluation)
    assert set(report.parts) == set(scene.parts)
    assert len(report.why) == count
    assert (report.frames, report.first) == (9, 0)
    kinds = [remedy.kind for remedy in report.remedies]
    assert kinds.count("earlier tap") == kinds.count("one frame back") == count or count == 12
    assert {"earlier tap", "one frame back", "mute"} >= set(kinds)
    for remedy in report.remedies:
        mended = applied(scene, remedy.edits)
        assert not evaluate(mended).graph.loops, remedy.text
    # Held at the driven value of what it reads; everything else follows.
    held = next(
        s
        for s in scene.steps
        if NodeId(scene.steps[s].part, "translation", Stage("step", s)) == report.loop.reader
    )
    target = scene.steps[held].settings.targets[0].part  # type: ignore[union-attr]
    x = evaluation.channel(ChannelRef(scene.steps[held].part, "translation.x"), "final")
    driven = evaluation.channel(ChannelRef(target or "", "translation.x"), "driven")
    np.testing.assert_array_equal(x, driven)


def test_one_frame_back_runs_frame_by_frame_from_the_driven_values() -> None:
    scene = _ring(2)
    (report,) = loop_reports(evaluate(scene))
    back = next(r for r in report.remedies if r.kind == "one frame back" and r.step == "s1")
    scene = applied(scene, back.edits)
    made = evaluate(scene)
    assert not made.graph.loops and made.graph.marches
    z1 = made.channel(ChannelRef("p1", "translation.z"), "final")
    z2 = made.channel(ChannelRef("p2", "translation.z"), "final")
    # p1 is 1 m behind where p2 was; p2 is 1 m behind p1: from frame to frame both go 2 m.
    np.testing.assert_allclose(z1, 1.0 + 2.0 * np.arange(9))
    np.testing.assert_allclose(z2, 2.0 + 2.0 * np.arange(9))
    moved = PutKeys("p2", "translation.z", (Key(0.0, 5.0, "hold"),)).apply(scene)
    after = evaluate_after(made, moved)
    again = evaluate(moved)
    for node in again.graph.order:
        assert again.results[node].values.tobytes() == after.results[node].values.tobytes()
    np.testing.assert_allclose(after.channel(ChannelRef("p1", "translation.z"), "final")[0], 6.0)


def test_a_formula_can_read_itself_one_frame_back() -> None:
    """A spring-like sum: half of what was, and the input."""
    scene = applied(Scene(last=6), [AddPart("eel", id="p1"), AddPart("buoy", id="p2")])
    scene = PutKeys("p2", "translation.x", (Key(0.0, 8.0, "hold"),)).apply(scene)
    text = "0.5 * {eel.translation.x@back} + {buoy.translation.x}"
    scene = AddStep("p1", "drag", FormulaSettings("translation.x", text), id="s1").apply(scene)
    made = evaluate(scene)
    assert not made.graph.loops
    wanted, values = 0.0, []
    for _ in range(7):
        wanted = 0.5 * wanted + 8.0
        values.append(wanted)
    np.testing.assert_allclose(made.channel(ChannelRef("p1", "translation.x"), "final"), values)


def test_a_value_one_frame_back_without_a_loop_is_only_shifted() -> None:
    scene = applied(Scene(last=8), _parts(2))
    settings = ConstraintSettings((Target("p2", back=True),), kind="position")
    made = rigs.evaluated(AddStep("p1", "late copy", settings).apply(scene))
    assert not made.graph.marches
    target = made.world("p2")[:, 0, 3]
    np.testing.assert_array_equal(made.world("p1")[1:, 0, 3], target[:-1])
    assert made.world("p1")[0, 0, 3] == target[0]


def test_mutual_aims_are_no_loop_and_say_why() -> None:
    edits = _parts(2)
    for part, target in (("p1", "p2"), ("p2", "p1")):
        edits.append(AddStep(part, "aim", AimSettings((Target(target),))))
    scene = applied(Scene(last=8), edits)
    made = evaluate(scene)
    assert not made.graph.loops
    (pair,) = mutual_pairs(made.graph)
    assert (pair.one, pair.other) == ("p1", "p2")
    assert "aim at each other" in pair.reason
    # The same pair with a position constraint is a loop, and no false one.
    scene = applied(scene, [_goes_with("p1", "p2", "s8"), _goes_with("p2", "p1", "s9")])
    looped = evaluate(scene)
    assert len(looped.graph.loops) == 1 and not mutual_pairs(looped.graph)


def test_a_part_bound_to_its_own_child_is_a_loop_that_spares_the_rest() -> None:
    edits = [*_parts(3), AddPart("child", "p1", id="p4"), _goes_with("p1", "p4", "s1")]
    scene = applied(Scene(last=8), edits)
    made, alone = evaluate(scene), evaluate(applied(Scene(last=8), _parts(3)))
    assert len(made.graph.loops) == 1
    for part in ("p2", "p3"):
        assert made.world(part).tobytes() == alone.world(part).tobytes()
    held = {node.part for node in made.graph.held}
    assert held == {"p1", "p4"}


def test_weights_that_sum_to_zero_hold_the_step_at_its_input() -> None:
    edits = [*_parts(3)]
    two = ConstraintSettings((Target("p2"), Target("p3")), kind="position")
    edits.append(AddStep("p1", "between", two, id="s1"))
    for target in ("p2", "p3"):
        keys = (Key(0.0, 1.0, "hold"), Key(4.0, 0.0, "hold"))
        edits.append(PutKeys("p1", f"s1.weight.{target}", keys))
    made = rigs.evaluated(applied(Scene(last=8), edits))
    result = made.results[NodeId("p1", "translation", Stage("step", "s1"))]
    assert (result.broken_from, result.broken_frames) == (4, 5)
    x = made.channel(ChannelRef("p1", "translation.x"), "final")
    np.testing.assert_array_equal(
        x[4:], made.channel(ChannelRef("p1", "translation.x"), "driven")[4:]
    )


def test_loops_are_those_of_networkx_on_random_rigs() -> None:
    """Every loop is found, none is reported where there is none, and the order respects every
    read that is left."""
    looped, tried = 0, cases(30, 120)
    for seed in range(tried):
        random = np.random.default_rng(seed)
        scene = rigs.random_rig(random, 8)
        for n in range(8):
            part, target = (str(p) for p in random.choice(list(scene.parts), 2, replace=False))
            kind = random.choice(["position", "rotation", "full", "aim", "space"])
            if kind == "aim":
                scene = rigs.bound(scene, part, AimSettings((Target(target),)), f"s{n}")
            elif kind == "space":
                scene = rigs.bound(scene, part, SpaceSettings(("", target)), f"s{n}")
            else:
                settings = ConstraintSettings((Target(target),), kind=kind)  # type: ignore[arg-type]
                scene = rigs.bound(scene, part, settings, f"s{n}")
        graph = graph_of(scene)
        place_of = {node: n for n, node in enumerate(graph.order)}
        for node in graph.nodes.values():
            assert all(place_of[source] < place_of[node.id] for source in node.inputs)
        wanted = [root for part in scene.tree_order for root in roots(scene, part)]
        unbroken = digraph(build_nodes(scene, wanted, {}))
        groups = [g for g in nx.strongly_connected_components(unbroken) if len(g) > 1]
        found = [set(loop.members) for loop in graph.loops]
        assert all(group in found for group in groups)
        assert all(any(members <= group for group in groups) for members in found)
        looped += bool(groups)
    assert tried / 6 < looped < tried


def test_late_constraints_see_what_bound_ones_made() -> None:
    edits = [*_parts(3), _goes_with("p1", "p2", "s1"), _goes_with("p2", "p3", "s2")]
    scene = applied(Scene(last=8), edits)
    scene = ChangeStep(
        "s1", settings=ConstraintSettings((Target("p2", "driven"),), kind="position")
    ).apply(scene)
    early = rigs.evaluated(scene).world("p1")[:, 0, 3]
    np.testing.assert_array_equal(
        early, rigs.evaluated(scene).channel(ChannelRef("p2", "translation.x"), "driven")
    )
    late = ChangeStep(
        "s1", settings=ConstraintSettings((Target("p2", "bound"),), kind="position")
    ).apply(scene)
    wanted = rigs.evaluated(late).world("p3")[:, 0, 3]
    np.testing.assert_array_equal(rigs.evaluated(late).world("p1")[:, 0, 3], wanted)


@pytest.mark.parametrize(("count", "all_round"), [(100, False), (30, True)])
def test_many_ways_round_are_one_loop_with_few_remedies(count: int, all_round: bool) -> None:
    """A ring, and parts that all read each other: the rest is said as a number."""
    edits: list[AnyEdit] = [AddPart(f"a {n}", id=f"a{n}") for n in range(count)]
    for n in range(count):
        read = [m for m in range(count) if m != n] if all_round else [(n + 1) % count]
        text = "+".join(f"{{a {m}.translation.x}}" for m in read)
        settings = FormulaSettings("translation.x", text, "add")
        edits.append(AddStep(f"a{n}", f"s {n}", settings, id=f"s{n}"))
    evaluation = evaluate(applied(Scene(last=4), edits))
    (report,) = loop_reports(evaluation)
    assert {node.part for node in report.loop.members} == {f"a{n}" for n in range(count)}
    assert 1 <= len(report.remedies) <= 20
    if all_round:
        # Two parts are the shortest way round; what else is held is counted.
        assert len(report.parts) == 2
        assert f"{report.loop.more} more reads" in report.held and report.loop.more > count / 2


def test_among_what_could_come_next_a_zone_ends_with_its_groups_and_then_with_values_one_back() -> (
    None
):
    scene = applied(
        Scene(last=8),
        [
            *_parts(2),
            AddStep("p2", "late", FormulaSettings("rotation.y", "1"), "late", id="s2"),
            AddStep("p1", "first", FormulaSettings("rotation.x", "1"), id="s1"),
        ],
    )
    listed = [
        NodeId("p1", "rotation.x", Stage("own")),
        NodeId("p1", "rotation.x", Stage("step", "s1")),
        NodeId("p1", "rotation", Stage("tap", "driven")),
        NodeId("p1", "rotation.x", Stage("back", "driven")),
        NodeId("p2", "rotation.y", Stage("step", "s2")),
        NodeId("p1", "world matrix", Stage("tap", "final")),
        NodeId("p1", "rotation.x", Stage("back", "final")),
    ]
    mixed = listed[::-1]
    assert sorted(mixed, key=lambda node: ties_of(scene, node)) == listed


def test_a_step_of_the_weight_one_reads_no_weight() -> None:
    scene = applied(
        Scene(last=8),
        [
            *_parts(1),
            AddStep("p1", "whole", FormulaSettings("rotation.x", "30", "set"), id="s1"),
            AddStep("p1", "half", FormulaSettings("rotation.y", "30", "set"), id="s2"),
            SetValue("p1", "s2.weight", 0.5),
        ],
    )
    nodes = graph_of(scene).nodes
    made = {step: nodes[NodeId("p1", c, Stage("step", step))] for step, c in STEPS.items()}
    assert [one.quantity for one in made["s1"].inputs] == []
    assert [one.quantity for one in made["s2"].inputs] == ["s2.weight"]
    assert made["s1"].start == made["s2"].start == 0.0


STEPS = {"s1": "rotation.x", "s2": "rotation.y"}
