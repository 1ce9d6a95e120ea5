"""How the parts of a scene move from frame to frame, for checks that look at motion."""

from __future__ import annotations

from collections.abc import Iterable, Iterator, Mapping
from dataclasses import dataclass
from functools import cached_property

import numpy as np

from bindu.core.checks.check import Looked
from bindu.core.curves.model import Array
from bindu.core.evaluation import Evaluation, Result
from bindu.core.geometry.rotation import angles_quaternion, inverse, product
from bindu.core.geometry.vectors import length
from bindu.core.graph.kinds.channel import tap_node
from bindu.core.scene.channels import AXES, ChannelRef, Tap, below_layers, step_channel
from bindu.core.scene.model import Scene
from bindu.core.scene.parts import RotationOrder

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

    @cached_property
    def key(self) -> tuple[str, ...]:
        """By what its values are known."""
        return tuple(one.key for one in self.results)

    @cached_property
    def values(self) -> Array:
        """Shape (F, 3)."""
        return np.stack([np.broadcast_to(one.values, self.frames) for one in self.results], axis=1)


def moving_groups(
    evaluation: Evaluation,
    looked: Looked,
    group: str,
    tap: Tap = "final",
    parts: Iterable[str] | None = None,
) -> Iterator[Moving]:
    """The parts, or those of some parts, of which a group (translation, rotation, scale) moves."""
    moving = looked.this_time(
        ("moving", group, tap), lambda: _moving(evaluation, looked, group, tap)
    )
    for part in moving if parts is None else parts:
        if part in moving:
            yield moving[part]


def _moving(evaluation: Evaluation, looked: Looked, group: str, tap: Tap) -> Mapping[str, Moving]:
    """All parts of which a group moves. Where no step writes it, it is the same at all taps."""
    own: dict[str, Moving | None] = looked.this_time(("own", group), dict)
    scene, frames = evaluation.scene, len(evaluation.times.frames)
    channels = [f"{group}.{axis}" for axis in AXES]
    found = {}
    for part in scene.parts:
        if part in own:
            if (known := own[part]) is not None:
                found[part] = known
            continue
        refs = [ChannelRef(part, channel) for channel in channels]
        results = tuple(evaluation.result(tap_node(scene, ref, tap)) for ref in refs)
        made = Moving(part, group, results, frames)
        moves = any(len(one.values) > 1 for one in results)
        if moves:
            found[part] = made
        if not any(scene.is_written(ref) for ref in refs):
            own[part] = made if moves else None
    return found


def speeds(values: Array, order: RotationOrder | None) -> Array:
    """The way from each frame to the next: metres, or of rotations the vector of the turn in
    degrees, shape (…, F - 1, 3).

    Args:
        values: of translations or angles, shape (…, F, 3).
        order: the rotation order of angles.
    """
    if order is None:
        return np.asarray(np.diff(values, axis=-2))
    turns = angles_quaternion(values, order)
    way = product(inverse(turns[..., :-1, :]), turns[..., 1:, :])
    way = np.where(way[..., 3:] < 0.0, -way, way)
    size = length(way[..., :3])[..., None]
    angle = 2.0 * np.degrees(np.arctan2(size, way[..., 3:]))
    return np.asarray(way[..., :3] / np.where(size > 0.0, size, 1.0) * angle)


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
