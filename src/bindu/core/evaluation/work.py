"""How much an evaluation computes, counted before it begins, so that none takes all there is."""

from __future__ import annotations

from collections.abc import Callable, Iterable, Mapping
from typing import Protocol

from bindu.core.graph.graph import Graph
from bindu.core.nodes.identity import QUATERNION, NodeId
from bindu.core.refusal import Refusal
from bindu.core.scene.channels import GROUPS

MOST_NUMBERS = 200_000_000
"""Numbers that one evaluation keeps: 1.6 GB."""
MOST_WORK = 1_000_000_000
"""Single calculations, counted roughly: some ten seconds."""
FRAME_BY_FRAME = 1000
"""What a value costs on a frame of its own, in calculations of one among many frames."""
SIZES = {"world position": 3, "world matrix": 12, QUATERNION: 4, **dict.fromkeys(GROUPS, 3)}

Watch = Callable[[], None]
"""Called now and then during something long; raises to end it."""


class Sized(Protocol):
    """Values whose number of frames is known: 1 where they stand still."""

    @property
    def frames(self) -> int:
        """The length of the first dimension."""


def refuse_too_much(
    graph: Graph, frames: int, todo: Iterable[NodeId], known: Mapping[NodeId, Sized]
) -> None:
    """Refuses an evaluation of these nodes, given in their order, that is too much.

    Args:
        graph: with their operations.
        frames: of the scene's range.
        todo: what is to be computed.
        known: what other nodes have come to.

    Raises:
        Refusal: with how much it would be, and what to do.
    """
    numbers, work = _sums(graph, frames, todo)
    if numbers <= MOST_NUMBERS and work <= MOST_WORK:
        return
    numbers, work = _sums(graph, frames, _moving(graph, todo, known))
    if numbers > MOST_NUMBERS or work > MOST_WORK:
        raise Refusal(
            f"it would take some {work:,} calculations and {numbers:,} numbers over {frames:,} "
            f"frames; the most are {MOST_WORK:,} and {MOST_NUMBERS:,}. Shorten its range, or let "
            "fewer steps work on fewer parts.",
            code="too much",
            place="scene",
        )


def _sums(graph: Graph, frames: int, nodes: Iterable[NodeId]) -> tuple[int, int]:
    """How many numbers nodes make, and how many calculations that takes, where all of them change
    over time."""
    numbers = work = 0
    known, marches = graph.nodes, graph.marches
    for node_id in nodes:
        operation = known[node_id].operation
        size = operation.numbers or SIZES.get(node_id.quantity, 1)
        numbers += size
        each = FRAME_BY_FRAME if marches and node_id in marches else 1
        work += each * (size + operation.calculations)
    return frames * numbers, frames * work


def _moving(graph: Graph, todo: Iterable[NodeId], known: Mapping[NodeId, Sized]) -> list[NodeId]:
    """Those of some nodes, given in their order, that change over time."""
    moving: dict[NodeId, None] = {}
    for node_id in todo:
        node = graph.nodes[node_id]
        if (
            node_id in graph.marches
            or node.operation.moves
            or any(i in moving or (i in known and known[i].frames > 1) for i in node.inputs)
        ):
            moving[node_id] = None
    return list(moving)
