"""How nodes that are no steps are computed: constants, curves, groups, world values."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from functools import cached_property

import numpy as np

from bindu.core.angles import Shown, shown_angles
from bindu.core.curves.evaluate import curve_values
from bindu.core.curves.model import Array, Curve
from bindu.core.graph.node import Reach, Running, Times
from bindu.core.graph.running import KeptRunning
from bindu.core.rotation import angles_quaternion, matrices_of, rotation_matrices
from bindu.core.scene.model import Rest, RotationOrder


@dataclass(frozen=True)
class Constant:
    """The same number on every frame."""

    value: float
    reach: Reach = "this frame"

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
    reach: Reach = "this frame"

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
    reach: Reach = "this frame"

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
    reach: Reach = "this frame"

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
    reach: Reach = "this frame"

    @property
    def digest(self) -> str:
        return f"quaternion {self.order}"

    def compute(self, inputs: Sequence[Array], times: Times) -> Array:
        """Shape (F, 4) or (1, 4), x, y, z, w; input: angles."""
        return angles_quaternion(inputs[0], self.order)


@dataclass(frozen=True)
class ContinuousAngles:
    """A quaternion shown as angles; see ``shown_angles``, to which the driven angles are plain."""

    order: RotationOrder
    reach: Reach = "frames before"

    @property
    def digest(self) -> str:
        return f"angles {self.order}"

    def compute(self, inputs: Sequence[Array], times: Times) -> Array:
        """Shape (F, 3) or (1, 3), degrees; inputs: quaternions, driven angles."""
        return self._made(inputs, times, None)[0]

    def running(self) -> Running:
        """See ``OverTime``."""
        return KeptRunning(self._made)

    def _made(
        self, inputs: Sequence[Array], times: Times, before: Shown | None
    ) -> tuple[Array, Shown]:
        return shown_angles(inputs[0], inputs[1], self.order, before)


@dataclass(frozen=True)
class Delayed:
    """A value as it was one frame back; on the first frame, the seed."""

    digest: str = "one frame back"
    reach: Reach = "this frame"

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
    reach: Reach = "this frame"

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
    reach: Reach = "this frame"

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
