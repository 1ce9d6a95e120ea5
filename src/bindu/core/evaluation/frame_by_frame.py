"""Runs a group of nodes frame by frame, since it reads itself one frame back."""

from __future__ import annotations

from collections.abc import Callable, Iterable, Mapping, Sequence
from typing import cast

import numpy as np

from bindu.core.curves.model import Array
from bindu.core.evaluation.work import Watch
from bindu.core.nodes.identity import NodeId
from bindu.core.nodes.node import Node
from bindu.core.nodes.operation import Operation, OverTime, Times


def marched(
    nodes: Sequence[Node],
    outside: Mapping[NodeId, Array],
    times: Times,
    watch: Watch | None = None,
) -> tuple[dict[NodeId, Array], dict[NodeId, list[int]]]:
    """The values of a group over all frames, in time and memory that grow with the number of
    frames: an operation that reaches frames before goes on from where it was.

    Args:
        nodes: the group, in the order of one frame.
        outside: what the group reads from outside of itself.
        times: the frames.
        watch: see ``Watch``.

    Returns:
        The values of each node, shape (F, …), and on which frames each made no finite number and
        was held at its input.
    """
    made: dict[NodeId, Array] = {}
    broken: dict[NodeId, list[int]] = {}
    computes = {node.id: _by_frame(node.operation) for node in nodes}
    for n in range(len(times.frames)):
        if watch:
            watch()
        now = Times(times.first, times.last, times.fps, times.frames[n : n + 1])
        for node in nodes:
            if node.delayed:
                row = _row_before(node, made, outside, n)
            else:
                row = computes[node.id]([_row(i, made, outside, n) for i in node.inputs], now)
            if not np.isfinite(row).all():
                broken.setdefault(node.id, []).append(n)
                came = _row(node.inputs[0], made, outside, n)
                row = np.where(np.isfinite(row), row, came)
            if node.id not in made:
                made[node.id] = np.empty((len(times.frames), *row.shape[1:]))
            made[node.id][n] = row[0]
    return made, broken


def _by_frame(operation: Operation) -> Callable[[Sequence[Array], Times], Array]:
    """How an operation is computed for one frame after the other."""
    if operation.reach == "this frame":
        return operation.compute
    return cast(OverTime, operation).running().following


def outside_inputs(nodes: Iterable[Node]) -> list[NodeId]:
    """What a group reads from outside of itself, each once, in a fixed order."""
    members = {node.id for node in nodes}
    return list(dict.fromkeys(i for node in nodes for i in node.inputs if i not in members))


def _row(
    node_id: NodeId, made: Mapping[NodeId, Array], outside: Mapping[NodeId, Array], n: int
) -> Array:
    """An input on one frame, shape (1, …)."""
    values = made[node_id] if node_id in made else outside[node_id]
    return values[n : n + 1] if len(values) > 1 or node_id in made else values


def _row_before(
    node: Node, made: Mapping[NodeId, Array], outside: Mapping[NodeId, Array], n: int
) -> Array:
    source, seed = node.inputs
    return _row(seed, made, outside, 0) if n == 0 else _row(source, made, outside, n - 1)
