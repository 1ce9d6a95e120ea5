"""Runs a group of nodes frame by frame, since it reads itself one frame back."""

from __future__ import annotations

from collections.abc import Iterable, Mapping, Sequence

import numpy as np

from bindu.core.curves.model import Array
from bindu.core.graph.node import Node, NodeId, Times


def marched(
    nodes: Sequence[Node], outside: Mapping[NodeId, Array], times: Times
) -> tuple[dict[NodeId, Array], dict[NodeId, list[int]]]:
    """The values of a group over all frames.

    Args:
        nodes: the group, in the order of one frame.
        outside: what the group reads from outside of itself.
        times: the frames.

    Returns:
        The values of each node, shape (F, …), and on which frames each made no finite number and
        was held at its input.
    """
    made: dict[NodeId, Array] = {}
    broken: dict[NodeId, list[int]] = {}
    for n in range(len(times.frames)):
        now = Times(times.first, times.last, times.fps, times.frames[n : n + 1])
        so_far = Times(times.first, times.last, times.fps, times.frames[: n + 1])
        for node in nodes:
            if node.delayed:
                row = _row_before(node, made, outside, n)
            elif getattr(node.operation, "over_time", False):
                inputs = [_rows(i, made, outside, 0, n) for i in node.inputs]
                row = node.operation.compute(inputs, so_far)[-1:]
            else:
                inputs = [_rows(i, made, outside, n, n) for i in node.inputs]
                row = node.operation.compute(inputs, now)
            if not np.isfinite(row).all():
                broken.setdefault(node.id, []).append(n)
                came = _rows(node.inputs[0], made, outside, n, n)
                row = np.where(np.isfinite(row), row, came)
            if node.id not in made:
                made[node.id] = np.empty((len(times.frames), *row.shape[1:]))
            made[node.id][n] = row[0]
    return made, broken


def outside_inputs(nodes: Iterable[Node]) -> list[NodeId]:
    """What a group reads from outside of itself, each once, in a fixed order."""
    members = {node.id for node in nodes}
    return list(dict.fromkeys(i for node in nodes for i in node.inputs if i not in members))


def _rows(
    node_id: NodeId,
    made: Mapping[NodeId, Array],
    outside: Mapping[NodeId, Array],
    first: int,
    last: int,
) -> Array:
    """The frames of an input from first to last, both included."""
    values = made[node_id] if node_id in made else outside[node_id]
    return values[first : last + 1] if len(values) > 1 or node_id in made else values


def _row_before(
    node: Node, made: Mapping[NodeId, Array], outside: Mapping[NodeId, Array], n: int
) -> Array:
    source, seed = node.inputs
    if n == 0:
        return _rows(seed, made, outside, 0, 0)
    return _rows(source, made, outside, n - 1, n - 1)
