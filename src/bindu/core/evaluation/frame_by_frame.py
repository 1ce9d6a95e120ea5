"""Runs a group of nodes frame by frame, since it reads itself one frame back."""

from __future__ import annotations

from collections.abc import Callable, Iterable, Mapping, Sequence
from typing import cast

import numpy as np

from bindu.core.curves.finite import all_finite
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
    march = _March(nodes, outside, times)
    # What is not finite is held at its input, and told; NumPy need not warn of it.
    with np.errstate(over="ignore", invalid="ignore"):
        for n in range(len(times.frames)):
            if watch:
                watch()
            march.one_frame(n)
    return march.made, march.broken


class _March:
    """A group on its way from frame to frame; what it has come to so far, and where it was held."""

    def __init__(
        self, nodes: Sequence[Node], outside: Mapping[NodeId, Array], times: Times
    ) -> None:
        self._nodes, self._outside, self._times = nodes, outside, times
        self._computes = {node.id: _by_frame(node.operation) for node in nodes}
        self._starts = {
            node.id: [] if node.start is None else [np.array([node.start])] for node in nodes
        }
        self.made: dict[NodeId, Array] = {}
        self.broken: dict[NodeId, list[int]] = {}

    def one_frame(self, n: int) -> None:
        """All members on the frame in place ``n``, in their order."""
        times = self._times
        now = Times(times.first, times.last, times.fps, times.frames[n : n + 1])
        for node in self._nodes:
            if node.delayed:
                source, seed = node.inputs
                row = self._row(seed, 0) if n == 0 else self._row(source, n - 1)
            else:
                incoming = [*self._starts[node.id], *(self._row(i, n) for i in node.inputs)]
                row = self._computes[node.id](incoming, now)
                if not all_finite(row):
                    self.broken.setdefault(node.id, []).append(n)
                    row = np.where(np.isfinite(row), row, incoming[0])
            if node.id not in self.made:
                self.made[node.id] = np.empty((len(times.frames), *row.shape[1:]))
            self.made[node.id][n] = row[0]

    def _row(self, node_id: NodeId, n: int) -> Array:
        """A value on one frame, shape (1, …)."""
        values = self.made.get(node_id)
        if values is not None:
            return values[n : n + 1]
        values = self._outside[node_id]
        return values[n : n + 1] if len(values) > 1 else values


def _by_frame(operation: Operation) -> Callable[[Sequence[Array], Times], Array]:
    """How an operation is computed for one frame after the other."""
    if operation.reach == "this frame":
        return operation.compute
    return cast(OverTime, operation).running().following


def outside_inputs(nodes: Iterable[Node]) -> list[NodeId]:
    """What a group reads from outside of itself, each once, in a fixed order."""
    members = {node.id for node in nodes}
    return list(dict.fromkeys(i for node in nodes for i in node.inputs if i not in members))
