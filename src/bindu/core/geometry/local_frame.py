"""What a part's rest says."""

from __future__ import annotations

from dataclasses import dataclass
from functools import cached_property

import numpy as np

from bindu.core.curves.model import Array
from bindu.core.geometry.rotation import matrices_of, rotation_matrices
from bindu.core.scene.model import Rest, RotationOrder


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
