"""By how much something must be bent to be as long as is wanted."""

from __future__ import annotations

from collections.abc import Callable

import numpy as np

from bindu.core.curves.model import Array

MOST_ROUNDS = 60
NEAR = 1e-15
"""How near, as a share of what is straight, is as near as numbers come."""


def bend_for(far: Callable[[Array], Array], most: Array, wanted: Array) -> Array:
    """Looks for the bend between 0 and the most, each for itself, by false position with the change
    of Illinois (M. Dowell and P. Jarratt, "A modified regula falsi method for computing the root of
    an equation", BIT 11, 1971), in the square of the bend: near straight, what is lost of the
    length goes as that.

    Args:
        far: how far the end is out for bends, metres, shape (N,); less for more, and even. Each of
            its numbers depends on the bend of the same place alone.
        most: the largest bends, by which the end is nearer than is wanted, shape (N,).
        wanted: metres, shape (N,).

    Returns:
        Shape (N,); where the least or the most bend is not enough, that one.
    """
    low, high = np.zeros_like(most), most * most
    above, below = far(np.sqrt(low)) - wanted, far(np.sqrt(high)) - wanted
    near = NEAR * (above + wanted)
    found = np.where(above <= near, low, high)
    searched = (above > near) & (below < -near)
    was_above = was_below = np.zeros_like(searched)
    for _ in range(MOST_ROUNDS):
        if not searched.any():
            break
        between = low + (high - low) * (above / np.where(searched, above - below, 1.0))
        found = np.where(searched, between, found)
        left = far(np.sqrt(found)) - wanted
        is_above = left > 0.0
        # An end that stays for a second time counts half.
        below = np.where(is_above, np.where(was_above, below / 2.0, below), left)
        above = np.where(is_above, left, np.where(was_below, above / 2.0, above))
        low, high = np.where(is_above, found, low), np.where(is_above, high, found)
        was_above, was_below = is_above, ~is_above
        searched = searched & (np.abs(left) > near) & (high - low > NEAR * high)
    return np.sqrt(found)
