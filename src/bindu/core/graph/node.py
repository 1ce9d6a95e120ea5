"""Nodes of the graph, what they read, and the frames they are computed for."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, field
from typing import Literal, NamedTuple, Protocol

import numpy as np
import numpy.typing as npt

from bindu.core.curves.model import Array
from bindu.core.scene.channels import Tap

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


class Stage(NamedTuple):
    """How far on its way from Keyed to Final a value is. Two stages are the same only when both
    kind and name are, so no identity can be taken for another kind of stage.

    Kinds: ``own``, a channel's own curve or value; ``default``, the rest pose; ``tap``, right
    after the zone ``name``; ``step``, right after the step ``name``; ``before``, what comes in to
    that step; ``back``, the tap ``name`` one frame back; ``group``, what the lead group ``name``
    does to all its members.
    """

    kind: Literal["own", "default", "tap", "step", "before", "back", "group"]
    name: str = ""

    def __str__(self) -> str:
        """As one text: a tap by its name alone; see ``stage_of``."""
        if self.kind == "tap":
            return self.name
        return f"{self.kind} {self.name}" if self.name else self.kind


OWN = Stage("own")
DEFAULT = Stage("default")


class Read(NamedTuple):
    """What something reads: a channel, a group, or a part's world position and the like, at a
    tap or another stage; ``back``: as it was one frame back."""

    part: str
    quantity: str
    tap: Tap | Stage
    back: bool = False


class NodeId(NamedTuple):
    """A value of the graph: of which part, which quantity, and at which stage of it.

    The quantity is a channel's id; a group (translation, scale, rotation as angles, and
    ``quaternion`` for the rotation as it is held from Bound on); ``world position``,
    ``world matrix``, ``travelled``, ``speed``; or ``lead`` for a lead group. Channels have the
    stages ``own``, ``default`` and those of their steps, groups and world values those of taps
    too.
    """

    part: str
    quantity: str
    stage: Stage


Reach = Literal["this frame", "frames before", "all frames"]
"""Of which frames of its inputs a value is made, beside its own one."""


class Operation(Protocol):
    """How a node is computed from its inputs, over all frames at once."""

    @property
    def digest(self) -> str:
        """A text that is the same only for operations that compute the same."""

    @property
    def reach(self) -> Reach:
        """Of which frames a value is made. An operation that reaches frames before is an
        ``OverTime``, so that it can also run frame by frame; one that reaches all frames needs
        some that are to come, and so can take no part in a group that reads itself one frame
        back."""

    def compute(self, inputs: Sequence[Array], times: Times) -> Array:
        """The node's values; a leading dimension of 1 means the same on every frame."""


class Running(Protocol):
    """An operation on its way from frame to frame."""

    def following(self, inputs: Sequence[Array], times: Times) -> Array:
        """The values on the frame that follows, one row of each input; ``times`` is that frame.

        They are what ``compute`` gives on the last frame of a range that ends there.
        """


class OverTime(Operation, Protocol):
    """An operation that reaches frames before."""

    def running(self) -> Running:
        """The operation before the scene's first frame."""


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
