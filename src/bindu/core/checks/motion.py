"""How the parts of a scene move from frame to frame, for checks that look at motion."""

from __future__ import annotations

from collections.abc import Iterable, Iterator
from dataclasses import dataclass
from functools import cached_property

import numpy as np

from bindu.core.curves.model import Array
from bindu.core.evaluation import Evaluation, Result
from bindu.core.geometry.rotation import angles_quaternion, inverse, product
from bindu.core.graph.kinds.channel import tap_node
from bindu.core.scene.channels import AXES, ChannelRef, Tap, below_layers, step_channel
from bindu.core.scene.model import Scene

ROTATION = tuple(f"rotation.{axis}" for axis in AXES)


@dataclass(frozen=True)
class Moving:
    """A group of a part that moves.

    Attributes:
        results: of its three channels.
        frames: how many there are.
    """

    part: str
    group: str
    results: tuple[Result, ...]
    frames: int

    @property
    def key(self) -> tuple[str, ...]:
        """By what its values are known."""
        return tuple(one.key for one in self.results)

    @cached_property
    def values(self) -> Array:
        """Shape (F, 3)."""
        return np.stack([np.broadcast_to(one.values, self.frames) for one in self.results], axis=1)


def moving_groups(
    evaluation: Evaluation, group: str, tap: Tap = "final", parts: Iterable[str] | None = None
) -> Iterator[Moving]:
    """The parts, or those of some parts, of which a group (translation, rotation, scale) moves."""
    frames = len(evaluation.times.frames)
    for part in evaluation.scene.parts if parts is None else parts:
        refs = [ChannelRef(part, f"{group}.{axis}") for axis in AXES]
        results = tuple(evaluation.result(tap_node(evaluation.scene, ref, tap)) for ref in refs)
        if any(len(one.values) > 1 for one in results):
            yield Moving(part, group, results, frames)


def speeds(evaluation: Evaluation, moving: Moving) -> Array:
    """The way from each frame to the next: metres, or of a rotation the vector of the turn in
    degrees, shape (F - 1, 3)."""
    if moving.group != "rotation":
        return np.asarray(np.diff(moving.values, axis=0))
    order = evaluation.scene.parts[moving.part].rotation_order
    turns = angles_quaternion(moving.values, order)
    way = product(inverse(turns[:-1]), turns[1:])
    way = np.where(way[:, 3:] < 0.0, -way, way)
    size = np.linalg.norm(way[:, :3], axis=1, keepdims=True)
    angle = 2.0 * np.degrees(np.arctan2(size, way[:, 3:]))
    return np.asarray(way[:, :3] / np.where(size > 0.0, size, 1.0) * angle)


def held_frames(scene: Scene, part: str) -> set[float]:
    """The frames on which a hold of a part's own curves ends, so that a jump there is meant: its
    channels on all layers, and the blends of the limbs that it belongs to."""
    refs = [ref for ref in scene.curves if below_layers(ref).part == part]
    limbs = [limb for limb in scene.limbs.values() if part in limb.chain]
    refs += [ChannelRef(one.part, step_channel(one.id, "blend")) for one in limbs]
    found: set[float] = set()
    for ref in refs:
        curve = scene.curves.get(ref)
        if curve is None:
            continue
        for key, after in zip(curve.keys, curve.keys[1:], strict=False):
            if key.interpolation == "hold" and key.value != after.value:
                found.add(after.frame)
    return found
