"""The nodes of a scene: what each value is made of."""

from __future__ import annotations

from collections.abc import Iterable, Iterator, Mapping

from bindu.core.graph.node import Node, NodeId, Operation, Read
from bindu.core.graph.operations import (
    Constant,
    Group,
    LocalFrame,
    OwnCurve,
    Speed,
    Travelled,
    TravelledAlong,
    WorldMatrix,
    WorldPosition,
)
from bindu.core.scene.channels import (
    AXES,
    GROUPS,
    TAPS,
    ChannelRef,
    Tap,
    zone_index,
)
from bindu.core.scene.model import Scene, Step
from bindu.core.steps.base import Weighted
from bindu.core.steps.registry import kind_of

SIGNED_WAYS = tuple(f"travelled {axis}" for axis in AXES)
WORLD_QUANTITIES = ("world position", "world matrix", "travelled", "speed", *SIGNED_WAYS)
AFTER_STEPS = 1_000_000
"""The place of groups and world values among the steps of their zone: behind them."""

Replacements = Mapping[tuple[NodeId, int], NodeId]
"""For reads that close a loop: reader and place of the input, and what it takes instead."""


def tap_node(scene: Scene, ref: ChannelRef, tap: Tap) -> NodeId:
    """The node that holds a channel's value right after a zone.

    Where a zone does nothing, its tap is the one before, so this is the last step that is on
    and writes the channel up to that zone, or the channel's own curve or value.
    """
    last = zone_index(tap)
    stage = "own"
    for step in scene.writers(ref):
        if step.on and zone_index(step.zone) <= last:
            stage = step.id
    return NodeId(ref.part, ref.channel, stage)


def read_node(scene: Scene, read: Read) -> NodeId:
    """The node that a read takes its value from."""
    tap: Tap = next(tap for tap in TAPS if tap == read.tap)
    if read.quantity in WORLD_QUANTITIES:
        return NodeId(read.part, read.quantity, tap)
    return tap_node(scene, ChannelRef(read.part, read.quantity), tap)


def roots(scene: Scene, part: str) -> Iterator[NodeId]:
    """What is always computed of a part: its world matrix, its curves and its steps."""
    yield NodeId(part, "world matrix", "final")
    for step in scene.steps_of.get(part, ()):
        if step.on:
            yield NodeId(part, step.settings.channel, step.id)


def build_nodes(
    scene: Scene, wanted: Iterable[NodeId], replacements: Replacements
) -> dict[NodeId, Node]:
    """The wanted nodes and all that they are made of, by identity."""
    nodes: dict[NodeId, Node] = {}
    pending = list(wanted)
    while pending:
        node_id = pending.pop()
        if node_id not in nodes:
            nodes[node_id] = node = build_node(scene, node_id, replacements)
            pending.extend(i for i in node.inputs if i not in nodes)
    return nodes


def build_node(scene: Scene, node_id: NodeId, replacements: Replacements) -> Node:
    """One node, with the inputs that close a loop replaced."""
    if node_id.quantity in GROUPS:
        node = _group_node(scene, node_id)
    elif node_id.quantity in WORLD_QUANTITIES:
        node = _world_node(scene, node_id)
    else:
        node = _channel_node(scene, node_id)
    if not replacements:
        return node
    inputs = tuple(replacements.get((node_id, n), i) for n, i in enumerate(node.inputs))
    return node._replace(inputs=inputs)


def _channel_node(scene: Scene, node_id: NodeId) -> Node:
    ref = ChannelRef(node_id.part, node_id.quantity)
    if node_id.stage in ("own", "default"):
        curve = scene.curves.get(ref) if node_id.stage == "own" else None
        kept = scene.set_value if node_id.stage == "own" else scene.default
        operation: Operation = OwnCurve(curve) if curve else Constant(kept(ref))
        return Node(node_id, (), operation, 0, (0, scene.tree_order[ref.part], 0))
    step = scene.step(node_id.stage)
    assert step is not None
    return _step_node(scene, node_id, step)


def _step_node(scene: Scene, node_id: NodeId, step: Step) -> Node:
    ref = ChannelRef(node_id.part, node_id.quantity)
    kind = kind_of(step.settings)
    before = [s for s in scene.writers(ref) if s.on]
    place = before.index(step)
    incoming = NodeId(*ref, before[place - 1].id if place else "own")
    reads = [read_node(scene, read) for read in kind.reads(scene, step.settings)]
    operation = kind.operation(scene, step.settings)
    weight = scene.weight_of(step)
    weight_node = tap_node(scene, weight, "final")
    moving = weight in scene.curves or weight_node.stage != "own"
    if moving or scene.set_value(weight) != 1.0:
        operation = Weighted(operation)
        reads.append(weight_node)
    order = (zone_index(step.zone), scene.tree_order[step.part], step.position)
    return Node(node_id, (incoming, *reads), operation, len(reads), order)


def _group_node(scene: Scene, node_id: NodeId) -> Node:
    if node_id.stage == "default":
        zero = scene.default(ChannelRef(node_id.part, f"{node_id.quantity}.x"))
        return Node(node_id, (), Group((zero, zero, zero)), 0, _late_order(scene, node_id))
    tap = _tap(node_id)
    inputs: list[NodeId] = []
    components: list[float | None] = []
    for axis in AXES:
        ref = ChannelRef(node_id.part, f"{node_id.quantity}.{axis}")
        source = tap_node(scene, ref, tap)
        moving = ref in scene.curves or source.stage != "own"
        components.append(None if moving else scene.set_value(ref))
        if moving:
            inputs.append(source)
    x, y, z = components
    return Node(node_id, tuple(inputs), Group((x, y, z)), 0, _late_order(scene, node_id))


def _world_node(scene: Scene, node_id: NodeId) -> Node:
    part, quantity, tap = node_id
    order = _late_order(scene, node_id)
    if quantity == "travelled":
        return Node(node_id, (NodeId(part, "world position", tap),), Travelled(), 0, order)
    if quantity in SIGNED_WAYS:
        signed = TravelledAlong(SIGNED_WAYS.index(quantity))
        return Node(node_id, (NodeId(part, "world matrix", tap),), signed, 0, order)
    if quantity == "speed":
        return Node(node_id, (NodeId(part, "travelled", tap),), Speed(), 0, order)
    data = scene.parts[part]
    parent = (NodeId(data.parent, "world matrix", tap),) if data.parent else ()
    local = LocalFrame(data.rest, data.rotation_order)
    if quantity == "world position":
        own = (NodeId(part, "translation", tap),)
        return Node(node_id, parent + own, WorldPosition(local), 0, order)
    groups = tuple(NodeId(part, group, tap) for group in GROUPS)
    return Node(node_id, parent + groups, WorldMatrix(local), 0, order)


def _tap(node_id: NodeId) -> Tap:
    return next(tap for tap in TAPS if tap == node_id.stage)


def _late_order(scene: Scene, node_id: NodeId) -> tuple[int, int, int]:
    zone = 0 if node_id.stage == "default" else zone_index(_tap(node_id))
    return zone, scene.tree_order[node_id.part], AFTER_STEPS
