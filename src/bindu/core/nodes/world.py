"""How places in the world are computed."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from bindu.core.curves.model import Array
from bindu.core.geometry.local_frame import LocalFrame
from bindu.core.nodes.operation import Reach, Times


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
