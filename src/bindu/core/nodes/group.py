"""How three channels become one vector."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

from bindu.core.curves.model import Array
from bindu.core.geometry.vectors import frames_last
from bindu.core.nodes.batches import InBatches, stacked
from bindu.core.nodes.operation import Times


@dataclass(frozen=True)
class ThreeChannels(InBatches):
    """Three channels as one vector; a number stands for a component that has no input."""

    components: tuple[float | None, float | None, float | None]

    @property
    def digest(self) -> str:
        """See ``Operation``."""
        return f"group {self.components!r}"

    @property
    def alike(self) -> tuple[bool, ...]:
        """See ``InBatches``: which components have an input."""
        x, y, z = self.components
        return x is None, y is None, z is None

    @classmethod
    def compute_many(
        cls, operations: Sequence[ThreeChannels], inputs: Sequence[Array], times: Times
    ) -> Array:
        """Shape (B, F, 3), or (B, 1, 3) when no component changes."""
        frames = max((stack.shape[1] for stack in inputs), default=1)
        vectors = frames_last((len(operations), frames, 3), 1)
        rest = iter(inputs)
        for axis, moving in enumerate(operations[0].alike):
            numbers = () if moving else [one.components[axis] for one in operations]
            vectors[..., axis] = next(rest) if moving else stacked(numbers)
        return vectors
