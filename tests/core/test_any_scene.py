"""What is said about order and cause holds on any scene: ranks, loops, wiring, remedies, last
words, what a value reaches."""

from __future__ import annotations

from collections import Counter
from collections.abc import Callable
from dataclasses import replace
from functools import cache, partial

import networkx as nx
import numpy as np
from hypothesis import example, given
from hypothesis import strategies as st

from bindu.core.account.causes import causes_of, reached_from
from bindu.core.account.last_word import last_words
from bindu.core.account.ledger import effect, ledger_of
from bindu.core.account.loop_report import loop_reports
from bindu.core.account.wiring import wiring_of
from bindu.core.edits import applied
from bindu.core.edits.rereading import Reread
from bindu.core.evaluation import Evaluation, evaluate
from bindu.core.graph.build import build_nodes, roots
from bindu.core.graph.graph import graph_of
from bindu.core.graph.loops import digraph
from bindu.core.nodes.identity import OWN, NodeId
from bindu.core.refusal import Refusal
from bindu.core.scene.channels import TAPS, TRANSFORM_CHANNELS, ChannelRef
from bindu.core.scene.model import Scene
from bindu.core.scene.names import full_name, known_channel
from bindu.core.steps.registry import reads_of
from tests.core.seeds import drawn, seeded
from tests.core.test_kept_scenes import TOGETHER
from tests.core.troubles import troubles
from tests.strategies import histories

Made = Callable[[], Scene]


@cache
def grown(kinds: tuple[str, ...], number: int) -> Scene:
    """What grew from seeds."""
    return seeded(np.random.default_rng(number), *kinds)


def by_turns() -> Scene:
    """A scene in which parts read each other by turns."""
    random = np.random.default_rng(44)
    return seeded(random, *drawn(random))


def edited() -> st.SearchStrategy[Made]:
    """What random edits lead to."""
    return histories(24).map(lambda passed: lambda: passed[-1])


SEEDED: list[Made] = [partial(grown, kinds, n) for n in range(2) for kinds in TOGETHER]


def test_the_seeded_scenes_hold_what_they_should() -> None:
    counts: Counter[str] = Counter()
    for made in SEEDED:
        scene = made()
        graph = graph_of(scene)
        counts["loops"] += bool(graph.loops)
        counts["one frame back"] += bool(graph.marches)
        counts["steps in three zones"] += len({step.zone for step in scene.steps.values()}) > 2
        for name in ("curves", "layers", "driven", "limbs", "leads", "surfaces"):
            counts[name] += bool(getattr(scene, name))
    assert all(n >= 2 for n in counts.values()) and len(counts) == 9, counts


def channels_of(scene: Scene) -> list[ChannelRef]:
    """The transform and own channels of all parts."""
    refs = [ChannelRef(part, name) for part in scene.parts for name in TRANSFORM_CHANNELS]
    return refs + [ChannelRef(own.part, own.id) for own in scene.channels.values()]


def the_order_respects_every_read_and_ranks_are_longest_distances(evaluation: Evaluation) -> None:
    graph = evaluation.graph
    if graph.marches:
        return  # a read of the frame before is no read in this order
    place = {node_id: n for n, node_id in enumerate(graph.order)}
    assert place.keys() == graph.nodes.keys()
    for node in graph.nodes.values():
        assert all(place[i] < place[node.id] for i in node.inputs)
    reads = nx.DiGraph([(i, node.id) for node in graph.nodes.values() for i in node.inputs])
    reads.add_nodes_from(graph.nodes)
    layers = enumerate(nx.topological_generations(reads))
    assert graph.ranks == {node: layer for layer, nodes in layers for node in nodes}


def loops_are_found_where_networkx_finds_them_and_nowhere_else(evaluation: Evaluation) -> None:
    scene, graph = evaluation.scene, evaluation.graph
    wanted = [root for part in scene.parts for root in roots(scene, part)]
    wanted += [NodeId(*ref, OWN) for ref in scene.curves]
    nodes = build_nodes(scene, wanted, {})
    if any(node.delayed for node in nodes.values()):
        return  # a read of the frame before closes no loop, but its first value may
    raw = digraph(nodes)
    cyclic = {
        node
        for group in nx.strongly_connected_components(raw)
        if len(group) > 1 or any(raw.has_edge(n, n) for n in group)
        for node in group
    }
    found = {member for loop in graph.loops for member in loop.members}
    assert cyclic <= found
    assert bool(cyclic) == bool(graph.loops)
    assert cyclic & graph.nodes.keys() <= graph.held
    for loop in graph.loops:
        assert loop.chain[-1] == loop.reader
        assert loop.held not in loop.members


def cards_hold_every_port_once_and_reads_go_to_the_right(evaluation: Evaluation) -> None:
    scene, wiring = evaluation.scene, wiring_of(evaluation.graph)
    home = {port.id: card.id for card in wiring.cards for port in card.ports}
    assert len(home) == sum(len(card.ports) for card in wiring.cards)
    column = {card.id: card.column for card in wiring.cards}
    assert {port.step for card in wiring.cards for port in card.ports} - {None} == set(scene.steps)
    for wire in wiring.wires:
        assert (home[wire.source], home[wire.target]) == (wire.source_card, wire.target_card)
    straight = [w for w in wiring.wires if not w.back and w.source_card != w.target_card]
    if not evaluation.graph.loops:
        assert not any(wire.looped for wire in wiring.wires)
        for wire in straight:
            assert column[wire.source_card] < column[wire.target_card], wire.text
    for card in wiring.cards:
        if column[card.id]:
            assert any(w.target_card == card.id and w in straight for w in wiring.wires)


def each_remedy_breaks_its_loop_and_makes_no_other(evaluation: Evaluation) -> None:
    reports = loop_reports(evaluation)
    assert len(reports) == len(evaluation.graph.loops)
    for report in reports:
        members = set(report.loop.members)
        assert report.remedies
        left = []
        for remedy in report.remedies:
            loops = graph_of(applied(evaluation.scene, remedy.edits)).loops
            left.append(members & {one for loop in loops for one in loop.members})
            assert bool(left[-1]) == remedy.text.endswith("other ways round stay"), remedy.text
        # Where several steps close a group each by itself, one change opens only a part of it.
        assert all(left) or not any(left)
        assert all(one < members for one in left) or all(one == members for one in left)
    told = [found.text for found in troubles(evaluation) if found.text.startswith("Loop: ")]
    assert len(told) == len(reports)


def the_last_word_is_the_last_bead_that_changes_the_value(evaluation: Evaluation) -> None:
    frames = evaluation.times.frames
    for ref in channels_of(evaluation.scene):
        words = last_words(evaluation, ref)
        said = [word.bead for word in words for _ in range(word.first, word.last + 1)]
        beads = ledger_of(evaluation, ref).beads
        changes = [effect(evaluation, bead) for bead in beads]
        at = [[True if c is None else c[n if len(c) > 1 else 0] for c in changes] for n in
              range(len(frames))]  # fmt: skip
        # A muted bead changes nothing; the first one is where the value starts.
        at = [[n == 0 or (bool(c) and changes[n] is not None) for n, c in enumerate(row)]
              for row in at]  # fmt: skip
        assert said == [max(n for n, c in enumerate(row) if c) for row in at]
        assert [(a.last + 1, a.bead == b.bead) for a, b in zip(words, words[1:], strict=False)] == [
            (b.first, False) for b in words[1:]
        ]


def what_changes_with_a_value_is_among_what_it_reaches(before: Evaluation) -> None:
    """A channel's own value is changed; no final value changes that was not said to be reached,
    and of each that changes the channel is said to be a cause."""
    scene = before.scene
    for ref in channels_of(scene)[6::17]:
        part = scene.parts[ref.part]
        values = {**part.values, ref.channel: 0.7371}
        changed = replace(
            scene,
            curves={r: c for r, c in scene.curves.items() if r != ref},
            parts={**scene.parts, part.id: replace(part, values=values)},
        )
        assert_reached(before, evaluate(changed), ref)


def assert_reached(before: Evaluation, after: Evaluation, ref: ChannelRef) -> None:
    """What is different was said to be reached from a channel, and the channel to be a cause."""
    scene, found = before.scene, reached_from(before, ref)
    reached = {(one.part, one.channel) for one in found}
    places = {one.part for one in found if one.label.endswith("'s place")}
    label = full_name(scene, ref)
    given_there = ref in scene.curves or scene.set_value(ref) != scene.default(ref)
    for other in channels_of(scene):
        a, b = before.channel(other, "final"), after.channel(other, "final")
        if other != ref and len(a) == len(b) and not np.array_equal(a, b):
            group = other.channel.partition(".")[0]
            assert other in reached or (other.part, f"{group}.x") in reached
            causes = causes_of(before, other, float(scene.first))
            own = {c.label for c in causes} if len(causes) < 100 else {f"{label} @keyed"}
            assert not given_there or any(text.startswith(label) for text in own)
    for moved in scene.parts:
        if not np.array_equal(before.world(moved), after.world(moved)):
            assert moved in places


def a_read_is_taken_at_another_tap_and_nothing_else_is_changed(evaluation: Evaluation) -> None:
    scene = evaluation.scene
    for step in list(scene.steps.values())[:6]:
        for read in reads_of(scene, step)[:4]:
            if read.tap not in TAPS or not (
                read.quantity.startswith("world") or known_channel(scene, ChannelRef(*read[:2]))
            ):
                continue
            edit = Reread(step.id, read.part, read.quantity, read.tap, read.back, "driven")  # type: ignore[arg-type]
            try:
                made = edit.apply(scene)
            except Refusal:
                continue
            new, wanted = (
                reads_of(made, made.steps[step.id]),
                read._replace(tap="driven", back=False),
            )
            # Not beside the one that was there: wherever the step reads it, it reads it so.
            assert wanted in new and (read == wanted or read not in new)
            others = {i: s for i, s in made.steps.items() if i != step.id}
            unchanged = {i: s for i, s in scene.steps.items() if i != step.id}
            if step.settings.kind != "driven keys":
                assert others == unchanged


def test_what_is_said_holds_on_any_scene() -> None:
    """All of the above, on scenes of each kind of seed and on what random edits lead to: each is
    drawn and evaluated once."""

    @given(edited())
    def holds(made: Made) -> None:
        evaluation = evaluate(made())
        for check in (
            the_order_respects_every_read_and_ranks_are_longest_distances,
            loops_are_found_where_networkx_finds_them_and_nowhere_else,
            cards_hold_every_port_once_and_reads_go_to_the_right,
            each_remedy_breaks_its_loop_and_makes_no_other,
            the_last_word_is_the_last_bead_that_changes_the_value,
            what_changes_with_a_value_is_among_what_it_reaches,
            a_read_is_taken_at_another_tap_and_nothing_else_is_changed,
        ):
            check(evaluation)

    for made in (by_turns, *SEEDED):
        holds = example(made)(holds)
    holds()
