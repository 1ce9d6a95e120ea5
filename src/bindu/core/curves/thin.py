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
    kept = {0, len(values) - 1}
    pending = [(0, len(values) - 1)]
    while pending:
        start, end = pending.pop()
        if end - start < 2:
            continue
        inside = np.arange(start + 1, end)
        line = np.interp(inside, (start, end), (values[start], values[end]))
        apart = np.abs(values[inside] - line)
        worst = int(np.argmax(apart))
        if apart[worst] > tolerance:
            middle = int(inside[worst])
            kept.add(middle)
            pending += [(start, middle), (middle, end)]
    return sorted(kept)
