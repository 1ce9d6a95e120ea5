"""Edits of formulas: copies to other parts, one number for all that are alike, a number lifted
out into an own channel."""

from __future__ import annotations

from dataclasses import dataclass, replace
from typing import Literal

from bindu.core.counted import counted
from bindu.core.drivers.copying import Following, alike, copied_text
from bindu.core.edits.base import finite, found_part, found_step, identities, new_id
from bindu.core.edits.channels import AddChannel
from bindu.core.edits.steps import AddStep, ChangeStep
from bindu.core.formula.numbers import numbers_in, with_number, written_number
from bindu.core.formula.references import to_identities, to_names
from bindu.core.refusal import Refusal
from bindu.core.scene.changes import with_step, with_steps
from bindu.core.scene.channels import ChannelRef
from bindu.core.scene.model import Scene
from bindu.core.scene.names import channel_name, channel_names
from bindu.core.scene.parts import Step
from bindu.core.scene.settings import FormulaSettings


@dataclass(frozen=True)
class CopyFormula:
    """Copies a formula to other parts, for the channel of the same name; a step of the same name
    there gets the formula instead."""

    step: str
    parts: tuple[str, ...]
    rule: Following = "by name"
    do: Literal["copy formula"] = "copy formula"

    def label(self, scene: Scene) -> str:
        """See ``Edit``."""
        return f"copy “{found_step(scene, self.step).name}” to {counted(len(self.parts), 'part')}"

    def apply(self, scene: Scene) -> Scene:
        """See ``Edit``."""
        if not self.parts:
            raise Refusal("choose the parts to copy it to.", code="choice")
        step, settings = _formula(scene, self.step)
        name = channel_name(scene, ChannelRef(step.part, settings.channel))
        for part in self.parts:
            owner = found_part(scene, part)
            channel = channel_names(scene, part).get(name)
            if channel is None:
                raise Refusal(f"it has no channel {name!r}.", code="unknown", place=owner.name)
            try:
                text = to_names(scene, copied_text(scene, step, part, self.rule))
            except Refusal as refusal:
                raise refusal.at(f"{owner.name} · {refusal.place}".rstrip(" ·")) from None
            made = replace(settings, channel=channel, text=text)
            same = [s for s in scene.steps_of.get(part, ()) if s.name == step.name]
            if same and same[0].id != step.id:
                scene = ChangeStep(same[0].id, settings=made).apply(scene)
            elif not same:
                scene = AddStep(part, step.name, made, step.zone).apply(scene)
        return scene


@dataclass(frozen=True)
class ChangeNumber:
    """Changes one number of a formula, counted from 0 as the text goes; with ``alike`` the same
    number of all formulas of that name that are the same but for numbers and references."""

    step: str
    place: int
    value: float
    alike: bool = False
    do: Literal["change number"] = "change number"

    def label(self, scene: Scene) -> str:
        """See ``Edit``."""
        step = found_step(scene, self.step)
        count = len(alike(scene, step)) if self.alike else 1
        more = f" and {count - 1} alike" if count > 1 else ""
        return f"a number of “{step.name}”{more} to {self.value:g}"

    def apply(self, scene: Scene) -> Scene:
        """See ``Edit``."""
        step, _ = _formula(scene, self.step)
        finite(self.value, "number")
        changed: list[Step] = []
        for one in alike(scene, step) if self.alike else (step,):
            assert isinstance(one.settings, FormulaSettings)
            try:
                text = with_number(one.settings.text, self.place, written_number(self.value))
            except IndexError:
                raise Refusal(
                    "the formula has fewer numbers.", code="text", place=one.name
                ) from None
            to_identities(scene, to_names(scene, text))
            changed.append(replace(one, settings=replace(one.settings, text=text)))
        return with_steps(scene, changed)


@dataclass(frozen=True)
class ChangeAlike:
    """Gives a formula another text (references by name), and all that are alike the same, their
    references following by name."""

    step: str
    text: str
    do: Literal["change alike"] = "change alike"

    def label(self, scene: Scene) -> str:
        """See ``Edit``."""
        step = found_step(scene, self.step)
        return f"change “{step.name}” of {counted(len(alike(scene, step)), 'part')}"

    def apply(self, scene: Scene) -> Scene:
        """See ``Edit``."""
        step, settings = _formula(scene, self.step)
        others = [one for one in alike(scene, step) if one.id != step.id]
        changed = ChangeStep(step.id, settings=replace(settings, text=self.text)).apply(scene)
        model = changed.steps[step.id]
        steps = dict(changed.steps)
        for one in others:
            assert isinstance(one.settings, FormulaSettings)
            text = copied_text(changed, model, one.part, "by name")
            steps[one.id] = replace(one, settings=replace(one.settings, text=text))
        return replace(changed, steps=steps)


@dataclass(frozen=True)
class LiftNumber:
    """Lifts a number out of a formula into an own channel of a part, which the formula reads; with
    ``alike`` so do all formulas that are alike and have the same number there."""

    step: str
    place: int
    part: str
    name: str
    alike: bool = False
    do: Literal["lift number"] = "lift number"

    def label(self, scene: Scene) -> str:
        """See ``Edit``."""
        step = found_step(scene, self.step)
        return (
            f"lift a number of “{step.name}” into {found_part(scene, self.part).name}.{self.name}"
        )

    def apply(self, scene: Scene) -> Scene:
        """See ``Edit``."""
        step, settings = _formula(scene, self.step)
        spans = numbers_in(settings.text)
        if not 0 <= self.place < len(spans):
            raise Refusal("the formula has fewer numbers.", code="text", place=step.name)
        channel = new_id("c", scene.channels, None, identities(scene))
        add = AddChannel(self.part, self.name, default=spans[self.place].value, id=channel)
        scene = add.apply(scene)
        for one in alike(scene, step) if self.alike else (step,):
            scene = with_step(scene, self._lifted(one, spans[self.place].value, channel))
        return scene

    def _lifted(self, step: Step, value: float, channel: str) -> Step:
        settings = step.settings
        assert isinstance(settings, FormulaSettings)
        spans = numbers_in(settings.text)
        if self.place >= len(spans) or spans[self.place].value != value:
            return step
        text = with_number(settings.text, self.place, f"{{{self.part}.{channel}}}")
        return replace(step, settings=replace(settings, text=text))


FormulaEdit = CopyFormula | ChangeNumber | ChangeAlike | LiftNumber


def _formula(scene: Scene, step_id: str) -> tuple[Step, FormulaSettings]:
    step = found_step(scene, step_id)
    if not isinstance(step.settings, FormulaSettings):
        raise Refusal("it is no formula.", code="text", place=step.name)
    return step, step.settings
