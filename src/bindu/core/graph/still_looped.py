"""What of a loop would be left after a change."""

from __future__ import annotations

from collections.abc import Collection

import networkx as nx

from bindu.core.graph.build import build_node
from bindu.core.graph.graph import Graph
from bindu.core.graph.kinds.ties import step_around
from bindu.core.graph.loops import Loop, digraph
from bindu.core.nodes.identity import NodeId
from bindu.core.nodes.node import Node
from bindu.core.scene.model import Scene


def still_looped(loop: Loop, feeding: Collection[NodeId], changed: Scene) -> set[NodeId]:
    """The values of a loop that would still be in one.

    Only what they come to be made of is built; what fed the loop before, without being made of it,
    is not followed.

    Args:
        loop: as it was found.
        feeding: see ``feeding_of``.
        changed: the scene after a change of steps on the way round.
    """
    members = set(loop.members)
    nodes: dict[NodeId, Node] = {}
    pending = [node for node in loop.members if _there(changed, node)]
    while pending:
        node_id = pending.pop()
        if node_id not in nodes and node_id not in feeding:
            nodes[node_id] = build_node(changed, node_id, {})
            pending.extend(nodes[node_id].inputs)
    reads = digraph(nodes)
    groups = nx.strongly_connected_components(reads)
    return {
        one
        for group in groups
        if len(group) > 1 or any(reads.has_edge(i, i) for i in group)
        for one in group & members
    }


def feeding_of(graph: Graph, loop: Loop) -> set[NodeId]:
    """What a loop of a graph is made of, without its members."""
    members = set(loop.members)
    seen, pending = set(members), list(members)
    while pending:
        node_id = pending.pop()
        known = graph.nodes.get(node_id)
        if known is None or node_id in graph.unbroken:
            # Held, or wanted by nothing but what is held: as it would be without that.
            known = build_node(graph.scene, node_id, {})
        new = set(known.inputs) - seen
        seen |= new
        pending.extend(new)
    return seen - members


def _there(scene: Scene, node: NodeId) -> bool:
    """Whether a node still is one: that of a muted step is not."""
    if node.stage.kind not in ("step", "before"):
        return True
    step = step_around(scene, node.stage)
    return step is not None and step.on
