"""Curves that come earlier or later."""

from __future__ import annotations

from collections.abc import Hashable, Sequence
from dataclasses import dataclass
from functools import cached_property

import numpy as np

from bindu.core.curves.evaluate import curve_values
from bindu.core.curves.model import Array, Curve
from bindu.core.nodes.batches import InBatches
from bindu.core.nodes.operation import Operation, Reach, Times
from bindu.core.scene.channels import ChannelRef
from bindu.core.scene.model import Scene
from bindu.core.scene.parts import Step
from bindu.core.scene.settings import ShiftSettings
from bindu.core.steps.keyed.shaper import ShaperKind


@dataclass(frozen=True)
class ShiftOperation(InBatches):
    """The value of some whole frames earlier. Beyond the scene's range it goes on from the end as
    the channel's own curve does there. Inputs: incoming, the frames by which all comes later."""

    curve: Curve | None

    @cached_property
    def digest(self) -> str:
        """See ``Operation``."""
        return f"shift {self.curve.digest if self.curve else ''}"

    @property
    def reach(self) -> Reach:
        """Frames before and behind."""
        return "all frames"

    @property
    def moves(self) -> bool:
        """By the frames beyond the range."""
        return self.curve is not None

    @property
    def alike(self) -> Hashable:
        """See ``InBatches``."""
        return self.digest

    @classmethod
    def compute_many(
        cls, operations: Sequence[ShiftOperation], inputs: Sequence[Array], times: Times
    ) -> Array:
        """Shape (B, F)."""
        incoming, later = inputs
        frames = len(times.frames)
        values = np.broadcast_to(incoming, (len(incoming), frames))
        whole = np.round(np.where(np.isfinite(later), later, 0.0))
        rows = np.broadcast_to(np.arange(frames) - whole, values.shape)
        inside = np.clip(rows, 0, frames - 1).astype(np.int64)
        made = np.take_along_axis(values, inside, axis=1)
        curve = operations[0].curve
        if curve is None:
            return made
        asked, held = (
            curve_values(curve, at.ravel() + float(times.first)).reshape(at.shape)
            for at in (rows, inside.astype(np.float64))
        )
        return np.asarray(made + np.where(rows == inside, 0.0, asked - held))


class ShiftKind(ShaperKind):
    """See ``StepKind``."""

    name = "shift"

    def operation(self, scene: Scene, step: Step, quantity: str) -> Operation:
        """See ``ShiftOperation``."""
        return ShiftOperation(scene.curves.get(ChannelRef(step.part, quantity)))

    def described(self, scene: Scene, settings: ShiftSettings) -> str:
        """What it does."""
        return "comes some whole frames later, or earlier"
