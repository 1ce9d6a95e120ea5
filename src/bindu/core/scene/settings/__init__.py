"""What a step of each kind is told: plain frozen data, references as identities."""

from bindu.core.scene.settings.aim import AimSettings, UpKind
from bindu.core.scene.settings.base import (
    ALL_AXES,
    ALL_GROUPS,
    WORLD_KEY,
    Axis,
    ChannelSettings,
    Followed,
    FormulaMode,
    Group,
    Offset,
    Settings,
    Space,
    SpaceKind,
    StepInput,
    Target,
    Vector,
)
from bindu.core.scene.settings.constraint import CONSTRAINED, ConstraintKind, ConstraintSettings
from bindu.core.scene.settings.driven_keys import DrivenSettings
from bindu.core.scene.settings.follow import FollowSettings
from bindu.core.scene.settings.formula import FormulaSettings
from bindu.core.scene.settings.layer import LayerMode, LayerSettings
from bindu.core.scene.settings.lead import LeadSettings
from bindu.core.scene.settings.limb import LimbSettings
from bindu.core.scene.settings.limit import LimitSettings
from bindu.core.scene.settings.path import Ends, PathPoint, PathSettings
from bindu.core.scene.settings.plant import PLANTED, PlantKind, PlantSettings, PlantSpan
from bindu.core.scene.settings.shapers import (
    MOST_OCTAVES,
    SHAPERS,
    WIDEST,
    NoiseSettings,
    NthsSettings,
    ShaperSettings,
    ShiftSettings,
    SmoothSettings,
    StrengthSettings,
    WaveSettings,
)
from bindu.core.scene.settings.space import (
    CARRIED,
    LONGEST_BLEND,
    Carries,
    Handover,
    Keep,
    SpaceSettings,
)
from bindu.core.scene.settings.walk import WalkSettings

BindingSettings = (
    ConstraintSettings
    | AimSettings
    | PathSettings
    | FollowSettings
    | SpaceSettings
    | LeadSettings
    | LimbSettings
    | PlantSettings
    | WalkSettings
)
"""The settings of steps that work on whole groups."""
GivenSettings = FormulaSettings | LimitSettings | DrivenSettings | BindingSettings | ShaperSettings
"""The settings of steps that people add one by one."""
StepSettings = GivenSettings | LayerSettings

__all__ = [
    "MOST_OCTAVES",
    "SHAPERS",
    "WIDEST",
    "NoiseSettings",
    "NthsSettings",
    "ShaperSettings",
    "ShiftSettings",
    "SmoothSettings",
    "StrengthSettings",
    "WaveSettings",
    "PLANTED",
    "PlantKind",
    "PlantSettings",
    "PlantSpan",
    "ALL_AXES",
    "ALL_GROUPS",
    "AimSettings",
    "Axis",
    "BindingSettings",
    "CARRIED",
    "CONSTRAINED",
    "Carries",
    "ChannelSettings",
    "ConstraintKind",
    "ConstraintSettings",
    "DrivenSettings",
    "Ends",
    "FollowSettings",
    "Followed",
    "FormulaMode",
    "FormulaSettings",
    "GivenSettings",
    "Group",
    "Handover",
    "Keep",
    "LONGEST_BLEND",
    "LayerMode",
    "LayerSettings",
    "LeadSettings",
    "LimbSettings",
    "WalkSettings",
    "LimitSettings",
    "Offset",
    "PathPoint",
    "PathSettings",
    "Settings",
    "Space",
    "SpaceKind",
    "SpaceSettings",
    "StepInput",
    "StepSettings",
    "Target",
    "UpKind",
    "Vector",
    "WORLD_KEY",
]
