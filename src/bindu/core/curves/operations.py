"""Operations on many keys of a curve at once: in time, in value, in shape."""

from __future__ import annotations

import math
from collections.abc import Callable, Collection
from dataclasses import replace
from itertools import pairwise
from typing import Literal

import numpy as np

from bindu.core.curves.evaluate import curve_values
from bindu.core.curves.keys import found_key, with_inserted_key, with_keys
from bindu.core.curves.model import Curve, Interpolation, Key, Tangent
from bindu.core.curves.tangents import guessed_slope, with_smart_tangents
from bindu.core.refusal import Refusal

TangentChange = Literal["join", "break", "flat", "linear", "smart"]
About = Literal["left", "right", "average", "default", "value"]


def moved_in_time(curve: Curve, chosen: Collection[float], to: Callable[[float], float]) -> Curve:
    """The curve with its chosen keys at other frames; keys that stay are replaced by keys that
    land on them. Handles are stretched as the time around them is.

    Args:
        curve: the curve.
        chosen: frames of keys.
        to: from frames to frames, straight: a shift, a scaling, or with a negative factor a
            reversal.

    Raises:
        Refusal: where two of the chosen keys land on one frame.
    """
    factor = to(1.0) - to(0.0)
    moving = set(chosen)
    keys = [found_key(curve, frame) for frame in sorted(moving)]
    staying = [key for key in curve.keys if key.frame not in moving]
    kinds = {b.frame: a.interpolation for a, b in pairwise(curve.keys)}
    landed: dict[float, Key] = {}
    for key in keys:
        frame = tidy(to(key.frame))
        if frame in landed:
            raise Refusal(f"two keys would stand at frame {frame:g}; scale less.")
        moved = replace(key, frame=frame)
        if factor < 0.0:
            moved = _turned_round(moved, kinds.get(key.frame, key.interpolation))
        landed[frame] = _stretched(moved, abs(factor), 1.0)
    kept = [key for key in staying if key.frame not in landed]
    return with_keys(replace(curve, keys=()), [*kept, *landed.values()])


def scaled_values(
    curve: Curve, chosen: Collection[float], factor: float, about: About, value: float = 0.0
) -> Curve:
    """The curve with the values of chosen keys scaled.

    Args:
        curve: the curve.
        chosen: frames of keys.
        factor: how far each key's distance goes.
        about: the value from which the distance is measured: that of the nearest unchosen key
            on the left or right, the average of the chosen keys, or ``value`` (for ``default``
            too).
        value: see ``about``.
    """
    keys = {frame: found_key(curve, frame) for frame in chosen}
    average = math.fsum(key.value for key in keys.values()) / max(len(keys), 1)
    changed = []
    for key in keys.values():
        base = {"average": average, "default": value, "value": value}.get(about)
        if base is None:
            base = _neighbour(curve, keys, key, about).value
        scaled = replace(key, value=base + factor * (key.value - base))
        changed.append(_stretched(scaled, 1.0, factor))
    return with_keys(curve, changed)


def shifted_values(curve: Curve, chosen: Collection[float], by: float) -> Curve:
    """The curve with a number added to the values of chosen keys."""
    keys = [found_key(curve, frame) for frame in chosen]
    return with_keys(curve, [replace(key, value=key.value + by) for key in keys])


def with_interpolation(
    curve: Curve, chosen: Collection[float], kind: Interpolation, smart: bool = False
) -> Curve:
    """The curve with the segments to the right of chosen keys made of one kind; ``smart`` also
    lets the tangents of the keys follow their neighbours again."""
    keys = [replace(found_key(curve, frame), interpolation=kind) for frame in chosen]
    return with_keys(curve, [replace(k, mode="smart") for k in keys] if smart else keys)


def with_tangents(curve: Curve, chosen: Collection[float], change: TangentChange) -> Curve:
    """The curve with the tangents of chosen keys joined, broken, made flat, linear (toward the
    neighbours), or left to follow the neighbours."""
    places = {key.frame: n for n, key in enumerate(curve.keys)}
    return with_keys(
        curve,
        [_with_tangent(curve.keys, places[found_key(curve, f).frame], change) for f in chosen],
    )


def with_frames_inserted(curve: Curve, at: float, count: float, pause: bool) -> Curve:
    """The curve with everything from a frame on moved later.

    With ``pause`` the value at that frame is held for as long, and the shape before and after
    stays; without, the segment across the frame becomes longer.
    """
    last = curve.keys[-1].frame
    if pause and curve.keys[0].frame <= at <= last:
        if curve.key_at(at) is None:
            curve = with_inserted_key(curve, at)
        key = found_key(curve, at)
        later = [replace(k, frame=k.frame + count) for k in curve.keys if k.frame >= at]
        held = replace(_pinned_key(key), interpolation="hold")
        later[0] = _pinned_key(later[0])
        earlier = [k for k in curve.keys if k.frame < at]
        return with_keys(replace(curve, keys=()), (*earlier, held, *later))
    moved = [replace(k, frame=k.frame + count) if k.frame >= at else k for k in curve.keys]
    return with_keys(replace(curve, keys=()), moved)


def with_frames_taken_out(
    curve: Curve, first: float, count: float, goes_on: bool = False
) -> Curve | None:
    """The curve without the keys from ``first`` on for ``count`` frames, everything behind them
    moved earlier; None where no key is left. With ``goes_on``, what the last of these keys says
    goes on from ``first`` where no other key lands there."""
    after = first + count
    gone = [key for key in curve.keys if first <= key.frame < after]
    kept = [replace(gone[-1], frame=first)] if goes_on and gone else []
    kept += [
        replace(k, frame=k.frame - count) if k.frame >= after else k
        for k in curve.keys
        if not first <= k.frame < after
    ]
    return with_keys(replace(curve, keys=()), kept) if kept else None


def cropped(curve: Curve, first: float, last: float) -> Curve:
    """The curve with keys from ``first`` to ``last`` only, its shape between them kept."""
    for edge in (first, last):
        inside = curve.keys[0].frame < edge < curve.keys[-1].frame
        if inside and curve.key_at(edge) is None:
            curve = with_inserted_key(curve, edge)
    kept = tuple(key for key in curve.keys if first <= key.frame <= last)
    if not kept:
        value = float(curve_values(curve, np.array([float(first)]))[0])
        return with_keys(replace(curve, keys=()), [Key(first, value)])
    pinned = list(kept)
    if kept[0] is not curve.keys[0]:
        pinned[0] = _pinned_key(kept[0])
    if kept[-1] is not curve.keys[-1]:
        pinned[-1] = _pinned_key(pinned[-1])
    return replace(curve, keys=with_smart_tangents(tuple(pinned)))


def with_ends_met(curve: Curve, values: bool) -> Curve:
    """The curve as a cycle: the last key takes the first one's value (unless ``values`` is
    off, for a cycle that goes on by an offset), and both ends share one slope, guessed as for a
    smart key between the neighbours on either side of the seam.

    Raises:
        Refusal: when it has fewer than three keys.
    """
    if len(curve.keys) < 3:
        raise Refusal("a cycle needs at least three keys.")
    first, last = curve.keys[0], curve.keys[-1]
    if values:
        last = replace(last, value=first.value)
    before, after = curve.keys[-2], curve.keys[1]
    into, out = last.frame - before.frame, after.frame - first.frame
    slope = guessed_slope(into, last.value - before.value, out, after.value - first.value)
    ends = [
        replace(key, left=_sloped(slope, into), right=_sloped(slope, out), mode="joined")
        for key in (first, last)
    ]
    return with_keys(curve, ends)


def tidy(frame: float) -> float:
    """A frame without the last bits that scaling there and back leaves."""
    whole = round(frame)
    return float(whole) if abs(frame - whole) < 1e-9 else frame


def _sloped(slope: float, span: float) -> Tangent:
    return Tangent.reaching(span / 3.0, slope * span / 3.0)


def _stretched(key: Key, frames: float, value: float) -> Key:
    if (frames, value) == (1.0, 1.0) or key.mode == "smart":
        return key
    left, right = (
        Tangent.reaching(t.reach[0] * frames, t.reach[1] * value) for t in (key.left, key.right)
    )
    return replace(key, left=left, right=right)


REVERSED: dict[Interpolation, Interpolation] = {"ease in": "ease out", "ease out": "ease in"}


def _turned_round(key: Key, kind: Interpolation) -> Key:
    kind = REVERSED.get(kind, kind)
    left, right = (Tangent(-tangent.angle, tangent.length) for tangent in (key.right, key.left))
    return replace(key, left=left, right=right, interpolation=kind)


def _neighbour(curve: Curve, chosen: Collection[float], key: Key, side: str) -> Key:
    others = [k for k in curve.keys if k.frame not in chosen]
    found = [k for k in others if (k.frame < key.frame) == (side == "left")]
    if not found:
        raise Refusal(f"no unchosen key lies on the {side} of frame {key.frame:g}.")
    return found[-1] if side == "left" else found[0]


def _with_tangent(keys: tuple[Key, ...], place: int, change: TangentChange) -> Key:
    key = keys[place]
    if change == "smart":
        return replace(key, mode="smart")
    if change == "break":
        return replace(key, mode="broken")
    if change == "join":
        slope = _slope_through(key)
        return _angled(key, slope, slope, "joined")
    if change == "flat":
        return _angled(key, 0.0, 0.0, "joined")
    before = keys[place - 1] if place else None
    after = keys[place + 1] if place + 1 < len(keys) else None
    left = _straight(before, key) if before else None
    right = _straight(key, after) if after else None
    return _angled(key, left or right or 0.0, right or left or 0.0, "broken")


def _slope_through(key: Key) -> float:
    """The mean direction of both handles, as a slope."""
    frames = key.left.reach[0] + key.right.reach[0]
    rise = key.left.reach[1] + key.right.reach[1]
    return rise / frames if frames > 0.0 else 0.0


def _straight(a: Key, b: Key) -> float:
    return (b.value - a.value) / (b.frame - a.frame)


def _angled(key: Key, left: float, right: float, mode: Literal["joined", "broken"]) -> Key:
    """The key with other slopes, its handles reaching as many frames as before."""
    one, two = max(key.left.reach[0], 1e-6), max(key.right.reach[0], 1e-6)
    return replace(
        key,
        left=Tangent.reaching(one, left * one),
        right=Tangent.reaching(two, right * two),
        mode=mode,
    )


def _pinned_key(key: Key) -> Key:
    return replace(key, mode="joined") if key.mode == "smart" else key
