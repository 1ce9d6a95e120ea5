"""What nodes came to, and keeping it."""

from __future__ import annotations

import hashlib
from collections import Counter, OrderedDict
from collections.abc import Iterable
from threading import Lock
from typing import NamedTuple

import numpy as np

from bindu.core.curves.model import Array
from bindu.core.nodes.operation import Times


class Result(NamedTuple):
    """What a node came to.

    Attributes:
        key: made from the node's settings and its inputs' keys; equal keys, equal values.
        values: shape (F, …), or (1, …) where nothing changes over time.
        broken_from: the first frame on which the step made no finite number and was held at
            its input; None where all is well.
        broken_frames: on how many frames.
        seconds: how long it took to compute.
        batch, place: the stack of values that it was computed in, and where in it; None and 0 where
            it was not.
    """

    key: str
    values: Array
    broken_from: int | None = None
    broken_frames: int = 0
    seconds: float = 0.0
    batch: Array | None = None
    place: int = 0

    @property
    def frames(self) -> int:
        """On how many frames it has values: 1 where it stands still."""
        return len(self.values)


def result_key(base: str, digest: str, inputs: Iterable[str]) -> str:
    """What a result is kept under: made from the frames, the node's settings and its inputs'
    keys."""
    text = "\n".join((base, digest, *inputs))
    return hashlib.blake2b(text.encode(), digest_size=16).hexdigest()


def finite_result(key: str, made: Array, incoming: Array | None, times: Times) -> Result:
    """The result with values that are not finite held at what came in, shape (F, …) or (1, …);
    at 0 where nothing of that shape did."""
    good = np.isfinite(made)
    if good.all():
        return Result(key, made)
    if incoming is None or made.shape[1:] != incoming.shape[1:]:
        incoming = np.zeros((1, *made.shape[1:]))
    bad = np.broadcast_to(~good, np.broadcast_shapes(made.shape, incoming.shape))
    values = np.where(bad, incoming, made)
    frames = np.flatnonzero(bad.reshape(len(bad), -1).any(axis=1))
    count = len(frames) if len(bad) > 1 else len(times.frames)
    return Result(key, values, times.first + int(frames[0]), count)


def _owner(values: Array) -> Array:
    """The array that owns the memory of a result's values: of those computed together, one."""
    return values if values.base is None else values.base


class Memory:
    """How much memory results hold, where those that were computed together share it."""

    def __init__(self) -> None:
        self._results: Counter[int] = Counter()
        self.bytes = 0

    def hold(self, values: Array) -> None:
        """Counts the memory of a result's values, once for all that share it."""
        owner = _owner(values)
        if not self._results[id(owner)]:
            self.bytes += owner.nbytes
        self._results[id(owner)] += 1

    def release(self, values: Array) -> None:
        """Takes a result's values out again."""
        owner = _owner(values)
        self._results[id(owner)] -= 1
        if not self._results[id(owner)]:
            del self._results[id(owner)]
            self.bytes -= owner.nbytes


def bytes_of(results: Iterable[Result]) -> int:
    """How much memory results hold, what several of them share counted once."""
    owners = {id(owner): owner.nbytes for owner in (_owner(one.values) for one in results)}
    return sum(owners.values())


class KeptResults:
    """Results by key, the least recently used dropped beyond a number of bytes. Several threads may
    use it at once."""

    def __init__(self, most_bytes: int = 512 * 1024 * 1024) -> None:
        self._lock = Lock()
        self._most_bytes = most_bytes
        self._memory = Memory()
        self._results: OrderedDict[str, Result] = OrderedDict()

    @property
    def bytes(self) -> int:
        """How much memory it holds."""
        return self._memory.bytes

    def get(self, key: str) -> Result | None:
        """The result kept under a key, if it still is."""
        with self._lock:
            result = self._results.get(key)
            if result is not None:
                self._results.move_to_end(key)
            return result

    def put(self, result: Result) -> None:
        """Keeps a result."""
        with self._lock:
            if result.key in self._results:
                return
            self._results[result.key] = result
            self._memory.hold(result.values)
            while self._memory.bytes > self._most_bytes and len(self._results) > 1:
                _, dropped = self._results.popitem(last=False)
                self._memory.release(dropped.values)
