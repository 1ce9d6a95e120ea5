"""How a channel's own values are computed, and one channel of a whole group."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from bindu.core.curves.evaluate import curve_values
from bindu.core.curves.model import Array, Curve
from bindu.core.nodes.operation import Reach, Times


@dataclass(frozen=True)
class StillNumber:
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
