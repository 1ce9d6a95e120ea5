"""Keys of places that move by degrees in the world, whatever carries their parts."""

from __future__ import annotations

from bisect import bisect_left, bisect_right
from collections.abc import Iterator, Mapping
from dataclasses import dataclass
from typing import Literal

import numpy as np

from bindu.core.curves.model import Array
from bindu.core.edits.base import found_channel, unlocked
from bindu.core.edits.degrees import by_degrees, check_degrees
from bindu.core.edits.heard import heard_keys, stays_unkeyed
from bindu.core.edits.keying import with_value
from bindu.core.edits.retime import Picks, counted_keys
from bindu.core.evaluation import Evaluation, evaluated
from bindu.core.geometry.places import rotation_of
from bindu.core.geometry.rotation import between
from bindu.core.nodes.operation import Indices
from bindu.core.placing.own_channels import Values, moved_to, rows_of, turned_to, world_above
from bindu.core.refusal import Refusal
from bindu.core.scene.channels import ChannelRef, layer_and_channel
from bindu.core.scene.model import Scene
from bindu.core.scene.settings import Group

TowardPlace = Literal["left", "right", "line", "ease", "frame"]
METRES, TURNS = 1e-6, 1e-6
"""How far a part may stay from where it is to go, metres and the sine of half the angle."""
Chosen = dict[str, tuple[set[Group], set[float]]]
"""By part: the groups and the frames of chosen keys."""


@dataclass(frozen=True)
class ByDegreesInWorld:
    """Moves parts on the frames of chosen keys of their translation or rotation by a share of the
    way, straight and by the shortest turn, toward where they are in the world on other frames:
    below 0 away from it, above 1 beyond it. What carries them stays as it is; parts above go first.

    Attributes:
        toward: where the part is on the frame of its nearest key on the ``left`` or ``right`` that
            is not chosen; the ``line`` or the ``ease`` between both; where it is on ``frame``.
        degree: 1 is all of the way.
    """

    picks: Picks
    toward: TowardPlace
    degree: float
    frame: float | None = None
    do: Literal["by degrees in world"] = "by degrees in world"

    def label(self, scene: Scene) -> str:
        """See ``Edit``."""
        return f"{counted_keys(scene, self.picks)} {by_degrees(self)} in the world"

    def apply(self, scene: Scene) -> Scene:
        """See ``Edit``."""
        check_degrees(self)
        chosen = self._chosen(scene)
        before = evaluated(scene)
        for part in sorted(chosen, key=scene.tree_order.__getitem__):
            groups, frames = chosen[part]
            rows = np.array([_row(before, part, frame) for frame in sorted(frames)])
            place, turn = self._wanted(before, part, sorted(frames), rows)
            now = evaluated(scene)
            above = world_above(now, part, rows)
            wanted = Values()
            if "translation" in groups:
                wanted |= moved_to(now, part, above, place, rows)
            if "rotation" in groups:
                wanted |= turned_to(now, part, above, turn, rows)
            held = sorted(set(_keyed_frames(scene, part)) - frames)
            scene = _keyed(scene, wanted, rows + scene.first, held)
            _refuse_missed(evaluated(scene), part, groups, rows, place, turn)
        return scene

    def _chosen(self, scene: Scene) -> Chosen:
        chosen: Chosen = {}
        for pick in self.picks:
            ref = unlocked(scene, found_channel(scene, pick.part, pick.channel))
            _, channel = layer_and_channel(ref.channel)
            group = channel.split(".")[0]
            curve = scene.curves.get(ref)
            if curve is None or group not in ("translation", "rotation"):
                continue
            frames = curve.frames.tolist() if pick.frames is None else pick.frames
            groups, known = chosen.setdefault(pick.part, (set(), set()))
            groups.add("translation" if group == "translation" else "rotation")
            known.update(frame for frame in frames if curve.key_at(frame) is not None)
        chosen = {part: one for part, one in chosen.items() if one[1]}
        if not chosen:
            raise Refusal("choose keys of translations or rotations first.", code="choice")
        return chosen

    def _wanted(
        self, before: Evaluation, part: str, frames: list[float], rows: Indices
    ) -> tuple[Array, Array]:
        """Where a part is to be on some rows: places, shape (N, 3, 4), of which only the origins
        count, and turns as quaternions, shape (N, 4)."""
        world = np.broadcast_to(before.world(part), (len(before.times.frames), 3, 4))
        place, turn = np.array(world[rows]), rotation_of(np.array(world[rows]))
        beside = list(self._beside(before, part, frames))
        starts, ends = (np.array([_row(before, part, pair[n]) for pair in beside]) for n in (0, 1))
        length = ends - starts
        share = (rows - starts) / np.where(length > 0, length, 1)
        if self.toward == "ease":
            share = share * share * (3.0 - 2.0 * share)
        origin = world[starts, :, 3] + share[:, None] * (world[ends, :, 3] - world[starts, :, 3])
        turned = between(
            rotation_of(np.array(world[starts])), rotation_of(np.array(world[ends])), share
        )
        place[..., 3] += self.degree * (origin - place[..., 3])
        return place, between(turn, turned, np.full(len(rows), self.degree))

    def _beside(
        self, before: Evaluation, part: str, frames: list[float]
    ) -> Iterator[tuple[float, float]]:
        """For each frame the two between which it goes; twice the same where it goes to one."""
        others = sorted(set(_keyed_frames(before.scene, part)) - set(frames))
        for frame in frames:
            if self.toward == "frame":
                yield (float(self.frame or 0.0),) * 2
                continue
            left, right = bisect_left(others, frame) - 1, bisect_right(others, frame)
            a = others[left] if left >= 0 else frame
            b = others[right] if right < len(others) else frame
            yield {"left": (a, a), "right": (b, b)}.get(self.toward, (a, b))


def _keyed_frames(scene: Scene, part: str) -> Iterator[float]:
    """The frames within the range on which a part's place has keys, on layers too."""
    for ref, curve in scene.curves.items():
        if ref.part != part:
            continue
        _, channel = layer_and_channel(ref.channel)
        if channel.split(".")[0] in ("translation", "rotation"):
            yield from (f for f in curve.frames.tolist() if scene.first <= f <= scene.last)


def _row(evaluation: Evaluation, part: str, frame: float) -> int:
    """The row of a frame.

    Raises:
        Refusal: where it lies between frames or outside the range.
    """
    first, last = evaluation.times.first, evaluation.times.last
    if frame != round(frame) or not first <= frame <= last:
        name = evaluation.scene.parts[part].name
        text = f"frame {frame:g} is no whole frame of the range, and only there its place is known."
        raise Refusal(text, code="number", place=name)
    return int(frame) - first


def _keyed(
    scene: Scene, wanted: Mapping[ChannelRef, Array], frames: Indices, held: list[float]
) -> Scene:
    """The scene with keys on some frames; a channel that had none is held as it was on the part's
    other keyed frames, and one that need not move gets none."""
    for base, values in wanted.items():
        if stays_unkeyed(scene, base, values):
            continue
        ref, keys = heard_keys(scene, unlocked(scene, base), values, frames)
        if ref not in scene.curves:
            for frame in held:
                scene = with_value(scene, ref, frame, scene.set_value(ref))
        for frame, value in zip(frames, keys, strict=True):
            scene = with_value(scene, ref, float(frame), float(value))
    return scene


def _refuse_missed(
    made: Evaluation, part: str, groups: set[Group], rows: Indices, place: Array, turn: Array
) -> None:
    """Refuses what did not bring a part where it was to go: a step decides where it is."""
    world = rows_of(made.world(part), rows)
    off = np.zeros(len(rows))
    if "translation" in groups:
        off = np.abs(world[..., 3] - place[..., 3]).max(axis=-1) / METRES
    if "rotation" in groups:
        chord = np.minimum(*(np.abs(rotation_of(world) + s * turn).max(axis=-1) for s in (1, -1)))
        off = np.maximum(off, chord / TURNS)
    if off.max() > 1.0:
        name = made.scene.parts[part].name
        frame = int(rows[off.argmax()]) + made.times.first
        text = f"its own keys do not decide where it is on frame {frame}: a constraint, a limb or "
        text += "a channel that is set does. Move what steers it, or mute that."
        raise Refusal(text, code="impossible", place=name)
