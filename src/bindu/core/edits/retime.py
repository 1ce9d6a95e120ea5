"""Edits of many keys at once, on any number of channels and layers."""

from __future__ import annotations

from collections.abc import Callable, Iterable
from dataclasses import dataclass, replace
from typing import Literal

from bindu.core.counted import counted
from bindu.core.curves.keys import with_keys
from bindu.core.curves.model import Curve, Interpolation, Key
from bindu.core.curves.operations import (
    About,
    TangentChange,
    cropped,
    moved_in_time,
    scaled_values,
    shifted_values,
    tidy,
    with_ends_met,
    with_frames_inserted,
    with_frames_taken_out,
    with_interpolation,
    with_tangents,
)
from bindu.core.edits.base import finite, found_channel, named, unlocked
from bindu.core.edits.channels import in_range
from bindu.core.edits.frames import FrameMap, chooses, with_frames_moved, with_handovers_moved
from bindu.core.edits.keying import value_at
from bindu.core.edits.keys import without_curve
from bindu.core.refusal import Refusal
from bindu.core.scene.changes import with_curve
from bindu.core.scene.channels import ChannelRef
from bindu.core.scene.model import Scene
from bindu.core.scene.names import full_name


@dataclass(frozen=True)
class KeyPick:
    """Keys of one channel: those on these frames, or with None all of them."""

    part: str
    channel: str
    frames: tuple[float, ...] | None = None


Picks = tuple[KeyPick, ...]


@dataclass(frozen=True)
class MoveKeys:
    """Moves chosen keys in time and value. ``copy`` leaves the old ones where they are; keys
    that others land on are replaced."""

    picks: Picks
    frames: float = 0.0
    value: float = 0.0
    copy: bool = False
    do: Literal["move keys"] = "move keys"

    def label(self, scene: Scene) -> str:
        """See ``Edit``."""
        verb = "copy" if self.copy else "move"
        return f"{verb} {counted_keys(scene, self.picks)} by {self.frames:+g} frames"

    def apply(self, scene: Scene) -> Scene:
        """See ``Edit``."""
        finite(self.frames, "frames")
        finite(self.value, "value")

        def moved(curve: Curve, chosen: tuple[float, ...], ref: ChannelRef) -> Curve:
            landed = moved_in_time(curve, chosen, lambda frame: frame + self.frames)
            if self.value:
                to = tuple(tidy(frame + self.frames) for frame in chosen)
                landed = shifted_values(landed, to, self.value)
            if not self.copy:
                return landed
            return with_keys(
                landed, [key for key in curve.keys if landed.key_at(key.frame) is None]
            )

        if self.copy:
            return changed_curves(scene, self.picks, moved)
        return changed_curves(scene, self.picks, moved, lambda frame: tidy(frame + self.frames))


@dataclass(frozen=True)
class ScaleTime:
    """Scales chosen keys in time about a frame; a factor below 0 reverses them. ``snap`` puts
    them on whole frames."""

    picks: Picks
    about: float
    factor: float
    snap: bool = False
    do: Literal["scale time"] = "scale time"

    def label(self, scene: Scene) -> str:
        """See ``Edit``."""
        counted = counted_keys(scene, self.picks)
        if self.factor == -1.0:
            return f"reverse {counted}"
        return f"scale {counted} in time by {self.factor:g}"

    def apply(self, scene: Scene) -> Scene:
        """See ``Edit``."""
        finite(self.about, "about")
        if abs(finite(self.factor, "factor")) < 1e-6:
            raise Refusal("a factor of 0 would put all keys on one frame.", place="factor")

        def scaled(curve: Curve, chosen: tuple[float, ...], ref: ChannelRef) -> Curve:
            made = moved_in_time(curve, chosen, self._to)
            return _snapped(made, [tidy(self._to(f)) for f in chosen]) if self.snap else made

        def to(frame: float) -> float:
            landed = tidy(self._to(frame))
            return float(round(landed)) if self.snap else landed

        return changed_curves(scene, self.picks, scaled, to)

    def _to(self, frame: float) -> float:
        return self.about + self.factor * (frame - self.about)


@dataclass(frozen=True)
class SnapKeys:
    """Puts chosen keys on the nearest whole frames; of two that meet, the later one stays."""

    picks: Picks
    do: Literal["snap keys"] = "snap keys"

    def label(self, scene: Scene) -> str:
        """See ``Edit``."""
        return f"snap {counted_keys(scene, self.picks)} to whole frames"

    def apply(self, scene: Scene) -> Scene:
        """See ``Edit``."""
        return changed_curves(
            scene,
            self.picks,
            lambda curve, chosen, ref: _snapped(curve, chosen),
            lambda frame: float(round(frame)),
        )


@dataclass(frozen=True)
class ScaleValues:
    """Scales the values of chosen keys about a neighbour, their average, the channel's default,
    or a value; ``frame`` takes the value that the curve has on that frame."""

    picks: Picks
    factor: float
    about: About = "average"
    value: float = 0.0
    frame: float | None = None
    do: Literal["scale values"] = "scale values"

    def label(self, scene: Scene) -> str:
        """See ``Edit``."""
        return f"scale the values of {counted_keys(scene, self.picks)} by {self.factor:g}"

    def apply(self, scene: Scene) -> Scene:
        """See ``Edit``."""
        finite(self.factor, "factor")
        finite(self.value, "value")

        def scaled(curve: Curve, chosen: tuple[float, ...], ref: ChannelRef) -> Curve:
            value = scene.default(ref) if self.about == "default" else self.value
            if self.about == "value" and self.frame is not None:
                value = value_at(scene, ref, self.frame)
            return scaled_values(curve, chosen, self.factor, self.about, value)

        return changed_curves(scene, self.picks, scaled)


@dataclass(frozen=True)
class SetInterpolation:
    """Makes the segments to the right of chosen keys of one kind. ``smart`` also lets tangents
    follow the neighbours: all in holds, then smooth."""

    picks: Picks
    interpolation: Interpolation
    smart: bool = False
    do: Literal["set interpolation"] = "set interpolation"

    def label(self, scene: Scene) -> str:
        """See ``Edit``."""
        return f"make {counted_keys(scene, self.picks)} {self.interpolation}"

    def apply(self, scene: Scene) -> Scene:
        """See ``Edit``."""
        kind, smart = self.interpolation, self.smart
        return changed_curves(
            scene,
            self.picks,
            lambda curve, chosen, ref: with_interpolation(curve, chosen, kind, smart),
        )


@dataclass(frozen=True)
class SetTangents:
    """Joins or breaks the tangents of chosen keys, or makes them flat, linear or smart."""

    picks: Picks
    change: TangentChange
    do: Literal["set tangents"] = "set tangents"

    def label(self, scene: Scene) -> str:
        """See ``Edit``."""
        return f"{self.change} tangents of {counted_keys(scene, self.picks)}"

    def apply(self, scene: Scene) -> Scene:
        """See ``Edit``."""
        return changed_curves(
            scene, self.picks, lambda curve, chosen, ref: with_tangents(curve, chosen, self.change)
        )


@dataclass(frozen=True)
class DeleteKeys:
    """Takes chosen keys away; a channel that loses its last one keeps its value."""

    picks: Picks
    do: Literal["delete keys"] = "delete keys"

    def label(self, scene: Scene) -> str:
        """See ``Edit``."""
        return f"delete {counted_keys(scene, self.picks)}"

    def apply(self, scene: Scene) -> Scene:
        """See ``Edit``."""

        def left(curve: Curve, chosen: tuple[float, ...], ref: ChannelRef) -> Curve | None:
            gone = set(chosen)
            kept = [key for key in curve.keys if key.frame not in gone]
            return with_keys(replace(curve, keys=()), kept) if kept else None

        return changed_curves(scene, self.picks, left, lambda frame: None)


@dataclass(frozen=True)
class InsertFrames:
    """Moves everything from a frame on later: for chosen channels, or with None for the whole
    scene, whose markers and last frame follow. ``pause`` holds the value for so long."""

    at: float
    count: float
    picks: Picks | None = None
    pause: bool = False
    do: Literal["insert frames"] = "insert frames"

    def label(self, scene: Scene) -> str:
        """See ``Edit``."""
        what = "a pause of " if self.pause else ""
        return f"insert {what}{self.count:g} frames at {self.at:g}"

    def apply(self, scene: Scene) -> Scene:
        """See ``Edit``."""
        _refuse_count(self.count)
        finite(self.at, "at")
        made = changed_curves(
            scene,
            self.picks,
            lambda curve, chosen, ref: with_frames_inserted(curve, self.at, self.count, self.pause),
            self._to,
        )
        if self.picks is not None:
            return made
        moved = with_frames_moved(made, self._to)
        return replace(moved, last=max(scene.last + round(self.count), scene.first))

    def _to(self, frame: float) -> float:
        # What begins at a pause begins before it.
        stays = frame <= self.at if self.pause else frame < self.at
        return frame if stays else tidy(frame + self.count)


@dataclass(frozen=True)
class TakeOutFrames:
    """Takes keys within some frames out and moves everything behind them earlier: for chosen
    channels, or with None for the whole scene, whose markers and last frame follow."""

    first: float
    count: float
    picks: Picks | None = None
    do: Literal["take out frames"] = "take out frames"

    def label(self, scene: Scene) -> str:
        """See ``Edit``."""
        return f"take out {self.count:g} frames from {self.first:g}"

    def apply(self, scene: Scene) -> Scene:
        """See ``Edit``."""
        _refuse_count(self.count)
        finite(self.first, "first")
        made = changed_curves(
            scene,
            self.picks,
            lambda curve, chosen, ref: with_frames_taken_out(
                curve, self.first, self.count, chooses(scene, ref)
            ),
            self._to,
        )
        if self.picks is not None:
            return made
        after = self.first + self.count
        markers = {i: m for i, m in made.markers.items() if not self.first <= m.frame < after}
        moved = with_frames_moved(replace(made, markers=markers), self._to)
        return replace(moved, last=max(scene.last - round(self.count), scene.first))

    def _to(self, frame: float) -> float:
        if frame < self.first:
            return frame
        return tidy(max(frame - self.count, self.first))


@dataclass(frozen=True)
class CropKeys:
    """Keeps the keys of chosen channels, or with None of all, from one frame to another; the
    shape between them stays."""

    first: float
    last: float
    picks: Picks | None = None
    do: Literal["crop keys"] = "crop keys"

    def label(self, scene: Scene) -> str:
        """See ``Edit``."""
        return f"crop keys to {self.first:g} … {self.last:g}"

    def apply(self, scene: Scene) -> Scene:
        """See ``Edit``."""
        if finite(self.last, "last") < finite(self.first, "first"):
            raise Refusal(f"{self.first:g} lies behind {self.last:g}.", place="crop")
        return changed_curves(
            scene, self.picks, lambda curve, chosen, ref: cropped(curve, self.first, self.last)
        )


@dataclass(frozen=True)
class MeetEnds:
    """Makes the ends of curves meet in value and slope, so that they repeat without a jump;
    with the offset kept they meet in slope alone."""

    picks: Picks
    values: bool = True
    do: Literal["meet ends"] = "meet ends"

    def label(self, scene: Scene) -> str:
        """See ``Edit``."""
        if not self.picks:
            return "make the ends of nothing meet"
        name = named(scene, ChannelRef(self.picks[0].part, self.picks[0].channel))
        more = f" and {len(self.picks) - 1} more" if len(self.picks) > 1 else ""
        return f"make the ends of {name}{more} meet"

    def apply(self, scene: Scene) -> Scene:
        """See ``Edit``."""
        return changed_curves(
            scene, self.picks, lambda curve, chosen, ref: with_ends_met(curve, self.values)
        )


RetimeEdit = (
    MoveKeys
    | ScaleTime
    | SnapKeys
    | ScaleValues
    | SetInterpolation
    | SetTangents
    | DeleteKeys
    | InsertFrames
    | TakeOutFrames
    | CropKeys
    | MeetEnds
)

Work = Callable[[Curve, tuple[float, ...], ChannelRef], Curve | None]


def changed_curves(
    scene: Scene, picks: Picks | None, work: Work, to: FrameMap | None = None
) -> Scene:
    """The scene with the picked curves changed, or with None all of them, locked ones too, since
    the whole scene keeps step. None from ``work`` takes a curve away. ``to`` says where picked
    keys go, so that handovers at keys of a space channel go with them.

    Raises:
        Refusal: when nothing is picked, a picked channel has no keys, or the change cannot be.
    """
    whole = picks is None
    if picks is None:
        picks = tuple(KeyPick(*ref) for ref in sorted(scene.curves))
    elif not picks:
        raise Refusal("choose keys first.", code="choice")
    else:
        for pick in picks:
            unlocked(scene, found_channel(scene, pick.part, pick.channel))
    for pick in picks:
        ref = ChannelRef(pick.part, pick.channel)
        curve = scene.curves.get(ref)
        if curve is None:
            raise Refusal("it has no keys.", code="choice", place=full_name(scene, ref))
        chosen = tuple(curve.frames.tolist()) if pick.frames is None else pick.frames
        try:
            made = work(curve, chosen, ref)
        except Refusal as refusal:
            raise refusal.at(full_name(scene, ref)) from None
        if made is None:
            scene = without_curve(scene, ref)
        else:
            for key in made.keys:
                if curve.key_at(key.frame) is not key:
                    in_range(scene, ref, key.value)
            scene = with_curve(scene, ref, made)
        if to is not None and not whole:
            scene = with_handovers_moved(scene, ref, chosen, to)
    return scene


def _snapped(curve: Curve, chosen: Iterable[float]) -> Curve:
    gone = set(chosen)
    staying = [key for key in curve.keys if key.frame not in gone]
    snapped = [replace(curve.key_at(f) or Key(f, 0.0), frame=float(round(f))) for f in sorted(gone)]
    return with_keys(replace(curve, keys=()), [*staying, *snapped])


def _refuse_count(count: float) -> None:
    if not 0.0 < finite(count, "count") <= 100_000.0:
        raise Refusal(f"give a number of frames above 0, not {count:g}.", place="count")


def counted_keys(scene: Scene, picks: Picks) -> str:
    """How many keys of what, for a label."""
    count = sum(
        len(p.frames)
        if p.frames is not None
        else len(scene.curves[ref].keys)
        if (ref := ChannelRef(p.part, p.channel)) in scene.curves
        else 0
        for p in picks
    )
    keys = counted(count, "key")
    if picks and len({(p.part, p.channel) for p in picks}) == 1:
        return f"{keys} of {named(scene, ChannelRef(picks[0].part, picks[0].channel))}"
    return f"{keys} of {counted(len(picks), 'channel')}"
