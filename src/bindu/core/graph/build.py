"""The nodes of a scene, each made by the module of its kind."""

from __future__ import annotations

from collections.abc import Callable, Iterable, Iterator, Mapping
from functools import partial

from bindu.core.graph.kinds import back, channel, group, quaternion, shared_solve, world
from bindu.core.graph.kinds.stepped import Find, step_nodes
from bindu.core.graph.reads import read_node
from bindu.core.nodes.identity import (
    QUATERNION,
    SOLVE,
    WORLD_QUANTITIES,
    NodeId,
    after,
)
from bindu.core.nodes.node import Node
from bindu.core.scene.channels import GROUPS
from bindu.core.scene.model import Scene

Replacements = Mapping[tuple[NodeId, int], NodeId]
"""For reads that close a loop: reader and place of the input, and what it takes instead."""

Make = Callable[[Scene, NodeId, Find], Node]
KINDS: Mapping[str, Make] = {
    **dict.fromkeys(WORLD_QUANTITIES, world.made),
    **dict.fromkeys(GROUPS, group.made),
    QUATERNION: quaternion.made,
    SOLVE: shared_solve.made,
}
"""How nodes are made, by quantity; any other quantity is a channel."""


def roots(scene: Scene, part: str) -> Iterator[NodeId]:
    """What is always computed of a part: its world matrix and its steps, each with the channels
    that it writes."""
    yield world.world_node(part)
    for step in scene.steps_of.get(part, ()):
        if step.on:
            yield from step_nodes(step)
            if step.settings.groups:
                yield from (NodeId(part, written, after(step)) for written in step.settings.writes)


def build_nodes(
    scene: Scene,
    wanted: Iterable[NodeId],
    replacements: Replacements,
    known: Mapping[NodeId, Node] | None = None,
) -> dict[NodeId, Node]:
    """The wanted nodes and all that they are made of, by identity; without those that are known
    already and what these are made of."""
    nodes: dict[NodeId, Node] = {}
    known = known or {}
    find = partial(read_node, scene)
    pending = list(wanted)
    while pending:
        node_id = pending.pop()
        if node_id not in nodes and node_id not in known:
            nodes[node_id] = node = _built(scene, node_id, replacements, find)
            pending.extend(node.inputs)
    return nodes


def build_node(scene: Scene, node_id: NodeId, replacements: Replacements) -> Node:
    """One node, with the inputs that close a loop replaced."""
    return _built(scene, node_id, replacements, partial(read_node, scene))


def _built(scene: Scene, node_id: NodeId, replacements: Replacements, find: Find) -> Node:
    kind = KINDS.get(node_id.quantity, channel.made)
    make = back.made if node_id.stage.kind == "back" else kind
    node = make(scene, node_id, find)
    if not replacements:
        return node
    inputs = tuple(replacements.get((node_id, n), i) for n, i in enumerate(node.inputs))
    return node._replace(inputs=inputs)
