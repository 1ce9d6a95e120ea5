"""Groups of nodes that feed themselves one frame back: they run frame by frame."""

from __future__ import annotations

from collections.abc import Mapping

import networkx as nx

from bindu.core.graph.order import Dependents, Nodes, TiesOf, dependents_of, ordered
from bindu.core.nodes.identity import NodeId
from bindu.core.nodes.node import Node

Marches = Mapping[NodeId, tuple[NodeId, ...]]
"""For each member of a group, all its members in the order of one frame."""


def order_with_marches(
    nodes: Nodes, dependents: Dependents, ties: TiesOf
) -> tuple[tuple[NodeId, ...], Marches]:
    """The order of evaluation, in which each group that feeds itself only one frame back stands
    together; and these groups. Nodes in a loop of one frame, or downstream of one, are left out.
    """
    order = ordered(nodes, dependents, ties)
    if len(order) == len(nodes) or not any(node.delayed for node in nodes.values()):
        return order, {}
    groups = _groups(nodes)
    first = {member: min(group, key=ties) for group in groups for member in group}
    joined: dict[NodeId, Node] = {}
    for node_id, node in nodes.items():
        unit = first.get(node_id, node_id)
        # A node alone that reads itself is a loop of one frame, and stays out.
        inputs = tuple(first.get(i, i) for i in node.inputs)
        inputs = tuple(i for i in inputs if i != unit) if node_id in first else inputs
        if unit in joined:
            inputs += joined[unit].inputs
        joined[unit] = nodes[unit]._replace(inputs=inputs)
    inner = {min(group, key=ties): _inside(nodes, group, ties) for group in groups}
    made: list[NodeId] = []
    marches: dict[NodeId, tuple[NodeId, ...]] = {}
    for unit in ordered(joined, dependents_of(joined), ties):
        if unit not in inner:
            made.append(unit)
            continue
        members = inner[unit]
        made.extend(members)
        marches.update(dict.fromkeys(members, members))
    return tuple(made), marches


def _groups(nodes: Nodes) -> list[set[NodeId]]:
    """The strongly connected groups with a read one frame back that can run frame by frame:
    nothing in them needs frames that are to come."""
    return [group for group in groups_with_time(nodes) if not needs_all_frames(nodes, group)]


def groups_with_time(nodes: Nodes) -> list[set[NodeId]]:
    """The strongly connected groups with a read one frame back."""
    graph: nx.DiGraph[NodeId] = nx.DiGraph()
    graph.add_edges_from((i, node.id) for node in nodes.values() for i in node.inputs)
    found = (group for group in nx.strongly_connected_components(graph) if len(group) > 1)
    return [group for group in found if any(nodes[i].delayed for i in group)]


def needs_all_frames(nodes: Nodes, group: set[NodeId]) -> bool:
    """Whether something in a group is made of frames that are to come."""
    return any(nodes[i].operation.reach == "all frames" for i in group)


def _inside(nodes: Nodes, group: set[NodeId], ties: TiesOf) -> tuple[NodeId, ...]:
    """The members in the order of one frame; without those in a loop of one frame."""
    inside = {}
    for member in group:
        inputs = nodes[member].inputs[1 if nodes[member].delayed else 0 :]
        inside[member] = nodes[member]._replace(inputs=tuple(i for i in inputs if i in group))
    return ordered(inside, dependents_of(inside), ties)
