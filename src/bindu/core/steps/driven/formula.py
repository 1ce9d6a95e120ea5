"""Formulas: a channel computed from others."""

from __future__ import annotations

from collections.abc import Hashable, Sequence
from dataclasses import dataclass, replace

from bindu.core.curves.model import Array
from bindu.core.formula.compiler import compiled, values_of_many
from bindu.core.formula.references import to_identities, to_names, with_other_reads
from bindu.core.nodes.batches import InBatches
from bindu.core.nodes.identity import Read
from bindu.core.nodes.operation import Operation, Times
from bindu.core.refusal import Refusal
from bindu.core.scene.channels import Zone
from bindu.core.scene.model import Scene
from bindu.core.scene.parts import Step
from bindu.core.scene.settings import FormulaSettings
from bindu.core.steps.base import StepKind, kind_checks_channel
from bindu.core.steps.driven.modes import combined


@dataclass(frozen=True)
class FormulaOperation(InBatches):
    """Sets, adds to or scales the value that comes in."""

    settings: FormulaSettings

    @property
    def digest(self) -> str:
        return f"formula {self.settings.mode} {self.settings.text}"

    @property
    def moves(self) -> bool:
        """Whether it reads the time itself."""
        return compiled(self.settings.text).timed

    @property
    def calculations(self) -> int:
        """See ``Operation``."""
        return 4 * compiled(self.settings.text).calculations

    @property
    def alike(self) -> Hashable:
        """See ``InBatches``: formulas that differ only in their numbers and in what they read."""
        return self.settings.mode, compiled(self.settings.text).shape

    @classmethod
    def compute_many(
        cls, operations: Sequence[FormulaOperation], inputs: Sequence[Array], times: Times
    ) -> Array:
        """Shape (B, F) or (B, 1)."""
        formulas = [compiled(one.settings.text) for one in operations]
        made = values_of_many(formulas, inputs[1:], times)
        return combined(operations[0].settings.mode, inputs[0], made)


class FormulaKind(StepKind):
    """See ``StepKind``."""

    name = "formula"
    zones: tuple[Zone, ...] = ("driven", "late")
    zone_reason = "a formula writes driven values; marked late, it sees solved results"

    def checked(self, scene: Scene, part: str, settings: FormulaSettings) -> FormulaSettings:
        """Settings with identities; see ``StepKind``."""
        channel = kind_checks_channel(scene, part, settings.channel)
        try:
            text = to_identities(scene, settings.text)
        except Refusal as refusal:
            raise refusal.at("formula") from None
        return replace(settings, channel=channel, text=text)

    def shown(self, scene: Scene, settings: FormulaSettings) -> FormulaSettings:
        """Settings with names."""
        return replace(settings, text=to_names(scene, settings.text))

    def reads(self, scene: Scene, step: Step, quantity: str) -> tuple[Read, ...]:
        """Whatever the text refers to."""
        settings = step.settings
        assert isinstance(settings, FormulaSettings)
        return compiled(settings.text).reads

    def operation(self, scene: Scene, step: Step, quantity: str) -> Operation:
        """See ``FormulaOperation``."""
        settings = step.settings
        assert isinstance(settings, FormulaSettings)
        return FormulaOperation(settings)

    def reread(self, scene: Scene, step: Step, old: Read, new: Read) -> FormulaSettings:
        """See ``StepKind``."""
        settings = step.settings
        assert isinstance(settings, FormulaSettings)
        return replace(settings, text=to_names(scene, with_other_reads(settings.text, old, new)))

    def described(self, scene: Scene, settings: FormulaSettings) -> str:
        """The formula as people see it."""
        sign = {"set": "", "add": "+ ", "scale": "× "}[settings.mode]
        return sign + to_names(scene, settings.text)

    def trouble(self, scene: Scene, settings: FormulaSettings) -> str:
        """See ``StepKind``."""
        return "Look for a division by zero or a root of a negative number."
