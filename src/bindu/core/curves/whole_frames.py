"""Whole frames, as many as there is room for."""

from __future__ import annotations

import numpy as np

from bindu.core.curves.model import Array
from bindu.core.refusal import Refusal

MOST = 1_000_000


def whole_frames(first: float, end: float) -> Array:
    """The whole frames from ``first`` on, up to and without ``end``, shape (N,).

    Raises:
        Refusal: when they are too many to look at each.
    """
    start = np.ceil(first)
    if end - start > MOST:
        raise Refusal(
            f"{end - start:,.0f} frames lie between keys at {first:,.0f} and {end:,.0f}; the most "
            f"that are looked at are {MOST:,}. Bring its far keys nearer first.",
            code="too much",
        )
    return np.arange(start, end)
