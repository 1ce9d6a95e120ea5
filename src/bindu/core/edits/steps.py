"""Edits of steps."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass, replace
from typing import Literal

from bindu.core.edits.base import (
    found_part,
    found_step,
    identities,
    new_id,
    refuse_readers,
    weights_of,
    without_channels,
    without_steps,
    writers_of,
    written_name,
)
from bindu.core.edits.space_lists import with_space_list
from bindu.core.refusal import Refusal
from bindu.core.scene.changes import with_step, with_steps
from bindu.core.scene.channels import ChannelRef, Zone, step_channel
from bindu.core.scene.model import Scene
from bindu.core.scene.names import channel_names, check_name
from bindu.core.scene.parts import Step
from bindu.core.scene.settings import (
    GivenSettings,
    LeadSettings,
    LimbSettings,
    SpaceSettings,
    StepSettings,
)
from bindu.core.steps.registry import kind_label, kind_of

MOST_STEPS = 20_000


@dataclass(frozen=True)
class AddStep:
    """Adds a step to a part, behind the others of its zone. References are written by name."""

    part: str
    name: str
    settings: GivenSettings
    zone: Zone | None = None
    id: str | None = None
    do: Literal["add step"] = "add step"

    def label(self, scene: Scene) -> str:
        """See ``Edit``."""
        return f"add {kind_label(self.settings)} “{self.name}”"

    def apply(self, scene: Scene) -> Scene:
        """See ``Edit``."""
        part = found_part(scene, self.part)
        if len(scene.steps) >= MOST_STEPS:
            raise Refusal(f"a scene holds at most {MOST_STEPS:,} steps.", code="too much")
        zone = self.zone or kind_of(self.settings).zones[0]
        listed = [s.position for s in scene.steps_of.get(self.part, ()) if s.zone == zone]
        place = f"{part.name} · {self.name}"
        step = Step(
            new_id("s", scene.steps, self.id, identities(scene)),
            self.part,
            _free_name(scene, self.part, self.name),
            checked_zone(self.settings, zone, place),
            _checked(scene, self.part, self.settings, place),
            max(listed, default=-1) + 1,
        )
        return with_step(scene, step)


@dataclass(frozen=True)
class ChangeStep:
    """Renames a step, gives it other settings (references by name), or turns it on or off."""

    step: str
    name: str | None = None
    settings: GivenSettings | None = None
    on: bool | None = None
    do: Literal["change step"] = "change step"

    def label(self, scene: Scene) -> str:
        """See ``Edit``."""
        step = found_step(scene, self.step)
        if self.settings is None and self.on is not None:
            return f"{'unmute' if self.on else 'mute'} “{step.name}”"
        where = written_name(scene, step)
        if self.settings is None:
            return f"rename “{step.name}” to “{self.name}”"
        return f"change {kind_label(step.settings)} “{step.name}” of {where}"

    def apply(self, scene: Scene) -> Scene:
        """See ``Edit``."""
        step = found_step(scene, self.step)
        place = f"{scene.parts[step.part].name} · {step.name}"
        if self.name is not None and self.name != step.name:
            step = replace(step, name=_free_name(scene, step.part, self.name))
        if self.settings is not None:
            if type(self.settings) is not type(step.settings):
                raise Refusal(f"it is {_article(step.settings)}.", place=place)
            settings = _checked(scene, step.part, self.settings, place)
            if isinstance(settings, SpaceSettings):
                scene = with_space_list(scene, step, settings.spaces)
            step = replace(step, settings=settings)
        if self.on is not None:
            step = replace(step, on=self.on)
        scene = _without_old_inputs(scene, step)
        return with_step(scene, step)


@dataclass(frozen=True)
class MoveStep:
    """Moves a step to another place in its zone, or to another zone."""

    step: str
    zone: Zone
    position: int = 0
    do: Literal["move step"] = "move step"

    def label(self, scene: Scene) -> str:
        """See ``Edit``."""
        step = found_step(scene, self.step)
        where = f"to {self.zone}" if self.zone != step.zone else "in its zone"
        return f"move “{step.name}” {where}"

    def apply(self, scene: Scene) -> Scene:
        """See ``Edit``."""
        step = found_step(scene, self.step)
        place = f"{scene.parts[step.part].name} · {step.name}"
        checked_zone(step.settings, self.zone, place)
        others = [
            s
            for s in scene.steps_of.get(step.part, ())
            if s.zone == self.zone and s.id in scene.steps and s.id != step.id
        ]
        at = min(max(self.position, 0), len(others))
        listed = [*others[:at], replace(step, zone=self.zone), *others[at:]]
        return with_steps(scene, _numbered(listed).values())


@dataclass(frozen=True)
class RemoveStep:
    """Takes a step away, with the curve of its weight and the steps that write its weight."""

    step: str
    do: Literal["remove step"] = "remove step"

    def label(self, scene: Scene) -> str:
        """See ``Edit``."""
        return f"delete “{found_step(scene, self.step).name}”"

    def apply(self, scene: Scene) -> Scene:
        """See ``Edit``."""
        step = found_step(scene, self.step)
        if isinstance(step.settings, LeadSettings | LimbSettings):
            owner = "lead group" if isinstance(step.settings, LeadSettings) else "limb"
            raise Refusal(f"take the part out of its {owner} instead.", place=step.name)
        gone = {step.id} | writers_of(scene, weights_of(scene, [step.id]))
        refuse_readers(scene, set(), weights_of(scene, gone), gone, step.name)
        return without_steps(scene, gone)


def _without_old_inputs(scene: Scene, step: Step) -> Scene:
    """The scene without curves and values of channels that a changed step has no more."""
    before = scene.steps[step.id]
    kept = {one.key for one in step.settings.inputs}
    gone = {
        ChannelRef(step.part, step_channel(step.id, one.key))
        for one in before.settings.inputs
        if one.key not in kept
    }
    if not gone:
        return scene
    writers = writers_of(scene, gone)
    lost = gone | weights_of(scene, writers)
    refuse_readers(scene, set(), lost, writers | {step.id}, step.name)
    return without_channels(without_steps(scene, writers), gone)


StepEdit = AddStep | ChangeStep | MoveStep | RemoveStep


def checked_zone(settings: StepSettings, zone: Zone, place: str) -> Zone:
    """The zone, if this kind of step has a meaning there.

    Raises:
        Refusal: when it has none there, and why.
    """
    kind = kind_of(settings)
    if zone not in kind.zones:
        allowed = " or ".join(kind.zones)
        raise Refusal(
            f"{_article(settings)} belongs to {allowed}, not {zone}: {kind.zone_reason}.",
            place=place,
        )
    return zone


def _article(settings: StepSettings) -> str:
    label = kind_label(settings)
    return f"an {label}" if label[0] in "aeio" else f"a {label}"


def _checked(scene: Scene, part: str, settings: GivenSettings, place: str) -> GivenSettings:
    try:
        checked: GivenSettings = kind_of(settings).checked(scene, part, settings)
        return checked
    except Refusal as refusal:
        raise refusal.at(f"{place} · {refusal.place}" if refusal.place else place) from None


def _free_name(scene: Scene, part: str, name: str) -> str:
    check_name(name, "step name")
    if f"{name}.weight" in channel_names(scene, part):
        raise Refusal(
            f"{scene.parts[part].name} has a step {name!r} already.", code="taken", place=name
        )
    return name


def _numbered(steps: Iterable[Step]) -> dict[str, Step]:
    return {s.id: replace(s, position=n) for n, s in enumerate(steps)}
