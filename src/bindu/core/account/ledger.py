"""The account of one channel: each step that writes it, what came in and what went out.

It is read off the same nodes as the curves.
"""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass

import numpy as np

from bindu.core.account.labels import read_label
from bindu.core.curves.model import Array
from bindu.core.evaluation import Evaluation
from bindu.core.graph.kinds.channel import tap_node
from bindu.core.graph.kinds.stepped import step_nodes
from bindu.core.graph.reads import read_node
from bindu.core.nodes.identity import OWN, NodeId, Read, after
from bindu.core.scene.channels import AXES, GROUPS, TAPS, ChannelRef, Tap, Zone
from bindu.core.scene.names import full_name
from bindu.core.scene.parts import Step
from bindu.core.steps.registry import kind_of

NO_EFFECT = 1e-12


@dataclass(frozen=True)
class ReadSeen:
    """Something that a step reads.

    Attributes:
        label: what people call it.
        read: where it is read.
        node: the value that is taken; in a loop, the held one.
    """

    label: str
    read: Read
    node: NodeId


@dataclass(frozen=True)
class Bead:
    """One step in the account of a channel.

    Attributes:
        step: the step; None for the channel's own curve or value.
        incoming: the value that comes in; None for the first bead and for muted steps.
        outgoing: the value that goes out; None for muted steps.
        held: the step is in a loop or downstream of one.
        broken_from: the first frame on which it made no finite number.
        cost: how long all that the step makes took when it was last computed, seconds.
    """

    step: Step | None
    name: str
    kind: str
    zone: Zone
    description: str
    incoming: NodeId | None
    outgoing: NodeId | None
    reads: tuple[ReadSeen, ...] = ()
    held: bool = False
    broken_from: int | None = None
    broken_frames: int = 0
    cost: float = 0.0


@dataclass(frozen=True)
class Ledger:
    """The beads of a channel from Keyed to Final, and the node of each tap."""

    channel: ChannelRef
    beads: tuple[Bead, ...]
    taps: tuple[tuple[Tap, NodeId], ...]


def ledger_of(evaluation: Evaluation, ref: ChannelRef) -> Ledger:
    """The account of a channel."""
    beads = [_first_bead(evaluation, ref)]
    last = NodeId(*ref, OWN)
    for step in evaluation.scene.writers(ref):
        beads.append(_bead(evaluation, step, ref, last))
        if step.on:
            last = NodeId(*ref, after(step))
    taps = tuple((tap, tap_node(evaluation.scene, ref, tap)) for tap in TAPS)
    return Ledger(ref, tuple(beads), taps)


@dataclass(frozen=True)
class GroupBead:
    """One step in the account of a translation, rotation or scale as a whole.

    Attributes:
        bead: as in the account of the first of the channels that the step writes.
        incoming, outgoing: the values of x, y and z before and after it; of a muted step the same
            twice.
    """

    bead: Bead
    incoming: tuple[NodeId, ...]
    outgoing: tuple[NodeId, ...]


def group_ledger(evaluation: Evaluation, part: str, group: str) -> tuple[GroupBead, ...]:
    """The account of a group: each step that writes any of its channels, in order."""
    scene = evaluation.scene
    refs = tuple(ChannelRef(part, f"{group}.{axis}") for axis in AXES)
    now = tuple(NodeId(*ref, OWN) for ref in refs)
    beads = [GroupBead(_group_start(evaluation, refs), (), now)]
    for step in scene.steps_of.get(part, ()):
        written = [ref for ref in refs if ref.channel in step.settings.writes]
        if not written:
            continue
        place = refs.index(written[0])
        bead = _bead(evaluation, step, written[0], now[place])
        made = tuple(
            NodeId(*ref, after(step)) if step.on and ref in written else node
            for ref, node in zip(refs, now, strict=True)
        )
        beads.append(GroupBead(bead, now, made))
        now = made
    return tuple(beads)


def _group_start(evaluation: Evaluation, refs: tuple[ChannelRef, ...]) -> Bead:
    """Where a group starts: its channels' own curves and values."""
    keyed = [ref.channel[-1] for ref in refs if ref in evaluation.scene.curves]
    text = f"keys on {', '.join(keyed)}" if keyed else "no keys"
    return Bead(None, "own values", "values", "keyed", text, None, NodeId(*refs[0], OWN))


def values_at(evaluation: Evaluation, node_id: NodeId, frame: float) -> float:
    """A scalar node's value on a frame."""
    values = evaluation.result(node_id).values
    return float(values[evaluation.index(frame) if len(values) > 1 else 0])


def effect(evaluation: Evaluation, bead: Bead) -> Array | None:
    """On which frames a bead changes the value, booleans of shape (F,) or (1,); None where
    there is nothing to compare."""
    if bead.incoming is None or bead.outgoing is None:
        return None
    came = evaluation.result(bead.incoming).values
    went = evaluation.result(bead.outgoing).values
    return np.asarray(np.abs(went - came) > NO_EFFECT)


def _first_bead(evaluation: Evaluation, ref: ChannelRef) -> Bead:
    scene = evaluation.scene
    curve = scene.curves.get(ref)
    node = NodeId(*ref, OWN)
    if curve is None:
        set_by_hand = ref.channel in scene.parts[ref.part].values
        text = "set by hand" if set_by_hand else "at its default"
        return Bead(None, "value", "value", "keyed", text, None, node)
    count = len(curve.keys)
    text = f"{count} key{'s' if count != 1 else ''}"
    values = {key.value for key in curve.keys}
    if len(values) == 1:
        text += " · flat"
    return Bead(None, "base keys", "curve", "keyed", text, None, node)


def _bead(evaluation: Evaluation, step: Step, ref: ChannelRef, incoming: NodeId) -> Bead:
    scene = evaluation.scene
    kind = kind_of(step.settings)
    text = kind.described(scene, step.settings)
    if not step.on:
        return Bead(step, step.name, kind.name, step.zone, text, None, None)
    node_id = NodeId(*ref, after(step))
    maker = _maker(step, ref)
    result = evaluation.result(maker)
    return Bead(
        step,
        step.name,
        kind.name,
        step.zone,
        text,
        incoming,
        node_id,
        (*_seen_reads(evaluation, step, maker), *_seen_weight(evaluation, step)),
        node_id in evaluation.graph.held,
        result.broken_from,
        result.broken_frames,
        step_cost(evaluation, step),
    )


def step_cost(evaluation: Evaluation, step: Step) -> float:
    """How long all that a step makes took when it was last computed, seconds."""
    made = {*step_nodes(step)}
    for name in (*step.settings.writes, *step.settings.groups):
        made.add(NodeId(step.part, name, after(step)))
    found = (evaluation.results.get(node) for node in made)
    return sum(result.seconds for result in found if result is not None)


def _seen_reads(evaluation: Evaluation, step: Step, reader: NodeId) -> Iterator[ReadSeen]:
    scene = evaluation.scene
    reads = kind_of(step.settings).reads(scene, step, reader.quantity)
    made = evaluation.graph.nodes[reader]
    for place, read in enumerate(reads, start=len(made.inputs) - made.reads):
        node = read_node(scene, read)
        taken = evaluation.graph.replacements.get((reader, place), node)
        yield ReadSeen(read_label(scene, read), read, taken)


def _maker(step: Step, ref: ChannelRef) -> NodeId:
    """The node that computes what a step makes of a channel: of a group, the whole group."""
    nodes = step_nodes(step)
    if len(nodes) == 1:
        return nodes[0]
    group = ref.channel.partition(".")[0]
    return nodes[step.settings.groups.index(next(g for g in GROUPS if g == group))]


def _seen_weight(evaluation: Evaluation, step: Step) -> Iterator[ReadSeen]:
    """The step's weight, unless it is simply 1."""
    scene = evaluation.scene
    weight = scene.weight_of(step)
    read = Read(*weight, "final")
    node = read_node(scene, read)
    if node.stage != OWN or weight in scene.curves or scene.set_value(weight) != 1.0:
        yield ReadSeen(full_name(scene, weight), read, node)
