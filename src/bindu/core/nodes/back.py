"""How a value as it was one frame back is computed."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from bindu.core.curves.model import Array
from bindu.core.nodes.operation import Operation, Times


@dataclass(frozen=True)
class Delayed(Operation):
    """A value as it was one frame back; on the first frame, the seed."""

    @property
    def digest(self) -> str:
        """See ``Operation``."""
        return "one frame back"

    def compute(self, inputs: Sequence[Array], times: Times) -> Array:
        """Shape (F, …); inputs: the value, and its seed."""
        value, seed = inputs
        made = np.empty((len(times.frames), *value.shape[1:]))
        made[:1] = seed[:1]
        made[1:] = value[:-1] if len(value) > 1 else value
        return made
