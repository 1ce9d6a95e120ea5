"""Nodes that wait for nothing any more, put together so that each kind is computed at once."""

from __future__ import annotations

import time
from collections.abc import Hashable, Iterable, Iterator, Mapping, Sequence

import numpy as np

from bindu.core.curves.finite import all_finite
from bindu.core.curves.model import Array
from bindu.core.evaluation.results import Result, finite_result
from bindu.core.nodes.batches import batch_key, computed_together
from bindu.core.nodes.identity import NodeId
from bindu.core.nodes.node import Node
from bindu.core.nodes.operation import Times

BATCH_NUMBERS = 1 << 17
"""How many numbers a batch makes, about: few enough that all stays in the processor's cache."""

Pending = tuple[Node, str, Sequence[Array]]
"""A node, the key of its result and its inputs."""


def computed(pending: Sequence[Pending], times: Times) -> Iterator[tuple[NodeId, Result]]:
    """The results of nodes none of which reads another; each takes an even share of the time of
    its batch."""
    groups: dict[Hashable, list[Pending]] = {}
    for one in pending:
        node, _, inputs = one
        like = (batch_key(node.operation), *[values.shape for values in inputs])
        groups.setdefault(like, []).append(one)
    for group in groups.values():
        frames = max((len(values) for values in group[0][2]), default=len(times.frames))
        size = max((values[0].size for values in group[0][2]), default=1)
        count = max(1, BATCH_NUMBERS // (frames * size))
        for start in range(0, len(group), count):
            yield from _batch(group[start : start + count], times)


def _batch(group: Sequence[Pending], times: Times) -> Iterator[tuple[NodeId, Result]]:
    start = time.perf_counter()
    stacks = [_stack(arrays) for arrays in zip(*(one[2] for one in group), strict=True)]
    made = computed_together([node.operation for node, _, _ in group], stacks, times)
    with np.errstate(over="ignore", invalid="ignore"):
        all_good = all_finite(made)
    seconds = (time.perf_counter() - start) / len(group)
    for n, (node, key, inputs) in enumerate(group):
        if all_good:
            yield node.id, Result(key, made[n], seconds=seconds)
        else:
            incoming = inputs[0] if inputs else None
            yield node.id, finite_result(key, made[n], incoming, times)._replace(seconds=seconds)


def _stack(arrays: Sequence[Array]) -> Array:
    """Arrays of one shape as a stack, frames next to each other; see ``frames_last``."""
    frames, *inner = arrays[0].shape
    if not inner:
        return np.concatenate(arrays).reshape(len(arrays), frames)
    axes = range(1, len(inner) + 1)
    runs = np.concatenate([one.transpose(*axes, 0) for one in arrays])
    return runs.reshape(len(arrays), *inner, frames).transpose(0, -1, *axes)


def by_level(todo: Iterable[NodeId], levels: Mapping[NodeId, int]) -> list[list[NodeId]]:
    """Nodes in groups of one level, the lowest first."""
    found: dict[int, list[NodeId]] = {}
    for node_id in todo:
        found.setdefault(levels[node_id], []).append(node_id)
    return [found[level] for level in sorted(found)]
