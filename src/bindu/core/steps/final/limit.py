"""Limits: a channel kept between two numbers."""

from __future__ import annotations

import math
from collections.abc import Hashable, Sequence
from dataclasses import dataclass, replace

import numpy as np

from bindu.core.curves.model import Array
from bindu.core.nodes.batches import InBatches, stacked
from bindu.core.nodes.identity import Read
from bindu.core.nodes.operation import Operation, Times
from bindu.core.refusal import Refusal
from bindu.core.scene.channels import Zone
from bindu.core.scene.model import Scene
from bindu.core.scene.names import unit_of
from bindu.core.scene.parts import Step
from bindu.core.scene.settings import LimitSettings
from bindu.core.steps.base import StepKind, kind_checks_channel


@dataclass(frozen=True)
class LimitOperation(InBatches):
    """Clamps the value that comes in."""

    settings: LimitSettings

    @property
    def digest(self) -> str:
        return f"limit {self.settings.low!r} {self.settings.high!r}"

    @property
    def alike(self) -> Hashable:
        """See ``InBatches``: which ends it has."""
        return self.settings.low is None, self.settings.high is None

    @classmethod
    def compute_many(
        cls, operations: Sequence[LimitOperation], inputs: Sequence[Array], times: Times
    ) -> Array:
        """Shape (B, F) or (B, 1)."""
        low, high = (
            None
            if getattr(operations[0].settings, end) is None
            else stacked([getattr(one.settings, end) for one in operations])
            for end in ("low", "high")
        )
        return np.asarray(np.clip(inputs[0], low, high))


class LimitKind(StepKind):
    """See ``StepKind``."""

    name = "limit"
    zones: tuple[Zone, ...] = ("final",)
    zone_reason = "a limit has the last word on a channel"

    def checked(self, scene: Scene, part: str, settings: LimitSettings) -> LimitSettings:
        """Settings whose ends are numbers in their order.

        Raises:
            Refusal: when there is no end, or the ends are no numbers or in the wrong order.
        """
        channel = kind_checks_channel(scene, part, settings.channel)
        low, high = settings.low, settings.high
        if low is None and high is None:
            raise Refusal("give at least one end.", code="choice", place="limit")
        for name, end in (("low", low), ("high", high)):
            if end is not None and not math.isfinite(end):
                raise Refusal(f"{name} must be a number, not {end}.", code="number", place="limit")
        if low is not None and high is not None and low > high:
            raise Refusal(f"low {low:g} lies above high {high:g}.", code="number", place="limit")
        return replace(settings, channel=channel)

    def reads(self, scene: Scene, step: Step, quantity: str) -> tuple[Read, ...]:
        """Nothing."""
        return ()

    def operation(self, scene: Scene, step: Step, quantity: str) -> Operation:
        """See ``LimitOperation``."""
        settings = step.settings
        assert isinstance(settings, LimitSettings)
        return LimitOperation(settings)

    def described(self, scene: Scene, settings: LimitSettings) -> str:
        """The two ends."""
        unit = unit_of(scene, settings.channel)
        low = "…" if settings.low is None else f"{settings.low:g}{unit}"
        high = "…" if settings.high is None else f"{settings.high:g}{unit}"
        return f"{low} … {high}" if "…" not in (low, high) else f"{low} {high}"

    def trouble(self, scene: Scene, settings: LimitSettings) -> str:
        """See ``StepKind``."""
        return "Look at what comes in."
