"""A chain of two segments that is bent, from the pose that comes in, until it is as long as is
wanted: in closed form, about a hinge in its middle."""

from __future__ import annotations

from typing import NamedTuple

import numpy as np

from bindu.core.curves.model import Array
from bindu.core.geometry.vectors import cross, dot, length

STRAIGHT = np.radians(0.01)
"""How near to straight a pose that comes in is bent to neither side."""
SAME = 1e-12
"""Which share of the reach a length may be off to be the one that comes in: near straight an angle
is known to the square root of that only."""


class Hinge(NamedTuple):
    """How the distance from the base to the end goes with the turn δ of the middle about its hinge:
    distance² = mean + swing · cos(δ - straight).

    Attributes:
        mean, swing: square metres, shape (…).
        straight: the turn at which the chain is longest, radians, shape (…).
        length: of the chain as it comes in, metres, shape (…).
    """

    mean: Array
    swing: Array
    straight: Array
    length: Array

    @property
    def reach(self) -> Array:
        """The longest that the chain can be, metres, shape (…)."""
        return np.sqrt(self.mean + self.swing)

    @property
    def least(self) -> Array:
        """The shortest, metres, shape (…)."""
        return np.sqrt(np.maximum(self.mean - self.swing, 0.0))


def hinge_of(upper: Array, lower: Array, axis: Array) -> Hinge:
    """The hinge between two segments.

    |a + R(h, δ)·b|² = A + B·cos δ + C·sin δ, with A = a² + b² + 2 a·b∥, B = 2 a·b⊥ and
    C = 2 a·(h × b⊥), where b∥ and b⊥ are b along and across h (by Rodrigues' formula).

    Args:
        upper: from the base to the middle, shape (…, 3), metres.
        lower: from the middle to the end, shape (…, 3).
        axis: the bend axis, of length 1, shape (…, 3).
    """
    along = dot(lower, axis)[..., None] * axis
    across = lower - along
    mean = dot(upper, upper) + dot(lower, lower) + 2.0 * dot(upper, along)
    even, odd = 2.0 * dot(upper, across), 2.0 * dot(upper, cross(axis, across))
    swing = np.hypot(even, odd)
    return Hinge(mean, swing, np.arctan2(odd, even), length(upper + lower))


def side_of(hinge: Hinge) -> Array:
    """To which side a pose that comes in is bent: 1 as a positive turn about the bend axis bends
    it, else -1; where it is straight, the limb's own side, 1. Shape (…)."""
    return np.where(hinge.straight > STRAIGHT, -1.0, 1.0)


def bent(hinge: Hinge, wanted: Array, limits: tuple[Array, Array] | None = None) -> Array:
    """The turn of the middle, radians, that makes the chain as long as is wanted; fully straight or
    fully folded where it cannot be.

    Of the two solutions the one on the side to which the pose that comes in is bent is taken; the
    other only where the limits allow no more than that.

    Args:
        hinge: see ``hinge_of``.
        wanted: the length, metres, shape (…).
        limits: the least and the largest bend, radians from straight, each of shape (…).

    Returns:
        Shape (…); 0 where the chain has that length already.
    """
    free = hinge.swing > 0.0
    # arccos((d² - A) / swing) by half its tangent: exact where the chain is straight or folded.
    reach, least = hinge.reach, hinge.least
    short = np.maximum((reach - wanted) * (reach + wanted), 0.0)
    beyond = np.maximum((wanted - least) * (wanted + least), 0.0)
    angle = np.where(free, 2.0 * np.arctan2(np.sqrt(short), np.sqrt(beyond)), 0.0)
    side = side_of(hinge)
    same = np.abs(wanted - hinge.length) <= SAME * reach
    if limits is None:
        return np.where(same | ~free, 0.0, hinge.straight + side * angle)
    low, high = limits
    first, other = side * angle, -side * angle
    fits = (first >= low) & (first <= high)
    second = ~fits & (other >= low) & (other <= high)
    found = np.where(second, other, np.clip(first, low, high))
    inside = (-hinge.straight >= low) & (-hinge.straight <= high)
    return np.where((same & inside) | ~free, 0.0, hinge.straight + found)
