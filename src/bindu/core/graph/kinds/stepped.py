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


def stepped(
    scene: Scene, node_id: NodeId, step: Step, incoming: NodeId | float, find: Find
) -> Node:
    """The node right after a step: what comes in (a number where nothing moves it), what the step
    reads, and its weight, unless that is 1 throughout."""
    kind = kind_of(step.settings)
    reads = [find(read) for read in kind.reads(scene, step, node_id.quantity)]
    operation = kind.operation(scene, step, node_id.quantity)
    weight = _weight(scene, step, find)
    if weight is not None:
        operation = Weighted(operation, turns=node_id.quantity == QUATERNION)
        reads.append(weight)
    if isinstance(incoming, NodeId):
        return Node(node_id, (incoming, *reads), operation, len(reads))
    return Node(node_id, tuple(reads), operation, len(reads), start=incoming)


def _weight(scene: Scene, step: Step, find: Find) -> NodeId | None:
    """The node of a step's weight; None where that is 1 throughout."""
    ref = scene.weight_of(step)
    still = ref not in scene.curves and scene.set_weight(ref) == 1.0
    if still and not scene.is_written(ref):
        return None
    node = find(Read(*ref, "final"))
    return None if still and node.stage == OWN else node


def step_nodes(step: Step) -> tuple[NodeId, ...]:
    """The nodes that a step makes: its channel, or each group that it writes."""
    if not step.settings.groups:
        return (NodeId(step.part, step.settings.writes[0], after(step)),)
    return tuple(
        NodeId(step.part, QUATERNION if group == "rotation" else group, after(step))
        for group in step.settings.groups
    )
