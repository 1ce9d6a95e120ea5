"""How a made value meets the one that comes in."""

from __future__ import annotations

import numpy as np

from bindu.core.curves.model import Array
from bindu.core.scene.settings import FormulaMode


def combined(mode: FormulaMode, incoming: Array, made: Array) -> Array:
    """The made value set in the place of the incoming one, added to it, or scaling it; shape (F,)
    or (1,)."""
    if mode == "add":
        return np.asarray(incoming + made)
    return np.asarray(incoming * made) if mode == "scale" else made
