"""Groups: translation, scale, and rotation as angles."""

from __future__ import annotations

from bindu.core.graph.kinds.channel import last_written
from bindu.core.graph.kinds.stepped import Find, stepped
from bindu.core.graph.kinds.ties import step_around, step_made
from bindu.core.nodes.group import ThreeChannels
from bindu.core.nodes.identity import DEFAULT, OWN, QUATERNION, NodeId, Stage, at_tap, before
from bindu.core.nodes.node import Node
from bindu.core.nodes.quaternion import ContinuousAngles
from bindu.core.scene.channels import AXES, GROUP_DEFAULTS, GROUPS, ChannelRef
from bindu.core.scene.model import Scene
from bindu.core.scene.settings import Vector

CHANNELS = {group: tuple(f"{group}.{axis}" for axis in AXES) for group in GROUPS}


def group_node(scene: Scene, part: str, group: str, stage: Stage) -> NodeId:
    """The node that holds a group at a tap, or before a step.

    Where one step wrote the whole group last, it is that step's; a rotation is then a
    quaternion. Else it is made of the three channels.
    """
    if stage == DEFAULT or group not in scene.writers_in(part).whole:
        return NodeId(part, group, stage)
    last = {last_written(scene, ChannelRef(part, one), stage) for one in CHANNELS[group]}
    written = last.pop()
    step = step_around(scene, written)
    if last or step is None or group not in step.settings.groups:
        return NodeId(part, group, stage)
    return NodeId(part, QUATERNION if group == "rotation" else group, written)


def still_group(scene: Scene, part: str, group: str, stage: Stage) -> Vector | None:
    """What a group is throughout that no curve and no step moves; None of others. It needs no node
    for a world matrix, and most parts of a large scene stand still in their parents."""
    if stage == DEFAULT:
        return GROUP_DEFAULTS[group]
    curves = scene.curves
    if group in scene.writers_in(part).groups or any((part, c) in curves for c in CHANNELS[group]):
        return None
    return scene.set_vector(part, group)


def angles_node(scene: Scene, part: str, stage: Stage) -> NodeId:
    """The node that holds a part's rotation as angles at a tap, or before a step."""
    return group_node(scene, part, "rotation", stage)._replace(quantity="rotation")


def made(scene: Scene, node_id: NodeId, find: Find) -> Node:
    """Three channels as one vector, or what a step that writes the whole group makes of it: of a
    rotation that is a quaternion, shown as angles here."""
    part, group, stage = node_id
    step = step_made(scene, node_id)
    if step is None:
        return _of_channels(scene, node_id)
    if group == "rotation":
        inputs = (NodeId(part, QUATERNION, stage), NodeId(part, "rotation", at_tap("driven")))
        shown = ContinuousAngles(scene.parts[part].rotation_order)
        return Node(node_id, inputs, shown, 0)
    return stepped(scene, node_id, step, group_node(scene, part, group, before(step)), find)


def _of_channels(scene: Scene, node_id: NodeId) -> Node:
    part, group, stage = node_id
    still = still_group(scene, part, group, stage)
    if still is not None:
        return Node(node_id, (), ThreeChannels(still), 0)
    inputs: list[NodeId] = []
    components: list[float | None] = []
    written = group in scene.writers_in(part).groups
    for channel in CHANNELS[group]:
        ref = ChannelRef(part, channel)
        at = last_written(scene, ref, stage) if written else OWN
        if at != OWN or ref in scene.curves:
            inputs.append(NodeId(part, channel, at))
            components.append(None)
        else:
            components.append(scene.set_value(ref))
    x, y, z = components
    return Node(node_id, tuple(inputs), ThreeChannels((x, y, z)), 0)
