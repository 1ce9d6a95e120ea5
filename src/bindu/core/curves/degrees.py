"""Keys moved by degrees toward something, and thinned within a tolerance."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import replace
from typing import Literal

import numpy as np

from bindu.core.curves.evaluate import curve_values
from bindu.core.curves.keys import found_key, with_keys
from bindu.core.curves.model import Array, Curve, Key
from bindu.core.curves.tangents import with_smart_tangents

Toward = Literal[
    "left", "right", "line", "ease", "default", "average", "frame", "mirrored", "reference",
    "smooth",
]  # fmt: skip
FINE = 8
"""Into how many parts a frame is divided to see whether a curve stays within a tolerance."""


def neighbours(curve: Curve, chosen: Sequence[float]) -> list[tuple[Key, Key]]:
    """For each chosen key the nearest ones on its left and right that are not chosen; the first or
    the last chosen one itself where there is none."""
    gone = set(chosen)
    left: dict[float, Key] = {}
    last = None
    for key in curve.keys:
        if key.frame in gone:
            left[key.frame] = last or key
        else:
            last = key
    right: dict[float, Key] = {}
    last = None
    for key in reversed(curve.keys):
        if key.frame in gone:
            right[key.frame] = last or key
        else:
            last = key
    return [(left[frame], right[frame]) for frame in chosen]


def targets(curve: Curve, chosen: Sequence[float], toward: Toward, given: float | Array) -> Array:
    """Where chosen keys would go wholly, shape (N,).

    Args:
        curve: the curve.
        chosen: frames of its keys, ascending.
        toward: ``left`` and ``right``: the nearest key there that is not chosen; ``line`` and
            ``ease``: the straight line between these two, or 3s² - 2s³ of the way; ``average``: of
            the chosen keys; ``smooth``: the straight line between the keys next to each;
            otherwise ``given``.
        given: the value of the default, of another frame, of the mirrored pose or of a curve that
            was kept; one for all, or one for each, shape (N,).
    """
    values = np.array([key.value for key in curve.keys if key.frame in set(chosen)])
    if toward == "average":
        return np.full(len(values), values.mean())
    if toward == "smooth":
        return _between_neighbours(curve, chosen)
    if toward not in ("left", "right", "line", "ease"):
        return np.broadcast_to(given, len(values))
    pairs = neighbours(curve, chosen)
    a = np.array([one.value for one, _ in pairs])
    b = np.array([one.value for _, one in pairs])
    if toward in ("left", "right"):
        return a if toward == "left" else b
    start = np.array([one.frame for one, _ in pairs])
    length = np.array([one.frame for _, one in pairs]) - start
    share = (np.array(chosen) - start) / np.where(length > 0.0, length, 1.0)
    if toward == "ease":
        share = share * share * (3.0 - 2.0 * share)
    return np.asarray(a + share * (b - a))


def moved_toward(
    curve: Curve,
    chosen: Sequence[float],
    toward: Toward,
    degree: float,
    given: float | Array = 0.0,
) -> Curve:
    """The curve with the values of chosen keys moved by a share of the way to where they would go;
    below 0 away from it. See ``targets``; the frames may stand in any order, and what is given for
    each belongs to them by ascending frame.

    Raises:
        Refusal: when there is no key on one of the frames.
    """
    frames = sorted(set(chosen))
    for frame in frames:
        found_key(curve, frame)
    wholly = dict(zip(frames, targets(curve, frames, toward, given), strict=True))
    keys = [
        replace(key, value=key.value + degree * (float(wholly[key.frame]) - key.value))
        if key.frame in wholly
        else key
        for key in curve.keys
    ]
    return with_keys(replace(curve, keys=()), keys)


def thinned(curve: Curve, chosen: Sequence[float], tolerance: float) -> Curve:
    """The curve without those chosen keys that it can do without: on a fine grid it stays within a
    tolerance of what it was. The keys that change it least go first.

    Args:
        curve: at least one key.
        chosen: frames of keys that may go; the first and the last key of the curve stay.
        tolerance: in the unit of its values.
    """
    asked = set(chosen)
    kept = list(curve.keys)
    grid = _fine(curve)
    wanted = curve_values(curve, grid)
    stays: set[float] = set()
    while True:
        costs = [
            (_cost(kept, n, curve, grid, wanted, tolerance), n)
            for n in range(1, len(kept) - 1)
            if kept[n].frame in asked and kept[n].frame not in stays
        ]
        good = sorted((cost, n) for cost, n in costs if cost <= tolerance)
        stays |= {kept[n].frame for cost, n in costs if cost > tolerance}
        if not good:
            return with_keys(replace(curve, keys=()), kept)
        taken: list[int] = []
        for _, n in good:
            # Those that share a neighbourhood with one that goes are looked at again.
            if all(abs(n - other) > 3 for other in taken):
                taken.append(n)
        kept = [key for n, key in enumerate(kept) if n not in set(taken)]
        kept = list(with_smart_tangents(tuple(kept)))


def _cost(
    keys: Sequence[Key],
    n: int,
    curve: Curve,
    grid: Array,
    wanted: Array,
    tolerance: float,
) -> float:
    """How far a curve would be from what it was around one of its keys without it."""
    first, last = max(n - 3, 0), min(n + 3, len(keys) - 1)
    part = [key for m, key in enumerate(keys[first : last + 1], first) if m != n]
    pinned = [part[0], *part[1:-1], part[-1]]
    made = list(with_smart_tangents(tuple(pinned)))
    # What lies farther out keeps its tangents.
    made[0] = part[0] if first > 0 else made[0]
    made[-1] = part[-1] if last < len(keys) - 1 else made[-1]
    local = Curve(tuple(made))
    low, high = grid.searchsorted([keys[first].frame, keys[last].frame])
    at = grid[low : high + 1]
    return float(np.abs(curve_values(local, at) - wanted[low : high + 1]).max())


def _fine(curve: Curve) -> Array:
    first, last = curve.keys[0].frame, curve.keys[-1].frame
    count = int(np.ceil((last - first) * FINE)) + 1
    return np.unique(np.concatenate([np.linspace(first, last, count), curve.frames]))


def _between_neighbours(curve: Curve, chosen: Sequence[float]) -> Array:
    """On the straight lines between the keys next to each chosen one; the ends stay."""
    keys, found = curve.keys, []
    place = {key.frame: n for n, key in enumerate(keys)}
    for frame in chosen:
        n = place[frame]
        if 0 < n < len(keys) - 1:
            a, b = keys[n - 1], keys[n + 1]
            share = (frame - a.frame) / (b.frame - a.frame)
            found.append(a.value + share * (b.value - a.value))
        else:
            found.append(keys[n].value)
    return np.array(found)
