"""Keeps each scene's newest evaluation, so that an edit computes only what it reaches."""

from __future__ import annotations

from collections import OrderedDict
from threading import Lock

from bindu.core.evaluation import Evaluation, KeptResults, evaluate, evaluate_after
from bindu.core.evaluation.work import Watch
from bindu.core.scene.model import Scene

MOST_SCENES = 16


class Evaluations:
    """A cache: it may lose anything at any time, and nothing depends on it. Each scene has a lock
    of its own, so that nobody waits for another scene."""

    def __init__(self) -> None:
        self._newest: OrderedDict[int, Evaluation] = OrderedDict()
        self._kept = KeptResults()
        self._locks: dict[int, Lock] = {}
        self._lock = Lock()

    def of(self, scene_id: int, scene: Scene, watch: Watch | None = None) -> Evaluation:
        """The scene, evaluated, and remembered as the newest of its number."""
        with self._lock_of(scene_id):
            evaluation = self._evaluated(scene_id, scene, watch)
            with self._lock:
                self._newest[scene_id] = evaluation
                self._newest.move_to_end(scene_id)
                if len(self._newest) > MOST_SCENES:
                    self._newest.popitem(last=False)
        return evaluation

    def tried(self, scene_id: int, scene: Scene, watch: Watch | None = None) -> Evaluation:
        """A scene with edits that are only tried, evaluated and not remembered."""
        with self._lock_of(scene_id):
            return self._evaluated(scene_id, scene, watch)

    def forget(self, scene_id: int) -> None:
        """Lets go of a scene that is deleted."""
        with self._lock:
            self._newest.pop(scene_id, None)
            self._locks.pop(scene_id, None)

    def _lock_of(self, scene_id: int) -> Lock:
        with self._lock:
            return self._locks.setdefault(scene_id, Lock())

    def _evaluated(self, scene_id: int, scene: Scene, watch: Watch | None) -> Evaluation:
        with self._lock:
            before = self._newest.get(scene_id)
        if before is None:
            return evaluate(scene, self._kept, watch)
        if before.scene is scene:
            return before
        return evaluate_after(before, scene, self._kept, watch)
