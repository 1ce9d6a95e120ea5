"""A curve through the values of a function of time."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from itertools import pairwise

import numpy as np

from bindu.core.curves.evaluate import curve_values
from bindu.core.curves.keys import with_keys
from bindu.core.curves.model import Array, Curve, Key, Tangent
from bindu.core.curves.whole_frames import whole_frames

EXACT = 1e-9
JUST_BEFORE = 1e-9

Function = Callable[[Array], Array]


def fitted(function: Function, frames: Sequence[float], span: tuple[float, float]) -> Curve:
    """A curve that has the function's values on all whole frames of a span.

    Each segment between two of the frames becomes a hold, or the cubic through its ends and
    its points at one and two thirds, wherever that agrees with the function within 1e-9 on the
    whole frames inside; else it gets a key on every whole frame.

    Args:
        function: from frames, shape (N,), to values, shape (N,).
        frames: where keys must stand, in their order, at least one.
        span: first and last frame of interest.
    """
    edges = sorted(
        {*frames, *(float(edge) for edge in span if _moves_outside(function, frames, edge))}
    )
    values = function(np.array(edges))
    keys: list[Key] = []
    left = Tangent()
    for (start, end), value in zip(pairwise(edges), values[:-1], strict=True):
        segment, next_left = _segment(function, start, end, float(value), left)
        keys.extend(segment)
        left = next_left
    keys.append(Key(edges[-1], float(values[-1]), "smooth", left, Tangent(), "broken"))
    return with_keys(None, keys)


def _moves_outside(function: Function, frames: Sequence[float], edge: float) -> bool:
    """Whether the function is not held between its first or last frame and an edge."""
    if frames[0] <= edge <= frames[-1]:
        return False
    nearest = frames[0] if edge < frames[0] else frames[-1]
    inside = whole_frames(np.floor(min(nearest, edge)) + 1.0, np.ceil(max(nearest, edge)))
    seen = function(np.concatenate([[nearest], inside, [edge]]))
    return bool(np.any(np.abs(seen - seen[0]) > EXACT))


def _segment(
    function: Function, start: float, end: float, value: float, left: Tangent
) -> tuple[list[Key], Tangent]:
    """The keys from ``start`` up to, not including, ``end``, and the left tangent there."""
    third = (end - start) / 3.0
    inside = whole_frames(np.floor(start) + 1.0, end)
    seen = function(inside)
    p1, p2, p3 = function(
        np.array([start + third, end - third, end - JUST_BEFORE * max(end - start, 1.0)])
    )
    if np.all(np.abs(np.append(seen, [p1, p2, p3]) - value) <= EXACT):
        return [Key(start, value, "hold", left, Tangent(), "broken")], Tangent()
    after = float(function(np.array([end]))[0])
    # The inner Bernstein coefficients of the cubic through four points at equal distances.
    b1 = (-5.0 * value + 18.0 * p1 - 9.0 * p2 + 2.0 * after) / 6.0
    b2 = (2.0 * value - 9.0 * p1 + 18.0 * p2 - 5.0 * after) / 6.0
    right = Tangent.reaching(third, float(b1) - value)
    next_left = Tangent.reaching(third, after - float(b2))
    key = Key(start, value, "smooth", left, right, "broken")
    ends = with_keys(None, [key, Key(end, after, "smooth", next_left, mode="broken")])
    if np.all(np.abs(curve_values(ends, inside) - seen) <= EXACT):
        return [key], next_left
    frames, found = [start, *inside], [value, *seen]
    keys = [Key(f, float(v), "linear", mode="broken") for f, v in zip(frames, found, strict=True)]
    return [Key(start, value, "linear", left, mode="broken"), *keys[1:]], Tangent()
