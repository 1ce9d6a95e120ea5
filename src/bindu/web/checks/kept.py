"""Keeps what checks found in each scene, so that they look again only at what an edit reached."""

from __future__ import annotations

from collections import OrderedDict
from collections.abc import Callable
from dataclasses import dataclass, field
from threading import Lock
from weakref import ref

from bindu.core.checks.check import Finding, Looked
from bindu.core.checks.registry import findings
from bindu.core.evaluation import Evaluation

MOST_SCENES = 16


@dataclass
class _Found:
    """What is known of a scene: what was seen, and the newest findings. Their evaluation is only
    recognised, and not held when nobody else does."""

    lock: Lock = field(default_factory=Lock)
    looked: Looked = field(default_factory=Looked)
    evaluation: Callable[[], Evaluation | None] = lambda: None
    findings: tuple[Finding, ...] = ()


class KeptFindings:
    """A cache: it may lose anything at any time. What was looked at longest ago goes first."""

    def __init__(self) -> None:
        self._found: OrderedDict[int, _Found] = OrderedDict()
        self._lock = Lock()

    def of(self, scene_id: int, evaluation: Evaluation) -> tuple[Finding, ...]:
        """All findings of a scene, as it was evaluated."""
        found = self._of(scene_id)
        with found.lock:
            if found.evaluation() is not evaluation:
                found.findings = findings(evaluation, looked=found.looked)
                found.evaluation = ref(evaluation)
            return found.findings

    def tried(self, scene_id: int, evaluation: Evaluation) -> tuple[Finding, ...]:
        """The findings of another state of a scene, by what is known of the scene itself."""
        found = self._of(scene_id)
        with found.lock:
            return findings(evaluation, looked=found.looked)

    def _of(self, scene_id: int) -> _Found:
        with self._lock:
            found = self._found.setdefault(scene_id, _Found())
            self._found.move_to_end(scene_id)
            while len(self._found) > MOST_SCENES:
                self._found.popitem(last=False)
            return found

    def forget(self, scene_id: int) -> None:
        """Lets go of a scene that is deleted."""
        with self._lock:
            self._found.pop(scene_id, None)
