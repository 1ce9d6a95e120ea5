"""How much an evaluation computes, counted before it begins, so that none takes all there is."""

from __future__ import annotations

from collections.abc import Callable, Collection, Iterable, Mapping
from typing import Protocol

from bindu.core.formula.compiler import compiled
from bindu.core.graph.graph import Graph
from bindu.core.nodes.channel import OwnCurve
from bindu.core.nodes.identity import QUATERNION, SOLVE, NodeId
from bindu.core.nodes.operation import Operation
from bindu.core.refusal import Refusal
from bindu.core.scene.channels import GROUPS
from bindu.core.steps.base import Weighted
from bindu.core.steps.bound.constraint import ConstraintOperation
from bindu.core.steps.bound.lead import LeadOperation
from bindu.core.steps.bound.path import PathOperation
from bindu.core.steps.driven.driven_keys import DrivenOperation
from bindu.core.steps.driven.formula import FormulaOperation

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
    moving: set[NodeId] = set()
    numbers = work = 0
    for node_id in todo:
        node = graph.nodes[node_id]
        marched = node_id in graph.marches
        if marched or _moves(node.operation) or _any_moving(node.inputs, moving, known):
            moving.add(node_id)
            size = _size(node_id, node.operation)
            numbers += frames * size
            work += (
                frames * (FRAME_BY_FRAME if marched else 1) * _calculations(node.operation, size)
            )
    if numbers > MOST_NUMBERS or work > MOST_WORK:
        raise Refusal(
            f"it would take some {work:,} calculations and {numbers:,} numbers over {frames:,} "
            f"frames; the most are {MOST_WORK:,} and {MOST_NUMBERS:,}. Shorten its range, or let "
            "fewer steps work on fewer parts.",
            place="scene",
        )


def _any_moving(
    inputs: Collection[NodeId], moving: set[NodeId], known: Mapping[NodeId, Sized]
) -> bool:
    return any(i in moving or (i in known and known[i].frames > 1) for i in inputs)


def _moves(operation: Operation) -> bool:
    """Whether something changes over time by itself."""
    if isinstance(operation, Weighted):
        return _moves(operation.step)
    if isinstance(operation, FormulaOperation):
        return compiled(operation.settings.text).timed
    if isinstance(operation, DrivenOperation):
        return compiled(operation.driver).timed
    return isinstance(operation, OwnCurve) or operation.reach != "this frame"


def _size(node_id: NodeId, operation: Operation) -> int:
    if node_id.quantity == SOLVE and isinstance(operation, LeadOperation):
        return 7 * len(operation.locals)
    return SIZES.get(node_id.quantity, 1)


def _calculations(operation: Operation, size: int) -> int:
    """Roughly how many calculations make one frame of a value."""
    if isinstance(operation, Weighted):
        return 2 * size + _calculations(operation.step, size)
    if isinstance(operation, FormulaOperation):
        return 4 * compiled(operation.settings.text).calculations
    if isinstance(operation, DrivenOperation):
        return 8 + 4 * compiled(operation.driver).calculations
    if isinstance(operation, PathOperation):
        return 600 * len(operation.settings.points)
    if isinstance(operation, ConstraintOperation):
        return 40 * len(operation.settings.targets)
    return size
