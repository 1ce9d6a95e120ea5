"""The values of a curve at any frames."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
import numpy.typing as npt

from bindu.core.curves.bezier import cubic, limited, solve_time
from bindu.core.curves.eases import EASES
from bindu.core.curves.model import Array, Curve, Interpolation, Outside, Tangent

SEAM = 1e-9
SEAM_SHARE = 1e-14
"""How near a repeated frame is to a key to be on it: frames, and a share of its own number, since
far away the arithmetic itself is no finer."""

UPRIGHT = 1e-12
"""The share of a segment's time below which a handle leads straight up or down."""


@dataclass(frozen=True)
class Segments:
    """A curve's segments as arrays of shape (K-1,): ends and inner control points."""

    start: Array
    span: Array
    kind: tuple[Interpolation, ...]
    value: Array  # (K-1, 4): the control points' values
    first: Array  # inner control points' times as shares of the span
    second: Array


def segments(curve: Curve) -> Segments:
    """The segments between the keys of a curve with at least two keys."""
    keys = curve.keys
    start, span = curve.frames[:-1], np.diff(curve.frames)
    right = _reaches([key.right for key in keys[:-1]])
    left = _reaches([key.left for key in keys[1:]])
    right, left = limited(right, left, span)
    values = np.array([key.value for key in keys])
    points = np.stack(
        [values[:-1], values[:-1] + right[:, 1], values[1:] - left[:, 1], values[1:]], axis=1
    )
    return Segments(
        start,
        span,
        tuple(key.interpolation for key in keys[:-1]),
        points,
        right[:, 0] / span,
        1.0 - left[:, 0] / span,
    )


def _reaches(tangents: Sequence[Tangent]) -> Array:
    """How far handles reach, in frames and value, shape (K, 2); see ``Tangent.reach``."""
    angles = np.radians(np.array([tangent.angle for tangent in tangents]))
    lengths = np.array([tangent.length for tangent in tangents])
    along = np.maximum(lengths * np.cos(angles), 0.0)
    return np.stack([along, lengths * np.sin(angles)], axis=1)


def curve_values(curve: Curve, frames: Array) -> Array:
    """The curve's values.

    Smooth segments are cubic Béziers in (frame, value), solved for the frame.

    Args:
        curve: at least one key.
        frames: any real frames, shape (F,).

    Returns:
        Values in the channel's unit, shape (F,).
    """
    keys = curve.keys
    if len(keys) == 1:
        return np.full_like(frames, keys[0].value)
    first, last = keys[0].frame, keys[-1].frame
    inside = np.clip(frames, first, last)
    offset = np.zeros_like(frames)
    for outside, mode in ((frames < first, curve.before), (frames > last, curve.after)):
        if np.any(outside):
            with np.errstate(over="ignore", invalid="ignore"):
                inside[outside], offset[outside] = _brought_inside(curve, frames[outside], mode)
    return _inside_values(curve, inside) + offset


def end_slope(curve: Curve, at_end: bool) -> float:
    """The slope, in value for each frame, with which a curve enters its first or leaves its
    last key."""
    if len(curve.keys) < 2:
        return 0.0
    parts = segments(curve)
    i = -1 if at_end else 0
    if parts.kind[i] == "hold":
        return 0.0
    v = parts.value[i]
    straight = float((v[3] - v[0]) / parts.span[i])
    if parts.kind[i] == "linear":
        return straight
    if parts.kind[i] in EASES:
        ease = EASES[parts.kind[i]]
        return straight * (ease.end_slope if at_end else ease.start_slope)
    times = np.array([0.0, parts.first[i], parts.second[i], 1.0]) * parts.span[i]
    return _direction(times[::-1], v[::-1]) if at_end else _direction(times, v)


def _direction(times: Array, values: Array) -> float:
    """The slope of a cubic at the first of its control points, shape (4,): toward the next one
    that lies elsewhere. Where that one lies straight above or below, a function of time has no
    slope, and the straight way to the other end stands for it."""
    for n in (1, 2):
        away, rise = times[n] - times[0], values[n] - values[0]
        if abs(away) > UPRIGHT * abs(times[3] - times[0]):
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


def _inside_values(curve: Curve, frames: Array) -> Array:
    """Values between the first and the last key, both included."""
    kinds = {key.interpolation for key in curve.keys[:-1]}
    if kinds == {"linear"}:
        values = np.array([key.value for key in curve.keys])
        return np.asarray(np.interp(frames, curve.frames, values))
    parts = segments(curve)
    index = np.searchsorted(curve.frames, frames, side="right") - 1
    at_last = index >= len(parts.start)
    index = np.minimum(index, len(parts.start) - 1)
    share = (frames - parts.start[index]) / parts.span[index]
    if kinds == {"smooth"}:
        values = _smooth(parts, index, share)
    else:
        values = parts.value[index, 0].copy()
        kind = np.array(parts.kind)[index]
        line = kind == "linear"
        ends = parts.value[index[line]]
        values[line] += share[line] * (ends[:, 3] - ends[:, 0])
        bend = kind == "smooth"
        values[bend] = _smooth(parts, index[bend], share[bend])
        for name in kinds & EASES.keys():
            eased = kind == name
            ends = parts.value[index[eased]]
            values[eased] += EASES[name].along(share[eased]) * (ends[:, 3] - ends[:, 0])
    values[at_last] = curve.keys[-1].value
    return values


def _smooth(parts: Segments, index: npt.NDArray[np.intp], share: Array) -> Array:
    s = solve_time(share, parts.first[index], parts.second[index])
    points = parts.value[index]
    return cubic(s, points[:, 0], points[:, 1], points[:, 2], points[:, 3])
