"""Nodes of the graph, what they read, and the frames they are computed for."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, field
from typing import NamedTuple, Protocol

import numpy as np

from bindu.core.curves.model import Array


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
    """What something reads: a channel, or a part's world position and the like, at a tap."""

    part: str
    quantity: str
    tap: str


class NodeId(NamedTuple):
    """A value of the graph: of which part, which quantity, and at which stage of it.

    The quantity is a channel's id, a group (translation, rotation, scale), or one of
    ``world position``, ``world matrix``, ``travelled``, ``speed``. The stage is ``own`` for a
    channel's own curve or value, a step's id for the value after that step, ``default`` for the
    value in the rest pose, and a tap for groups and world values.
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
    (the others are the stream that it continues); ``order`` breaks ties."""

    id: NodeId
    inputs: tuple[NodeId, ...]
    operation: Operation
    reads: int
    order: tuple[int, int, int]
