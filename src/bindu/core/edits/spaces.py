"""Edits of spaces: handovers that keep the place."""

from __future__ import annotations

from dataclasses import dataclass, replace
from typing import Literal

import numpy as np

from bindu.core.curves.keys import without_keys
from bindu.core.edits.base import found_part, unlocked
from bindu.core.edits.choices import with_choice, without_choice
from bindu.core.edits.frames import with_places_kept_from
from bindu.core.edits.keys import without_curve
from bindu.core.edits.steps import AddStep
from bindu.core.evaluation import Evaluation
from bindu.core.geometry.angles import nearest_angles
from bindu.core.geometry.places import points_inside, rest_place, turned_inside
from bindu.core.graph.kinds.channel import channel_before
from bindu.core.placing.handovers import handover_states
from bindu.core.placing.place import with_stepped
from bindu.core.placing.spaces import (
    Place,
    active_space,
    evaluated_step,
    kept_handover,
    offset_before,
    place_in,
    scene_step,
    space_place,
    space_ref,
    space_settings,
    with_handover,
    with_places_kept,
)
from bindu.core.refusal import Refusal
from bindu.core.scene.changes import with_curve, with_step
from bindu.core.scene.channels import AXES, ChannelRef
from bindu.core.scene.model import Scene
from bindu.core.scene.names import channel_names, full_name
from bindu.core.scene.parts import Step
from bindu.core.scene.settings import LONGEST_BLEND, WORLD_KEY, Handover, Keep, SpaceSettings
from bindu.core.steps.bound.space import space_name
from bindu.core.steps.bound.targets import owner_frame

PARENT = ""


@dataclass(frozen=True)
class SwitchSpace:
    """Hands a part over to another space from a frame on.

    Its world place is kept by an offset stored at the handover, or by keys on its own channels
    on this frame and the one before; or it jumps to where its channels put it in the new space.
    With ``blend``, the old place goes over to the new one during so many frames.
    """

    step: str
    frame: int
    space: str
    keep: Keep = "offset"
    blend: int = 0
    do: Literal["switch space"] = "switch space"

    def label(self, scene: Scene) -> str:
        """See ``Edit``."""
        name = scene.parts[scene_step(scene, self.step).part].name
        return f"hand {name} over to {space_name(scene, self.space)} at {self.frame}"

    def apply(self, scene: Scene) -> Scene:
        """See ``Edit``."""
        step = scene_step(scene, self.step)
        settings = space_settings(step)
        if self.space not in settings.spaces:
            raise Refusal(
                f"{space_name(scene, self.space)} is not in its list of spaces; add it first.",
                code="unknown",
                place=step.name,
            )
        if not 0 <= self.blend <= LONGEST_BLEND:
            raise Refusal(
                f"blends over 0 to {LONGEST_BLEND:,} frames.", code="number", place=step.name
            )
        chosen = settings.spaces.index(self.space)
        evaluation = evaluated_step(scene, step)
        n = evaluation.index(self.frame)
        scene = with_choice(scene, space_ref(step), self.frame, chosen)
        settings = _without_handover(settings, self.frame)
        if n == 0:
            return _with_settings(scene, step, settings)
        old = int(active_space(evaluation, step)[n - 1])
        place = place_in(evaluation, step, self.frame, old, offset_before(settings, self.frame))
        made = Handover(float(self.frame), blend=self.blend, keep=self.keep)
        if self.keep == "offset":
            made = kept_handover(evaluation, step, self.frame, chosen, place, self.blend)
        elif self.keep == "keys":
            scene = _keyed(scene, evaluation, step, self.frame, chosen, place)
        return _with_settings(scene, step, with_handover(settings, made))


@dataclass(frozen=True)
class MoveHandover:
    """Moves a handover to another frame; it and all later ones keep the place there."""

    step: str
    frame: int
    to: int
    do: Literal["move handover"] = "move handover"

    def label(self, scene: Scene) -> str:
        """See ``Edit``."""
        name = scene.parts[scene_step(scene, self.step).part].name
        return f"move a handover of {name} {self.frame} → {self.to}"

    def apply(self, scene: Scene) -> Scene:
        """See ``Edit``."""
        step = scene_step(scene, self.step)
        settings, ref = space_settings(step), space_ref(step)
        curve = scene.curves.get(ref)
        key = curve.key_at(self.frame) if curve else None
        if key is None:
            raise Refusal(
                f"there is no handover on frame {self.frame}.", code="unknown", place=step.name
            )
        if self.to == self.frame:
            return scene
        frames = [k.frame for k in curve.keys] if curve else []
        low, high = sorted((self.frame, self.to))
        between = [f for f in frames if low <= f <= high and f != self.frame]
        if between:
            raise Refusal(
                f"there is a handover on frame {between[0]:g} already; move or delete that first.",
                code="taken",
                place=step.name,
            )
        record = next((one for one in settings.handovers if one.frame == self.frame), None)
        scene = _without_steps_of_keys(scene, step, settings, self.frame)
        scene = with_choice(without_choice(scene, ref, self.frame), ref, self.to, key.value)
        settings = _without_handover(settings, self.frame)
        if record is not None and record.keep == "keys":
            scene = _with_settings(without_choice(scene, ref, self.to), step, settings)
            space = settings.spaces[min(max(round(key.value), 0), len(settings.spaces) - 1)]
            again = SwitchSpace(step.id, self.to, space, "keys", record.blend)
            return with_places_kept_from(again.apply(scene), step, low)
        if record is not None:
            settings = with_handover(settings, replace(record, frame=float(self.to)))
        return with_places_kept_from(_with_settings(scene, step, settings), step, low)


@dataclass(frozen=True)
class RemoveHandover:
    """Takes a handover away: the space before goes on. All later ones keep the place."""

    step: str
    frame: int
    do: Literal["remove handover"] = "remove handover"

    def label(self, scene: Scene) -> str:
        """See ``Edit``."""
        name = scene.parts[scene_step(scene, self.step).part].name
        return f"delete the handover of {name} at {self.frame}"

    def apply(self, scene: Scene) -> Scene:
        """See ``Edit``."""
        step = scene_step(scene, self.step)
        scene = _without_steps_of_keys(scene, step, space_settings(step), self.frame)
        scene = without_choice(scene, space_ref(step), self.frame)
        settings = _without_handover(space_settings(step), self.frame)
        return with_places_kept_from(_with_settings(scene, step, settings), step, self.frame)


@dataclass(frozen=True)
class KeepPlaces:
    """Measures the offsets of handovers again, so that none of them jumps: of these frames, or
    of all handovers that jump now."""

    step: str
    frames: tuple[int, ...] | None = None
    do: Literal["keep places"] = "keep places"

    def label(self, scene: Scene) -> str:
        """See ``Edit``."""
        name = scene.parts[scene_step(scene, self.step).part].name
        return f"keep the place of {name} again"

    def apply(self, scene: Scene) -> Scene:
        """See ``Edit``."""
        step = scene_step(scene, self.step)
        evaluation = evaluated_step(scene, step)
        states = handover_states(evaluation, [step])
        if self.frames is None:
            first = min((one.frame for one in states if one.jumps), default=None)
            if first is None:
                raise Refusal("no handover jumps.", code="choice", place=step.name)
            frames = {one.frame for one in states if one.jumps or one.frame > first}
        else:
            frames = set(self.frames)
        return _with_settings(scene, step, with_places_kept(evaluation, step, frames))


@dataclass(frozen=True)
class PickAndCarry:
    """Lets a part join another from a frame on, and leave it on a later one, in one command.

    Without a list of spaces the part gets one: its parent and the other part. When it leaves,
    it goes on in the space that it came from, or in ``then``.
    """

    part: str
    by: str
    first: int
    last: int | None = None
    then: str | None = None
    keep: Keep = "offset"
    blend: int = 0
    do: Literal["pick and carry"] = "pick and carry"

    def label(self, scene: Scene) -> str:
        """See ``Edit``."""
        part, by = found_part(scene, self.part).name, found_part(scene, self.by).name
        until = f" to {self.last}" if self.last is not None else ""
        return f"{by} carries {part} from {self.first}{until}"

    def apply(self, scene: Scene) -> Scene:
        """See ``Edit``."""
        found_part(scene, self.part)
        found_part(scene, self.by)
        if self.last is not None and self.last <= self.first:
            raise Refusal(
                f"frame {self.last} does not lie behind {self.first}.", code="number", place="last"
            )
        scene, step = with_space(scene, self.part, self.by)
        if self.then is not None:
            scene, step = with_space(scene, self.part, self.then)
        evaluation = evaluated_step(scene, step)
        before = evaluation.index(max(self.first - 1, scene.first))
        came_from = space_settings(step).spaces[int(active_space(evaluation, step)[before])]
        scene = SwitchSpace(step.id, self.first, self.by, self.keep, self.blend).apply(scene)
        if self.last is not None:
            then = came_from if self.then is None else self.then
            scene = SwitchSpace(step.id, self.last, then, self.keep, self.blend).apply(scene)
        return scene


SpaceEdit = SwitchSpace | MoveHandover | RemoveHandover | KeepPlaces | PickAndCarry


def with_space(scene: Scene, part: str, space: str) -> tuple[Scene, Step]:
    """The scene in which a part has a space step whose list holds a space, and that step.

    Raises:
        Refusal: when the space is the part itself.
    """
    if space not in (PARENT, WORLD_KEY):
        found_part(scene, space)
    if space == part:
        name = scene.parts[part].name
        raise Refusal(
            "a part cannot be a space of its own; choose another part.", code="choice", place=name
        )
    steps = [s for s in scene.steps_of.get(part, ()) if isinstance(s.settings, SpaceSettings)]
    if not steps:
        taken, name, n = channel_names(scene, part), "spaces", 2
        while f"{name}.weight" in taken:
            name, n = f"spaces {n}", n + 1
        # A part without a parent moves in the world anyway.
        home = WORLD_KEY if scene.parts[part].parent is None else PARENT
        spaces = (home, space) if space != home else (PARENT, WORLD_KEY)
        scene = AddStep(part, name, SpaceSettings(spaces)).apply(scene)
        return scene, scene.steps_of[part][_last_space(scene, part)]
    step, settings = steps[0], space_settings(steps[0])
    if space not in settings.spaces:
        settings = replace(settings, spaces=(*settings.spaces, space))
        made = replace(step, settings=settings)
        scene = with_step(scene, made)
        return scene, made
    return scene, step


def _last_space(scene: Scene, part: str) -> int:
    steps = scene.steps_of[part]
    return max(n for n, step in enumerate(steps) if isinstance(step.settings, SpaceSettings))


def _with_settings(scene: Scene, step: Step, settings: SpaceSettings) -> Scene:
    return with_step(scene, replace(step, settings=settings))


def _without_handover(settings: SpaceSettings, frame: float) -> SpaceSettings:
    kept = tuple(one for one in settings.handovers if one.frame != frame)
    return replace(settings, handovers=kept)


def _keyed(
    scene: Scene, evaluation: Evaluation, step: Step, frame: int, space: int, place: Place
) -> Scene:
    """The scene with keys that put the part at a place in a space on a frame, and leave it where
    it is on the frame before."""
    settings = space_settings(step)
    part = scene.parts[step.part]
    outer = space_place(evaluation, step, frame, space)
    rest = rest_place(owner_frame(scene, part.id))
    values: dict[str, float] = {}
    if settings.carries != "rotation":
        inside = points_inside(rest, points_inside(outer, place.position))[0]
        values |= {f"translation.{a}": float(v) for a, v in zip(AXES, inside, strict=True)}
    if settings.carries != "position":
        turn = turned_inside(rest, turned_inside(outer, place.rotation))
        refs = [ChannelRef(part.id, f"rotation.{axis}") for axis in AXES]
        near = np.array([_value(evaluation, step, ref, frame - 1) for ref in refs])
        angles = nearest_angles(turn, part.rotation_order, near)[0]
        values |= {f"rotation.{a}": float(v) for a, v in zip(AXES, angles, strict=True)}
    for channel, value in values.items():
        ref = unlocked(scene, ChannelRef(part.id, channel))
        _refuse_other_steps(scene, ref, step)
        scene = with_stepped(scene, ref, frame, _value(evaluation, step, ref, frame - 1), value)
    return scene


def _value(evaluation: Evaluation, step: Step, ref: ChannelRef, frame: int) -> float:
    values = evaluation.result(channel_before(evaluation.scene, ref, step)).values
    return float(values[evaluation.index(frame) if len(values) > 1 else 0])


def _without_steps_of_keys(scene: Scene, step: Step, settings: SpaceSettings, frame: int) -> Scene:
    """The scene without the keys by which a handover on a frame keeps the place."""
    record = next((one for one in settings.handovers if one.frame == frame), None)
    if record is None or record.keep != "keys":
        return scene
    for group in settings.groups:
        for axis in AXES:
            ref = ChannelRef(step.part, f"{group}.{axis}")
            curve = scene.curves.get(ref)
            pair = [curve.key_at(frame - 1), curve.key_at(frame)] if curve else []
            gone = [key.frame for key in pair if key is not None]
            # Both, the first one held: else somebody has changed them since.
            if curve is None or len(gone) < 2 or pair[0] is None or pair[0].interpolation != "hold":
                continue
            left = without_keys(curve, gone)
            scene = with_curve(scene, ref, left) if left.keys else without_curve(scene, ref)
    return scene


def _refuse_other_steps(scene: Scene, ref: ChannelRef, step: Step) -> None:
    others = [s.name for s in scene.writers(ref) if s.on and s.id != step.id]
    if others:
        names = ", ".join(f"“{name}”" for name in others)
        raise Refusal(
            f"it is also written by {names}; keep the place by an offset instead.",
            code="in use",
            place=full_name(scene, ref),
        )
