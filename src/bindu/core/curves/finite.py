"""Whether numbers are finite."""

from __future__ import annotations

import math

import numpy as np

from bindu.core.curves.model import Array


def all_finite(values: Array) -> bool:
    """Whether all of some numbers are finite. Their sum tells, in one pass and without an array
    of answers, unless they are so large that only the sum is not; NumPy may warn of that, so it is
    for places where ``np.errstate`` says that such numbers are expected."""
    total = float(np.add.reduce(values, axis=None))
    return math.isfinite(total) or bool(np.isfinite(values).all())
