"""Whether two curves have one shape."""

from __future__ import annotations

import numpy as np

from bindu.core.curves.evaluate import curve_values
from bindu.core.curves.model import Curve


def assert_same_shape(one: Curve, other: Curve, frames: np.ndarray, shift: float = 0.0) -> None:
    """The second curve, read ``shift`` frames later, has the values of the first.

    On a flank that is all but vertical, rounding a time is a visible step of the value, so a
    millionth of a frame is allowed there; frames on keys are left out, where a hold may jump.
    """
    away = frames[np.abs(frames[:, None] - one.frames).min(axis=1) > 1e-6]
    away = away[np.abs(away[:, None] + shift - other.frames).min(axis=1) > 1e-6]
    before, after = curve_values(one, away), curve_values(other, away + shift)
    near = [np.abs(curve_values(one, away + step) - before) for step in (-1e-6, 1e-6)]
    assert np.all(np.abs(after - before) <= 1e-7 + np.max(near, axis=0, initial=0.0))
