"""World values of a part: position, matrix, distance travelled, speed. Each holds itself: the
identity says part, quantity and tap."""

from __future__ import annotations

from bindu.core.geometry.local_frame import local_frame
from bindu.core.graph.kinds.group import group_node, still_group
from bindu.core.graph.kinds.stepped import Find
from bindu.core.nodes.channel import StillNumber
from bindu.core.nodes.identity import DEFAULT, PHASE, SIGNED_WAYS, SOLVE, NodeId, Stage, at_tap
from bindu.core.nodes.node import Node
from bindu.core.nodes.operation import Operation
from bindu.core.nodes.travelled import Speed, Travelled, TravelledAlong
from bindu.core.nodes.world import WorldMatrix, WorldPosition
from bindu.core.scene.channels import GROUPS
from bindu.core.scene.model import Scene
from bindu.core.steps.bound.walk import PhaseOfGait

WAYS: dict[str, tuple[str, Operation]] = {
    "travelled": ("world position", Travelled()),
    "speed": ("travelled", Speed()),
    **{way: ("world matrix", TravelledAlong(axis)) for axis, way in enumerate(SIGNED_WAYS)},
}
"""What is made of another world value of the same part at the same tap."""


def world_node(part: str) -> NodeId:
    """The node that holds where a part is in the world at last."""
    return NodeId(part, "world matrix", at_tap("final"))


def made(scene: Scene, node_id: NodeId, find: Find) -> Node:
    """A world value from the parent's world matrix and the part's own groups, or from another
    world value."""
    part, quantity, stage = node_id
    if quantity in WAYS:
        source, operation = WAYS[quantity]
        return Node(node_id, (NodeId(part, source, stage),), operation, 0)
    if quantity == PHASE:
        return _phase(scene, node_id)
    data = scene.parts[part]
    parent = (NodeId(data.parent, "world matrix", stage),) if data.parent else ()
    local = local_frame(data.rest, data.rotation_order)
    if quantity == "world position":
        own = (group_node(scene, part, "translation", stage),)
        return Node(node_id, parent + own, WorldPosition(local), 0)
    still = tuple(still_group(scene, part, group, stage) for group in GROUPS)
    moving = tuple(
        group_node(scene, part, group, stage)
        for group, vector in zip(GROUPS, still, strict=True)
        if vector is None
    )
    return Node(node_id, parent + moving, WorldMatrix(local, *still), 0)


def _phase(scene: Scene, node_id: NodeId) -> Node:
    """The phase of the gait of a root, or of one of its feet. It stays 0 where a part has none, and
    as it is at default: what a read takes that would close a loop."""
    part, gaits = node_id.part, scene.gaits.values()
    gait = next((one for one in gaits if one.part == part), None)
    gait = gait or next((one for one in gaits if part in one.members), None)
    if gait is None or node_id.stage == DEFAULT:
        return Node(node_id, (), StillNumber(0.0), 0)
    solve = NodeId(gait.part, SOLVE, Stage("owner", gait.id))
    foot = None if gait.part == part else gait.members.index(part)
    return Node(node_id, (solve,), PhaseOfGait(foot), 0)
