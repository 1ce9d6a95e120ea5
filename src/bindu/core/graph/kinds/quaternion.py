"""Quaternions: rotations as they are held from Bound on."""

from __future__ import annotations

from bindu.core.graph.kinds.group import group_node
from bindu.core.graph.kinds.stepped import Find, stepped
from bindu.core.graph.kinds.ties import step_made
from bindu.core.nodes.identity import QUATERNION, NodeId, Stage, before
from bindu.core.nodes.node import Node
from bindu.core.nodes.quaternion import AnglesToQuaternion
from bindu.core.scene.model import Scene


def quaternion_node(scene: Scene, part: str, stage: Stage) -> NodeId:
    """The node that holds a part's rotation as a quaternion at a tap, or before a step."""
    found = group_node(scene, part, "rotation", stage)
    return found if found.quantity == QUATERNION else NodeId(part, QUATERNION, stage)


def made(scene: Scene, node_id: NodeId, find: Find) -> Node:
    """Three angles as a quaternion, or what a step makes of one."""
    part, _, stage = node_id
    step = step_made(scene, node_id)
    if step is not None:
        return stepped(scene, node_id, step, quaternion_node(scene, part, before(step)), find)
    operation = AnglesToQuaternion(scene.parts[part].rotation_order)
    angles = NodeId(part, "rotation", stage)
    return Node(node_id, (angles,), operation, 0)
