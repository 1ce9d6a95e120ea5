"""Operations that go on from frame to frame by what they kept of the frame before."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from typing import Generic, TypeVar

from bindu.core.curves.model import Array
from bindu.core.nodes.operation import Times

State = TypeVar("State")


class KeptRunning(Generic[State]):
    """See ``Running``; ``make`` gives the values, and what is kept for the next frame, from the
    inputs, the frame and what was kept (None on the first frame)."""

    def __init__(
        self, make: Callable[[Sequence[Array], Times, State | None], tuple[Array, State | None]]
    ) -> None:
        self._make = make
        self._kept: State | None = None

    def following(self, inputs: Sequence[Array], times: Times) -> Array:
        """See ``Running``."""
        made, self._kept = self._make(inputs, times, self._kept)
        return made
