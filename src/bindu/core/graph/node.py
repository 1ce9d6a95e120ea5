"""Nodes of the graph, what they read, and the frames they are computed for."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, field
from typing import NamedTuple, Protocol

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


class Read(NamedTuple):
    """What something reads: a channel, a group, or a part's world position and the like, at a
    tap (``default``: in the rest pose); ``back``: as it was one frame back."""

    part: str
    quantity: str
    tap: str
    back: bool = False


class NodeId(NamedTuple):
    """A value of the graph: of which part, which quantity, and at which stage of it.

    The quantity is a channel's id; a group (translation, scale, rotation as angles, and
    ``quaternion`` for the rotation as it is held from Bound on); ``world position``,
    ``world matrix``, ``travelled``, ``speed``; or ``lead`` for a lead group. The stage is
    ``own`` for a channel's own curve or value, a step's id for the value after that step,
    ``before <step>`` for what comes in to a step that writes groups, ``default`` for the value
    in the rest pose, a tap for groups and world values, and ``back <tap>`` for a value one frame
    back.
    """

    part: str
    quantity: str
    stage: str


class Operation(Protocol):
    """How a node is computed from its inputs, over all frames at once."""

    @property
    def digest(self) -> str:
        """A text that is the same only for operations that compute the same."""

    def compute(self, inputs: Sequence[Array], times: Times) -> Array:
        """The node's values; a leading dimension of 1 means the same on every frame."""


class Node(NamedTuple):
    """One value of the graph. ``reads`` counts how many of the last inputs are reads of a step
    (the others are the stream that it continues); ``order`` breaks ties; a ``delayed`` node takes
    its first input as it was one frame back."""

    id: NodeId
    inputs: tuple[NodeId, ...]
    operation: Operation
    reads: int
    order: tuple[int, int, int]
    delayed: bool = False
