"""Keys without which a curve is the same."""

from __future__ import annotations

import numpy as np

from bindu.core.curves.model import Curve


def spare_keys(curve: Curve, tolerance: float) -> tuple[float, ...]:
    """The frames of keys without which a curve is the same.

    Args:
        curve: at least two keys.
        tolerance: in the unit of its values.
    """
    keys = curve.keys
    values = np.array([key.value for key in keys])
    if np.ptp(values) <= tolerance and all(_is_level(curve, n) for n in range(len(keys) - 1)):
        return tuple(key.frame for key in keys)
    spare = []
    last = keys[0]
    for n in range(1, len(keys) - 1):
        key, following = keys[n], keys[n + 1]
        kinds = (keys[n - 1].interpolation, key.interpolation)
        if kinds == ("linear", "linear"):
            share = (key.frame - last.frame) / (following.frame - last.frame)
            line = last.value + share * (following.value - last.value)
            lies = abs(key.value - line) <= tolerance
        else:
            lies = kinds == ("hold", "hold") and abs(key.value - last.value) <= tolerance
        if lies:
            spare.append(key.frame)
        else:
            last = key
    return tuple(spare)


def _is_level(curve: Curve, n: int) -> bool:
    """Whether the segment behind a key is level where its ends are."""
    a, b = curve.keys[n], curve.keys[n + 1]
    if a.interpolation in ("hold", "linear", "ease in", "ease out", "ease both"):
        return True
    return a.interpolation == "smooth" and a.right.angle == 0.0 and b.left.angle == 0.0
