"""Runs a scene's graph over all frames and keeps the results."""

from __future__ import annotations

import hashlib
import math
import time
from collections import OrderedDict
from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass, field, replace
from threading import Lock

import numpy as np

from bindu.core.curves.model import Array
from bindu.core.evaluation.frame_by_frame import marched, outside_inputs
from bindu.core.evaluation.work import Watch, refuse_too_much
from bindu.core.graph.graph import Graph, downstream, graph_after, graph_of
from bindu.core.graph.kinds.channel import tap_node
from bindu.core.graph.reads import read_node
from bindu.core.nodes.identity import NodeId, Read, at_tap
from bindu.core.nodes.operation import Times
from bindu.core.refusal import Refusal
from bindu.core.scene.channels import ChannelRef, Tap
from bindu.core.scene.model import Scene


@dataclass(frozen=True)
class Result:
    """What a node came to.

    Attributes:
        key: made from the node's settings and its inputs' keys; equal keys, equal values.
        values: shape (F, …), or (1, …) where nothing changes over time.
        broken_from: the first frame on which the step made no finite number and was held at
            its input; None where all is well.
        broken_frames: on how many frames.
        seconds: how long it took to compute.
    """

    key: str
    values: Array
    broken_from: int | None = None
    broken_frames: int = 0
    seconds: float = field(default=0.0, compare=False)

    @property
    def frames(self) -> int:
        """On how many frames it has values: 1 where it stands still."""
        return len(self.values)


class Kept:
    """Results by key, the least recently used dropped beyond a number of bytes. Several threads may
    use it at once."""

    def __init__(self, most_bytes: int = 512 * 1024 * 1024) -> None:
        self._lock = Lock()
        self._most_bytes = most_bytes
        self._bytes = 0
        self._results: OrderedDict[str, Result] = OrderedDict()

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
            self._bytes += result.values.nbytes
            while self._bytes > self._most_bytes and len(self._results) > 1:
                _, dropped = self._results.popitem(last=False)
                self._bytes -= dropped.values.nbytes


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
        """What a node came to; a channel that nothing reads or writes is a constant."""
        found = self.results.get(node_id)
        if found is None:
            scene, ref = self.scene, ChannelRef(node_id.part, node_id.quantity)
            value = scene.set_value(ref)
            found = Result(f"value {value!r}", np.array([value]))
        return found

    def channel(self, ref: ChannelRef, tap: Tap) -> Array:
        """A channel's values at a tap, shape (F,) or (1,), in its unit."""
        return self.result(tap_node(self.scene, ref, tap)).values

    def world(self, part: str) -> Array:
        """A part's final world matrix, upper three rows, shape (F, 3, 4) or (1, 3, 4)."""
        return self.results[NodeId(part, "world matrix", at_tap("final"))].values

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
                f"{self.times.first} … {self.times.last}."
            )
        return int(place)


def row_at(values: Array, place: int) -> Array:
    """The row of one frame, shape (1, …), of values that may stand still (one row for all)."""
    return values[place : place + 1] if len(values) > 1 else values


def evaluate(scene: Scene, kept: Kept | None = None, watch: Watch | None = None) -> Evaluation:
    """Evaluates a scene over its whole range.

    Args:
        scene: as edits leave it.
        kept: results of earlier evaluations to use again and to add to.
        watch: see ``Watch``.

    Raises:
        Refusal: when the scene is too large.
    """
    graph = graph_of(scene)
    times = Times.of(scene.first, scene.last, scene.fps)
    return _run(graph, times, {}, graph.order, kept, watch)


def evaluate_only(scene: Scene, nodes: Iterable[NodeId]) -> Evaluation:
    """Evaluates some nodes of a scene and what feeds them, over its whole range."""
    graph = graph_of(scene, nodes)
    return _run(graph, Times.of(scene.first, scene.last, scene.fps), {}, graph.order, None)


def evaluate_after(
    before: Evaluation, scene: Scene, kept: Kept | None = None, watch: Watch | None = None
) -> Evaluation:
    """Evaluates a scene that came from an evaluated one by an edit: only what it reaches; see
    ``evaluate``."""
    old = before.scene
    if (old.first, old.last, old.fps) != (scene.first, scene.last, scene.fps):
        return evaluate(scene, kept, watch)
    graph, changed = graph_after(before.graph, scene)
    if graph.order is not before.graph.order:
        results = {i: r for i, r in before.results.items() if i in graph.nodes}
        return _run(graph, before.times, results, graph.order, kept, watch)
    reached = downstream(graph.dependents, changed)
    todo = [node_id for node_id in graph.order if node_id in reached]
    return _run(graph, before.times, dict(before.results), todo, kept, watch)


def _run(
    graph: Graph,
    times: Times,
    results: dict[NodeId, Result],
    todo: Sequence[NodeId],
    kept: Kept | None,
    watch: Watch | None = None,
) -> Evaluation:
    """Brings the results of the nodes ``todo``, given in their order, up to date."""
    refuse_too_much(graph, len(times.frames), todo, results)
    base = f"{times.first} {times.last} {times.fps!r}"
    seconds: dict[NodeId, float] = {}
    for node_id in todo:
        if watch:
            watch()
        node = graph.nodes[node_id]
        if node_id in graph.marches:
            if graph.marches[node_id][0] == node_id:
                _run_march(graph, times, base, graph.marches[node_id], results, seconds, watch)
            continue
        inputs = [results[i] for i in node.inputs]
        key = _key(base, node.operation.digest, [i.key for i in inputs])
        old = results.get(node_id)
        if old is not None and old.key == key:
            continue
        found = kept.get(key) if kept else None
        if found is None:
            start = time.perf_counter()
            made = node.operation.compute([i.values for i in inputs], times)
            found = _finite(key, made, inputs[0].values if inputs else np.zeros(1), times)
            seconds[node_id] = time.perf_counter() - start
            found = replace(found, seconds=seconds[node_id])
            if kept:
                kept.put(found)
        results[node_id] = found
    return Evaluation(graph, times, results, seconds)


def _run_march(
    graph: Graph,
    times: Times,
    base: str,
    members: Sequence[NodeId],
    results: dict[NodeId, Result],
    seconds: dict[NodeId, float],
    watch: Watch | None,
) -> None:
    """Brings the results of a group that runs frame by frame up to date; the time it took is
    shared out evenly."""
    nodes = [graph.nodes[i] for i in members]
    outside = outside_inputs(nodes)
    digests = "\n".join(node.operation.digest for node in nodes)
    key = _key(base, digests, [results[i].key for i in outside])
    if all(i in results and results[i].key == f"{key} {n}" for n, i in enumerate(members)):
        return
    start = time.perf_counter()
    made, broken = marched(nodes, {i: results[i].values for i in outside}, times, watch)
    share = (time.perf_counter() - start) / len(members)
    for n, node_id in enumerate(members):
        bad = broken.get(node_id, [])
        first = times.first + bad[0] if bad else None
        results[node_id] = Result(f"{key} {n}", made[node_id], first, len(bad), share)
        seconds[node_id] = share


def _key(base: str, digest: str, inputs: list[str]) -> str:
    text = "\n".join((base, digest, *inputs))
    return hashlib.blake2b(text.encode(), digest_size=16).hexdigest()


def _finite(key: str, made: Array, incoming: Array, times: Times) -> Result:
    """The result with values that are not finite held at what came in."""
    good = np.isfinite(made)
    if good.all():
        return Result(key, made)
    if made.shape[1:] != incoming.shape[1:]:
        incoming = np.zeros((1, *made.shape[1:]))
    bad = np.broadcast_to(~good, np.broadcast_shapes(made.shape, incoming.shape))
    values = np.where(bad, incoming, made)
    frames = np.flatnonzero(bad.reshape(len(bad), -1).any(axis=1))
    count = len(frames) if len(bad) > 1 else len(times.frames)
    return Result(key, values, times.first + int(frames[0]), count)
