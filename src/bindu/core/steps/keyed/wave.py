"""Waves."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from bindu.core.curves.model import Array
from bindu.core.nodes.batches import InBatches
from bindu.core.nodes.operation import Operation, Times
from bindu.core.scene.model import Scene
from bindu.core.scene.parts import Step
from bindu.core.scene.settings import WaveSettings
from bindu.core.steps.keyed.shaper import ShaperKind


@dataclass(frozen=True)
class WaveOperation(InBatches):
    """v + amplitude · sin(360° · ((frame - start) / period + phase)), start at the scene's first
    frame. Inputs: incoming, amplitude, period, phase."""

    @property
    def digest(self) -> str:
        """See ``Operation``."""
        return "wave"

    @property
    def moves(self) -> bool:
        """By the frame."""
        return True

    @classmethod
    def compute_many(
        cls, operations: Sequence[WaveOperation], inputs: Sequence[Array], times: Times
    ) -> Array:
        """Shape (B, F)."""
        incoming, amplitude, period, phase = inputs
        turns = (times.frames - times.first) / period + phase
        return np.asarray(incoming + amplitude * np.sin(2.0 * np.pi * turns))


class WaveKind(ShaperKind):
    """See ``StepKind``."""

    name = "wave"

    def operation(self, scene: Scene, step: Step, quantity: str) -> Operation:
        """See ``WaveOperation``."""
        return WaveOperation()

    def described(self, scene: Scene, settings: WaveSettings) -> str:
        """What it does."""
        return "adds a wave: amplitude · sin(360° · (frames / period + phase))"
