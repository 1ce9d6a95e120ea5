"""Edits of saved What ifs: two states of some steps, to be looked at side by side."""

from __future__ import annotations

from dataclasses import dataclass, replace
from typing import Literal

from bindu.core.edits.base import found_step, new_id, within
from bindu.core.edits.steps import MoveStep
from bindu.core.refusal import Refusal
from bindu.core.scene.model import Scene
from bindu.core.scene.names import check_name
from bindu.core.scene.things import StepVariant, WhatIf

MOST_WHAT_IFS = 100
MOST_VARIANTS = 1000


@dataclass(frozen=True)
class PutWhatIf:
    """Saves a What if, or changes the one ``id``."""

    name: str
    one: tuple[StepVariant, ...] = ()
    other: tuple[StepVariant, ...] = ()
    id: str | None = None
    do: Literal["put what if"] = "put what if"

    def label(self, scene: Scene) -> str:
        """See ``Edit``."""
        return f"save the What if {self.name}"

    def apply(self, scene: Scene) -> Scene:
        """See ``Edit``."""
        check_name(self.name, "name of the What if")
        known = self.id is not None and self.id in scene.what_ifs
        key = self.id if self.id and known else new_id("w", scene.what_ifs, self.id)
        if len(scene.what_ifs) >= MOST_WHAT_IFS:
            raise Refusal(f"a scene holds at most {MOST_WHAT_IFS} What ifs.", code="too much")
        if any(one.name == self.name and one.id != key for one in scene.what_ifs.values()):
            raise Refusal(
                "there is a What if with this name already.", code="taken", place=self.name
            )
        made = WhatIf(key, self.name, _checked(scene, self.one), _checked(scene, self.other))
        return replace(scene, what_ifs=within(scene.what_ifs, key, made))


@dataclass(frozen=True)
class RemoveWhatIf:
    """Takes a saved What if away."""

    id: str
    do: Literal["remove what if"] = "remove what if"

    def label(self, scene: Scene) -> str:
        """See ``Edit``."""
        found = scene.what_ifs.get(self.id)
        return f"delete the What if {found.name if found else self.id}"

    def apply(self, scene: Scene) -> Scene:
        """See ``Edit``."""
        if self.id not in scene.what_ifs:
            raise Refusal(
                f"there is no What if with the identity {self.id!r} any more.", code="gone"
            )
        left = {i: one for i, one in scene.what_ifs.items() if i != self.id}
        return replace(scene, what_ifs=left)


WhatIfEdit = PutWhatIf | RemoveWhatIf


def _checked(scene: Scene, variants: tuple[StepVariant, ...]) -> tuple[StepVariant, ...]:
    """The variants, each of which its step can take."""
    if len(variants) > MOST_VARIANTS:
        raise Refusal(f"holds at most {MOST_VARIANTS:,} steps.", code="too much", place="steps")
    for variant in variants:
        step = found_step(scene, variant.step)
        if variant.zone is not None:
            scene = MoveStep(step.id, variant.zone, variant.position).apply(scene)
    return variants
