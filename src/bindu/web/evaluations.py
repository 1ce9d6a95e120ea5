"""Keeps each scene's newest evaluation, so that an edit computes only what it reaches."""

from __future__ import annotations

from collections import OrderedDict
from threading import Lock

from bindu.core.evaluate import Evaluation, Kept, evaluate, evaluate_after
from bindu.core.scene.model import Scene

MOST_SCENES = 16


class Evaluations:
    """A cache: it may lose anything at any time, and nothing depends on it."""

    def __init__(self) -> None:
        self._newest: OrderedDict[int, Evaluation] = OrderedDict()
        self._kept = Kept()
        self._lock = Lock()

    def of(self, scene_id: int, scene: Scene) -> Evaluation:
        """The scene, evaluated, and remembered as the newest of its number."""
        with self._lock:
            before = self._newest.get(scene_id)
            evaluation = self._evaluated(before, scene)
            self._newest[scene_id] = evaluation
            self._newest.move_to_end(scene_id)
            if len(self._newest) > MOST_SCENES:
                self._newest.popitem(last=False)
        return evaluation

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
