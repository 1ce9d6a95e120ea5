"""How far a chain goes out toward a goal, and how it gets longer."""

from __future__ import annotations

import numpy as np

from bindu.core.curves.model import Array

LARGEST_SOFT = 0.3


def softened(distance: Array, reach: Array, soft: Array) -> Array:
    """How far out a chain goes toward a goal: as far as the goal is, but over the last share of its
    reach ever slower, so that it never snaps straight.

    With s = soft · reach and x the distance beyond reach - s this is reach - s · exp(-x / s);
    value and slope are continuous.

    Args:
        distance: from the base to the goal, shape (…).
        reach: the length of the straight chain, shape (…).
        soft: the share of the reach, 0 to 0.3, shape (…).

    Returns:
        Shape (…), never more than the reach.
    """
    span = np.clip(soft, 0.0, LARGEST_SOFT) * reach
    beyond = distance - (reach - span)
    slows = (beyond > 0.0) & (span > 0.0)
    safe = np.where(slows, span, 1.0)
    eased = reach - span * np.exp(-np.where(slows, beyond, 0.0) / safe)
    return np.where(slows, eased, np.minimum(distance, reach))


def hardened(gone: Array, reach: Array, soft: Array) -> Array:
    """How far away a goal is toward which a chain goes out so far; see ``softened``, which it takes
    back. Beyond what a number can tell the chain is straight whatever the goal.

    Args:
        gone: how far out the chain goes, shape (…).
        reach, soft: as there.

    Returns:
        Shape (…).
    """
    span = np.clip(soft, 0.0, LARGEST_SOFT) * reach
    slows = (span > 0.0) & (gone > reach - span)
    left = np.maximum(reach - gone, 1e-12 * reach)
    safe = np.where(slows, span, 1.0)
    beyond = -safe * np.log(np.where(slows, left, safe) / safe)
    return np.where(slows, reach - span + beyond, gone)


def lengthening(distance: Array, gone: Array, stretch: Array) -> Array:
    """By which factor all segments get longer: 1 + stretch · (distance / gone - 1), so that at a
    stretch of 1 a goal beyond the reach is met.

    Args:
        distance: from the base to the goal, shape (…).
        gone: how far out the chain goes without it; see ``softened``.
        stretch: 0 to 1, shape (…).

    Returns:
        Shape (…); 1 where the chain goes as far as the goal is, to the last bit.
    """
    share = np.clip(stretch, 0.0, 1.0)
    apart = (gone > 0.0) & (gone != distance)
    ratio = np.where(apart, distance, 1.0) / np.where(apart, gone, 1.0)
    return np.asarray(1.0 + share * (ratio - 1.0))
