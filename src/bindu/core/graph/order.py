"""The order of evaluation: topological, ties broken always the same way; and ranks."""

from __future__ import annotations

import heapq
from collections.abc import Callable, Collection, Mapping

from bindu.core.graph.kinds.ties import Ties
from bindu.core.nodes.identity import NodeId
from bindu.core.nodes.node import Node

Dependents = Mapping[NodeId, tuple[NodeId, ...]]
Nodes = Mapping[NodeId, Node]
NO_RANK = -1
"""Stands for the rank of a node that is still to be found: lower than any."""
TiesOf = Callable[[NodeId], Ties]


def dependents_of(nodes: Nodes) -> dict[NodeId, tuple[NodeId, ...]]:
    """The nodes that read each node, each once."""
    found: dict[NodeId, list[NodeId]] = {}
    for node_id, node in nodes.items():
        for source in dict.fromkeys(node.inputs):
            found.setdefault(source, []).append(node_id)
    return {node_id: tuple(found.get(node_id, ())) for node_id in nodes}


def ordered(nodes: Nodes, dependents: Dependents, ties: TiesOf) -> tuple[NodeId, ...]:
    """The nodes in the order of evaluation: of those whose inputs are all there, the first by
    ties comes next (A. B. Kahn, "Topological sorting of large networks", CACM 5, 1962, with a
    heap). Nodes in a loop, or downstream of one, are left out.
    """
    waiting = {i: len(set(node.inputs)) for i, node in nodes.items()}
    ready = [ties(i) for i, count in waiting.items() if count == 0]
    heapq.heapify(ready)
    order: list[NodeId] = []
    while ready:
        node_id = heapq.heappop(ready)[-1]
        order.append(node_id)
        for reader in dependents[node_id]:
            waiting[reader] -= 1
            if waiting[reader] == 0:
                heapq.heappush(ready, ties(reader))
    return tuple(order)


def ranks_of(nodes: Nodes) -> dict[NodeId, int] | None:
    """Each node's longest distance from a node that reads nothing; None where there is a loop, be
    it over a value one frame back."""
    ranks: dict[NodeId, int] = {}
    opened: set[NodeId] = set()
    # Nodes are made before what they read, so that most are ready when it is their turn.
    pending = list(nodes)
    while pending:
        node_id = pending.pop()
        if node_id in ranks:
            continue
        inputs = nodes[node_id].inputs
        found = [ranks.get(i, NO_RANK) for i in inputs]
        if NO_RANK not in found:
            ranks[node_id] = 1 + max(found, default=-1)
        elif node_id in opened:
            # All its inputs have been looked at, so one that has no rank waits for this node.
            return None
        else:
            opened.add(node_id)
            pending.append(node_id)
            pending.extend([i for i in inputs if i not in ranks])
    return ranks


def ranks_again(
    nodes: Nodes, dependents: Dependents, ranks: Mapping[NodeId, int], changed: Collection[NodeId]
) -> dict[NodeId, int] | None:
    """The ranks of all nodes after some have been made again; see ``ranks_of``.

    Args:
        nodes: as they are now.
        dependents: of them.
        ranks: of the nodes that were there before.
        changed: nodes that are new or have other inputs.
    """
    reached, pending = set(changed), list(changed)
    while pending:
        for reader in dependents[pending.pop()]:
            if reader not in reached:
                reached.add(reader)
                pending.append(reader)
    waiting = {i: sum(j in reached for j in set(nodes[i].inputs)) for i in reached}
    ready = [i for i, count in waiting.items() if count == 0]
    made = {i: rank for i, rank in ranks.items() if i in nodes}
    done = 0
    while ready:
        node_id = ready.pop()
        done += 1
        made[node_id] = 1 + max([made[i] for i in nodes[node_id].inputs], default=-1)
        for reader in dependents[node_id]:
            waiting[reader] -= 1
            if waiting[reader] == 0:
                ready.append(reader)
    return made if done == len(reached) else None
