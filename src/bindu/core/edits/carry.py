"""A change of a pose on one frame, carried over a span."""

from __future__ import annotations

from collections.abc import Collection, Iterator, Mapping
from dataclasses import dataclass, replace
from typing import Literal

import numpy as np

from bindu.core.counted import counted
from bindu.core.curves.evaluate import curve_values
from bindu.core.curves.keys import with_keys, without_keys
from bindu.core.curves.model import Array, Curve, Key
from bindu.core.curves.spans import with_key_held, written_out
from bindu.core.curves.tangents import with_smart_tangents
from bindu.core.edits.base import finite, found_channel, unlocked
from bindu.core.edits.channels import in_range
from bindu.core.evaluation import evaluated
from bindu.core.evaluation.keyed import own_values
from bindu.core.placing.carried import carried_in_world
from bindu.core.refusal import Refusal
from bindu.core.scene.changes import with_curve, with_part
from bindu.core.scene.channels import AXES, TRANSFORM_CHANNELS, ChannelRef
from bindu.core.scene.model import Scene
from bindu.core.scene.settings import Group

How = Literal["as an offset", "in the world"]
Changed = Mapping[ChannelRef, float]
"""Changed channels, each with the value that it had on the frame before."""
LONGEST_FADE = 10_000
SAME = 1e-9
PLACES = frozenset(TRANSFORM_CHANNELS[:6])


@dataclass(frozen=True)
class CarryChange:
    """Carries what was changed on a frame to all frames from ``first`` to ``last``, and lets it
    come and go over some frames beside them; everything else stays. The curves keep their shapes:
    all their keys there move, and keys hold the ends.

    Attributes:
        frame: on which the pose was changed.
        before: part, channel and the own value that it had on that frame before.
        how: each channel moves by as much as it did on that frame; or each part moves as far, and
            turns about its origin by the turn, that it did in the world, whatever carries it.
        fade_in, fade_out: frames; at least one. At an end of the range nothing fades.
    """

    frame: int
    before: tuple[tuple[str, str, float], ...]
    first: int
    last: int
    fade_in: int = 1
    fade_out: int = 1
    how: How = "as an offset"
    do: Literal["carry change"] = "carry change"

    def label(self, scene: Scene) -> str:
        """See ``Edit``."""
        many = len(self.before)
        what = counted(many, "channel")
        return f"carry the change of {what} on {self.frame} to {self.first} … {self.last}"

    def apply(self, scene: Scene) -> Scene:
        """See ``Edit``."""
        self._refuse_span(scene)
        changed = self._changed(scene)
        base = scene
        for ref, value in changed.items():
            base = _unchanged(base, ref, self.frame, value)
        frames = np.arange(scene.first, scene.last + 1).astype(float)
        share = self._share(scene, frames)
        at = np.array([float(self.frame)])
        made = base
        for ref, value in changed.items():
            if self.how == "as an offset" or ref.channel not in PLACES:
                by = float(own_values(scene, ref, at)[0]) - value
                made = self._moved(made, ref, frames, share * by)
        if self.how == "in the world":
            made = self._moved_in_world(scene, base, made, changed, frames, share)
        return made

    def _changed(self, scene: Scene) -> dict[ChannelRef, float]:
        """The channels that were changed on the frame, with their values before."""
        found = {}
        at = np.array([float(self.frame)])
        for part, channel, value in self.before:
            ref = unlocked(scene, found_channel(scene, part, channel))
            if abs(float(own_values(scene, ref, at)[0]) - finite(value, "value")) > SAME:
                found[ref] = value
        if not found:
            text = f"nothing was changed on frame {self.frame}: change the pose there first."
            raise Refusal(text, code="choice")
        return found

    def _moved_in_world(
        self, scene: Scene, base: Scene, made: Scene, changed: Changed, frames: Array, share: Array
    ) -> Scene:
        """Parts moved one after the other, those above first, since they carry the others."""
        before, after = evaluated(base), evaluated(scene)
        row = self.frame - scene.first
        groups: dict[str, set[Group]] = {}
        for ref in changed:
            if ref.channel in PLACES:
                groups.setdefault(ref.part, set()).add(_group(ref))
        for part in sorted(groups, key=scene.tree_order.__getitem__):
            ways = carried_in_world(made, before, after, part, row, share, groups[part])
            poses = made
            for ref, way in ways.items():
                if np.abs(way).max() > SAME:
                    keyed = self._keyed(poses, part, _group(ref))
                    made = self._moved(made, unlocked(scene, ref), frames, way, keyed)
        return made

    def _keyed(self, scene: Scene, part: str, group: Group) -> set[float]:
        """The frames of keys of a group that the change reaches."""
        a, b = self.first - self.fade_in, self.last + self.fade_out
        curves = (scene.curves.get(ChannelRef(part, f"{group}.{axis}")) for axis in AXES)
        every = {key.frame for curve in curves if curve for key in curve.keys}
        return {frame for frame in every if a < frame < b}

    def _refuse_span(self, scene: Scene) -> None:
        if not scene.first <= self.first <= self.last <= scene.last:
            text = f"choose a span within {scene.first} … {scene.last}, its first frame first."
            raise Refusal(text, code="number", place="first")
        if not self.first <= self.frame <= self.last:
            text = f"the span must hold frame {self.frame}, on which the pose was changed."
            raise Refusal(text, code="number", place="first")
        for fade, name in ((self.fade_in, "fade_in"), (self.fade_out, "fade_out")):
            if not 1 <= fade <= LONGEST_FADE:
                text = f"a fade lasts 1 to {LONGEST_FADE:,} frames."
                raise Refusal(text, code="number", place=name)

    def _share(self, scene: Scene, frames: Array) -> Array:
        """By which share the change counts on each frame, shape (F,): 3s² - 2s³ over a fade, so
        that value and slope are continuous."""
        comes = (frames - (self.first - self.fade_in)) / self.fade_in
        goes = (self.last + self.fade_out - frames) / self.fade_out
        comes = np.ones(len(frames)) if self.first == scene.first else np.clip(comes, 0.0, 1.0)
        goes = np.ones(len(frames)) if self.last == scene.last else np.clip(goes, 0.0, 1.0)
        share = np.minimum(comes, goes)
        return np.asarray(share * share * (3.0 - 2.0 * share))

    def _moved(
        self,
        scene: Scene,
        ref: ChannelRef,
        frames: Array,
        way: Array,
        keyed: Collection[float] = (),
    ) -> Scene:
        """A channel moved by so much on each frame of the range, shape (F,), with keys on some
        frames beside its own."""
        curve = scene.curves.get(ref)
        if curve is None:
            if np.ptp(way) <= SAME:
                return _with_value(scene, ref, scene.set_value(ref) + float(way[0]))
            curve = with_keys(None, [Key(float(self.frame), scene.set_value(ref))])
        curve = written_out(curve, (scene.first, scene.last))
        for frame in sorted({*self._held(scene), *keyed}):
            curve = with_key_held(curve, float(frame))
        keys = []
        for key in curve.keys:
            value = key.value + float(np.interp(key.frame, frames, way))
            keys.append(replace(key, value=in_range(scene, ref, value)))
        return with_curve(scene, ref, replace(curve, keys=with_smart_tangents(tuple(keys))))

    def _held(self, scene: Scene) -> Iterator[int]:
        """The frames that need a key: this one, the ends of the span, and those of the fades."""
        yield self.frame
        if self.first > scene.first:
            yield from (self.first, max(self.first - self.fade_in, scene.first))
        if self.last < scene.last:
            yield from (self.last, min(self.last + self.fade_out, scene.last))


def _group(ref: ChannelRef) -> Group:
    return "translation" if ref.channel in TRANSFORM_CHANNELS[:3] else "rotation"


def _unchanged(scene: Scene, ref: ChannelRef, frame: int, value: float) -> Scene:
    """The scene with a channel as it was on a frame: without the key that was put there, where it
    then has that value, else with another value of the key."""
    curve = scene.curves.get(ref)
    if curve is None:
        return _with_value(scene, ref, value)
    at = float(frame)
    if curve.key_at(at) is not None and len(curve.keys) > 1:
        without = without_keys(curve, [at])
        if _comes_to(without, at, value):
            return with_curve(scene, ref, without)
    key = curve.key_at(at) or with_key_held(curve, at).key_at(at)
    assert key is not None
    return with_curve(scene, ref, with_keys(curve, [replace(key, value=value)]))


def _comes_to(curve: Curve, frame: float, value: float) -> bool:
    return abs(float(curve_values(curve, np.array([frame]))[0]) - value) <= SAME


def _with_value(scene: Scene, ref: ChannelRef, value: float) -> Scene:
    part = scene.parts[ref.part]
    values = {**part.values, ref.channel: in_range(scene, ref, value)}
    return with_part(scene, replace(part, values=values))
