"""Curves that go farther from a value, or less far."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from bindu.core.curves.model import Array
from bindu.core.nodes.batches import InBatches
from bindu.core.nodes.operation import Operation, Times
from bindu.core.scene.model import Scene
from bindu.core.scene.parts import Step
from bindu.core.scene.settings import StrengthSettings
from bindu.core.steps.keyed.shaper import ShaperKind


@dataclass(frozen=True)
class StrengthOperation(InBatches):
    """pivot + factor · (v - pivot). Inputs: incoming, pivot, factor."""

    @property
    def digest(self) -> str:
        """See ``Operation``."""
        return "strength"

    @classmethod
    def compute_many(
        cls, operations: Sequence[StrengthOperation], inputs: Sequence[Array], times: Times
    ) -> Array:
        """Shape (B, F), or (B, 1) where nothing moves."""
        incoming, pivot, factor = inputs
        return np.asarray(pivot + factor * (incoming - pivot))


class StrengthKind(ShaperKind):
    """See ``StepKind``."""

    name = "strength"

    def operation(self, scene: Scene, step: Step, quantity: str) -> Operation:
        """See ``StrengthOperation``."""
        return StrengthOperation()

    def described(self, scene: Scene, settings: StrengthSettings) -> str:
        """What it does."""
        return "pivot + factor · (value − pivot)"
