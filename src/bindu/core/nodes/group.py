"""How three channels become one vector."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from bindu.core.curves.model import Array
from bindu.core.nodes.operation import Reach, Times


@dataclass(frozen=True)
class ThreeChannels:
    """Three channels as one vector; a number stands for a component that has no input."""

    components: tuple[float | None, float | None, float | None]
    reach: Reach = "this frame"

    @property
    def digest(self) -> str:
        return f"group {self.components!r}"

    def compute(self, inputs: Sequence[Array], times: Times) -> Array:
        """Shape (F, 3), or (1, 3) when no component changes."""
        vector = np.empty((max((len(i) for i in inputs), default=1), 3))
        rest = iter(inputs)
        for axis, constant in enumerate(self.components):
            vector[:, axis] = next(rest) if constant is None else constant
        return vector
