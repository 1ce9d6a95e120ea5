"""The kinds of step by name. A new kind is one more entry here."""

from __future__ import annotations

from collections.abc import Mapping

from bindu.core.scene.model import StepSettings
from bindu.core.steps.base import StepKind
from bindu.core.steps.driven import DrivenKind
from bindu.core.steps.formula import FormulaKind
from bindu.core.steps.layer import LayerKind
from bindu.core.steps.limit import LimitKind

KINDS: Mapping[str, StepKind] = {
    kind.name: kind for kind in (LayerKind(), FormulaKind(), DrivenKind(), LimitKind())
}


def kind_of(settings: StepSettings) -> StepKind:
    """The kind of step that these settings are for."""
    return KINDS[settings.kind]
