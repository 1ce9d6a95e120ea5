"""What a step makes of the value that comes in: no kind of node by itself, but how a channel, a
group or a quaternion right after a step is made."""

from __future__ import annotations

from collections.abc import Callable

from bindu.core.nodes.identity import OWN, QUATERNION, NodeId, Read, after
from bindu.core.nodes.node import Node
from bindu.core.scene.model import Scene
from bindu.core.scene.parts import Step
from bindu.core.steps.base import Weighted
from bindu.core.steps.registry import kind_of

Find = Callable[[Read], NodeId]
"""Gives the node that a read takes its value from."""


def stepped(scene: Scene, node_id: NodeId, step: Step, incoming: NodeId, find: Find) -> Node:
    """The node right after a step: what comes in, what the step reads, and its weight, unless
    that is 1 throughout."""
    kind = kind_of(step.settings)
    reads = [find(read) for read in kind.reads(scene, step, node_id.quantity)]
    operation = kind.operation(scene, step, node_id.quantity)
    weight = scene.weight_of(step)
    weight_node = find(Read(*weight, "final"))
    moving = weight_node.stage != OWN or weight in scene.curves
    if moving or scene.set_value(weight) != 1.0:
        operation = Weighted(operation, turns=node_id.quantity == QUATERNION)
        reads.append(weight_node)
    return Node(node_id, (incoming, *reads), operation, len(reads))


def step_nodes(step: Step) -> tuple[NodeId, ...]:
    """The nodes that a step makes: its channel, or each group that it writes."""
    if not step.settings.groups:
        return (NodeId(step.part, step.settings.writes[0], after(step)),)
    return tuple(
        NodeId(step.part, QUATERNION if group == "rotation" else group, after(step))
        for group in step.settings.groups
    )
