"""How places in the world are computed."""

from __future__ import annotations

from collections.abc import Hashable, Sequence
from dataclasses import dataclass

import numpy as np

from bindu.core.curves.model import Array
from bindu.core.geometry.local_frame import LocalFrame
from bindu.core.geometry.places import points_outside, within
from bindu.core.geometry.rotation import matrices_of, rotation_matrices
from bindu.core.geometry.vectors import frames_last, matrix_product, transformed
from bindu.core.nodes.batches import InBatches, stacked
from bindu.core.nodes.operation import Times
from bindu.core.scene.parts import RotationOrder
from bindu.core.scene.settings import Vector


@dataclass(frozen=True)
class WorldPosition(InBatches):
    """Where a part's origin is in the world. Inputs: parent's world matrix (unless a root), own
    translation."""

    local: LocalFrame

    @property
    def digest(self) -> str:
        """See ``Operation``."""
        return f"world position {self.local.digest}"

    @property
    def alike(self) -> Hashable:
        """See ``InBatches``."""
        return self.local.axes is None

    @classmethod
    def compute_many(
        cls, operations: Sequence[WorldPosition], inputs: Sequence[Array], times: Times
    ) -> Array:
        """Shape (B, F, 3) or (B, 1, 3), metres."""
        position = _positions([one.local for one in operations], inputs[-1])
        return position if len(inputs) == 1 else points_outside(inputs[0], position)


@dataclass(frozen=True)
class WorldMatrix(InBatches):
    """A part's world matrix: parent's world · T(rest) · R(rest) · T · R · S.

    Inputs: parent's world matrix (unless a root), own translation, rotation and scale; a vector
    stands for one of these that has no input.
    """

    local: LocalFrame
    translation: Vector | None = None
    rotation: Vector | None = None
    scale: Vector | None = None

    @property
    def digest(self) -> str:
        """See ``Operation``."""
        return f"world matrix {self.local.digest} {self._still!r}"

    @property
    def alike(self) -> Hashable:
        """See ``InBatches``."""
        translation, rotation, scale = self._still
        moving = translation is None, rotation is None, scale is None
        return self.local.order, self.local.axes is None, moving

    @property
    def _still(self) -> tuple[Vector | None, ...]:
        return self.translation, self.rotation, self.scale

    @classmethod
    def compute_many(
        cls, operations: Sequence[WorldMatrix], inputs: Sequence[Array], times: Times
    ) -> Array:
        """The upper three rows, shape (B, F, 3, 4) or (B, 1, 3, 4)."""
        still = [one._still for one in operations]
        moving = sum(one is None for one in still[0])
        rest = iter(inputs[len(inputs) - moving :])
        translation, rotation, scale = (
            next(rest) if vectors[0] is None else stacked(vectors)
            for vectors in zip(*still, strict=True)
        )
        locals_ = [one.local for one in operations]
        frames = max(stack.shape[1] for stack in (translation, rotation, scale))
        matrix = frames_last((len(operations), frames, 3, 4), 2)
        matrix[..., 3] = _positions(locals_, translation)
        _turn(matrix[..., :3], rotation, locals_[0].order)
        if np.any(scale != 1.0):
            matrix[..., :3] *= scale[..., None, :]
        if locals_[0].axes is not None:
            axes = stacked([local.axes for local in locals_])
            matrix[..., :3] = matrix_product(axes, matrix[..., :3])
        return matrix if len(inputs) == moving else within(inputs[0], matrix)


def _turn(linear: Array, rotation: Array, order: RotationOrder) -> None:
    """Writes rotations, as angles or as quaternions, into the linear parts of matrices."""
    if rotation.shape[-1] == 3 and rotation.shape[1] == linear.shape[1]:
        rotation_matrices(rotation, order, out=linear)
    elif rotation.shape[-1] == 3:
        linear[...] = rotation_matrices(rotation, order)
    else:
        linear[...] = matrices_of(rotation)


def _positions(locals_: Sequence[LocalFrame], translation: Array) -> Array:
    """Positions in the parents, (B, F, 3), from translation channels, (B, F, 3)."""
    places = stacked([local.place for local in locals_])
    if locals_[0].axes is None:
        return np.asarray(translation + places)
    axes = stacked([local.axes for local in locals_])
    return np.asarray(transformed(axes, translation) + places)
