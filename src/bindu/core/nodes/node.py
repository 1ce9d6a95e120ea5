"""A node of the graph."""

from __future__ import annotations

from typing import NamedTuple

from bindu.core.nodes.identity import NodeId
from bindu.core.nodes.operation import Operation


class Node(NamedTuple):
    """One value of the graph. ``reads`` counts how many of the last inputs are reads of a step
    (the others are the stream that it continues); a ``delayed`` node takes its first input as it
    was one frame back; ``start`` is the number with which a stream begins that nothing moves
    before: it comes in before the inputs, and needs no node."""

    id: NodeId
    inputs: tuple[NodeId, ...]
    operation: Operation
    reads: int
    delayed: bool = False
    start: float | None = None
