"""What a part's rest says."""

from __future__ import annotations

from dataclasses import dataclass
from functools import cached_property, lru_cache

import numpy as np

from bindu.core.curves.model import Array
from bindu.core.geometry.rotation import rotation_matrices
from bindu.core.scene.parts import Rest, RotationOrder


@dataclass(frozen=True)
class LocalFrame:
    """A part's place and axes before any channel moves it."""

    rest: Rest
    order: RotationOrder

    @cached_property
    def digest(self) -> str:
        """A text that is the same for equal frames only."""
        return repr(self)

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

    @cached_property
    def stack(self) -> Array:
        """Axes and place as a stack of one still place, shape (1, 1, 3, 4)."""
        return self.matrix[None, None]

    @cached_property
    def matrix(self) -> Array:
        """Axes and place, shape (3, 4)."""
        axes = np.eye(3) if self.axes is None else self.axes
        return np.concatenate([axes, self.place[:, None]], axis=1)


@lru_cache(maxsize=100_000)
def local_frame(rest: Rest, order: RotationOrder) -> LocalFrame:
    """The frame of a rest; the same object again for the same rest."""
    return LocalFrame(rest, order)
