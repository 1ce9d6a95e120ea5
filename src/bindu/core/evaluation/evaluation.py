"""A scene that has been evaluated."""

from __future__ import annotations

import math
from collections.abc import Mapping
from dataclasses import dataclass

import numpy as np

from bindu.core.curves.model import Array
from bindu.core.evaluation.results import Result
from bindu.core.graph.graph import Graph
from bindu.core.graph.kinds.channel import tap_node
from bindu.core.graph.kinds.group import still_group
from bindu.core.graph.kinds.world import world_node
from bindu.core.graph.reads import read_node
from bindu.core.nodes.identity import OWN, NodeId, Read
from bindu.core.nodes.operation import Times
from bindu.core.refusal import Refusal
from bindu.core.scene.channels import GROUPS, ChannelRef, Tap
from bindu.core.scene.model import Scene
from bindu.core.scene.settings import Vector


@dataclass(frozen=True)
class Evaluation:
    """A scene, evaluated.

    Attributes:
        graph: what was run; ``graph.scene`` is the scene.
        times: the frames.
        results: what each node came to.
        seconds: for the nodes that this run computed, how long each took.
    """

    graph: Graph
    times: Times
    results: Mapping[NodeId, Result]
    seconds: Mapping[NodeId, float]

    @property
    def scene(self) -> Scene:
        """The scene that was evaluated."""
        return self.graph.scene

    def result(self, node_id: NodeId) -> Result:
        """What a node came to; a channel that nothing reads or writes is a constant, and so is a
        group that nothing moves."""
        found = self.results.get(node_id)
        if found is None:
            value: Vector | float | None = self._still_group(node_id)
            if value is None:
                value = self.scene.set_value(ChannelRef(node_id.part, node_id.quantity))
            found = Result(f"value {value!r}", np.array([value]))
        return found

    def knows(self, node_id: NodeId) -> bool:
        """Whether ``result`` tells what a node comes to, be it one that nothing moves."""
        ref = ChannelRef(node_id.part, node_id.quantity)
        still = node_id.stage == OWN and ref not in self.scene.curves
        return still or node_id in self.results or self._still_group(node_id) is not None

    def _still_group(self, node_id: NodeId) -> Vector | None:
        part, quantity, stage = node_id
        return still_group(self.scene, part, quantity, stage) if quantity in GROUPS else None

    def channel(self, ref: ChannelRef, tap: Tap) -> Array:
        """A channel's values at a tap, shape (F,) or (1,), in its unit."""
        return self.result(tap_node(self.scene, ref, tap)).values

    def world(self, part: str) -> Array:
        """A part's final world matrix, upper three rows, shape (F, 3, 4) or (1, 3, 4)."""
        return self.results[world_node(part)].values

    def read(self, read: Read) -> Array:
        """What a step reads, as it is before any loop is held."""
        return self.result(read_node(self.scene, read)).values

    def index(self, frame: float) -> int:
        """The place of a frame in the arrays.

        Raises:
            Refusal: when it is no whole frame of the scene's range.
        """
        place = frame - self.times.first
        if (
            not math.isfinite(place)
            or place != int(place)
            or not 0 <= place < len(self.times.frames)
        ):
            raise Refusal(
                f"frame {frame:g} is no whole frame of the scene's range "
                f"{self.times.first} … {self.times.last}.",
                code="number",
            )
        return int(place)


def row_at(values: Array, place: int) -> Array:
    """The row of one frame, shape (1, …), of values that may stand still (one row for all)."""
    return values[place : place + 1] if len(values) > 1 else values
