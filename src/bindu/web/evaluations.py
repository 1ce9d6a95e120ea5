"""Keeps each scene's newest evaluation, so that an edit computes only what it reaches."""

from __future__ import annotations

from collections import OrderedDict
from collections.abc import Mapping
from threading import Lock

from bindu.core.evaluate import Evaluation, Kept, evaluate, evaluate_after
from bindu.core.graph.node import NodeId
from bindu.core.scene.model import Scene

MOST_SCENES = 16


class Evaluations:
    """A cache: it may lose anything at any time, and nothing depends on it."""

    def __init__(self) -> None:
        self._newest: OrderedDict[int, Evaluation] = OrderedDict()
        self._costs: dict[int, dict[NodeId, float]] = {}
        self._kept = Kept()
        self._lock = Lock()

    def of(self, scene_id: int, scene: Scene) -> Evaluation:
        """The scene, evaluated, and remembered as the newest of its number."""
        with self._lock:
            before = self._newest.get(scene_id)
            evaluation = self._evaluated(before, scene)
            self._newest[scene_id] = evaluation
            self._newest.move_to_end(scene_id)
            if evaluation is not before:
                self._costs.setdefault(scene_id, {}).update(evaluation.seconds)
            if len(self._newest) > MOST_SCENES:
                dropped, _ = self._newest.popitem(last=False)
                self._costs.pop(dropped, None)
        return evaluation

    def costs(self, scene_id: int) -> Mapping[NodeId, float]:
        """How long each value of a scene took when it was computed last, seconds; without those
        that were found again, or computed by another process."""
        return self._costs.get(scene_id, {})

    def tried(self, scene_id: int, scene: Scene) -> Evaluation:
        """A scene with edits that are only tried, evaluated and not remembered."""
        with self._lock:
            return self._evaluated(self._newest.get(scene_id), scene)

    def _evaluated(self, before: Evaluation | None, scene: Scene) -> Evaluation:
        if before is None:
            return evaluate(scene, self._kept)
        if before.scene is scene:
            return before
        return evaluate_after(before, scene, self._kept)
