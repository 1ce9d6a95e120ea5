"""Edits that carry places over: put where another is, turned about a point, the root moved under
its children, its motion given away, a relationship written out as keys."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace
from typing import Literal

import numpy as np
from scipy.spatial.transform import Rotation

from bindu.core.curves.keys import with_keys
from bindu.core.curves.model import Array, Key
from bindu.core.curves.spans import with_span
from bindu.core.curves.thin import thinned_places
from bindu.core.edits.base import finite, found_part, within
from bindu.core.edits.choices import refuse_steps
from bindu.core.edits.place import PlacePart
from bindu.core.evaluation import Evaluation, evaluated
from bindu.core.geometry.angles import continuous_angles
from bindu.core.geometry.rotation import orthonormal, rotation_matrices
from bindu.core.nodes.operation import Indices
from bindu.core.placing.place import (
    axes_of,
    final_channels,
    inverted,
    refuse_moved,
    with_span_keys,
    with_worlds,
    worlds,
)
from bindu.core.refusal import Refusal
from bindu.core.scene.changes import with_step
from bindu.core.scene.channels import TRANSFORM_CHANNELS, ChannelRef, weight_channel
from bindu.core.scene.model import Scene
from bindu.core.scene.parts import Step
from bindu.core.scene.settings import Offset, Vector

STILL: Vector = (0.0, 0.0, 0.0)
On = Literal["every frame", "keys"]
BACK = 1e-9
"""How far a part may be from where it was, in metres and in its axes, to be back there."""


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
            raise Refusal("a part is where it is; choose another.", code="choice", place=part.name)
        evaluation = evaluated(scene)
        rows = _rows(evaluation, self.first, self.last)
        if self.on == "keys":
            rows = [n for n in rows if _has_key(scene, part.id, evaluation.times.first + n)]
            if not rows:
                raise Refusal(
                    "it has no keys there; choose every frame.", code="choice", place=part.name
                )
        target = axes_of(evaluation, self.other)[rows]
        place = np.array([*self.relation.translation, 1.0])
        position = worlds(evaluation, self.other)[rows] @ place
        angles = np.array([self.relation.rotation])
        target[:, :3, :3] @= rotation_matrices(angles, part.rotation_order)[0]
        target[:, :, 3] = position
        groups = ["translation"] * self.position + ["rotation"] * self.rotation
        one = self.last is None
        kinds = self.on == "keys"
        return with_worlds(
            scene, evaluation, part.id, rows, target, groups, one, kinds=kinds, exact=False
        )


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
        evaluation = evaluated(scene)
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
        before = evaluated(scene)
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
            raise Refusal("it has no children.", code="choice", place=part.name)
        for child in self.children:
            if child not in children:
                name = found_part(scene, child).name
                raise Refusal(f"{name} is not among its children.", code="unknown", place=part.name)
        before = evaluated(scene)
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
    over less, their weights are keyed to 0 there. Where a member of a lead group carries others,
    all members are written out with it. Nothing moves by that: where something would, it is
    refused."""

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
        if not _binding(scene, part.id):
            raise Refusal("no step binds it.", code="choice", place=part.name)
        evaluation = evaluated(scene)
        rows = _rows(evaluation, self.first, self.last)
        alone = self._written(scene, evaluation, [part.id], rows)
        try:
            return self._unmoved(evaluation, alone, rows)
        except Refusal:
            members = _led_with(scene, part.id)
            if len(members) == 1:
                raise
        # What a member of a lead group does by itself carries the others.
        together = self._written(scene, evaluation, members, rows)
        return self._unmoved(evaluation, together, rows)

    def _written(
        self, scene: Scene, evaluation: Evaluation, parts: Sequence[str], rows: list[int]
    ) -> Scene:
        """The scene with what binds these parts written out, and not binding them there any
        more."""
        made, span = scene, (self.first, self.last)
        whole = len(rows) == len(evaluation.times.frames)
        for part in parts:
            steps = _binding(scene, part)
            new = final_channels(evaluation, part)[rows]
            for step in steps:
                if whole:
                    made = with_step(made, replace(step, on=False))
                else:
                    made = _faded(made, ChannelRef(part, weight_channel(step.id)), span)
            written = {channel for step in steps for channel in step.settings.writes}
            for n, channel in enumerate(TRANSFORM_CHANNELS):
                if channel in written:
                    kept = self._kept_rows(new[:, n])
                    frames, ref = kept + self.first, ChannelRef(part, channel)
                    made = with_span_keys(made, ref, span, frames, new[kept, n])
        return made

    def _kept_rows(self, values: Array) -> Indices:
        if self.tolerance is None:
            return np.arange(len(values))
        return np.array(thinned_places(values, self.tolerance))

    def _unmoved(self, before: Evaluation, made: Scene, rows: list[int]) -> Scene:
        """The scene, if every part is where it was: on all frames, with a tolerance outside of
        the span.

        Raises:
            Refusal: with the part and the frame where it is not.
        """
        looked_at = np.ones(len(before.times.frames), dtype=bool)
        if self.tolerance is not None:
            looked_at[rows] = False
        refuse_moved(before, evaluated(made), rows=np.flatnonzero(looked_at))
        return made


def _binding(scene: Scene, part: str) -> list[Step]:
    return [s for s in scene.steps_of.get(part, ()) if s.on and s.settings.groups]


def _led_with(scene: Scene, part: str) -> list[str]:
    """The part, and all members of the lead groups that it is in."""
    groups = [lead.members for lead in scene.leads.values() if part in lead.members]
    return list(dict.fromkeys([part, *(member for members in groups for member in members)]))


def _faded(scene: Scene, weight: ChannelRef, span: tuple[int, int]) -> Scene:
    """The scene with a weight at 0 over a span, and as it was everywhere else."""
    refuse_steps(scene, weight)
    still, curve = scene.set_value(weight), scene.curves.get(weight)
    if curve is None:
        ends = [f for f in (span[0] - 1, span[1] + 1) if scene.first <= f <= scene.last]
        curve = with_keys(None, [Key(float(f), still, "hold") for f in ends])
    keys = [Key(float(f), 0.0, "hold") for f in dict.fromkeys(span)]
    made = with_span(curve, span, keys, (scene.first, scene.last))
    return replace(scene, curves={**scene.curves, weight: made})


RelationEdit = PutWhere | TurnAbout | MoveRoot | GiveMotion | WriteOut


def relation_of(evaluation: Evaluation, part: str, other: str, frame: float) -> Offset:
    """Where a part is on a frame as seen from another, to be given to others or other frames."""
    n = evaluation.index(frame)
    scene = evaluation.scene
    outer = inverted(worlds(evaluation, other)[n : n + 1], scene.parts[other].name)
    place = outer @ worlds(evaluation, part)[n]
    turned, _ = orthonormal(
        np.linalg.inv(axes_of(evaluation, other)[n : n + 1, :3, :3])
        @ axes_of(evaluation, part)[n : n + 1, :3, :3]
    )
    angles = continuous_angles(turned, scene.parts[part].rotation_order, np.zeros(3))
    signs = np.where(final_channels(evaluation, part)[n, 6:9] < 0.0, -1.0, 1.0)
    size = np.linalg.norm(place[0, :3, :3], axis=0) * signs
    return Offset(vector_of(place[0, :3, 3]), vector_of(angles[0]), vector_of(size))


def vector_of(numbers: Array) -> Vector:
    """Three numbers as they are."""
    x, y, z = (float(v) for v in numbers)
    return x, y, z


def _kept(scene: Scene, before: Evaluation, parts: Sequence[str], rows: list[int]) -> Scene:
    """The scene with parts at the world places that they had before, on these frames."""
    evaluation, groups = evaluated(scene), ["translation", "rotation"]
    made = scene
    for part in parts:
        made = with_worlds(made, evaluation, part, rows, axes_of(before, part)[rows], groups)
    after = evaluated(made)
    for part in parts:
        apart = np.abs(axes_of(before, part)[rows] - axes_of(after, part)[rows]).max()
        if apart > BACK * max(1.0, np.abs(before.world(part)).max()):
            name = scene.parts[part].name
            raise Refusal(
                f"{name} cannot stay where it is, since something above it reads its channels.",
                code="in use",
                place=name,
            )
    return made


def _rows(evaluation: Evaluation, first: int, last: int | None) -> list[int]:
    start = evaluation.index(first)
    end = start if last is None else evaluation.index(last)
    if end < start:
        raise Refusal(f"frame {last} lies before {first}.", code="number", place="span")
    return list(range(start, end + 1))


def _has_key(scene: Scene, part: str, frame: int) -> bool:
    keys: list[Key | None] = [
        scene.curves[ref].key_at(frame)
        for channel in TRANSFORM_CHANNELS[:6]
        if (ref := ChannelRef(part, channel)) in scene.curves
    ]
    return any(keys)
