"""Edits of the scene itself: name, frame rate, range, the units in which it is looked at."""

from __future__ import annotations

import math
from dataclasses import dataclass, replace
from typing import Literal

from bindu.core.curves.operations import moved_in_time, scaled_values, tidy
from bindu.core.edits.frames import with_frames_moved
from bindu.core.refusal import Refusal
from bindu.core.scene.channels import ChannelRef, step_channel
from bindu.core.scene.model import Scene
from bindu.core.scene.names import LONGEST_NAME
from bindu.core.scene.things import Angle, Length, Units

MOST_FRAMES = 100_000


@dataclass(frozen=True)
class ChangeScene:
    """Changes what is given and leaves the rest. Frames keep their numbers."""

    do: Literal["change scene"] = "change scene"
    name: str | None = None
    fps: float | None = None
    first: int | None = None
    last: int | None = None

    def label(self, scene: Scene) -> str:
        """See ``Edit``."""
        fields = {"name": self.name, "frame rate": self.fps, "range": self.first or self.last}
        changed = [name for name, value in fields.items() if value is not None]
        return f"change {' and '.join(changed) or 'scene'}"

    def apply(self, scene: Scene) -> Scene:
        """See ``Edit``."""
        name = scene.name if self.name is None else self.name.strip()
        fps = scene.fps if self.fps is None else self.fps
        first = scene.first if self.first is None else self.first
        last = scene.last if self.last is None else self.last
        if not name or len(name) > LONGEST_NAME or not name.isprintable():
            raise Refusal(
                f"give it one line of 1 to {LONGEST_NAME} characters.", code="text", place="name"
            )
        if not 1.0 <= fps <= 1000.0:
            raise Refusal(f"must lie between 1 and 1000 frames a second, not {fps}.", place="fps")
        if last < first:
            raise Refusal(
                f"the last frame {last} lies before the first, {first}.",
                code="number",
                place="last",
            )
        if last - first >= MOST_FRAMES or abs(first) > 1e9:
            raise Refusal(
                f"a scene has at most {MOST_FRAMES:,} frames.", code="too much", place="last"
            )
        return replace(scene, name=name, fps=fps, first=first, last=last)


@dataclass(frozen=True)
class ChangeRate:
    """Gives the scene another frame rate and keeps the times of everything: keys, markers and
    range go to other frames."""

    fps: float
    do: Literal["change rate"] = "change rate"

    def label(self, scene: Scene) -> str:
        """See ``Edit``."""
        return f"frame rate {scene.fps:g} → {self.fps:g}, times kept"

    def apply(self, scene: Scene) -> Scene:
        """See ``Edit``."""
        ChangeScene(fps=self.fps).apply(scene)
        factor = self.fps / scene.fps
        made = ChangeScene(
            fps=self.fps, first=round(scene.first * factor), last=round(scene.last * factor)
        ).apply(scene)

        def to(frame: float) -> float:
            return tidy(frame * factor)

        curves = {
            ref: moved_in_time(curve, curve.frames.tolist(), lambda frame: frame * factor)
            for ref, curve in scene.curves.items()
        }
        moved = with_frames_moved(replace(made, curves=curves), to)
        return _with_lengths(moved, factor)


def _with_lengths(scene: Scene, factor: float) -> Scene:
    """The scene with the channels of steps that count frames so many times as large, within their
    ranges."""
    parts, curves = dict(scene.parts), dict(scene.curves)
    for step in scene.steps.values():
        for one in step.settings.inputs:
            if not one.in_frames:
                continue
            low = -math.inf if one.low is None else one.low
            high = math.inf if one.high is None else one.high
            ref = ChannelRef(step.part, step_channel(step.id, one.key))
            part = parts[step.part]
            value = min(max(tidy(factor * scene.set_value(ref)), low), high)
            parts[part.id] = replace(part, values={**part.values, ref.channel: value})
            curve = curves.get(ref)
            if curve is not None:
                chosen = tuple(curve.frames.tolist())
                curves[ref] = scaled_values(curve, chosen, factor, "value", 0.0)
    return replace(scene, parts=parts, curves=curves)


@dataclass(frozen=True)
class SetUnits:
    """Chooses the units in which the scene's numbers are looked at; the numbers stay."""

    length: Length = "m"
    angle: Angle = "degrees"
    do: Literal["set units"] = "set units"

    def label(self, scene: Scene) -> str:
        """See ``Edit``."""
        return f"show {self.length} and {self.angle}"

    def apply(self, scene: Scene) -> Scene:
        """See ``Edit``."""
        made = Units(length=self.length, angle=self.angle)
        return replace(scene, units={} if made == Units() else {made.id: made})


SceneEdit = ChangeScene | ChangeRate | SetUnits
