"""Two ways to evaluate a scene, side by side."""

from __future__ import annotations

from collections.abc import Iterable, Iterator
from dataclasses import dataclass

import numpy as np

from bindu.core.curves.model import Array
from bindu.core.edits import AnyEdit
from bindu.core.edits.steps import ChangeStep, MoveStep
from bindu.core.evaluation import Evaluation
from bindu.core.graph.kinds.channel import tap_node
from bindu.core.scene.channels import TRANSFORM_CHANNELS, ChannelRef
from bindu.core.scene.model import Scene
from bindu.core.scene.names import known_channel
from bindu.core.scene.things import StepVariant

DIFFERENT = 1e-9


@dataclass(frozen=True)
class Difference:
    """A channel on both sides at Final, shape (F,), and where they differ most."""

    channel: ChannelRef
    one: Array
    other: Array
    worst: float
    worst_frame: int


def differences(
    one: Evaluation, other: Evaluation, channels: Iterable[ChannelRef]
) -> Iterator[Difference]:
    """The chosen channels on both sides, over the frames of the first one."""
    frames = len(one.times.frames)
    for ref in channels:
        if not (known_channel(one.scene, ref) and known_channel(other.scene, ref)):
            continue
        a = np.broadcast_to(one.channel(ref, "final"), frames)
        b = _on(other, ref, one.times.frames)
        apart = np.abs(b - a)
        worst = int(np.argmax(apart))
        yield Difference(ref, a, b, float(apart[worst]), one.times.first + worst)


def differing_channels(one: Evaluation, other: Evaluation, most: int = 40) -> list[ChannelRef]:
    """The transform and own channels that are not the same on both sides, the most different
    first."""
    refs = [
        ChannelRef(part, channel)
        for part in one.scene.tree_order
        if part in other.scene.parts
        for channel in (*TRANSFORM_CHANNELS, *(c.id for c in one.scene.channels_of.get(part, ())))
        if _computed(one, part, channel) != _computed(other, part, channel)
    ]
    found = [d for d in differences(one, other, refs) if d.worst > DIFFERENT]
    found.sort(key=lambda d: -d.worst)
    return [d.channel for d in found[:most]]


def variant_edits(scene: Scene, variants: Iterable[StepVariant]) -> list[AnyEdit]:
    """The edits that put steps into the states that a saved What if holds."""
    edits: list[AnyEdit] = []
    for variant in variants:
        step = scene.steps.get(variant.step)
        if step is None:
            continue
        if variant.zone is not None:
            edits.append(MoveStep(step.id, variant.zone, variant.position))
        if variant.on is not None:
            edits.append(ChangeStep(step.id, on=variant.on))
    return edits


def _computed(evaluation: Evaluation, part: str, channel: str) -> str | None:
    """The key of a channel's result: the same key, the same values on the same frames."""
    ref = ChannelRef(part, channel)
    if not known_channel(evaluation.scene, ref):
        return None
    return evaluation.result(tap_node(evaluation.scene, ref, "final")).key


def _on(evaluation: Evaluation, ref: ChannelRef, frames: Array) -> Array:
    values = evaluation.channel(ref, "final")
    if len(values) == 1:
        return np.full(frames.shape, values[0])
    return np.interp(frames, evaluation.times.frames, values)
