"""How nodes are computed, and for which frames."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, field
from typing import Literal, Protocol

import numpy as np
import numpy.typing as npt

from bindu.core.curves.model import Array

Indices = npt.NDArray[np.int_]


@dataclass(frozen=True)
class Times:
    """The frames of an evaluation, shape (F,): every whole frame from the scene's first on."""

    first: int
    last: int
    fps: float
    frames: Array = field(compare=False, repr=False)

    @staticmethod
    def of(first: int, last: int, fps: float) -> Times:
        """The whole frames from first to last, both included."""
        return Times(first, last, fps, np.arange(first, last + 1, dtype=np.float64))


Reach = Literal["this frame", "frames before", "all frames"]
"""Of which frames of its inputs a value is made, beside its own one."""


class Operation:
    """How a node is computed from its inputs, over all frames at once."""

    @property
    def digest(self) -> str:
        """A text that is the same only for operations that compute the same."""
        raise NotImplementedError

    @property
    def reach(self) -> Reach:
        """Of which frames a value is made. An operation that reaches frames before is an
        ``OverTime``, so that it can also run frame by frame; one that reaches all frames needs
        some that are to come, and so can take no part in a group that reads itself one frame
        back."""
        return "this frame"

    @property
    def moves(self) -> bool:
        """Whether its values change over time though its inputs do not."""
        return self.reach != "this frame"

    @property
    def calculations(self) -> int:
        """Roughly how many calculations each frame takes, beside one for each number made."""
        return 0

    @property
    def numbers(self) -> int | None:
        """How many numbers it makes for each frame; None: as many as the quantity has."""
        return None

    def taken(self, inputs: Sequence[Array]) -> list[Array]:
        """The places that rotations are taken from, as seen from where they are written, each of
        shape (N, 3, 4): what is sheared in them is lost."""
        return []

    def compute(self, inputs: Sequence[Array], times: Times) -> Array:
        """The node's values; a leading dimension of 1 means the same on every frame."""
        raise NotImplementedError


class Running(Protocol):
    """An operation on its way from frame to frame."""

    def following(self, inputs: Sequence[Array], times: Times) -> Array:
        """The values on the frame that follows, one row of each input; ``times`` is that frame.

        They are what ``compute`` gives on the last frame of a range that ends there.
        """


class OverTime(Operation):
    """An operation that reaches frames before."""

    @property
    def reach(self) -> Reach:
        """See ``Operation``."""
        return "frames before"

    def running(self) -> Running:
        """The operation before the scene's first frame."""
        raise NotImplementedError
