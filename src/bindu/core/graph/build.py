"""The nodes of a scene: what each value is made of."""

from __future__ import annotations

from collections.abc import Iterable, Iterator, Mapping

from bindu.core.graph.node import OWN, Node, NodeId, Operation, Read, Stage
from bindu.core.graph.operations import (
    AnglesToQuaternion,
    Component,
    Constant,
    ContinuousAngles,
    Delayed,
    Group,
    LocalFrame,
    OwnCurve,
    WorldMatrix,
    WorldPosition,
)
from bindu.core.graph.stages import (
    LEAD,
    QUATERNION,
    SIGNED_WAYS,
    WORLD_QUANTITIES,
    after,
    at_tap,
    before,
    channel_before,
    group_node,
    quaternion_node,
    read_node,
    step_around,
    step_made,
    step_nodes,
    tap_node,
    tap_of,
)
from bindu.core.graph.travelled import Speed, Travelled, TravelledAlong
from bindu.core.scene.channels import AXES, GROUPS, ChannelRef, zone_index
from bindu.core.scene.model import Scene, Step
from bindu.core.steps.base import Weighted
from bindu.core.steps.bound.lead import lead_operation, lead_reads
from bindu.core.steps.registry import kind_of

AFTER_STEPS = 1_000_000
"""The place of groups and world values among the steps of their zone: behind them."""

Replacements = Mapping[tuple[NodeId, int], NodeId]
"""For reads that close a loop: reader and place of the input, and what it takes instead."""


def roots(scene: Scene, part: str) -> Iterator[NodeId]:
    """What is always computed of a part: its world matrix, its curves and its steps, each with
    the channels that it writes."""
    yield NodeId(part, "world matrix", at_tap("final"))
    for step in scene.steps_of.get(part, ()):
        if step.on:
            yield from step_nodes(step)
            yield from (NodeId(part, channel, after(step)) for channel in step.settings.writes)


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
    if node_id.stage.kind == "back":
        node = _back_node(scene, node_id)
    elif node_id.quantity in WORLD_QUANTITIES:
        node = _world_node(scene, node_id)
    elif node_id.quantity == LEAD:
        node = _lead_node(scene, node_id)
    elif node_id.quantity in GROUPS or node_id.quantity == QUATERNION:
        node = _group_node(scene, node_id)
    else:
        node = _channel_node(scene, node_id)
    if not replacements:
        return node
    inputs = tuple(replacements.get((node_id, n), i) for n, i in enumerate(node.inputs))
    return node._replace(inputs=inputs)


def _channel_node(scene: Scene, node_id: NodeId) -> Node:
    ref = ChannelRef(node_id.part, node_id.quantity)
    step = step_made(scene, node_id)
    if step is None:
        curve = scene.curves.get(ref) if node_id.stage == OWN else None
        kept = scene.set_value if node_id.stage == OWN else scene.default
        operation: Operation = OwnCurve(curve) if curve else Constant(kept(ref))
        return Node(node_id, (), operation, 0, (0, scene.tree_order[ref.part], 0))
    if step.settings.groups:
        group, axis = node_id.quantity.split(".")
        whole = NodeId(node_id.part, group, after(step))
        picked = Component(AXES.index(axis))
        return Node(node_id, (whole,), picked, 0, _step_order(scene, step))
    return _step_node(scene, node_id, step, channel_before(scene, ref, step))


def _step_node(scene: Scene, node_id: NodeId, step: Step, incoming: NodeId) -> Node:
    kind = kind_of(step.settings)
    reads = [read_node(scene, read) for read in kind.reads(scene, step, node_id.quantity)]
    operation = kind.operation(scene, step, node_id.quantity)
    weight = scene.weight_of(step)
    weight_node = tap_node(scene, weight, "final")
    moving = weight in scene.curves or weight_node.stage != OWN
    if moving or scene.set_value(weight) != 1.0:
        operation = Weighted(operation, turns=node_id.quantity == QUATERNION)
        reads.append(weight_node)
    return Node(node_id, (incoming, *reads), operation, len(reads), _step_order(scene, step))


def _group_node(scene: Scene, node_id: NodeId) -> Node:
    part, quantity, stage = node_id
    step = step_made(scene, node_id)
    order = _late_order(scene, node_id)
    rotation_order = scene.parts[part].rotation_order
    if quantity == QUATERNION:
        if step is not None:
            incoming = quaternion_node(scene, part, before(step))
            return _step_node(scene, node_id, step, incoming)
        angles = NodeId(part, "rotation", stage)
        return Node(node_id, (angles,), AnglesToQuaternion(rotation_order), 0, order)
    if step is None:
        return _vector_node(scene, node_id)
    if quantity == "rotation":
        driven = NodeId(part, "rotation", at_tap("driven"))
        inputs = (NodeId(part, QUATERNION, stage), driven)
        shown = ContinuousAngles(rotation_order)
        return Node(node_id, inputs, shown, 0, _step_order(scene, step))
    return _step_node(scene, node_id, step, group_node(scene, part, quantity, before(step)))


def _vector_node(scene: Scene, node_id: NodeId) -> Node:
    """A group made of its three channels."""
    part, group, stage = node_id
    order = _late_order(scene, node_id)
    if stage.kind == "default":
        zero = scene.default(ChannelRef(part, f"{group}.x"))
        return Node(node_id, (), Group((zero, zero, zero)), 0, order)
    inputs: list[NodeId] = []
    components: list[float | None] = []
    for axis in AXES:
        ref = ChannelRef(part, f"{group}.{axis}")
        source = _channel_source(scene, ref, stage)
        moving = ref in scene.curves or source.stage != OWN
        components.append(None if moving else scene.set_value(ref))
        if moving:
            inputs.append(source)
    x, y, z = components
    return Node(node_id, tuple(inputs), Group((x, y, z)), 0, order)


def _world_node(scene: Scene, node_id: NodeId) -> Node:
    part, quantity, stage = node_id
    order = _late_order(scene, node_id)
    if quantity == "travelled":
        return Node(node_id, (NodeId(part, "world position", stage),), Travelled(), 0, order)
    if quantity in SIGNED_WAYS:
        signed = TravelledAlong(SIGNED_WAYS.index(quantity))
        return Node(node_id, (NodeId(part, "world matrix", stage),), signed, 0, order)
    if quantity == "speed":
        return Node(node_id, (NodeId(part, "travelled", stage),), Speed(), 0, order)
    data = scene.parts[part]
    parent = (NodeId(data.parent, "world matrix", stage),) if data.parent else ()
    local = LocalFrame(data.rest, data.rotation_order)
    if quantity == "world position":
        own = (group_node(scene, part, "translation", stage),)
        return Node(node_id, parent + own, WorldPosition(local), 0, order)
    groups = tuple(group_node(scene, part, group, stage) for group in GROUPS)
    return Node(node_id, parent + groups, WorldMatrix(local), 0, order)


def _lead_node(scene: Scene, node_id: NodeId) -> Node:
    """What a lead group does to all its members; its stage is the group."""
    lead = scene.leads[node_id.stage.name]
    inputs = tuple(read_node(scene, read) for read in lead_reads(scene, lead))
    order = (zone_index("bound"), scene.tree_order[lead.part], -1)
    return Node(node_id, inputs, lead_operation(scene, lead), len(inputs), order)


def _back_node(scene: Scene, node_id: NodeId) -> Node:
    """A value one frame back; on the first frame, its driven value."""
    part, quantity, stage = node_id
    tap = tap_of(stage)
    assert tap is not None
    source = read_node(scene, Read(part, quantity, tap))
    seed = read_node(scene, Read(part, quantity, "driven"))
    zone = zone_index(tap)
    order = (zone, scene.tree_order[part], AFTER_STEPS + 1)
    return Node(node_id, (source, seed), Delayed(), 1, order, delayed=True)


def _channel_source(scene: Scene, ref: ChannelRef, stage: Stage) -> NodeId:
    """A channel's node at a tap, or before a step."""
    step, tap = step_around(scene, stage), tap_of(stage)
    if step is not None:
        return channel_before(scene, ref, step)
    assert tap is not None
    return tap_node(scene, ref, tap)


def _step_order(scene: Scene, step: Step) -> tuple[int, int, int]:
    return zone_index(step.zone), scene.tree_order[step.part], step.position


def _late_order(scene: Scene, node_id: NodeId) -> tuple[int, int, int]:
    step, tap = step_around(scene, node_id.stage), tap_of(node_id.stage)
    if step is not None:
        return _step_order(scene, step)
    return zone_index(tap) if tap else 0, scene.tree_order[node_id.part], AFTER_STEPS
