"""Two curves laid over each other."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from bindu.core.curves.model import Array


@dataclass(frozen=True)
class Comparison:
    """Two curves over the same frames.

    Attributes:
        one, other: values, shape (F,); the second as it was laid over the first.
        slope: of the first, in its unit for each second, shape (F,).
        worst: the largest distance between them, and ``place``, where in the arrays.
        factor, offset: what the second was multiplied by and what was added.
    """

    one: Array
    other: Array
    slope: Array
    worst: float
    place: int
    factor: float
    offset: float


def compared(
    one: Array,
    other: Array,
    fps: float,
    *,
    mirrored: bool = False,
    shift: float = 0.0,
    fit: bool = False,
) -> Comparison:
    """Lays a curve over another.

    Args:
        one, other: values on the same frames, shape (F,).
        fps: frames a second.
        mirrored: takes the second times -1 first.
        shift: moves the second later by so many frames; its ends are held.
        fit: then scales and moves it in value by least squares.
    """
    frames = np.arange(len(one), dtype=float)
    laid = np.interp(frames - shift, frames, other) if shift else other
    factor, offset = (-1.0 if mirrored else 1.0), 0.0
    if fit and np.ptp(laid) > 0.0:
        factor, offset = (float(n) for n in np.polyfit(laid, one, 1))
    elif fit:
        offset = float(one.mean() - factor * laid.mean())
    laid = factor * laid + offset
    slope = np.gradient(one) * fps if len(one) > 1 else np.zeros(1)
    apart = np.abs(laid - one)
    place = int(np.argmax(apart))
    return Comparison(one, laid, slope, float(apart[place]), place, factor, offset)
