"""How nodes that are no steps are computed: constants, curves, groups, world values."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from functools import cached_property

import numpy as np

from bindu.core.curves.evaluate import curve_values
from bindu.core.curves.model import Array, Curve
from bindu.core.graph.node import Times
from bindu.core.rotation import (
    angles_quaternion,
    continuous_angles,
    matrices_of,
    rotation_matrices,
)
from bindu.core.scene.model import Rest, RotationOrder


@dataclass(frozen=True)
class Constant:
    """The same number on every frame."""

    value: float

    @property
    def digest(self) -> str:
        return f"constant {self.value!r}"

    def compute(self, inputs: Sequence[Array], times: Times) -> Array:
        """Shape (1,)."""
        return np.array([self.value])


@dataclass(frozen=True)
class OwnCurve:
    """A channel's own curve."""

    curve: Curve

    @property
    def digest(self) -> str:
        return f"keys {self.curve.digest}"

    def compute(self, inputs: Sequence[Array], times: Times) -> Array:
        """Shape (F,)."""
        return curve_values(self.curve, times.frames)


@dataclass(frozen=True)
class Group:
    """Three channels as one vector; a number stands for a component that has no input."""

    components: tuple[float | None, float | None, float | None]

    @property
    def digest(self) -> str:
        return f"group {self.components!r}"

    def compute(self, inputs: Sequence[Array], times: Times) -> Array:
        """Shape (F, 3), or (1, 3) when no component changes."""
        vector = np.empty((max((len(i) for i in inputs), default=1), 3))
        rest = iter(inputs)
        for axis, constant in enumerate(self.components):
            vector[:, axis] = next(rest) if constant is None else constant
        return vector


@dataclass(frozen=True)
class Component:
    """One axis of a group that a step wrote as a whole."""

    axis: int

    @property
    def digest(self) -> str:
        return f"component {self.axis}"

    def compute(self, inputs: Sequence[Array], times: Times) -> Array:
        """Shape (F,) or (1,)."""
        return np.ascontiguousarray(inputs[0][:, self.axis])


@dataclass(frozen=True)
class AnglesToQuaternion:
    """A rotation as it is held from Bound on."""

    order: RotationOrder

    @property
    def digest(self) -> str:
        return f"quaternion {self.order}"

    def compute(self, inputs: Sequence[Array], times: Times) -> Array:
        """Shape (F, 4) or (1, 4), x, y, z, w; input: angles."""
        return angles_quaternion(inputs[0], self.order)


@dataclass(frozen=True)
class ContinuousAngles:
    """A quaternion shown as angles, each frame nearest to the one before and the first one
    nearest to the driven angles."""

    order: RotationOrder
    over_time: bool = True

    @property
    def digest(self) -> str:
        return f"angles {self.order}"

    def compute(self, inputs: Sequence[Array], times: Times) -> Array:
        """Shape (F, 3) or (1, 3), degrees; inputs: quaternions, driven angles."""
        return continuous_angles(matrices_of(inputs[0]), self.order, inputs[1][0])


@dataclass(frozen=True)
class Delayed:
    """A value as it was one frame back; on the first frame, the seed."""

    digest: str = "one frame back"

    def compute(self, inputs: Sequence[Array], times: Times) -> Array:
        """Shape (F, …); inputs: the value, and its seed."""
        value, seed = inputs
        made = np.empty((len(times.frames), *value.shape[1:]))
        made[:1] = seed[:1]
        made[1:] = value[:-1] if len(value) > 1 else value
        return made


@dataclass(frozen=True)
class LocalFrame:
    """What a part's rest says: its place and axes before any channel moves it."""

    rest: Rest
    order: RotationOrder

    @cached_property
    def place(self) -> Array:
        """Translation of the rest, shape (3,)."""
        return np.array(self.rest.translation)

    @cached_property
    def axes(self) -> Array | None:
        """Rotation of the rest, shape (3, 3); None where it does not turn."""
        if self.rest.rotation == (0.0, 0.0, 0.0):
            return None
        return np.asarray(rotation_matrices(np.array([self.rest.rotation]), self.order)[0])

    def turned(self, rotation: Array) -> Array:
        """Rotation matrices, (N, 3, 3), from angles, (N, 3), or from quaternions, (N, 4)."""
        if rotation.shape[1] == 4:
            return matrices_of(rotation)
        return rotation_matrices(rotation, self.order)

    def position(self, translation: Array) -> Array:
        """The part's position in its parent, (N, 3), from its translation channels, (N, 3)."""
        if self.axes is None:
            return translation + self.place
        return translation @ self.axes.T + self.place


@dataclass(frozen=True)
class WorldPosition:
    """Where a part's origin is in the world. Inputs: parent's world matrix (unless a root), own
    translation."""

    local: LocalFrame

    @property
    def digest(self) -> str:
        return f"world position {self.local!r}"

    def compute(self, inputs: Sequence[Array], times: Times) -> Array:
        """Shape (F, 3) or (1, 3), metres."""
        position = self.local.position(inputs[-1])
        if len(inputs) == 1:
            return position
        parent = inputs[0]
        turned = np.matmul(parent[:, :, :3], position[:, :, None])[:, :, 0]
        return np.asarray(turned + parent[:, :, 3])


@dataclass(frozen=True)
class WorldMatrix:
    """A part's world matrix: parent's world · T(rest) · R(rest) · T · R · S.

    Inputs: parent's world matrix (unless a root), own translation, rotation and scale.
    """

    local: LocalFrame

    @property
    def digest(self) -> str:
        return f"world matrix {self.local!r}"

    def compute(self, inputs: Sequence[Array], times: Times) -> Array:
        """The upper three rows, shape (F, 3, 4) or (1, 3, 4)."""
        translation, rotation, scale = inputs[-3:]
        linear = self.local.turned(rotation)
        if scale.shape[0] > 1 or np.any(scale != 1.0):
            linear = linear * scale[:, None, :]
        if self.local.axes is not None:
            linear = self.local.axes @ linear
        position = self.local.position(translation)
        frames = max(len(linear), len(position))
        matrix = np.empty((frames, 3, 4))
        matrix[:, :, :3] = linear
        matrix[:, :, 3] = position
        if len(inputs) == 3:
            return matrix
        parent = inputs[0]
        world: Array = np.matmul(parent[:, :, :3], matrix)
        world[:, :, 3] += parent[:, :, 3]
        return world


def path_ways(positions: Array) -> Array:
    """How far a point goes from each frame to the next, along its path, shape (F - 1,), metres.

    Each way is an arc: as bent as the circles through the frames around its two ends, on the
    average, but never more than twice the gentler one, so that a way beside a corner stays
    straight. Exact for straight paths, with corners on whole frames too, and for circles at an
    even speed.

    Args:
        positions: shape (F, 3).
    """
    steps = np.diff(positions, axis=0)
    chords = np.asarray(np.linalg.norm(steps, axis=1))
    if len(chords) < 3:
        return chords
    # The curvature of the circle through three points: 2 sin of the turn over the third side.
    across = np.linalg.norm(np.cross(steps[:-1], steps[1:]), axis=1)
    sides = chords[:-1] * chords[1:] * np.linalg.norm(positions[2:] - positions[:-2], axis=1)
    bend = np.zeros(len(positions))
    bend[1:-1] = np.divide(2.0 * across, sides, out=np.zeros_like(across), where=sides > 1e-30)
    bend[0], bend[-1] = bend[1], bend[-2]
    gentler, mean = np.minimum(bend[:-1], bend[1:]), (bend[:-1] + bend[1:]) / 2.0
    half = np.minimum(mean, 2.0 * gentler) * chords / 2.0
    half = np.clip(half, 0.0, 1.0)
    # Beyond a quarter turn between two frames the arc is only guessed at; it stays the chord.
    stretch = np.where(half < 0.7, np.arcsin(half) / np.where(half > 1e-9, half, 1.0), 1.0)
    return chords * np.where(half > 1e-9, stretch, 1.0)


@dataclass(frozen=True)
class Travelled:
    """The true distance that a point has covered since the scene's first frame; see
    ``path_ways``."""

    digest: str = "travelled by arcs"

    def compute(self, inputs: Sequence[Array], times: Times) -> Array:
        """Shape (F,), metres; input: world position."""
        ways = np.zeros(len(times.frames))
        if len(inputs[0]) > 1:
            ways[1:] = path_ways(inputs[0])
        return np.cumsum(ways)


@dataclass(frozen=True)
class TravelledAlong:
    """The distance covered, counted backwards where the part moves against its own axis."""

    axis: int

    @property
    def digest(self) -> str:
        return f"travelled along {self.axis}"

    def compute(self, inputs: Sequence[Array], times: Times) -> Array:
        """Shape (F,), metres; input: world matrix."""
        ways = np.zeros(len(times.frames))
        matrix = inputs[0]
        if len(matrix) > 1:
            position, direction = matrix[:, :, 3], matrix[:, :, self.axis]
            along = (np.diff(position, axis=0) * (direction[1:] + direction[:-1])).sum(axis=1)
            ways[1:] = np.sign(along) * path_ways(position)
        return np.cumsum(ways)


@dataclass(frozen=True)
class Speed:
    """How fast a point moves: its way since the frame before; on the first frame, its way to
    the next one, so that a motion that is already under way does not start from rest."""

    digest: str = "speed"

    def compute(self, inputs: Sequence[Array], times: Times) -> Array:
        """Shape (F,), metres a second; input: distance travelled."""
        ways = np.diff(inputs[0], prepend=inputs[0][:1])
        if len(ways) > 1:
            ways[0] = ways[1]
        return ways * times.fps
