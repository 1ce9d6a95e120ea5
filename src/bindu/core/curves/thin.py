"""As few keys as a tolerance allows.

Source: U. Ramer, "An iterative procedure for the polygonal approximation of plane curves", Computer
Graphics and Image Processing 1, 1972; measured between the values of one frame.
"""

from __future__ import annotations

from collections.abc import Callable

import numpy as np

from bindu.core.curves.model import Array
from bindu.core.curves.segments import Places

Apart = Callable[[Places, Places, Places, Array], Array]
"""How far what goes from the left value to the right one is from a value in between: of places in
all values, the places left and right of them, and the shares of the way."""


def thinned_places(values: Array, tolerance: float) -> list[int]:
    """Which of evenly spaced values must stay so that straight lines between them keep within a
    tolerance of all.

    Args:
        values: shape (F,).
        tolerance: in the values' unit.

    Returns:
        Places in ascending order; the first and the last always stay.
    """
    return [int(n) for n in thinned_rows(values[None], np.array([tolerance]))[0]]


def thinned_rows(rows: Array, tolerances: Array) -> list[Places]:
    """The same for many rows of numbers at once.

    Args:
        rows: shape (N, F).
        tolerances: of each, shape (N,); 0: all stay.
    """
    flat = rows.ravel()

    def apart(at: Places, left: Places, right: Places, share: Array) -> Array:
        return np.abs(flat[at] - (flat[left] + share * (flat[right] - flat[left])))

    return thinned(rows.shape[0], rows.shape[1], tolerances, apart)


def thinned(count: int, frames: int, tolerances: Array, apart: Apart) -> list[Places]:
    """The same for rows of values of any kind. All rows stand behind each other, and are looked at
    in rounds: in each the farthest value of each stretch that is not yet near enough comes to stay,
    until none is left.

    Args:
        count, frames: how many rows, and values of a row.
        tolerances: of each row, shape (N,); 0: all stay.
        apart: see there.
    """
    inside = np.ones((count, frames), dtype=bool)
    inside[:, [0, -1]] = False
    inside[tolerances == 0.0] = False
    kept, at = [np.flatnonzero(~inside)], np.flatnonzero(inside)
    left = at // frames * frames
    right = left + frames - 1
    limit = np.repeat(tolerances, frames)
    while len(at):
        far = apart(at, left, right, (at - left) / (right - left))
        starts = np.flatnonzero(np.diff(left, prepend=-1))
        lengths = np.diff(starts, append=len(at))
        worst = np.repeat(np.maximum.reduceat(far, starts), lengths)
        # Of each stretch the first of its farthest values.
        first = np.minimum.reduceat(np.where(far == worst, at, count * frames), starts)
        split = np.repeat(first, lengths)
        kept.append(first[worst[starts] > limit[first]])
        more = (worst > limit[at]) & (at != split)
        at, left, right, split = at[more], left[more], right[more], split[more]
        before = at < split
        left, right = np.where(before, left, split), np.where(before, split, right)
    places = np.sort(np.concatenate(kept))
    ends = np.searchsorted(places, np.arange(1, count) * frames)
    return [row - n * frames for n, row in enumerate(np.split(places, ends))][:count]
