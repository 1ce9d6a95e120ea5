"""The graph of a scene that came from another by an edit."""

from __future__ import annotations

from collections.abc import Iterable, Iterator, Mapping
from dataclasses import replace

from bindu.core.graph.build import build_node, build_nodes, roots
from bindu.core.graph.graph import Graph, graph_of
from bindu.core.graph.kinds.ties import step_around
from bindu.core.graph.order import ranks_again
from bindu.core.nodes.identity import OWN, NodeId
from bindu.core.nodes.node import Node
from bindu.core.scene.channels import layer_and_channel
from bindu.core.scene.model import Scene
from bindu.core.steps.solved.limb import chain_line


def graph_after(graph: Graph, scene: Scene) -> tuple[Graph, set[NodeId]]:
    """The graph of a scene that came from ``graph.scene`` by an edit.

    Only the nodes of the parts that the edit touched, and those that read them, are made again;
    where something feeds itself, before or after a change of the structure, all are.

    Returns:
        The graph, and the nodes whose operation or inputs may have changed.
    """
    old = graph.scene
    touched = _touched(old, scene)
    if _same_things(old, scene, touched):
        made = _numbers_changed(graph, scene, touched)
        if made is not None:
            return _with_nodes(graph, scene, made), set(made)
    # What a lead group computes hangs on all that lies above its members.
    if graph.plain and old.layers == scene.layers and not (old.leads or scene.leads):
        found = _structure_changed(graph, scene, touched)
        if found is not None:
            return found
    whole = graph_of(scene)
    return whole, set(whole.nodes)


def _with_nodes(graph: Graph, scene: Scene, made: Mapping[NodeId, Node]) -> Graph:
    """The graph with some nodes made again that have the same inputs."""
    after = replace(graph, scene=scene, nodes={**graph.nodes, **made})
    # What does not depend on the numbers is taken over, so that it is made once.
    after.__dict__["dependents"] = graph.dependents
    for known in ("order", "held"):
        if known in graph.__dict__:
            after.__dict__[known] = graph.__dict__[known]
    return after


def _touched(old: Scene, scene: Scene) -> set[str]:
    """The parts of which some node may have changed."""
    touched = set(_touched_parts(old, scene))
    # What a lead group computes is made from the rests of all its members.
    touched |= {lead.part for lead in scene.leads.values() if not touched.isdisjoint(lead.members)}
    # So it is with all parts of a limb's chain, and those between them.
    touched |= {
        limb.part
        for limb in scene.limbs.values()
        if not touched.isdisjoint(chain_line(scene, limb))
    }
    # A layer's weight is a channel of one part, and weighs curves of others.
    weighing = {layer.id for layer in scene.layers.values() if layer.part in touched}
    if weighing:
        touched |= {r.part for r in scene.curves if layer_and_channel(r.channel)[0] in weighing}
    return touched


def _same_things(old: Scene, scene: Scene, touched: set[str]) -> bool:
    """Whether the edit left all parts where they are in the tree, and what counts for others."""
    return (
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


def _touched_parts(old: Scene, new: Scene) -> Iterator[str]:
    """The parts of which something differs. Unchanged things are shared, so they are compared
    by identity."""
    yield from (p for p, part in new.parts.items() if old.parts.get(p) is not part)
    yield from old.parts.keys() - new.parts.keys()
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
    if old.limbs is not new.limbs:
        for key in old.limbs.keys() | new.limbs.keys():
            one, other = old.limbs.get(key), new.limbs.get(key)
            if one is not other:
                yield from (p for limb in (one, other) if limb for p in (limb.part, *limb.chain))
    if old.gaits is not new.gaits:
        for key in old.gaits.keys() | new.gaits.keys():
            was, is_now = old.gaits.get(key), new.gaits.get(key)
            if was is not is_now:
                yield from (p for gait in (was, is_now) if gait for p in (gait.part, *gait.members))
    if old.curves is not new.curves:
        for ref in old.curves.keys() | new.curves.keys():
            if old.curves.get(ref) is not new.curves.get(ref):
                yield ref.part


def _numbers_changed(graph: Graph, scene: Scene, touched: set[str]) -> dict[NodeId, Node] | None:
    """The nodes of these parts, those that have changed, where the edit changed only numbers (a
    key, a value, a factor); None where the structure has changed."""
    known = graph.nodes
    if any(root not in known for part in touched for root in roots(scene, part)):
        return None
    if any(NodeId(*ref, OWN) not in known for ref in scene.curves if ref.part in touched):
        return None
    if any(ref not in scene.curves for ref in graph.scene.curves if ref.part in touched):
        return None
    if any(_listed(graph.scene, part) != _listed(scene, part) for part in touched):
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
        node = node._replace(inputs=inputs)
        if not _same_node(known[node_id], node):
            made[node_id] = node
    return made


def _listed(scene: Scene, part: str) -> list[tuple[str, str, int]]:
    """What orders the nodes of a part among each other, in a tree that stays."""
    return [(step.id, step.zone, step.position) for step in scene.steps_of.get(part, ())]


def _still_on(scene: Scene, step_id: str) -> bool:
    step = scene.step(step_id)
    return step is not None and step.on


def _structure_changed(
    graph: Graph, scene: Scene, touched: set[str]
) -> tuple[Graph, set[NodeId]] | None:
    """The graph with the nodes of these parts, and those that read them, made again, without what
    nobody wants any more; None where something feeds itself now."""
    gone = {i for i in graph.nodes if i.part in touched}
    readers = {r for i in gone for r in graph.dependents[i] if r.part not in touched}
    nodes = {i: node for i, node in graph.nodes.items() if i not in gone and i not in readers}
    wanted = [root for part in touched & scene.parts.keys() for root in roots(scene, part)]
    wanted += [NodeId(*ref, OWN) for ref in scene.curves if ref.part in touched]
    made = build_nodes(scene, [*wanted, *readers], {}, nodes)
    nodes.update(made)
    dependents = dict(graph.dependents)
    _unlinked(dependents, {i: graph.nodes[i] for i in gone | readers})
    _linked(dependents, made)
    _dropped(scene, nodes, dependents, graph.nodes, gone | readers)
    for node_id in graph.nodes.keys() - nodes.keys():
        dependents.pop(node_id, None)
    made = {i: node for i, node in made.items() if i in nodes}
    ranks = ranks_again(nodes, dependents, graph.ranks, made)
    if ranks is None:
        return None
    after = Graph(scene, nodes, ranks, ranks)
    after.__dict__["dependents"] = dependents
    return after, {i for i, node in made.items() if not _same_node(graph.nodes.get(i), node)}


def _same_node(old: Node | None, new: Node) -> bool:
    # By digest and text, not by equality: 0 and -0 are equal, but not the same bytes.
    return (
        old is not None
        and old.inputs == new.inputs
        and repr(old.start) == repr(new.start)
        and old.operation.digest == new.operation.digest
    )


def _unlinked(dependents: dict[NodeId, tuple[NodeId, ...]], nodes: Mapping[NodeId, Node]) -> None:
    """Takes some nodes away from the readers of their inputs."""
    lost: dict[NodeId, set[NodeId]] = {}
    for node_id, node in nodes.items():
        for source in node.inputs:
            lost.setdefault(source, set()).add(node_id)
    for source, readers in lost.items():
        dependents[source] = tuple(r for r in dependents[source] if r not in readers)


def _linked(dependents: dict[NodeId, tuple[NodeId, ...]], nodes: Mapping[NodeId, Node]) -> None:
    """Adds some nodes to the readers of their inputs."""
    new: dict[NodeId, list[NodeId]] = {}
    for node_id, node in nodes.items():
        for source in dict.fromkeys(node.inputs):
            new.setdefault(source, []).append(node_id)
    for node_id in nodes:
        dependents.setdefault(node_id, ())
    for source, readers in new.items():
        dependents[source] = (*dependents.get(source, ()), *readers)


def _dropped(
    scene: Scene,
    nodes: dict[NodeId, Node],
    dependents: dict[NodeId, tuple[NodeId, ...]],
    before: Mapping[NodeId, Node],
    again: Iterable[NodeId],
) -> None:
    """Drops what only nodes wanted that are gone, or do not read it any more."""
    pending = {i for node_id in again for i in (*before[node_id].inputs, node_id) if i in nodes}
    while pending:
        node_id = pending.pop()
        if node_id not in nodes or dependents[node_id] or _is_root(scene, node_id):
            continue
        node = nodes.pop(node_id)
        _unlinked(dependents, {node_id: node})
        pending.update(i for i in node.inputs if i in nodes)


def _is_root(scene: Scene, node_id: NodeId) -> bool:
    """Whether a node is computed though nothing reads it."""
    if node_id.stage == OWN:
        return (node_id.part, node_id.quantity) in scene.curves
    return node_id in roots(scene, node_id.part)
