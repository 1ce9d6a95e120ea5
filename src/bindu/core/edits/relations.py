"""Edits that carry places over: put where another is, turned about a point, the root moved under
its children, its motion given away, a relationship written out as keys."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace
from typing import Literal

import numpy as np
from scipy.spatial.transform import Rotation

from bindu.core.curves.model import Array, Key
from bindu.core.curves.thin import thinned_places
from bindu.core.edits.base import finite, found_part, within
from bindu.core.edits.choices import with_choice
from bindu.core.edits.place import PlacePart
from bindu.core.evaluate import Evaluation, evaluate
from bindu.core.graph.node import Indices
from bindu.core.place import final_channels, with_span_keys, with_worlds, without_scale, worlds
from bindu.core.refusal import Refusal
from bindu.core.rotation import continuous_angles, rotation_matrices
from bindu.core.scene.channels import TRANSFORM_CHANNELS, ChannelRef, weight_channel
from bindu.core.scene.model import Scene
from bindu.core.scene.settings import Offset, Vector

STILL: Vector = (0.0, 0.0, 0.0)
On = Literal["every frame", "keys"]


@dataclass(frozen=True)
class PutWhere:
    """Puts a part where another one is – or in a relationship to it that was copied – by keys on
    its channels: on one frame, on every frame of a span, or on its own keys in it."""

    part: str
    other: str
    first: int
    last: int | None = None
    position: bool = True
    rotation: bool = True
    relation: Offset = Offset()
    on: On = "every frame"
    do: Literal["put where"] = "put where"

    def label(self, scene: Scene) -> str:
        """See ``Edit``."""
        until = f" to {self.last}" if self.last is not None else ""
        part, other = found_part(scene, self.part).name, found_part(scene, self.other).name
        return f"put {part} where {other} is at {self.first}{until}"

    def apply(self, scene: Scene) -> Scene:
        """See ``Edit``."""
        part = found_part(scene, self.part)
        found_part(scene, self.other)
        if part.id == self.other:
            raise Refusal("a part is where it is; choose another.", place=part.name)
        evaluation = evaluate(scene)
        rows = _rows(evaluation, self.first, self.last)
        if self.on == "keys":
            rows = [n for n in rows if _has_key(scene, part.id, evaluation.times.first + n)]
            if not rows:
                raise Refusal("it has no keys there; choose every frame.", place=part.name)
        target = without_scale(worlds(evaluation, self.other)[rows])
        inner = np.eye(4)
        angles = np.array([self.relation.rotation])
        inner[:3, :3] = rotation_matrices(angles, part.rotation_order)[0]
        inner[:3, 3] = self.relation.translation
        groups = ["translation"] * self.position + ["rotation"] * self.rotation
        one = self.last is None
        return with_worlds(scene, evaluation, part.id, rows, target @ inner, groups, one)


@dataclass(frozen=True)
class TurnAbout:
    """Turns parts about any point of the world for now: a passing pivot.

    Amounts: degrees about the vector ``turn``, in the axes of the world.
    """

    parts: tuple[str, ...]
    frame: float
    point: Vector
    turn: Vector
    key: bool = False
    do: Literal["turn about"] = "turn about"

    def label(self, scene: Scene) -> str:
        """See ``Edit``."""
        more = f" and {len(self.parts) - 1} more" if len(self.parts) > 1 else ""
        name = found_part(scene, self.parts[0]).name if self.parts else "nothing"
        return f"turn {name}{more} about a point at {self.frame:g}"

    def apply(self, scene: Scene) -> Scene:
        """See ``Edit``."""
        for amount in (*self.point, *self.turn):
            finite(amount, "turn")
        evaluation = evaluate(scene)
        n = evaluation.index(self.frame)
        turn = Rotation.from_rotvec(np.array(self.turn), degrees=True)
        for part in self.parts:
            found_part(scene, part)
            world = evaluation.world(part)
            away = world[n if len(world) > 1 else 0][:, 3] - np.array(self.point)
            x, y, z = (float(v) for v in turn.apply(away) - away)
            moved = PlacePart((part,), self.frame, (x, y, z), self.turn, axes="world", key=self.key)
            scene = moved.apply(scene)
        return scene


@dataclass(frozen=True)
class MoveRoot:
    """Moves a part by hand and keeps all its children where they are in the world over a span,
    by keys on every frame of it."""

    part: str
    frame: int
    first: int
    last: int
    move: Vector = STILL
    turn: Vector = STILL
    do: Literal["move root"] = "move root"

    def label(self, scene: Scene) -> str:
        """See ``Edit``."""
        return f"move {found_part(scene, self.part).name}, its children stay"

    def apply(self, scene: Scene) -> Scene:
        """See ``Edit``."""
        before = evaluate(scene)
        rows = _rows(before, self.first, self.last)
        place = PlacePart((self.part,), self.frame, self.move, self.turn, axes="world")
        moved = place.apply(scene)
        return _kept(moved, before, scene.children.get(self.part, ()), rows)


@dataclass(frozen=True)
class GiveMotion:
    """Gives a part's motion to children of it, to all where none is chosen: it stands still where
    it is on the first frame, and they keep their places in the world by keys on every frame. The
    others stand still with it."""

    part: str
    children: tuple[str, ...] = ()
    do: Literal["give motion"] = "give motion"

    def label(self, scene: Scene) -> str:
        """See ``Edit``."""
        names = ", ".join(found_part(scene, child).name for child in self.children)
        name = found_part(scene, self.part).name
        return f"give the motion of {name} to {names or 'its children'}"

    def apply(self, scene: Scene) -> Scene:
        """See ``Edit``."""
        part = found_part(scene, self.part)
        children = scene.children.get(part.id, ())
        if not children:
            raise Refusal("it has no children.", place=part.name)
        for child in self.children:
            if child not in children:
                name = found_part(scene, child).name
                raise Refusal(f"{name} is not among its children.", place=part.name)
        before = evaluate(scene)
        refs = [ChannelRef(part.id, channel) for channel in TRANSFORM_CHANNELS[:6]]
        values = dict(part.values)
        for ref in refs:
            if ref in scene.curves:
                values[ref.channel] = float(before.channel(ref, "keyed")[0])
        still = replace(
            scene,
            curves={r: c for r, c in scene.curves.items() if r not in refs},
            parts=within(scene.parts, part.id, replace(part, values=values)),
        )
        rows = list(range(len(before.times.frames)))
        return _kept(still, before, self.children or children, rows)


@dataclass(frozen=True)
class WriteOut:
    """Writes what the binding steps of a part do out as keys over a span: on each frame, or as
    few as a tolerance (metres, and degrees) allows. Over the whole range the steps are muted;
    over less, their weights are keyed to 0 there."""

    part: str
    first: int
    last: int
    tolerance: float | None = None
    do: Literal["write out"] = "write out"

    def label(self, scene: Scene) -> str:
        """See ``Edit``."""
        return f"write {found_part(scene, self.part).name} out as keys {self.first} … {self.last}"

    def apply(self, scene: Scene) -> Scene:
        """See ``Edit``."""
        part = found_part(scene, self.part)
        steps = [s for s in scene.steps_of.get(part.id, ()) if s.on and s.settings.groups]
        if not steps:
            raise Refusal("no step binds it.", place=part.name)
        evaluation = evaluate(scene)
        rows = _rows(evaluation, self.first, self.last)
        written = {channel for step in steps for channel in step.settings.writes}
        new = final_channels(evaluation, part.id)[rows]
        whole = len(rows) == len(evaluation.times.frames)
        for step in steps:
            if whole:
                scene = replace(scene, steps=within(scene.steps, step.id, replace(step, on=False)))
            else:
                scene = self._faded(scene, ChannelRef(part.id, weight_channel(step.id)))
        for n, channel in enumerate(TRANSFORM_CHANNELS):
            if channel in written:
                kept = self._kept_rows(new[:, n], rows)
                ref = ChannelRef(part.id, channel)
                scene = with_span_keys(scene, evaluation, ref, kept, new[kept - rows[0], n])
        return scene

    def _kept_rows(self, values: Array, rows: list[int]) -> Indices:
        if self.tolerance is None:
            return np.array(rows)
        return np.array(thinned_places(values, self.tolerance)) + rows[0]

    def _faded(self, scene: Scene, weight: ChannelRef) -> Scene:
        """The scene with a weight at 0 over the span."""
        curve = scene.curves.get(weight)
        before = curve.keys[-1].value if curve else scene.set_value(weight)
        scene = with_choice(scene, weight, self.first, 0.0)
        if self.last < scene.last:
            scene = with_choice(scene, weight, self.last + 1, before)
        return scene


RelationEdit = PutWhere | TurnAbout | MoveRoot | GiveMotion | WriteOut


def relation_of(evaluation: Evaluation, part: str, other: str, frame: float) -> Offset:
    """Where a part is on a frame as seen from another, to be given to others or other frames."""
    n = evaluation.index(frame)
    place = np.linalg.inv(worlds(evaluation, other)[n]) @ worlds(evaluation, part)[n]
    size = np.linalg.norm(place[:3, :3], axis=0)
    order = evaluation.scene.parts[part].rotation_order
    angles = continuous_angles((place[:3, :3] / size)[None], order, np.zeros(3))[0]
    translation, rotation, scale = (
        tuple(float(v) for v in vector) for vector in (place[:3, 3], angles, size)
    )
    return Offset(translation, rotation, scale)  # type: ignore[arg-type]


def _kept(scene: Scene, before: Evaluation, parts: Sequence[str], rows: list[int]) -> Scene:
    """The scene with parts at the world places that they had before, on these frames."""
    groups = ["translation", "rotation"]
    for part in parts:
        target = without_scale(worlds(before, part)[rows])
        scene = with_worlds(scene, evaluate(scene), part, rows, target, groups)
    return scene


def _rows(evaluation: Evaluation, first: int, last: int | None) -> list[int]:
    start = evaluation.index(first)
    end = start if last is None else evaluation.index(last)
    if end < start:
        raise Refusal(f"frame {last} lies before {first}.", place="span")
    return list(range(start, end + 1))


def _has_key(scene: Scene, part: str, frame: int) -> bool:
    keys: list[Key | None] = [
        scene.curves[ref].key_at(frame)
        for channel in TRANSFORM_CHANNELS[:6]
        if (ref := ChannelRef(part, channel)) in scene.curves
    ]
    return any(keys)
