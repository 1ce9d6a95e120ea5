"""Driven keys: a driver's value mapped by a curve to a value for a channel."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace

import numpy as np

from bindu.core.curves.evaluate import curve_values
from bindu.core.curves.model import Array, Curve
from bindu.core.formula.compiler import compiled
from bindu.core.formula.references import to_names
from bindu.core.nodes.identity import Read
from bindu.core.nodes.operation import Operation, Times
from bindu.core.refusal import Refusal
from bindu.core.scene.channels import Zone
from bindu.core.scene.model import Scene
from bindu.core.scene.parts import Step
from bindu.core.scene.settings import DrivenSettings, FormulaMode
from bindu.core.steps.base import StepKind, kind_checks_channel
from bindu.core.steps.driven.modes import combined


@dataclass(frozen=True)
class DrivenOperation(Operation):
    """Sets, adds to or scales the value that comes in by the mapped driver."""

    driver: str
    mapping: Curve
    mode: FormulaMode

    @property
    def digest(self) -> str:
        return f"driven keys {self.mode} {self.mapping.digest} {self.driver}"

    @property
    def moves(self) -> bool:
        """Whether the driver reads the time itself."""
        return compiled(self.driver).timed

    @property
    def calculations(self) -> int:
        """See ``Operation``."""
        return 8 + 4 * compiled(self.driver).calculations

    def compute(self, inputs: Sequence[Array], times: Times) -> Array:
        """Shape (F,) or (1,)."""
        driver = compiled(self.driver).values(inputs[1:], times)
        return combined(self.mode, inputs[0], mapped(self.mapping, driver))


def mapped(mapping: Curve, driver: Array) -> Array:
    """What a row makes of driver values, shape (F,); not finite where the driver is not."""
    good = np.isfinite(driver)
    made = curve_values(mapping, np.where(good, driver, mapping.keys[0].frame))
    return np.where(good, made, np.nan)


def check_outside(mapping: Curve) -> None:
    """Refuses what has no meaning outside the stops."""
    for side in (mapping.before, mapping.after):
        if side not in ("hold", "straight on"):
            text = f"outside its stops a row holds or goes straight on, not {side}."
            raise Refusal(text, place="mapping")


class DrivenKind(StepKind):
    """See ``StepKind``."""

    name = "driven keys"
    zones: tuple[Zone, ...] = ("driven", "late")
    zone_reason = "driven keys write driven values; marked late, they see solved results"

    def checked(self, scene: Scene, part: str, settings: DrivenSettings) -> DrivenSettings:
        """Settings whose mapping has a key at each stop of their set.

        Raises:
            Refusal: when the set is gone, or a stop has no key.
        """
        channel = kind_checks_channel(scene, part, settings.channel)
        driven = scene.driven.get(settings.driven)
        if driven is None:
            raise Refusal(
                f"there is no set {settings.driven!r} of driven keys any more.", code="gone"
            )
        if tuple(key.frame for key in settings.mapping.keys) != driven.stops:
            stops = ", ".join(f"{stop:g}" for stop in driven.stops)
            raise Refusal(f"its mapping needs one key at each stop: {stops}.", place="mapping")
        check_outside(settings.mapping)
        return replace(settings, channel=channel)

    def reads(self, scene: Scene, step: Step, quantity: str) -> tuple[Read, ...]:
        """Whatever the driver of its set refers to."""
        settings = step.settings
        assert isinstance(settings, DrivenSettings)
        return compiled(scene.driven[settings.driven].driver).reads

    def operation(self, scene: Scene, step: Step, quantity: str) -> Operation:
        """See ``DrivenOperation``."""
        settings = step.settings
        assert isinstance(settings, DrivenSettings)
        driver = scene.driven[settings.driven].driver
        return DrivenOperation(driver, settings.mapping, settings.mode)

    def described(self, scene: Scene, settings: DrivenSettings) -> str:
        """The driver and the stops, as people see them."""
        driven = scene.driven[settings.driven]
        sign = {"set": "", "add": "+ ", "scale": "× "}[settings.mode]
        count = f"{len(driven.stops)} stop{'s' if len(driven.stops) != 1 else ''}"
        return f"{sign}{to_names(scene, driven.driver)} · {count}"

    def trouble(self, scene: Scene, settings: DrivenSettings) -> str:
        """See ``StepKind``."""
        return "Look for a division by zero or a root of a negative number in its driver."
