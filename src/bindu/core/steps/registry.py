"""The kinds of step by name. A new kind is one more entry here."""

from __future__ import annotations

from collections.abc import Mapping

from bindu.core.nodes.identity import Read
from bindu.core.scene.model import Scene
from bindu.core.scene.parts import Step
from bindu.core.scene.settings import CONSTRAINED, StepSettings
from bindu.core.steps.base import SharedSolve, StepKind
from bindu.core.steps.bound.aim import AimKind
from bindu.core.steps.bound.constraint import ConstraintStepKind
from bindu.core.steps.bound.follow import FollowKind
from bindu.core.steps.bound.lead import LeadKind, LeadSolve
from bindu.core.steps.bound.path import PathKind
from bindu.core.steps.bound.plant import PlantStepKind
from bindu.core.steps.bound.space import SpaceStepKind
from bindu.core.steps.bound.walk import GaitSolve, WalkKind
from bindu.core.steps.driven.driven_keys import DrivenKind
from bindu.core.steps.driven.formula import FormulaKind
from bindu.core.steps.final.limit import LimitKind
from bindu.core.steps.keyed.layer import LayerKind
from bindu.core.steps.keyed.noise import NoiseKind
from bindu.core.steps.keyed.nths import NthsKind
from bindu.core.steps.keyed.shift import ShiftKind
from bindu.core.steps.keyed.smooth import SmoothKind
from bindu.core.steps.keyed.strength import StrengthKind
from bindu.core.steps.keyed.wave import WaveKind
from bindu.core.steps.solved.limb import LimbKind, LimbSolve

_ALL: tuple[StepKind, ...] = (
    LayerKind(),
    WaveKind(),
    NoiseKind(),
    SmoothKind(),
    NthsKind(),
    ShiftKind(),
    StrengthKind(),
    FormulaKind(),
    DrivenKind(),
    *(ConstraintStepKind(kind) for kind in CONSTRAINED),
    AimKind(),
    PathKind(),
    FollowKind(),
    SpaceStepKind(),
    PlantStepKind(),
    WalkKind(),
    LeadKind(),
    LimbKind(),
    LimitKind(),
)
KINDS: Mapping[str, StepKind] = {kind.name: kind for kind in _ALL}
SOLVES: Mapping[str, SharedSolve] = {
    "leads": LeadSolve(),
    "limbs": LimbSolve(),
    "gaits": GaitSolve(),
}
"""What things solve for their members, by the table of the scene that holds the things."""


def kind_of(settings: StepSettings) -> StepKind:
    """The kind of step that these settings are for."""
    return KINDS[settings.kind]


def solve_of(scene: Scene, owner: str) -> SharedSolve:
    """What the thing of this identity solves for its members."""
    return next(solve for table, solve in SOLVES.items() if owner in getattr(scene, table))


def kind_label(settings: StepSettings) -> str:
    """What people call a kind of step."""
    return f"{settings.kind} constraint" if settings.kind in CONSTRAINED else settings.kind


def reads_of(scene: Scene, step: Step) -> tuple[Read, ...]:
    """All that a step reads, for whatever it writes, each once; without its weight."""
    kind = kind_of(step.settings)
    quantities = tuple("quaternion" if g == "rotation" else g for g in step.settings.groups)
    found = (
        read
        for quantity in quantities or step.settings.writes
        for read in kind.reads(scene, step, quantity)
    )
    return tuple(dict.fromkeys(found))
