"""As few keys as a tolerance allows."""

from __future__ import annotations

import numpy as np

from bindu.core.curves.model import Array


def thinned_places(values: Array, tolerance: float) -> list[int]:
    """Which of evenly spaced values must stay so that straight lines between them keep within a
    tolerance of all (U. Ramer, "An iterative procedure for the polygonal approximation of plane
    curves", Computer Graphics and Image Processing 1, 1972, measured along the value axis).

    Args:
        values: shape (N,).
        tolerance: in the values' unit.

    Returns:
        Places in ascending order; the first and the last always stay.
    """
    every = np.arange(len(values))
    kept = np.unique([0, len(values) - 1])
    while True:
        apart = np.abs(values - np.interp(every, kept, values[kept]))
        segment = np.searchsorted(kept, every, "right")
        worst = np.maximum.reduceat(apart, kept)[segment - 1]
        far = np.flatnonzero((apart > tolerance) & (apart == worst))
        if not len(far):
            return [int(place) for place in kept]
        # Of each segment the first of its worst values.
        _, first = np.unique(segment[far], return_index=True)
        kept = np.union1d(kept, far[first])
