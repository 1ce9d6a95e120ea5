"""Runs a scene's graph over all frames, in batches of nodes of one kind."""

from __future__ import annotations

import time
from collections.abc import Iterable, Iterator, Sequence

from bindu.core.evaluation.batches import Pending, by_level, computed
from bindu.core.evaluation.evaluation import Evaluation
from bindu.core.evaluation.frame_by_frame import marched, outside_inputs
from bindu.core.evaluation.results import KeptResults, Result, result_key
from bindu.core.evaluation.work import Watch, refuse_too_much
from bindu.core.graph.change import graph_after
from bindu.core.graph.graph import Graph, downstream, graph_of
from bindu.core.nodes.channel import StillNumber
from bindu.core.nodes.identity import OWN, NodeId
from bindu.core.nodes.node import Node
from bindu.core.nodes.operation import Times
from bindu.core.scene.model import Scene


def evaluate(
    scene: Scene, kept: KeptResults | None = None, watch: Watch | None = None
) -> Evaluation:
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
    return _Run(graph, times, {}, kept, watch).through(graph.nodes)


def evaluate_only(scene: Scene, nodes: Iterable[NodeId]) -> Evaluation:
    """Evaluates some nodes of a scene and what feeds them, over its whole range."""
    graph = graph_of(scene, nodes)
    times = Times.of(scene.first, scene.last, scene.fps)
    return _Run(graph, times, {}).through(graph.nodes)


def evaluate_after(
    before: Evaluation, scene: Scene, kept: KeptResults | None = None, watch: Watch | None = None
) -> Evaluation:
    """Evaluates a scene that came from an evaluated one by an edit: only what it reaches; see
    ``evaluate``."""
    old = before.scene
    if (old.first, old.last, old.fps) != (scene.first, scene.last, scene.fps):
        return evaluate(scene, kept, watch)
    graph, changed = graph_after(before.graph, scene)
    reached = downstream(graph.dependents, changed)
    results = dict(before.results)
    if graph.ranks is not before.graph.ranks:
        results = {i: result for i, result in results.items() if i in graph.nodes}
    return _Run(graph, before.times, results, kept, watch).through(reached)


class _Run:
    """Brings results up to date.

    Args:
        graph: what is run.
        times: the frames.
        results: what is known of other nodes, or was before; changed in place.
        kept: see ``evaluate``.
        watch: see ``Watch``.
    """

    def __init__(
        self,
        graph: Graph,
        times: Times,
        results: dict[NodeId, Result],
        kept: KeptResults | None = None,
        watch: Watch | None = None,
    ) -> None:
        self._graph, self._times, self._results = graph, times, results
        self._kept, self._watch = kept, watch
        self._base = f"{times.first} {times.last} {times.fps!r}"
        self._seconds: dict[NodeId, float] = {}
        self._starts: dict[str, Result] = {}

    def through(self, todo: Iterable[NodeId]) -> Evaluation:
        """The evaluation once these nodes are up to date."""
        levels = by_level(todo, self._graph.levels)
        listed = [node_id for level in levels for node_id in level]
        refuse_too_much(self._graph, len(self._times.frames), listed, self._results)
        for level in levels:
            if self._watch:
                self._watch()
            self._level(level)
        return Evaluation(self._graph, self._times, self._results, self._seconds)

    def _level(self, nodes: Sequence[NodeId]) -> None:
        """Nodes that do not read each other, unless they run together frame by frame."""
        marches = self._graph.marches
        if marches:
            for node_id in nodes:
                if node_id in marches and marches[node_id][0] == node_id:
                    self._march(marches[node_id])
            nodes = [node_id for node_id in nodes if node_id not in marches]
        for made in computed(self._wanted(nodes), self._times):
            self._results.update(made)
            self._seconds.update({node_id: result.seconds for node_id, result in made.items()})
            if self._kept:
                for result in made.values():
                    self._kept.put(result)

    def _wanted(self, nodes: Iterable[NodeId]) -> Iterator[Pending]:
        """The nodes that have to be computed, without those of which it is known what they come
        to."""
        known, results = self._graph.nodes, self._results
        for node_id in nodes:
            node = known[node_id]
            inputs = [results[i] for i in node.inputs]
            if node.start is not None:
                inputs.insert(0, self._start(node.start))
            key = result_key(self._base, node.operation.digest, [taken.key for taken in inputs])
            old = results.get(node_id)
            if old is not None and old.key == key:
                continue
            found = self._kept.get(key) if self._kept else None
            if found is None:
                yield node, key, inputs
            else:
                results[node_id] = found

    def _start(self, number: float) -> Result:
        """What a stream begins with, the same for all that begin with this number."""
        still = StillNumber(number)
        found = self._starts.get(still.digest)
        if found is None:
            values = still.compute((), self._times)
            found = Result(result_key(self._base, still.digest, ()), values)
            self._starts[still.digest] = found
        return found

    def _outside_keys(self, nodes: Sequence[Node], members: Sequence[NodeId]) -> Iterable[str]:
        """The keys of what a group begins with and reads from outside of itself."""
        inside = set(members)
        keys: dict[NodeId, str] = {}
        for node in nodes:
            if node.start is not None:
                keys[node.id._replace(stage=OWN)] = self._start(node.start).key
            keys.update((i, self._results[i].key) for i in node.inputs if i not in inside)
        return keys.values()

    def _march(self, members: Sequence[NodeId]) -> None:
        """A group that runs frame by frame; the time it took is shared out evenly."""
        nodes = [self._graph.nodes[i] for i in members]
        digests = "\n".join(node.operation.digest for node in nodes)
        results = self._results
        key = result_key(self._base, digests, self._outside_keys(nodes, members))
        if all(i in results and results[i].key == f"{key} {n}" for n, i in enumerate(members)):
            return
        start = time.perf_counter()
        values = {i: results[i].values for i in outside_inputs(nodes)}
        made, broken = marched(nodes, values, self._times, self._watch)
        share = (time.perf_counter() - start) / len(members)
        for n, node_id in enumerate(members):
            bad = broken.get(node_id, [])
            first = self._times.first + bad[0] if bad else None
            results[node_id] = Result(f"{key} {n}", made[node_id], first, len(bad), share)
            self._seconds[node_id] = share
