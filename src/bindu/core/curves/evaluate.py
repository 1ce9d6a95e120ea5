"""The values of curves at any frames."""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np

from bindu.core.curves.eases import EASES
from bindu.core.curves.model import Array, Curve, Outside
from bindu.core.curves.segments import Places, Segments, segment_values, segments

SEAM = 1e-9
SEAM_SHARE = 1e-14
"""How near a repeated frame is to a key to be on it: frames, and a share of its own number, since
far away the arithmetic itself is no finer."""

UPRIGHT = 1e-12
"""The share of a segment's time below which a handle leads straight up or down."""
LEAN = 1e-15
"""The share of its own rise below which it does: the cosine of a right angle is no exact zero."""


def curve_values(curve: Curve, frames: Array) -> Array:
    """The curve's values; see ``segment_values``.

    Args:
        curve: at least one key.
        frames: any real frames, shape (F,).

    Returns:
        Values in the channel's unit, shape (F,).
    """
    if len(curve.keys) == 1:
        return np.full_like(frames, curve.keys[0].value)
    inside, offset = _shown(curve, frames)
    return segment_values(segments([curve]), _place(curve, inside), inside) + offset


def values_of_many(curves: Sequence[Curve], frames: Array) -> Array:
    """The values of B curves in one go; the same as of each by itself.

    Args:
        curves: each at least one key.
        frames: ascending, shape (F,).

    Returns:
        Values in the channels' units, shape (B, F).
    """
    parts = segments(curves)
    counts = np.diff(parts.ends, prepend=-1)
    begins = parts.ends - counts + 1
    inside = np.clip(frames, parts.start[begins, None], parts.start[parts.ends, None])
    place = _places(parts, counts, frames)
    # What goes on outside its keys in some other way is brought inside them one by one.
    moving = [row for row, curve in enumerate(curves) if not curve.holds_outside]
    if not moving:
        return segment_values(parts, place, inside)
    offset = np.zeros(inside.shape)
    for row in moving:
        inside[row], offset[row] = _shown(curves[row], frames)
        place[row] = begins[row] + _place(curves[row], inside[row])
    return segment_values(parts, place, inside) + offset


def _shown(curve: Curve, frames: Array) -> tuple[Array, Array]:
    """The frame inside its keys that a curve shows on each frame, and what is added, (F,) each."""
    first, last = curve.keys[0].frame, curve.keys[-1].frame
    inside = np.clip(frames, first, last)
    offset = np.zeros_like(frames)
    for outside, mode in ((frames < first, curve.before), (frames > last, curve.after)):
        if np.any(outside):
            with np.errstate(over="ignore", invalid="ignore"):
                inside[outside], offset[outside] = _brought_inside(curve, frames[outside], mode)
    return inside, offset


def _place(curve: Curve, inside: Array) -> Places:
    """The segment of a curve that each frame is on; a key belongs to the one to its right."""
    return np.searchsorted(curve.frames, inside, side="right") - 1


def _places(parts: Segments, counts: Places, frames: Array) -> Places:
    """The segment of each curve that each frame is on, shape (B, F): the last key at or before
    it, or the first one."""
    # Keys at or before a frame, counted for all curves at once: each begins to count on the
    # first frame that is not before it.
    begins = np.searchsorted(frames, parts.start)
    rows = np.repeat(np.arange(len(counts)), counts)
    started = np.zeros((len(counts), len(frames) + 1), dtype=np.intp)
    np.add.at(started, (rows, begins), 1)
    before = np.cumsum(started[:, :-1], axis=1)
    return np.asarray(np.maximum(before, 1) + (parts.ends - counts)[:, None])


def end_slope(curve: Curve, at_end: bool) -> float:
    """The slope, in value for each frame, with which a curve enters its first or leaves its
    last key."""
    if len(curve.keys) < 2:
        return 0.0
    parts = segments([curve])
    i = -2 if at_end else 0
    kind = curve.keys[i].interpolation
    if kind == "hold":
        return 0.0
    v = parts.value[i]
    straight = float((v[3] - v[0]) / parts.span[i])
    if kind == "linear":
        return straight
    if kind in EASES:
        ease = EASES[kind]
        return straight * (ease.end_slope if at_end else ease.start_slope)
    times = np.array([0.0, parts.first[i], parts.second[i], 1.0]) * parts.span[i]
    return _direction(times[::-1], v[::-1]) if at_end else _direction(times, v)


def _direction(times: Array, values: Array) -> float:
    """The slope of a cubic at the first of its control points, shape (4,): toward the next one
    that lies elsewhere. Where that one lies straight above or below, a function of time has no
    slope, and the straight way to the other end stands for it."""
    for n in (1, 2):
        away, rise = times[n] - times[0], values[n] - values[0]
        if abs(away) > max(UPRIGHT * abs(times[3] - times[0]), LEAN * abs(rise)):
            return float(rise / away)
        if rise != 0.0:
            break
    return float((values[3] - values[0]) / (times[3] - times[0]))


def _brought_inside(curve: Curve, frames: Array, mode: Outside) -> tuple[Array, Array]:
    """For frames outside the keys: the frame inside that is shown there, and what is added.

    A frame that falls on a seam, or on a key, but for the last bits of the arithmetic falls on it
    exactly, so that it is the segment to the right that is shown.
    """
    first, last = curve.keys[0].frame, curve.keys[-1].frame
    at_end = frames[0] > last
    if mode == "hold":
        return np.clip(frames, first, last), np.zeros_like(frames)
    if mode == "straight on":
        edge = last if at_end else first
        return np.full_like(frames, edge), end_slope(curve, bool(at_end)) * (frames - edge)
    span = last - first
    turns, along = np.divmod(frames - first, span)
    near = np.minimum(SEAM + SEAM_SHARE * np.abs(frames), span / 4.0)
    seam = along > span - near
    turns, along = turns + seam, np.where(seam | (along < near), 0.0, along)
    if mode == "mirror":
        odd = np.mod(turns, 2.0) == 1.0
        inside = first + np.where(odd, span - along, along)
        return _on_keys(curve, inside, near), np.zeros_like(frames)
    rise = curve.keys[-1].value - curve.keys[0].value if mode == "repeat with offset" else 0.0
    return _on_keys(curve, first + along, near), turns * rise


def _on_keys(curve: Curve, frames: Array, near: Array) -> Array:
    """Frames inside the keys, those within ``near`` of a key's frame brought onto it."""
    keys = curve.frames
    after = np.clip(np.searchsorted(keys, frames), 1, len(keys) - 1)
    before = after - 1
    found = np.where(frames - keys[before] < keys[after] - frames, keys[before], keys[after])
    return np.where(np.abs(found - frames) <= near, found, frames)
