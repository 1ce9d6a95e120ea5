"""Values held on a grid of frames: on twos, threes and so on."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from bindu.core.curves.model import Array
from bindu.core.nodes.batches import InBatches
from bindu.core.nodes.operation import Operation, Reach, Times
from bindu.core.scene.model import Scene
from bindu.core.scene.parts import Step
from bindu.core.scene.settings import NthsSettings
from bindu.core.steps.keyed.shaper import ShaperKind


@dataclass(frozen=True)
class NthsOperation(InBatches):
    """The value at the last frame of the grid start + k · n, held; start at the scene's first
    frame. Inputs: incoming, n, taken to the nearest whole number."""

    @property
    def digest(self) -> str:
        """See ``Operation``."""
        return "on nths"

    @property
    def reach(self) -> Reach:
        """A frame before, however far."""
        return "all frames"

    @classmethod
    def compute_many(
        cls, operations: Sequence[NthsOperation], inputs: Sequence[Array], times: Times
    ) -> Array:
        """Shape (B, F), or (B, 1) where nothing moves."""
        incoming, n = inputs
        if incoming.shape[1] == 1:
            return incoming
        step = np.maximum(np.round(np.where(np.isfinite(n), n, 1.0)), 1.0)
        rows = np.arange(len(times.frames))
        grid = (np.floor(rows / step) * step).astype(np.int64)
        grid = np.broadcast_to(grid, incoming.shape)
        return np.take_along_axis(incoming, grid, axis=1)


class NthsKind(ShaperKind):
    """See ``StepKind``."""

    name = "on nths"

    def operation(self, scene: Scene, step: Step, quantity: str) -> Operation:
        """See ``NthsOperation``."""
        return NthsOperation()

    def described(self, scene: Scene, settings: NthsSettings) -> str:
        """What it does."""
        return "holds the value of every n-th frame"
