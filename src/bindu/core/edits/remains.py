"""What remains of steps when parts that they read go away."""

from __future__ import annotations

from collections.abc import Set as AbstractSet
from dataclasses import replace

from bindu.core.edits.space_lists import spaces_in_use
from bindu.core.edits.steps import ChangeStep
from bindu.core.refusal import Refusal
from bindu.core.scene.model import Scene
from bindu.core.scene.parts import Step
from bindu.core.scene.settings import (
    AimSettings,
    BindingSettings,
    ConstraintSettings,
    PathSettings,
    SpaceSettings,
)


def without_read_parts(scene: Scene, gone: AbstractSet[str]) -> Scene:
    """The scene in which binding steps let go of the parts of theirs that go away: targets,
    points of a path, spaces that are never active. A step that would have nothing left stays as
    it is."""
    for step in tuple(scene.steps.values()):
        if step.part in gone:
            continue
        settings = _without(scene, step, gone)
        if settings is None or settings == step.settings:
            continue
        try:
            scene = ChangeStep(step.id, settings=settings).apply(scene)
        except Refusal:
            continue  # it cannot do without, or something reads the weight of a target that goes
    return scene


def _without(scene: Scene, step: Step, gone: AbstractSet[str]) -> BindingSettings | None:
    settings = step.settings
    if isinstance(settings, ConstraintSettings | AimSettings):
        targets = tuple(target for target in settings.targets if target.part not in gone)
        return replace(settings, targets=targets) if targets else None
    if isinstance(settings, PathSettings):
        points = tuple(point for point in settings.points if point.part not in gone)
        return replace(settings, points=points) if len(points) > 1 else None
    if isinstance(settings, SpaceSettings):
        used = spaces_in_use(scene, step)
        spaces = tuple(s for s in settings.spaces if s not in gone or s in used)
        return replace(settings, spaces=spaces) if len(spaces) > 1 else None
    return None
