"""The graph of a scene: nodes, order, ranks, loops; brought up to date after an edit."""

from __future__ import annotations

from collections.abc import Iterable, Iterator, Mapping
from dataclasses import dataclass, replace

from bindu.core.graph.build import Replacements, build_node, roots
from bindu.core.graph.kinds.ties import step_around
from bindu.core.graph.loops import Loop, nodes_without_loops
from bindu.core.graph.marches import Marches
from bindu.core.nodes.identity import OWN, NodeId
from bindu.core.nodes.node import Node
from bindu.core.scene.channels import layer_and_channel
from bindu.core.scene.model import Scene


@dataclass(frozen=True)
class Graph:
    """The nodes of a scene in the order of evaluation.

    Attributes:
        nodes: by identity.
        order: topological; ties by zone, then by the parts' order in the tree, then by the
            steps' listed order.
        ranks: each node's longest distance from a node that reads nothing.
        levels: the same where a group that runs frame by frame counts as one node, which comes
            before all that reads any of it: nodes of one level can be computed in any order.
        dependents: the nodes that read a node.
        loops: all that feed themselves.
        held: nodes in a loop or downstream of one.
        replacements: the reads that were held to break the loops.
        unbroken: what the nodes that hold a read would take without that.
        marches: for each node that feeds itself only one frame back, all nodes of its group, in
            their order; such a group runs frame by frame.
    """

    scene: Scene
    nodes: Mapping[NodeId, Node]
    order: tuple[NodeId, ...]
    ranks: Mapping[NodeId, int]
    levels: Mapping[NodeId, int]
    dependents: Mapping[NodeId, tuple[NodeId, ...]]
    loops: tuple[Loop, ...]
    held: frozenset[NodeId]
    replacements: Replacements
    unbroken: Mapping[NodeId, tuple[NodeId, ...]]
    marches: Mapping[NodeId, tuple[NodeId, ...]]


def graph_of(scene: Scene, only: Iterable[NodeId] | None = None) -> Graph:
    """The graph of a scene, from nothing; with ``only``, of these nodes and what feeds them."""
    if only is None:
        wanted = [root for part in scene.tree_order for root in roots(scene, part)]
        wanted += [NodeId(*ref, OWN) for ref in scene.curves]
    else:
        wanted = list(only)
    nodes, order, dependents, loops, replacements, marches = nodes_without_loops(scene, wanted)
    ranks = _ranks(nodes, order)
    levels = _levels(nodes, order, marches) if marches else ranks
    # A value that only the held reads wanted is not computed any more.
    in_loops = {member for loop in loops for member in loop.members if member in nodes}
    held = frozenset(downstream(dependents, in_loops))
    unbroken = {i: build_node(scene, i, {}).inputs for i, _ in replacements if i in nodes}
    return Graph(
        scene, nodes, order, ranks, levels, dependents, loops, held, replacements, unbroken, marches
    )


def _ranks(nodes: Mapping[NodeId, Node], order: Iterable[NodeId]) -> dict[NodeId, int]:
    ranks: dict[NodeId, int] = {}
    for node_id in order:
        # What is read one frame back has no rank yet.
        ranks[node_id] = 1 + max((ranks.get(i, -1) for i in nodes[node_id].inputs), default=-1)
    return ranks


def _levels(
    nodes: Mapping[NodeId, Node], order: Iterable[NodeId], marches: Marches
) -> dict[NodeId, int]:
    levels: dict[NodeId, int] = {}
    for node_id in order:
        if node_id in levels:
            continue
        members = marches.get(node_id, (node_id,))
        inside = set(members)
        read = (i for member in members for i in nodes[member].inputs if i not in inside)
        level = 1 + max((levels[i] for i in read), default=-1)
        levels.update(dict.fromkeys(members, level))
    return levels


def downstream(dependents: Mapping[NodeId, tuple[NodeId, ...]], start: set[NodeId]) -> set[NodeId]:
    """The nodes of ``start`` and all that is computed from them."""
    reached, pending = set(start), list(start)
    while pending:
        for reader in dependents[pending.pop()]:
            if reader not in reached:
                reached.add(reader)
                pending.append(reader)
    return reached


def graph_after(graph: Graph, scene: Scene) -> tuple[Graph, set[NodeId]]:
    """The graph of a scene that came from ``graph.scene`` by an edit.

    Where the edit changed only numbers (a key, a value, a factor), the nodes of the parts that
    it touched are made again and the order stays; else everything is made again.

    Returns:
        The graph, and the nodes whose operation may have changed.
    """
    old = graph.scene
    touched = set(_touched_parts(old, scene))
    # What a lead group computes is made from the rests of all its members.
    touched |= {lead.part for lead in scene.leads.values() if not touched.isdisjoint(lead.members)}
    # A layer's weight is a channel of one part, and weighs curves of others.
    weighing = {layer.id for layer in scene.layers.values() if layer.part in touched}
    if weighing:
        touched |= {r.part for r in scene.curves if layer_and_channel(r.channel)[0] in weighing}
    same_tree = (
        old.layers == scene.layers
        and old.leads == scene.leads
        and old.parts.keys() == scene.parts.keys()
        and all(
            old.parts[p].parent == scene.parts[p].parent
            and old.parts[p].position == scene.parts[p].position
            # Who reads a part may compute with its rotation order.
            and old.parts[p].rotation_order == scene.parts[p].rotation_order
            for p in touched
        )
    )
    if same_tree:
        made = _made_again(graph, scene, touched)
        if made is not None:
            return replace(graph, scene=scene, nodes={**graph.nodes, **made}), set(made)
    whole = graph_of(scene)
    return whole, set(whole.nodes)


def _touched_parts(old: Scene, new: Scene) -> Iterator[str]:
    """The parts of which something differs. Unchanged things are shared, so they are compared
    by identity."""
    yield from (p for p, part in new.parts.items() if old.parts.get(p) is not part)
    for before, after in ((old.channels, new.channels), (old.steps, new.steps)):
        if before is not after:
            for key in before.keys() | after.keys():
                a, b = before.get(key), after.get(key)
                if a is not b:
                    yield from (found.part for found in (a, b) if found)
    if old.driven is not new.driven:
        changed = {
            k
            for k in old.driven.keys() | new.driven.keys()
            if old.driven.get(k) is not new.driven.get(k)
        }
        yield from (row.part for driven in changed for row in new.rows_of.get(driven, ()))
    if old.curves is not new.curves:
        for ref in old.curves.keys() | new.curves.keys():
            if old.curves.get(ref) is not new.curves.get(ref):
                yield ref.part


def _made_again(graph: Graph, scene: Scene, touched: set[str]) -> dict[NodeId, Node] | None:
    """The nodes of these parts for the new scene; None where the structure has changed."""
    known = graph.nodes
    if any(root not in known for part in touched for root in roots(scene, part)):
        return None
    if any(NodeId(*ref, OWN) not in known for ref in scene.curves if ref.part in touched):
        return None
    if any(ref not in scene.curves for ref in graph.scene.curves if ref.part in touched):
        return None
    made: dict[NodeId, Node] = {}
    for node_id in known:
        if node_id.part not in touched:
            continue
        if step_around(graph.scene, node_id.stage) and not _still_on(scene, node_id.stage.name):
            return None
        # Compared as it is without held reads: else one that closes no loop any more would hide.
        node = build_node(scene, node_id, {})
        inputs = known[node_id].inputs
        if node.inputs != graph.unbroken.get(node_id, inputs):
            return None
        if node.order != known[node_id].order:
            return None
        node = node._replace(inputs=inputs)
        # By digest, not by equality: 0 and -0 are equal, but not the same bytes.
        if node.operation.digest != known[node_id].operation.digest:
            made[node_id] = node
    return made


def _still_on(scene: Scene, step_id: str) -> bool:
    step = scene.step(step_id)
    return step is not None and step.on
