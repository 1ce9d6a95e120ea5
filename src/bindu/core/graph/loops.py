"""Loops: steps that feed themselves, and the reads that are held to break them."""

from __future__ import annotations

from collections.abc import Iterable, Iterator, Mapping
from dataclasses import dataclass, replace
from functools import partial
from typing import NamedTuple

import networkx as nx

from bindu.core.graph.build import Replacements, build_node, build_nodes
from bindu.core.graph.kinds.group import group_node
from bindu.core.graph.kinds.quaternion import quaternion_node
from bindu.core.graph.kinds.ties import step_around, ties_of
from bindu.core.graph.marches import (
    Marches,
    groups_with_time,
    needs_all_frames,
    order_with_marches,
)
from bindu.core.graph.order import Dependents, TiesOf, dependents_of
from bindu.core.nodes.identity import DEFAULT, OWN, QUATERNION, SOLVE, NodeId, after, at_tap, tap_of
from bindu.core.nodes.node import Node
from bindu.core.scene.channels import GROUPS, TAPS, ChannelRef, zone_index
from bindu.core.scene.model import Scene


@dataclass(frozen=True)
class Loop:
    """A group of nodes that feed themselves.

    Attributes:
        chain: the shortest way round, each node read by the next, ending at ``reader``.
        members: all nodes of the group, in the order of ties.
        reader: the step whose read closes the loop.
        held: the value that this read takes instead: the tap before the offending step.
        more: how many reads beside this one are held, since the group has other ways round too.
    """

    chain: tuple[NodeId, ...]
    members: tuple[NodeId, ...]
    reader: NodeId
    held: NodeId
    more: int = 0


def digraph(nodes: Mapping[NodeId, Node]) -> nx.DiGraph[NodeId]:
    """The nodes as a NetworkX graph, an edge from each input to its reader, without what is read
    one frame back, unless that is in a group that needs frames to come: that is a loop too."""
    graph: nx.DiGraph[NodeId] = nx.DiGraph()
    graph.add_nodes_from(nodes)
    groups = groups_with_time(nodes) if any(node.delayed for node in nodes.values()) else []
    stuck = {i for group in groups if needs_all_frames(nodes, group) for i in group}
    for node in nodes.values():
        back = node.delayed and node.id not in stuck
        graph.add_edges_from((i, node.id) for i in node.inputs[1 if back else 0 :])
    return graph


class Unlooped(NamedTuple):
    """The nodes of a scene in which nothing feeds itself any more.

    Attributes:
        nodes: by identity.
        order: of evaluation.
        dependents: the nodes that read a node.
        loops: as they were found.
        replacements: what the reads that are held take instead.
        marches: the groups that run frame by frame.
    """

    nodes: dict[NodeId, Node]
    order: tuple[NodeId, ...]
    dependents: Dependents
    loops: tuple[Loop, ...]
    replacements: Replacements
    marches: Marches


def nodes_without_loops(scene: Scene, wanted: Iterable[NodeId]) -> Unlooped:
    """The nodes of a scene with each loop broken at one read.

    In each strongly connected group the reads of the step that comes first by ties are held,
    one after the other, until nothing feeds itself; always the same reads for the same scene.
    """
    replacements: dict[tuple[NodeId, int], NodeId] = {}
    loops: list[Loop] = []
    ties = partial(ties_of, scene)
    while True:
        nodes = build_nodes(scene, wanted, replacements)
        dependents = dependents_of(nodes)
        order, marches = order_with_marches(nodes, dependents, ties)
        if len(order) == len(nodes):
            return Unlooped(nodes, order, dependents, tuple(loops), replacements, marches)
        graph = digraph(nodes)
        for group in _groups(graph, ties):
            seeds = _seeds(scene, nodes, group)
            if seeds:
                replacements.update(seeds)
                continue
            loop, made = _opened(scene, graph, nodes, group)
            loops.append(loop)
            replacements.update(made)


def _opened(
    scene: Scene, graph: nx.DiGraph[NodeId], nodes: Mapping[NodeId, Node], group: list[NodeId]
) -> tuple[Loop, Replacements]:
    """The loop that a group is, and the reads that are held until nothing in it feeds itself."""
    made: dict[tuple[NodeId, int], NodeId] = {}
    first: Loop | None = None
    inside = _part_of(graph, group)
    pending = [(group, inside)]
    while pending:
        part, inside = pending.pop(0)
        reader, source = _closing(nodes, inside, part)
        held = _value_before(scene, source, set(part))
        if first is None:
            first = Loop(_around(inside, reader, source), tuple(part), reader, held)
        for place, taken in enumerate(nodes[reader].inputs):
            if taken == source:
                made[reader, place] = held
        inside.remove_edge(source, reader)
        left = _groups(inside, partial(ties_of, scene))
        whole = len(left) == 1 and len(left[0]) == len(part)
        pending += [(one, inside if whole else _part_of(inside, one)) for one in left]
    assert first is not None
    readers = {reader for reader, _ in made}
    return replace(first, more=max(len(made), len(readers)) - 1), made


def _groups(graph: nx.DiGraph[NodeId], ties: TiesOf) -> list[list[NodeId]]:
    found = [
        sorted(group, key=ties)
        for group in nx.strongly_connected_components(graph)
        if len(group) > 1 or any(graph.has_edge(i, i) for i in group)
    ]
    return sorted(found, key=lambda group: ties(group[0]))


def _seeds(
    scene: Scene, nodes: Mapping[NodeId, Node], group: list[NodeId]
) -> dict[tuple[NodeId, int], NodeId]:
    """For values one frame back whose first value would be made of themselves: an earlier one."""
    members = set(group)
    return {
        (i, 1): _value_before(scene, nodes[i].inputs[1], members)
        for i in group
        if nodes[i].delayed and nodes[i].inputs[1] in members
    }


def _part_of(graph: nx.DiGraph[NodeId], group: list[NodeId]) -> nx.DiGraph[NodeId]:
    """The nodes of a group and the edges between them, as a graph of its own."""
    members = set(group)
    part: nx.DiGraph[NodeId] = nx.DiGraph()
    part.add_nodes_from(group)
    part.add_edges_from((a, b) for b in group for a in graph.predecessors(b) if a in members)
    return part


def _closing(
    nodes: Mapping[NodeId, Node], graph: nx.DiGraph[NodeId], group: list[NodeId]
) -> tuple[NodeId, NodeId]:
    """The read that closes a group: its reader and what that takes; the first by ties."""
    members = set(group)
    return next(
        (i, source)
        for i in group
        for n, source in enumerate(nodes[i].inputs)
        if n >= len(nodes[i].inputs) - nodes[i].reads
        and source in members
        and source.quantity != SOLVE
        and graph.has_edge(source, i)
    )


def _around(graph: nx.DiGraph[NodeId], reader: NodeId, source: NodeId) -> tuple[NodeId, ...]:
    """The shortest way from a reader to what it takes, and back to it."""
    if source == reader:
        return reader, reader
    return (*nx.shortest_path(graph, reader, source), reader)


def _value_before(scene: Scene, node_id: NodeId, members: set[NodeId]) -> NodeId:
    """The nearest earlier value of the same quantity that is outside the loop."""
    for candidate in earlier_values(scene, node_id):
        if not feeds_from(scene, candidate, members):
            return candidate
    return NodeId(node_id.part, node_id.quantity, DEFAULT)


def earlier_values(scene: Scene, node_id: NodeId) -> Iterator[NodeId]:
    """The values of the same quantity at earlier stages, the nearest first."""
    part, quantity, stage = node_id
    step, at = step_around(scene, stage), tap_of(stage)
    if step is not None and quantity not in (*GROUPS, QUATERNION):
        writers = [after(s) for s in scene.writers(ChannelRef(part, quantity)) if s.on]
        stages = [OWN, *writers[: writers.index(stage)]]
        yield from (NodeId(part, quantity, earlier) for earlier in reversed(stages))
        return
    if step is None and at is None:
        return
    end = zone_index(step.zone if step else at or "keyed")
    for tap in reversed(TAPS[:end]):
        if quantity == QUATERNION:
            yield quaternion_node(scene, part, at_tap(tap))
        elif quantity in GROUPS:
            yield group_node(scene, part, quantity, at_tap(tap))
        else:
            yield NodeId(part, quantity, at_tap(tap))


def feeds_from(scene: Scene, candidate: NodeId, members: set[NodeId]) -> bool:
    """Whether a value is made of anything in the group."""
    seen, pending = {candidate}, [candidate]
    while pending:
        node_id = pending.pop()
        if node_id in members:
            return True
        new = set(build_node(scene, node_id, {}).inputs) - seen
        seen |= new
        pending.extend(new)
    return False
