"""Which node holds a value: of a channel, a group or a part's place, at which stage."""

from __future__ import annotations

from bindu.core.graph.node import OWN, NodeId, Read, Stage
from bindu.core.scene.channels import AXES, GROUPS, TAPS, ChannelRef, Tap, zone_index
from bindu.core.scene.model import Scene, Step

SIGNED_WAYS = tuple(f"travelled {axis}" for axis in AXES)
WORLD_QUANTITIES = ("world position", "world matrix", "travelled", "speed", *SIGNED_WAYS)
QUATERNION = "quaternion"
LEAD = "lead"
_TAPS: dict[str, Tap] = {tap: tap for tap in TAPS}
_STAGES = {tap: Stage("tap", tap) for tap in TAPS}


def at_tap(tap: Tap) -> Stage:
    """The stage right after a zone."""
    return _STAGES[tap]


def after(step: Step) -> Stage:
    """The stage right after a step."""
    return Stage("step", step.id)


def before(step: Step) -> Stage:
    """The stage of what comes in to a step that writes groups."""
    return Stage("before", step.id)


def stage_of(text: str) -> Stage | None:
    """The stage that ``str`` of it gives; None where there is none."""
    if text in _STAGES:
        return _STAGES[text]
    kind, _, name = text.partition(" ")
    if kind in ("own", "default") and not name:
        return OWN if kind == "own" else Stage("default")
    if kind in ("step", "before") and name:
        return Stage("step" if kind == "step" else "before", name)
    if kind == "back" and name in _STAGES:
        return Stage("back", name)
    return Stage("group", name) if kind == "group" and name else None


def tap_of(stage: Tap | Stage) -> Tap | None:
    """The tap that a stage is, or is one frame back from; None where it is none."""
    if not isinstance(stage, Stage):
        return stage
    return _TAPS[stage.name] if stage.kind in ("tap", "back") else None


def step_made(scene: Scene, node_id: NodeId) -> Step | None:
    """The step right after which a value is; None where it is at another stage."""
    return scene.step(node_id.stage.name) if node_id.stage.kind == "step" else None


def step_around(scene: Scene, stage: Stage) -> Step | None:
    """The step right after or before which a stage is."""
    return scene.step(stage.name) if stage.kind in ("step", "before") else None


def tap_node(scene: Scene, ref: ChannelRef, tap: Tap) -> NodeId:
    """The node that holds a channel's value right after a zone.

    Where a zone does nothing, its tap is the one before, so this is the last step that is on
    and writes the channel up to that zone, or the channel's own curve or value.
    """
    return NodeId(ref.part, ref.channel, _last_written(scene, ref, at_tap(tap)))


def channel_before(scene: Scene, ref: ChannelRef, step: Step) -> NodeId:
    """The node that holds a channel's value before a step of its part."""
    return NodeId(ref.part, ref.channel, _last_written(scene, ref, before(step)))


def group_node(scene: Scene, part: str, group: str, stage: Stage) -> NodeId:
    """The node that holds a group at a tap, or before a step.

    Where one step wrote the whole group last, it is that step's; a rotation is then a
    quaternion. Else it is made of the three channels.
    """
    if stage.kind == "default":
        return NodeId(part, group, stage)
    last = {_last_written(scene, ChannelRef(part, f"{group}.{axis}"), stage) for axis in AXES}
    written = last.pop()
    step = step_around(scene, written)
    if last or step is None or group not in step.settings.groups:
        return NodeId(part, group, stage)
    return NodeId(part, QUATERNION if group == "rotation" else group, written)


def angles_node(scene: Scene, part: str, stage: Stage) -> NodeId:
    """The node that holds a part's rotation as angles at a tap, or before a step."""
    found = group_node(scene, part, "rotation", stage)
    return found._replace(quantity="rotation")


def quaternion_node(scene: Scene, part: str, stage: Stage) -> NodeId:
    """The node that holds a part's rotation as a quaternion at a tap, or before a step."""
    found = group_node(scene, part, "rotation", stage)
    return found if found.quantity == QUATERNION else NodeId(part, QUATERNION, stage)


def read_node(scene: Scene, read: Read) -> NodeId:
    """The node that a read takes its value from."""
    stage = read.tap if isinstance(read.tap, Stage) else at_tap(read.tap)
    if read.back:
        return NodeId(read.part, read.quantity, Stage("back", stage.name))
    if read.quantity in WORLD_QUANTITIES or read.quantity == LEAD:
        return NodeId(read.part, read.quantity, stage)
    if read.quantity == QUATERNION:
        return quaternion_node(scene, read.part, stage)
    if read.quantity == "rotation":
        return angles_node(scene, read.part, stage)
    if read.quantity in GROUPS:
        return group_node(scene, read.part, read.quantity, stage)
    ref = ChannelRef(read.part, read.quantity)
    return NodeId(read.part, read.quantity, _last_written(scene, ref, stage))


def step_nodes(step: Step) -> tuple[NodeId, ...]:
    """The nodes that a step makes: its channel, or each group that it writes."""
    if not step.settings.groups:
        return (NodeId(step.part, step.settings.writes[0], after(step)),)
    return tuple(
        NodeId(step.part, QUATERNION if group == "rotation" else group, after(step))
        for group in step.settings.groups
    )


def _last_written(scene: Scene, ref: ChannelRef, stage: Stage) -> Stage:
    """Right after the last step that is on and writes a channel up to a tap, or before a step; or
    the channel's own value."""
    writers = scene.writers(ref)
    if not writers:
        return OWN
    until = step_around(scene, stage)
    if until is not None:
        end = _listed(until)
        found = (step for step in writers if step.on and _listed(step) < end)
    else:
        zone = zone_index(_TAPS[stage.name])
        found = (step for step in writers if step.on and zone_index(step.zone) <= zone)
    last = max(found, key=_listed, default=None)
    return OWN if last is None else after(last)


def _listed(step: Step) -> tuple[int, int, str]:
    return zone_index(step.zone), step.position, step.id
