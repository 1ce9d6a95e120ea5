"""What remains of steps when parts that they read go away."""

from __future__ import annotations

from collections.abc import Set as AbstractSet

from bindu.core.edits.space_lists import options_in_use
from bindu.core.edits.steps import ChangeStep
from bindu.core.refusal import Refusal
from bindu.core.scene.model import Scene
from bindu.core.scene.settings import LayerSettings


def without_read_parts(scene: Scene, gone: AbstractSet[str]) -> Scene:
    """The scene in which steps let go of the parts of theirs that go away: targets, points of a
    path, spaces that are never active. A step that would have nothing left stays as it is."""
    for step in tuple(scene.steps.values()):
        own = step.settings
        if step.part in gone or isinstance(own, LayerSettings):
            continue
        settings = own.without(gone - options_in_use(scene, step).keys())
        if settings is None or settings == own:
            continue
        try:
            scene = ChangeStep(step.id, settings=settings).apply(scene)
        except Refusal:
            continue  # it cannot do without, or something reads the weight of a target that goes
    return scene
