"""The order of evaluation: topological, ties broken always the same way."""

from __future__ import annotations

import heapq
from collections.abc import Mapping

from bindu.core.nodes.identity import NodeId
from bindu.core.nodes.node import Node

Dependents = Mapping[NodeId, tuple[NodeId, ...]]


def dependents_of(nodes: Mapping[NodeId, Node]) -> Dependents:
    """The nodes that read each node, each once."""
    found: dict[NodeId, list[NodeId]] = {}
    for node_id, node in nodes.items():
        for source in dict.fromkeys(node.inputs):
            found.setdefault(source, []).append(node_id)
    return {node_id: tuple(found.get(node_id, ())) for node_id in nodes}


def ordered(nodes: Mapping[NodeId, Node], dependents: Dependents) -> tuple[NodeId, ...]:
    """The nodes in the order of evaluation: of those whose inputs are all there, the first by
    ties comes next (A. B. Kahn, "Topological sorting of large networks", CACM 5, 1962, with a
    heap). Nodes in a loop, or downstream of one, are left out.
    """
    waiting = {i: len(n.inputs if len(n.inputs) < 2 else set(n.inputs)) for i, n in nodes.items()}
    ready = [(nodes[i].order, i) for i, count in waiting.items() if count == 0]
    heapq.heapify(ready)
    order: list[NodeId] = []
    while ready:
        _, node_id = heapq.heappop(ready)
        order.append(node_id)
        for reader in dependents[node_id]:
            waiting[reader] -= 1
            if waiting[reader] == 0:
                heapq.heappush(ready, (nodes[reader].order, reader))
    return tuple(order)
