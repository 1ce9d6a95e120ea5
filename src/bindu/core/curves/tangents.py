"""Tangents that are guessed from the neighbouring keys."""

from __future__ import annotations

from bindu.core.curves.model import Key, Tangent


def with_smart_tangents(keys: tuple[Key, ...]) -> tuple[Key, ...]:
    """The keys, each *smart* one with tangents made from its neighbours.

    The slope is the one that keeps a curve from overshooting its keys: zero at a turning point
    and at the ends, else the weighted harmonic mean of the slopes on both sides (Fritsch and
    Butland, "A method for constructing local monotone piecewise cubic interpolants", SIAM J.
    Sci. Stat. Comput. 5, 1984). Handles reach a third of their segment.
    """
    return tuple(_smart(keys, i) if key.mode == "smart" else key for i, key in enumerate(keys))


def _smart(keys: tuple[Key, ...], i: int) -> Key:
    key = keys[i]
    before = key.frame - keys[i - 1].frame if i > 0 else 0.0
    after = keys[i + 1].frame - key.frame if i + 1 < len(keys) else 0.0
    slope = 0.0
    if before and after:
        rise_in, rise_out = key.value - keys[i - 1].value, keys[i + 1].value - key.value
        slope = guessed_slope(before, rise_in, after, rise_out)
    left, right = (before or after or 3.0) / 3.0, (after or before or 3.0) / 3.0
    one = Tangent.reaching(left, slope * left)
    # Of even keys both are one object: a scene may hold millions.
    made = one, one if left == right else Tangent.reaching(right, slope * right)
    if made == (key.left, key.right):
        return key
    return Key(key.frame, key.value, key.interpolation, *made, key.mode, key.tint)


def guessed_slope(before: float, rise_in: float, after: float, rise_out: float) -> float:
    """The slope at a key whose neighbours lie ``before`` and ``after`` frames away, the value
    rising by ``rise_in`` up to it and ``rise_out`` behind it; see ``with_smart_tangents``."""
    slope_in, slope_out = rise_in / before, rise_out / after
    if slope_in * slope_out <= 0.0:
        return 0.0
    w_in, w_out = 2.0 * after + before, after + 2.0 * before
    return (w_in + w_out) / (w_in / slope_in + w_out / slope_out)
