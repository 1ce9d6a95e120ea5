"""Planting parts over spans of frames."""

from __future__ import annotations

from dataclasses import dataclass, replace
from typing import Literal

from bindu.core.edits.base import found_part
from bindu.core.edits.steps import AddStep, ChangeStep
from bindu.core.scene.model import Scene
from bindu.core.scene.parts import Step
from bindu.core.scene.settings import PlantKind, PlantSettings, PlantSpan


@dataclass(frozen=True)
class PlantPart:
    """Lets a part stand still over a span of frames: in the plant that it has, or in a new one at
    the end of zone Bound. Spans that meet this one are replaced by it.

    Attributes:
        keep: the frame whose place is kept; None: the first.
    """

    part: str
    first: int
    last: int
    keep: int | None = None
    entry: int = 3
    exit: int = 3
    plants: PlantKind = "place"
    do: Literal["plant part"] = "plant part"

    def label(self, scene: Scene) -> str:
        """See ``Edit``."""
        return f"plant {found_part(scene, self.part).name} from {self.first} to {self.last}"

    def apply(self, scene: Scene) -> Scene:
        """See ``Edit``."""
        part = found_part(scene, self.part)
        keep = self.first if self.keep is None else self.keep
        span = PlantSpan(self.first, self.last, keep, self.entry, self.exit)
        known = plant_of(scene, part.id)
        if known is None:
            settings = PlantSettings(self.plants, (span,))
            return AddStep(part.id, "plant", settings).apply(scene)
        assert isinstance(known.settings, PlantSettings)
        others = [
            one for one in known.settings.spans if one.last < self.first or one.first > self.last
        ]
        settings = replace(known.settings, plants=self.plants, spans=(*others, span))
        return ChangeStep(known.id, settings=settings, on=True).apply(scene)


def plant_of(scene: Scene, part: str) -> Step | None:
    """The first plant of a part."""
    steps = scene.steps_of.get(part, ())
    return next((step for step in steps if isinstance(step.settings, PlantSettings)), None)
