"""Where a value comes from, back to the keys that cause it; and all that a channel reaches."""

from __future__ import annotations

from collections import deque
from collections.abc import Iterator
from dataclasses import dataclass, replace
from typing import Literal

import numpy as np

from bindu.core.account.labels import ledger_channel, node_label
from bindu.core.curves.model import Curve, Key
from bindu.core.evaluation import Evaluation
from bindu.core.graph.graph import downstream, graph_of
from bindu.core.graph.kinds.channel import tap_node
from bindu.core.graph.kinds.ties import step_made
from bindu.core.nodes.channel import Component, OwnCurve, StillNumber
from bindu.core.nodes.group import ThreeChannels
from bindu.core.nodes.identity import DEFAULT, OWN, NodeId, at_tap
from bindu.core.nodes.node import Node
from bindu.core.nodes.quaternion import ContinuousAngles
from bindu.core.nodes.world import WorldMatrix
from bindu.core.scene.channels import AXES, GROUPS, TRANSFORM_CHANNELS, ChannelRef
from bindu.core.scene.model import Scene

MOST_CAUSES = 2000
CauseKind = Literal["keys", "set value", "step", "place"]


@dataclass(frozen=True)
class Cause:
    """One value on the way back.

    Attributes:
        depth: how many reads away.
        part, channel: where its ledger is.
        value: on the frame; None for a whole place or group.
        keys: of keys, the frames between which the value lies.
    """

    kind: CauseKind
    label: str
    depth: int
    part: str
    channel: str
    value: float | None
    keys: tuple[float, ...]


@dataclass(frozen=True)
class Reached:
    """A channel that is computed from another, however far."""

    part: str
    channel: str
    label: str


def causes_of(evaluation: Evaluation, ref: ChannelRef, frame: float) -> tuple[Cause, ...]:
    """What a channel's final value on a frame is made of, each once, the nearest first.

    Constants at their default are left out, and so are values that are only handed on.
    """
    graph, scene = evaluation.graph, evaluation.scene
    start = tap_node(scene, ref, "final")
    seen, pending, found = {start}, deque([(start, 0)]), list[Cause]()
    while pending and len(found) < MOST_CAUSES:
        node_id, depth = pending.popleft()
        node = graph.nodes.get(node_id)
        if node is None:
            found.append(_cause(evaluation, node_id, "set value", depth, frame))
            continue
        if isinstance(node.operation, OwnCurve):
            found.append(_cause(evaluation, node_id, "keys", depth, frame))
        elif isinstance(node.operation, StillNumber):
            own = ChannelRef(node_id.part, node_id.quantity)
            if scene.set_value(own) != scene.default(own):
                found.append(_cause(evaluation, node_id, "set value", depth, frame))
        elif not isinstance(node.operation, ThreeChannels | Component | ContinuousAngles):
            kind: CauseKind = "step" if step_made(scene, node_id) else "place"
            found.append(_cause(evaluation, node_id, kind, depth, frame))
        for source in (*node.inputs, *_set_inside(scene, node)):
            if source not in seen:
                seen.add(source)
                pending.append((source, depth + 1))
    return tuple(found)


def _set_inside(scene: Scene, node: Node) -> Iterator[NodeId]:
    """Values set by hand that a node has in itself: channels without keys need no nodes of their
    own in a group or a place, or before a step."""
    part, group, stage = node.id
    operation = node.operation
    if stage == DEFAULT:
        return
    if node.start is not None and node.start != scene.default(ChannelRef(part, group)):
        yield NodeId(part, group, OWN)
    still: dict[str, tuple[float | None, ...] | None] = {}
    if isinstance(operation, ThreeChannels):
        still = {group: operation.components}
    elif isinstance(operation, WorldMatrix):
        places = (operation.translation, operation.rotation, operation.scale)
        still = dict(zip(GROUPS, places, strict=True))
    for name, numbers in still.items():
        for axis, number in zip(AXES, numbers or (), strict=False):
            own = ChannelRef(part, f"{name}.{axis}")
            if number is not None and number != scene.default(own):
                yield NodeId(*own, OWN)


def reached_from(evaluation: Evaluation, ref: ChannelRef) -> tuple[Reached, ...]:
    """The channels whose final values a channel's own value reaches, by the order of the tree;
    a part that is moved in the world is told by its place."""
    graph, scene = evaluation.graph, evaluation.scene
    start = NodeId(*ref, OWN)
    if ref not in scene.curves:
        # A channel without keys is part of groups and places, whoever else reads it by itself; with
        # a key it would stand by itself for all of them.
        key = Key(float(scene.first), scene.set_value(ref))
        graph = graph_of(replace(scene, curves={**scene.curves, ref: Curve((key,))}))
    nodes = downstream(graph.dependents, {start})
    found: dict[tuple[str, str], str] = {}
    for node_id in graph.order:
        if node_id not in nodes or (node_id.part, node_id.quantity) == ref:
            continue
        if node_id.quantity == "world matrix" and node_id.stage == at_tap("final"):
            found.setdefault((node_id.part, "place"), f"{scene.parts[node_id.part].name}'s place")
        # Of what a step writes as a whole, the group is told, not its axes too: by its x, and so
        # also where that is what was asked for, since y and z may change with it.
        elif step_made(scene, node_id) and not isinstance(
            graph.nodes[node_id].operation, Component
        ):
            told = ledger_channel(scene, node_id.part, node_id.quantity)
            found.setdefault(told, node_label(scene, node_id))
    return tuple(_reached(found))


def _reached(found: dict[tuple[str, str], str]) -> Iterator[Reached]:
    for (part, channel), label in found.items():
        yield Reached(part, TRANSFORM_CHANNELS[0] if channel == "place" else channel, label)


def _cause(
    evaluation: Evaluation, node_id: NodeId, kind: CauseKind, depth: int, frame: float
) -> Cause:
    scene = evaluation.scene
    values = evaluation.result(node_id).values
    row = values[evaluation.index(frame) if len(values) > 1 else 0]
    value = float(row) if np.ndim(row) == 0 else None
    part, channel = ledger_channel(scene, node_id.part, node_id.quantity)
    keys: tuple[float, ...] = ()
    curve = scene.curves.get(ChannelRef(node_id.part, node_id.quantity))
    if kind == "keys" and curve is not None:
        frames = [key.frame for key in curve.keys]
        before = [f for f in frames if f <= frame][-1:]
        keys = (*before, *[f for f in frames if f > frame][:1])
    label = node_label(scene, node_id)
    return Cause(kind, label, depth, part, channel, value, keys)
