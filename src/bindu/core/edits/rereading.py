"""Letting a step read something at another tap, or one frame back."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace
from typing import Literal

from bindu.core.edits.base import found_part, found_step
from bindu.core.edits.driven import ChangeDriven
from bindu.core.edits.limbs import PutLimb, put_again
from bindu.core.edits.steps import ChangeStep
from bindu.core.formula.references import to_names, with_other_reads
from bindu.core.nodes.identity import Read, tap_of
from bindu.core.refusal import Refusal
from bindu.core.scene.channels import Tap
from bindu.core.scene.model import Scene
from bindu.core.scene.parts import Step
from bindu.core.scene.settings import DrivenSettings, LimbSettings
from bindu.core.steps.registry import kind_of


def rereading(
    scene: Scene, step: Step, old: Read, new: Read
) -> Sequence[ChangeStep | ChangeDriven | PutLimb]:
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
    if isinstance(settings, LimbSettings):
        return _limb_rereading(scene, settings, old, new)
    if isinstance(settings, DrivenSettings):
        driven = scene.driven[settings.driven]
        text = with_other_reads(driven.driver, old, new)
        return [ChangeDriven(driven.id, driver=to_names(scene, text))]
    made = kind_of(settings).reread(scene, step, old, new)
    if made is None or made == kind_of(settings).shown(scene, settings):
        return []
    return [ChangeStep(step.id, settings=made)]


def _limb_rereading(
    scene: Scene, settings: LimbSettings, old: Read, new: Read
) -> Sequence[PutLimb]:
    """A limb whose goal or pole is read otherwise; what its base hangs on is not."""
    limb = scene.limbs[settings.limb]
    tap, made = tap_of(new.tap) or "final", limb
    if not new.quantity.startswith(("world", "scale")):
        return []
    if (old.part, old.tap, old.back) == (limb.goal, limb.goal_tap, limb.goal_back):
        made = replace(made, goal_tap=tap, goal_back=new.back)
    if (old.part, old.tap, old.back) == (limb.pole, limb.pole_tap, limb.pole_back):
        made = replace(made, pole_tap=tap, pole_back=new.back)
    return [] if made == limb else [put_again(made)]


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
        made = scene
        for edit in edits:
            made = edit.apply(made)
        return made
