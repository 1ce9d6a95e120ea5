"""The named eases: how a segment's value goes from its left to its right key.

Each is a function of the share of the segment's time, 0 to 1, that begins at 0 and ends at 1.
"""

from __future__ import annotations

from collections.abc import Callable, Mapping
from dataclasses import dataclass

import numpy as np

from bindu.core.curves.model import Array, Interpolation

FALL = 0.4
"""The share of a bounce's time until it first touches the ground: bounces to a quarter and a
sixteenth of the height last as long again and half as long (a body falls as time squared)."""


@dataclass(frozen=True)
class Ease:
    """An ease.

    Attributes:
        along: from shares of time, shape (N,), to shares of the value's way, (N,).
        start_slope, end_slope: its slopes at both ends.
        inner: where it is a cubic polynomial, its two inner Bernstein coefficients.
    """

    along: Callable[[Array], Array]
    start_slope: float
    end_slope: float
    inner: tuple[float, float] | None = None


def _both(t: Array) -> Array:
    late = 1.0 - t
    return np.where(t < 0.5, 4.0 * t**3, 1.0 - 4.0 * late**3)


def _overshoot(t: Array) -> Array:
    return np.asarray(1.0 - (1.0 - t) ** 2 * (1.0 - 3.0 * t))


def _bounce(t: Array) -> Array:
    u = t / FALL
    height = np.where(
        u < 1.0,
        1.0 - u**2,
        np.where(u < 2.0, 0.25 - (u - 1.5) ** 2, 0.0625 - (u - 2.25) ** 2),
    )
    return 1.0 - np.maximum(height, 0.0)


def _spring(t: Array) -> Array:
    return np.asarray(1.0 - (1.0 - t) ** 2 * np.cos(4.5 * np.pi * t))


EASES: Mapping[Interpolation, Ease] = {
    "ease in": Ease(lambda t: t**3, 0.0, 3.0, (0.0, 0.0)),
    "ease out": Ease(lambda t: 1.0 - (1.0 - t) ** 3, 3.0, 0.0, (1.0, 1.0)),
    "ease both": Ease(_both, 0.0, 0.0),
    "overshoot": Ease(_overshoot, 5.0, 0.0, (5.0 / 3.0, 1.0)),
    "bounce": Ease(_bounce, 0.0, 0.5 / FALL),
    "spring": Ease(_spring, 2.0, 0.0),
}
