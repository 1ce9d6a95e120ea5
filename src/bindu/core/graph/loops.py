"""Loops: steps that feed themselves, and the reads that are held to break them."""

from __future__ import annotations

from collections.abc import Iterable, Mapping
from dataclasses import dataclass

import networkx as nx

from bindu.core.graph.build import Replacements, build_nodes
from bindu.core.graph.node import Node, NodeId
from bindu.core.graph.order import dependents_of, ordered
from bindu.core.scene.channels import TAPS, ChannelRef
from bindu.core.scene.model import Scene


@dataclass(frozen=True)
class Loop:
    """A group of nodes that feed themselves.

    Attributes:
        chain: the shortest way round, each node read by the next, ending at ``reader``.
        members: all nodes of the group, in the order of ties.
        reader: the step whose read closes the loop.
        held: the value that this read takes instead: the tap before the offending step.
    """

    chain: tuple[NodeId, ...]
    members: tuple[NodeId, ...]
    reader: NodeId
    held: NodeId


def digraph(nodes: Mapping[NodeId, Node]) -> nx.DiGraph[NodeId]:
    """The nodes as a NetworkX graph, an edge from each input to its reader."""
    graph: nx.DiGraph[NodeId] = nx.DiGraph()
    graph.add_nodes_from(nodes)
    graph.add_edges_from((i, node.id) for node in nodes.values() for i in node.inputs)
    return graph


def nodes_without_loops(
    scene: Scene, wanted: Iterable[NodeId]
) -> tuple[dict[NodeId, Node], tuple[NodeId, ...], tuple[Loop, ...], Replacements]:
    """The nodes of a scene with each loop broken at one read.

    In each strongly connected group the reads of the step that comes first by ties are held,
    one after the other, until nothing feeds itself; always the same reads for the same scene.

    Returns:
        The nodes, their order, the loops as they were found, and what was replaced.
    """
    replacements: dict[tuple[NodeId, int], NodeId] = {}
    loops: list[Loop] = []
    while True:
        nodes = build_nodes(scene, wanted, replacements)
        order = ordered(nodes, dependents_of(nodes))
        if len(order) == len(nodes):
            return nodes, order, tuple(loops), replacements
        graph = digraph(nodes)
        for group in _groups(graph, nodes):
            loop, places = _broken(scene, graph, nodes, group)
            loops.append(loop)
            replacements.update({(loop.reader, place): loop.held for place in places})


def _groups(graph: nx.DiGraph[NodeId], nodes: Mapping[NodeId, Node]) -> list[list[NodeId]]:
    found = [
        sorted(group, key=lambda i: (nodes[i].order, i))
        for group in nx.strongly_connected_components(graph)
        if len(group) > 1 or any(graph.has_edge(i, i) for i in group)
    ]
    return sorted(found, key=lambda group: (nodes[group[0]].order, group[0]))


def _broken(
    scene: Scene, graph: nx.DiGraph[NodeId], nodes: Mapping[NodeId, Node], group: list[NodeId]
) -> tuple[Loop, list[int]]:
    members = set(group)
    reader, source = next(
        (i, source)
        for i in group
        for n, source in enumerate(nodes[i].inputs)
        if n >= len(nodes[i].inputs) - nodes[i].reads and source in members
    )
    places = [n for n, i in enumerate(nodes[reader].inputs) if i == source]
    inside = graph.subgraph(members)
    chain = [source] if source == reader else nx.shortest_path(inside, reader, source)
    around = (*chain, reader) if source != reader else (reader, reader)
    held = _value_before(scene, source, members)
    return Loop(tuple(around), tuple(group), reader, held), places


def _value_before(scene: Scene, node_id: NodeId, members: set[NodeId]) -> NodeId:
    """The nearest earlier value of the same quantity that is outside the loop."""
    part, quantity, stage = node_id
    earlier: list[str]
    if scene.step(stage):
        ref = ChannelRef(part, quantity)
        on = [s.id for s in scene.writers(ref) if s.on]
        earlier = ["own", *on[: on.index(stage)]]
    else:
        earlier = list(TAPS[: TAPS.index(stage)]) if stage in TAPS else []
    for before in reversed(earlier):
        candidate = NodeId(part, quantity, before)
        if not _feeds_from(scene, candidate, members):
            return candidate
    return NodeId(part, quantity, "default")


def _feeds_from(scene: Scene, candidate: NodeId, members: set[NodeId]) -> bool:
    """Whether a value is made of anything in the group."""
    return candidate in members or not members.isdisjoint(build_nodes(scene, [candidate], {}))
