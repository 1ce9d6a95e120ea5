"""The graph of a scene: nodes, ranks, loops, order."""

from __future__ import annotations

from collections.abc import Iterable, Mapping
from dataclasses import dataclass, field
from functools import cached_property, partial

from bindu.core.graph.build import Replacements, build_node, build_nodes, roots
from bindu.core.graph.kinds.ties import ties_of
from bindu.core.graph.loops import Loop, Unlooped, nodes_without_loops
from bindu.core.graph.marches import Marches
from bindu.core.graph.order import Dependents, dependents_of, ordered, ranks_of
from bindu.core.nodes.identity import OWN, NodeId
from bindu.core.nodes.node import Node
from bindu.core.scene.model import Scene


@dataclass(frozen=True)
class Graph:
    """The nodes of a scene, and how they depend on each other.

    Attributes:
        nodes: by identity.
        ranks: each node's longest distance from a node that reads nothing.
        levels: the same where a group that runs frame by frame counts as one node, which comes
            before all that reads any of it: nodes of one level can be computed in any order.
        loops: all that feed themselves.
        replacements: the reads that were held to break the loops.
        marches: for each node that feeds itself only one frame back, all nodes of its group, in
            their order; such a group runs frame by frame.
    """

    scene: Scene
    nodes: Mapping[NodeId, Node]
    ranks: Mapping[NodeId, int]
    levels: Mapping[NodeId, int]
    loops: tuple[Loop, ...] = ()
    replacements: Replacements = field(default_factory=dict)
    marches: Marches = field(default_factory=dict)

    @property
    def plain(self) -> bool:
        """Nothing in it feeds itself, be it one frame back."""
        return not (self.loops or self.replacements or self.marches)

    @cached_property
    def order(self) -> tuple[NodeId, ...]:
        """The order of evaluation: topological; ties by zone, then by the parts' order in the
        tree, then by the steps' listed order."""
        return ordered(self.nodes, self.dependents, partial(ties_of, self.scene))

    @cached_property
    def dependents(self) -> Dependents:
        """The nodes that read a node."""
        return dependents_of(self.nodes)

    @cached_property
    def held(self) -> frozenset[NodeId]:
        """Nodes in a loop or downstream of one."""
        # A value that only the held reads wanted is not computed any more.
        in_loops = {i for loop in self.loops for i in loop.members if i in self.nodes}
        return frozenset(downstream(self.dependents, in_loops))

    @cached_property
    def unbroken(self) -> Mapping[NodeId, tuple[NodeId, ...]]:
        """What the nodes that hold a read would take without that."""
        readers = {reader for reader, _ in self.replacements if reader in self.nodes}
        return {i: build_node(self.scene, i, {}).inputs for i in readers}


def graph_of(scene: Scene, only: Iterable[NodeId] | None = None) -> Graph:
    """The graph of a scene, from nothing; with ``only``, of these nodes and what feeds them."""
    if only is None:
        wanted = [root for part in scene.tree_order for root in roots(scene, part)]
        wanted += [NodeId(*ref, OWN) for ref in scene.curves]
    else:
        wanted = list(only)
    nodes = build_nodes(scene, wanted, {})
    ranks = ranks_of(nodes)
    if ranks is not None:
        return Graph(scene, nodes, ranks, ranks)
    return _graph_with_loops(scene, nodes_without_loops(scene, wanted))


def _graph_with_loops(scene: Scene, found: Unlooped) -> Graph:
    ranks: dict[NodeId, int] = {}
    for node_id in found.order:
        # What is read one frame back has no rank yet.
        read = (ranks[i] for i in found.nodes[node_id].inputs if i in ranks)
        ranks[node_id] = 1 + max(read, default=-1)
    levels = _levels(found) if found.marches else ranks
    made = Graph(scene, found.nodes, ranks, levels, found.loops, found.replacements, found.marches)
    # Where groups run frame by frame, ties alone do not say the order.
    made.__dict__["order"] = found.order
    return made


def _levels(found: Unlooped) -> dict[NodeId, int]:
    levels: dict[NodeId, int] = {}
    for node_id in found.order:
        if node_id in levels:
            continue
        members = found.marches.get(node_id, (node_id,))
        inside = set(members)
        read = (i for member in members for i in found.nodes[member].inputs if i not in inside)
        level = 1 + max((levels[i] for i in read), default=-1)
        levels.update(dict.fromkeys(members, level))
    return levels


def downstream(dependents: Dependents, start: Iterable[NodeId]) -> set[NodeId]:
    """The nodes of ``start`` and all that is computed from them."""
    reached = set(start)
    pending = list(reached)
    while pending:
        for reader in dependents[pending.pop()]:
            if reader not in reached:
                reached.add(reader)
                pending.append(reader)
    return reached
