"""What is found in a layer, part by part, as its readers leave it."""

from __future__ import annotations

from dataclasses import dataclass, field
from typing import Any

import numpy as np


class Refused(Exception):
    """Why a layer is not read."""


@dataclass
class UsdParts:
    """What is read part by part.

    Attributes:
        parts: name, parent, role, order, type, and whether it leaves its parent's motion.
        local: of each part, as seen from its parent, shape (F, 3, 4).
        rests: of each part, shape (3, 4).
    """

    parts: list[dict[str, Any]] = field(default_factory=list)
    local: list[Any] = field(default_factory=list)
    rests: list[Any] = field(default_factory=list)


def rows_of(matrix: Any) -> Any:
    """A matrix of the library, whose vectors are rows, as three rows for columns, shape (3, 4)."""
    return np.array(matrix, dtype=np.float64).T[:3]
