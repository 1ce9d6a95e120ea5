"""Channels: a channel's own value, and what each step makes of it."""

from __future__ import annotations

from bindu.core.graph.kinds.stepped import Find, stepped
from bindu.core.graph.kinds.ties import step_around, step_made
from bindu.core.nodes.channel import Component, OwnCurve, StillNumber
from bindu.core.nodes.identity import OWN, NodeId, Stage, after, at_tap
from bindu.core.nodes.node import Node
from bindu.core.nodes.operation import Operation
from bindu.core.scene.channels import AXES, ChannelRef, Tap
from bindu.core.scene.model import Scene
from bindu.core.scene.parts import Step


def tap_node(scene: Scene, ref: ChannelRef, tap: Tap) -> NodeId:
    """The node that holds a channel's value right after a zone.

    Where a zone does nothing, its tap is the one before, so this is the last step that is on
    and writes the channel up to that zone, or the channel's own curve or value.
    """
    return channel_node(scene, ref, at_tap(tap))


def channel_before(scene: Scene, ref: ChannelRef, step: Step) -> NodeId:
    """The node that holds a channel's value before a step of its part."""
    return NodeId(ref.part, ref.channel, _after(scene.writer_before(ref, step)))


def channel_node(scene: Scene, ref: ChannelRef, stage: Stage) -> NodeId:
    """The node that holds a channel's value at a tap, or right after or before a step."""
    return NodeId(ref.part, ref.channel, last_written(scene, ref, stage))


def last_written(scene: Scene, ref: ChannelRef, stage: Stage) -> Stage:
    """Right after the last step that is on and writes a channel up to a tap, or before a step; or
    the channel's own value."""
    last = scene.writers_in(ref.part).last.get(ref.channel)
    if last is None:
        return OWN
    until = step_around(scene, stage)
    return _after(scene.writer_before(ref, until) if until else last[stage.name])


def _after(step: Step | None) -> Stage:
    return OWN if step is None else after(step)


def made(scene: Scene, node_id: NodeId, find: Find) -> Node:
    """A channel's own value or its default; one component of a group that a step wrote as a
    whole; or what a step that writes the channel alone makes of it."""
    ref = ChannelRef(node_id.part, node_id.quantity)
    step = step_made(scene, node_id)
    if step is None:
        curve = scene.curves.get(ref) if node_id.stage == OWN else None
        kept = scene.set_value if node_id.stage == OWN else scene.default
        operation: Operation = OwnCurve(curve) if curve else StillNumber(kept(ref))
        return Node(node_id, (), operation, 0)
    if step.settings.groups:
        group, axis = node_id.quantity.split(".")
        whole = NodeId(node_id.part, group, after(step))
        return Node(node_id, (whole,), Component(AXES.index(axis)), 0)
    before = channel_before(scene, ref, step)
    still = before.stage == OWN and ref not in scene.curves
    return stepped(scene, node_id, step, scene.set_value(ref) if still else before, find)
