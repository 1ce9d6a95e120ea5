"""How a channel's own values are computed, and one channel of a whole group."""

from __future__ import annotations

from collections.abc import Hashable, Sequence
from dataclasses import dataclass

import numpy as np

from bindu.core.curves.evaluate import values_of_many
from bindu.core.curves.model import Array, Curve
from bindu.core.nodes.batches import InBatches, stacked
from bindu.core.nodes.operation import Times


@dataclass(frozen=True)
class StillNumber(InBatches):
    """The same number on every frame."""

    value: float

    @property
    def digest(self) -> str:
        """See ``Operation``."""
        return f"constant {self.value!r}"

    @classmethod
    def compute_many(
        cls, operations: Sequence[StillNumber], inputs: Sequence[Array], times: Times
    ) -> Array:
        """Shape (B, 1)."""
        return stacked([one.value for one in operations])


@dataclass(frozen=True)
class OwnCurve(InBatches):
    """A channel's own curve."""

    curve: Curve

    @property
    def digest(self) -> str:
        """See ``Operation``."""
        return f"keys {self.curve.digest}"

    @property
    def alike(self) -> Hashable:
        """See ``InBatches``: curves of the same kinds of segments are quickest together, and those
        that hold outside their keys without those that go on."""
        return self.curve.holds_outside, self.curve.kinds

    @property
    def moves(self) -> bool:
        """It changes over time by itself."""
        return True

    @classmethod
    def compute_many(
        cls, operations: Sequence[OwnCurve], inputs: Sequence[Array], times: Times
    ) -> Array:
        """Shape (B, F)."""
        return values_of_many([one.curve for one in operations], times.frames)


@dataclass(frozen=True)
class Component(InBatches):
    """One axis of a group that a step wrote as a whole."""

    axis: int

    @property
    def digest(self) -> str:
        """See ``Operation``."""
        return f"component {self.axis}"

    @property
    def alike(self) -> Hashable:
        """See ``InBatches``."""
        return self.axis

    @classmethod
    def compute_many(
        cls, operations: Sequence[Component], inputs: Sequence[Array], times: Times
    ) -> Array:
        """Shape (B, F) or (B, 1)."""
        return np.ascontiguousarray(inputs[0][..., operations[0].axis])
