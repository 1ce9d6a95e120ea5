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

Pending = tuple[Node, str, Sequence[Result]]
"""A node, the key of its result and its inputs."""


def computed(pending: Iterable[Pending], times: Times) -> Iterator[dict[NodeId, Result]]:
    """The results of nodes none of which reads another, batch by batch; each takes an even share of
    the time of its batch."""
    groups: dict[Hashable, list[Pending]] = {}
    for one in pending:
        like = (batch_key(one[0].operation), *[taken.values.shape for taken in one[2]])
        groups.setdefault(like, []).append(one)
    for group in groups.values():
        frames = max((one.frames for one in group[0][2]), default=len(times.frames))
        size = max((one.values[0].size for one in group[0][2]), default=1)
        count = max(1, BATCH_NUMBERS // (frames * size))
        for start in range(0, len(group), count):
            yield _batch(group[start : start + count], times)


def _batch(group: Sequence[Pending], times: Times) -> dict[NodeId, Result]:
    start = time.perf_counter()
    stacks = [_stack(results) for results in zip(*(one[2] for one in group), strict=True)]
    made = computed_together([node.operation for node, _, _ in group], stacks, times)
    # Others are computed from it in place of a copy: nobody may write into it.
    made.setflags(write=False)
    with np.errstate(over="ignore", invalid="ignore"):
        all_good = all_finite(made)
    seconds = (time.perf_counter() - start) / len(group)
    if all_good:
        return {
            node.id: Result(key, values, None, 0, seconds, made, n)
            for n, ((node, key, _), values) in enumerate(zip(group, made, strict=True))
        }
    return {
        node.id: finite_result(key, values, _incoming(inputs), times)._replace(seconds=seconds)
        for (node, key, inputs), values in zip(group, made, strict=True)
    }


def _stack(results: Sequence[Result]) -> Array:
    """Values of one shape as a stack, frames next to each other; see ``frames_last``. Nothing is
    copied where they are one result over and over, or those of one batch in their order."""
    first, count = results[0], len(results)
    if all(one is first for one in results):
        return np.broadcast_to(first.values, (count, *first.values.shape))
    batch, place = first.batch, first.place
    if batch is not None and all(
        one.batch is batch and one.place == place + n for n, one in enumerate(results)
    ):
        return batch[place : place + count]
    frames, *inner = first.values.shape
    if not inner:
        return np.concatenate([one.values for one in results]).reshape(count, frames)
    axes = range(1, len(inner) + 1)
    runs = [one.values.transpose(*axes, 0)[..., None, :] for one in results]
    return np.concatenate(runs, axis=-2).transpose(-2, -1, *range(len(inner)))


def _incoming(inputs: Sequence[Result]) -> Array | None:
    """What a node's values are held at where they are not finite, if anything comes in."""
    return inputs[0].values if inputs else None


def by_level(todo: Iterable[NodeId], levels: Mapping[NodeId, int]) -> list[list[NodeId]]:
    """Nodes in groups of one level, the lowest first."""
    found: dict[int, list[NodeId]] = {}
    for node_id in todo:
        found.setdefault(levels[node_id], []).append(node_id)
    return [found[level] for level in sorted(found)]
