"""Letting a step read something at another tap, or one frame back."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace
from typing import Literal

from bindu.core.edits.base import found_part, found_step
from bindu.core.edits.driven import ChangeDriven
from bindu.core.edits.steps import ChangeStep
from bindu.core.formula.references import to_names, with_other_reads
from bindu.core.nodes.identity import WORLD_QUANTITIES, Read, tap_of
from bindu.core.refusal import Refusal
from bindu.core.scene.channels import Tap
from bindu.core.scene.model import Scene
from bindu.core.scene.parts import Step
from bindu.core.scene.settings import (
    AimSettings,
    ConstraintSettings,
    DrivenSettings,
    FollowSettings,
    FormulaSettings,
    GivenSettings,
    PathSettings,
    SpaceSettings,
    Target,
)

Surrounded = ConstraintSettings | AimSettings | PathSettings | FollowSettings | SpaceSettings


def rereading(
    scene: Scene, step: Step, old: Read, new: Read
) -> Sequence[ChangeStep | ChangeDriven]:
    """The edits that let a step take one of its reads at another tap, or one frame back.

    Args:
        scene: the scene.
        step: one of its steps.
        old: what the step reads.
        new: the same part and quantity.

    Returns:
        Nothing where this kind of step cannot do it.
    """
    settings = step.settings
    if tap_of(old.tap) is None:
        return []
    if isinstance(settings, DrivenSettings):
        driven = scene.driven[settings.driven]
        text = with_other_reads(driven.driver, old, new)
        return [ChangeDriven(driven.id, driver=to_names(scene, text))]
    made: GivenSettings | None = None
    if isinstance(settings, FormulaSettings):
        text = to_names(scene, with_other_reads(settings.text, old, new))
        made = replace(settings, text=text)
    elif isinstance(settings, ConstraintSettings | AimSettings):
        made = _targeted(scene, settings, old, new)
    elif isinstance(settings, PathSettings):
        points = tuple(
            replace(p, tap=_tap(new)) if p.part == old.part and p.tap == old.tap else p
            for p in settings.points
        )
        made = replace(settings, points=points)
        made = _around(settings, old, new) if made == settings else None if new.back else made
    elif isinstance(settings, FollowSettings | SpaceSettings):
        made = _around(settings, old, new)
    return [] if made is None or made == settings else [ChangeStep(step.id, settings=made)]


def _targeted(
    scene: Scene, settings: ConstraintSettings | AimSettings, old: Read, new: Read
) -> Surrounded | None:
    """The settings with the target, or else the surroundings, read differently."""
    targets = tuple(_target(scene, target, old, new) for target in settings.targets)
    if targets != settings.targets:
        return replace(settings, targets=targets)
    if isinstance(settings, AimSettings) and old.part == settings.up_part and not new.back:
        return replace(settings, up_tap=_tap(new))
    return _around(settings, old, new)


def _target(scene: Scene, target: Target, old: Read, new: Read) -> Target:
    if target.part is None or (target.tap, target.back) != (old.tap, old.back):
        return target
    if old.part not in (target.part, scene.parts[target.part].parent):
        return target
    return replace(target, tap=_tap(new), back=new.back)


def _tap(read: Read) -> Tap:
    """The tap of a read; what steps read at other stages is never read differently."""
    return tap_of(read.tap) or "final"


def _around(settings: Surrounded, old: Read, new: Read) -> Surrounded | None:
    """The settings with the owner's surroundings read at another tap."""
    if new.back or settings.tap != old.tap or old.quantity not in WORLD_QUANTITIES:
        return None
    return replace(settings, tap=_tap(new))


@dataclass(frozen=True)
class Reread:
    """Lets a step take what it reads at another tap, or one frame back."""

    step: str
    part: str
    quantity: str
    tap: Tap
    back: bool = False
    to: Tap = "final"
    to_back: bool = False
    do: Literal["reread"] = "reread"

    def label(self, scene: Scene) -> str:
        """See ``Edit``."""
        back = ", one frame back" if self.to_back else ""
        name, part = found_step(scene, self.step).name, found_part(scene, self.part).name
        return f"let “{name}” read {part} at {self.to}{back}"

    def apply(self, scene: Scene) -> Scene:
        """See ``Edit``."""
        step = found_step(scene, self.step)
        found_part(scene, self.part)
        old = Read(self.part, self.quantity, self.tap, self.back)
        new = old._replace(tap=self.to, back=self.to_back)
        edits = rereading(scene, step, old, new)
        if not edits and old != new:
            how = "one frame back" if self.to_back else "at another tap"
            text = f"it cannot read this {how}; change its settings instead."
            raise Refusal(text, place=step.name)
        for edit in edits:
            scene = edit.apply(scene)
        return scene
