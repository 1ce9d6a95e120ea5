"""Keeps each scene's newest evaluation, so that an edit computes only what it reaches."""

from __future__ import annotations

from collections import OrderedDict
from dataclasses import dataclass, field
from threading import Lock

from bindu.core.evaluation import (
    Evaluation,
    KeptResults,
    Watch,
    bytes_of,
    evaluate,
    evaluate_after,
)
from bindu.core.scene.model import Scene

MOST_SCENES = 16
MOST_BYTES = 1024 * 1024 * 1024
"""What all scenes together may hold; the one that is looked at stays whatever it holds."""
MOST_KEPT_BYTES = 256 * 1024 * 1024
"""What earlier results of one scene, to which undo may come back, may hold."""


@dataclass
class Remembered:
    """What is known of a scene that somebody looks at: its newest evaluation and the bytes that it
    holds, earlier results, and a lock, so that nobody waits for another scene."""

    lock: Lock = field(default_factory=Lock)
    kept: KeptResults = field(default_factory=lambda: KeptResults(MOST_KEPT_BYTES))
    newest: Evaluation | None = None
    bytes: int = 0


class Evaluations:
    """A cache: it may lose anything at any time, and nothing depends on it. What was looked at
    longest ago is let go first."""

    def __init__(self, most_bytes: int = MOST_BYTES) -> None:
        self._looked: OrderedDict[int, Remembered] = OrderedDict()
        self._most_bytes = most_bytes
        self._lock = Lock()

    @property
    def bytes(self) -> int:
        """How much memory all of it holds; what newest and earlier results share counts twice."""
        return sum(one.bytes + one.kept.bytes for one in self._looked.values())

    def of(self, scene_id: int, scene: Scene, watch: Watch | None = None) -> Evaluation:
        """The scene, evaluated, and remembered as the newest of its number."""
        looked = self._looked_at(scene_id)
        with looked.lock:
            evaluation = self._evaluated(looked, scene, watch)
            if looked.newest is not evaluation:
                looked.newest = evaluation
                looked.bytes = bytes_of(evaluation.results.values())
        self._let_go()
        return evaluation

    def ahead(self, scene: Scene, watch: Watch | None = None) -> Remembered:
        """A scene that has no number yet, evaluated; ``begin`` remembers it under its number."""
        looked = Remembered()
        looked.newest = evaluate(scene, looked.kept, watch)
        looked.bytes = bytes_of(looked.newest.results.values())
        return looked

    def begin(self, scene_id: int, looked: Remembered) -> None:
        """See ``ahead``."""
        with self._lock:
            self._looked[scene_id] = looked
        self._let_go()

    def tried(self, scene_id: int, scene: Scene, watch: Watch | None = None) -> Evaluation:
        """A scene with edits that are only tried, evaluated and not remembered."""
        looked = self._looked_at(scene_id)
        with looked.lock:
            return self._evaluated(looked, scene, watch)

    def forget(self, scene_id: int) -> None:
        """Lets go of a scene that is deleted."""
        with self._lock:
            self._looked.pop(scene_id, None)

    def _looked_at(self, scene_id: int) -> Remembered:
        with self._lock:
            looked = self._looked.setdefault(scene_id, Remembered())
            self._looked.move_to_end(scene_id)
            return looked

    def _let_go(self) -> None:
        with self._lock:
            while len(self._looked) > 1 and (
                len(self._looked) > MOST_SCENES or self.bytes > self._most_bytes
            ):
                self._looked.popitem(last=False)

    def _evaluated(self, looked: Remembered, scene: Scene, watch: Watch | None) -> Evaluation:
        before = looked.newest
        if before is None:
            return evaluate(scene, looked.kept, watch)
        if before.scene is scene:
            return before
        return evaluate_after(before, scene, looked.kept, watch)
