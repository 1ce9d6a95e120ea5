"""Which node a read takes its value from."""

from __future__ import annotations

from bindu.core.graph.kinds.channel import channel_node
from bindu.core.graph.kinds.group import angles_node, group_node
from bindu.core.graph.kinds.quaternion import quaternion_node
from bindu.core.graph.kinds.ties import WHOLE
from bindu.core.nodes.identity import (
    QUATERNION,
    SOLVE,
    WORLD_QUANTITIES,
    NodeId,
    Read,
    Stage,
    at_tap,
)
from bindu.core.scene.channels import ChannelRef
from bindu.core.scene.model import Scene

ITSELF = frozenset((*WORLD_QUANTITIES, SOLVE))
"""Quantities that hold themselves."""


def read_node(scene: Scene, read: Read) -> NodeId:
    """The node that a read takes its value from."""
    part, quantity, tap, back = read
    stage = tap if isinstance(tap, Stage) else at_tap(tap)
    if back:
        return NodeId(part, quantity, Stage("back", stage.name))
    if quantity not in WHOLE:
        return channel_node(scene, ChannelRef(part, quantity), stage)
    if quantity in ITSELF:
        return NodeId(part, quantity, stage)
    if quantity == QUATERNION:
        return quaternion_node(scene, part, stage)
    if quantity == "rotation":
        return angles_node(scene, part, stage)
    return group_node(scene, part, quantity, stage)
