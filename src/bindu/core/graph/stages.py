"""Which node holds a value: of a channel, a group or a part's place, at which stage."""

from __future__ import annotations

from bindu.core.graph.node import NodeId, Read
from bindu.core.scene.channels import AXES, GROUPS, TAPS, ChannelRef, Tap, zone_index
from bindu.core.scene.model import Scene, Step

SIGNED_WAYS = tuple(f"travelled {axis}" for axis in AXES)
WORLD_QUANTITIES = ("world position", "world matrix", "travelled", "speed", *SIGNED_WAYS)
QUATERNION = "quaternion"
LEAD = "lead"
BEFORE = "before "
BACK = "back "
_TAPS: dict[str, Tap] = {tap: tap for tap in TAPS}


def before(step: Step) -> str:
    """The stage of what comes in to a step that writes groups."""
    return BEFORE + step.id


def stage_tap(stage: str) -> Tap:
    """The tap that a stage names."""
    return _TAPS[stage]


def tap_node(scene: Scene, ref: ChannelRef, tap: Tap) -> NodeId:
    """The node that holds a channel's value right after a zone.

    Where a zone does nothing, its tap is the one before, so this is the last step that is on
    and writes the channel up to that zone, or the channel's own curve or value.
    """
    return NodeId(ref.part, ref.channel, _last_writer(scene, ref, tap))


def channel_before(scene: Scene, ref: ChannelRef, step: Step) -> NodeId:
    """The node that holds a channel's value before a step of its part."""
    return NodeId(ref.part, ref.channel, _last_writer(scene, ref, before(step)))


def group_node(scene: Scene, part: str, group: str, stage: str) -> NodeId:
    """The node that holds a group at a tap, or before a step.

    Where one step wrote the whole group last, it is that step's; a rotation is then a
    quaternion. Else it is made of the three channels.
    """
    last = {_last_writer(scene, ChannelRef(part, f"{group}.{axis}"), stage) for axis in AXES}
    writer = last.pop()
    step = scene.step(writer)
    if last or step is None or group not in step.settings.groups:
        return NodeId(part, group, stage)
    return NodeId(part, QUATERNION if group == "rotation" else group, writer)


def quaternion_node(scene: Scene, part: str, stage: str) -> NodeId:
    """The node that holds a part's rotation as a quaternion at a tap, or before a step."""
    found = group_node(scene, part, "rotation", stage)
    return found if found.quantity == QUATERNION else NodeId(part, QUATERNION, stage)


def read_node(scene: Scene, read: Read) -> NodeId:
    """The node that a read takes its value from."""
    if read.back:
        return NodeId(read.part, read.quantity, BACK + read.tap)
    if read.quantity in WORLD_QUANTITIES or read.quantity == LEAD:
        return NodeId(read.part, read.quantity, read.tap)
    if read.quantity == QUATERNION:
        return quaternion_node(scene, read.part, read.tap)
    if read.quantity in GROUPS:
        return group_node(scene, read.part, read.quantity, read.tap)
    return tap_node(scene, ChannelRef(read.part, read.quantity), stage_tap(read.tap))


def step_nodes(step: Step) -> tuple[NodeId, ...]:
    """The nodes that a step makes: its channel, or each group that it writes."""
    if not step.settings.groups:
        return (NodeId(step.part, step.settings.writes[0], step.id),)
    return tuple(
        NodeId(step.part, QUATERNION if group == "rotation" else group, step.id)
        for group in step.settings.groups
    )


def _last_writer(scene: Scene, ref: ChannelRef, stage: str) -> str:
    """The last step that is on and writes a channel up to a tap, or before a step; or ``own``."""
    last = "own"
    writers = scene.writers(ref)
    if not writers:
        return last
    if stage.startswith(BEFORE):
        until = scene.step(stage.removeprefix(BEFORE))
        assert until is not None
        end = _listed(until)
        for step in writers:
            if step.on and _listed(step) < end:
                last = step.id
        return last
    zone = zone_index(stage_tap(stage))
    for step in writers:
        if step.on and zone_index(step.zone) <= zone:
            last = step.id
    return last


def _listed(step: Step) -> tuple[int, int, str]:
    return zone_index(step.zone), step.position, step.id
