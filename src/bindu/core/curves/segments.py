"""The segments between keys as arrays, of one curve or of many at once."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
import numpy.typing as npt

from bindu.core.curves.bezier import at_an_even_pace, cubic, limited, solve_time
from bindu.core.curves.eases import EASES
from bindu.core.curves.model import Array, Curve, Interpolation

Places = npt.NDArray[np.intp]


@dataclass(frozen=True)
class Segments:
    """The segments to the right of all keys of some curves, arrays of shape (K,) for K keys.

    To the right of a curve's last key lies one that stands still, of the kind of the one before
    it, one frame long.

    Attributes:
        start: the frame of the key.
        span: frames to the next one.
        kinds: the interpolations that occur.
        kind: the place of its interpolation among these.
        value: the control points' values, shape (K, 4).
        first, second: the inner control points' times as shares of the span.
        ends: for each curve the place of its last key.
    """

    start: Array
    span: Array
    kinds: tuple[Interpolation, ...]
    kind: npt.NDArray[np.int8]
    value: Array
    first: Array
    second: Array
    ends: Places


def segments(curves: Sequence[Curve]) -> Segments:
    """The segments of curves, one curve behind the other."""
    numbers = np.concatenate([curve.numbers for curve in curves])
    ends = np.cumsum([len(curve.keys) for curve in curves]) - 1
    after = np.minimum(np.arange(len(numbers)) + 1, len(numbers) - 1)
    after[ends] = ends
    start, value = numbers[:, 0], numbers[:, 1]
    span = start[after] - start
    span[ends] = 1.0
    right, left = limited(_reach(numbers[:, 4:]), _reach(numbers[after, 2:4]), span)
    right[ends], left[ends] = 0.0, 0.0
    points = np.stack([value, value + right[:, 1], value[after] - left[:, 1], value[after]], axis=1)
    kinds = tuple(sorted(frozenset().union(*(curve.kinds for curve in curves))))
    first, second = right[:, 0] / span, 1.0 - left[:, 0] / span
    first[ends], second[ends] = 1.0 / 3.0, 2.0 / 3.0
    return Segments(start, span, kinds, _kind_places(kinds, curves), points, first, second, ends)


def _kind_places(kinds: Sequence[Interpolation], curves: Sequence[Curve]) -> npt.NDArray[np.int8]:
    """The place among these kinds of the segment to the right of each key."""
    if len(kinds) == 1:
        return np.zeros(sum(len(curve.keys) for curve in curves), dtype=np.int8)
    places = [kinds.index(kind) for curve in curves for kind in _kinds(curve)]
    return np.array(places, dtype=np.int8)


def _kinds(curve: Curve) -> list[Interpolation]:
    """The interpolation to the right of each key; behind the last one that before it."""
    kinds: list[Interpolation] = [key.interpolation for key in curve.keys[:-1]]
    return [*kinds, kinds[-1] if kinds else "hold"]


def _reach(tangents: Array) -> Array:
    """How far handles reach, in frames and value, shape (K, 2), from angles and lengths of that
    shape; see ``Tangent.reach``."""
    angles, lengths = np.radians(tangents[:, 0]), tangents[:, 1]
    along = np.maximum(lengths * np.cos(angles), 0.0)
    return np.stack([along, lengths * np.sin(angles)], axis=1)


def segment_values(parts: Segments, place: Places, frames: Array) -> Array:
    """Values on segments.

    Smooth segments are cubic Béziers in (frame, value), solved for the frame.

    Args:
        parts: the segments.
        place: which segment each frame is on, any shape.
        frames: of the same shape.

    Returns:
        The same shape.
    """
    share = (frames - parts.start.take(place)) / parts.span.take(place)
    if len(parts.kinds) == 1:
        return _of_kind(parts.kinds[0], parts, place, share)
    values = np.empty(frames.shape)
    kind = parts.kind[place]
    for n, one in enumerate(parts.kinds):
        here = kind == n
        values[here] = _of_kind(one, parts, place[here], share[here])
    return values


def _of_kind(kind: Interpolation, parts: Segments, place: Places, share: Array) -> Array:
    if kind == "smooth":
        s = share
        if not at_an_even_pace(parts.first, parts.second):
            s = solve_time(share, parts.first.take(place), parts.second.take(place))
        return cubic(s, *(parts.value[:, n].take(place) for n in range(4)))
    start = parts.value[:, 0].take(place)
    if kind == "hold":
        return start
    rise = (parts.value[:, 3] - parts.value[:, 0]).take(place)
    return np.asarray(start + rise * (EASES[kind].along(share) if kind in EASES else share))
