"""Smoothing."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
import numpy.typing as npt

from bindu.core.curves.model import Array
from bindu.core.nodes.batches import InBatches
from bindu.core.nodes.operation import Operation, Reach, Times
from bindu.core.scene.model import Scene
from bindu.core.scene.parts import Step
from bindu.core.scene.settings import WIDEST, SmoothSettings
from bindu.core.steps.keyed.shaper import ShaperKind

Places = npt.NDArray[np.int64]
REACH = 4.0
"""How many widths the weights reach: beyond, they are below 4e-4 of the middle one."""


@dataclass(frozen=True)
class SmoothOperation(InBatches):
    """The mean of the frames around with Gaussian weights, the ends mirrored. Inputs: incoming, the
    width: the standard deviation in frames; at 0 nothing is changed."""

    @property
    def digest(self) -> str:
        """See ``Operation``."""
        return "smooth"

    @property
    def reach(self) -> Reach:
        """Frames before and behind."""
        return "all frames"

    @property
    def calculations(self) -> int:
        """See ``Operation``."""
        return 40

    @classmethod
    def compute_many(
        cls, operations: Sequence[SmoothOperation], inputs: Sequence[Array], times: Times
    ) -> Array:
        """Shape (B, F)."""
        incoming, width = inputs
        frames = len(times.frames)
        if incoming.shape[1] == 1 or frames == 1:
            return incoming
        values = np.broadcast_to(incoming, (len(incoming), frames))
        width = np.clip(width, 0.0, WIDEST)
        total, weights = np.zeros(values.shape), np.zeros(values.shape)
        safe = np.where(width > 0.0, width, 1.0)
        for away in range(-_reach(width), _reach(width) + 1):
            share = np.exp(-0.5 * (away / safe) ** 2) * (abs(away) <= REACH * width)
            total = total + share * values[:, mirrored(np.arange(frames) + away, frames)]
            weights = weights + share
        return np.where(width > 0.0, total / weights, values)


class SmoothKind(ShaperKind):
    """See ``StepKind``."""

    name = "smooth"

    def operation(self, scene: Scene, step: Step, quantity: str) -> Operation:
        """See ``SmoothOperation``."""
        return SmoothOperation()

    def described(self, scene: Scene, settings: SmoothSettings) -> str:
        """What it does."""
        return "the mean of the frames around, Gaussian weights of its width"


def mirrored(places: Places, count: int) -> Places:
    """Places beyond the ends of so many mirrored at the first and the last one, however far."""
    period = 2 * (count - 1)
    folded = np.mod(places, period)
    return np.where(folded >= count, period - folded, folded)


def _reach(width: Array) -> int:
    return int(np.ceil(REACH * float(width.max())))
