"""Keeps what checks found in each scene, so that they look again only at what an edit reached."""

from __future__ import annotations

from collections import OrderedDict
from dataclasses import dataclass, field
from threading import Lock

from bindu.core.checks.check import Finding, Looked
from bindu.core.checks.registry import findings
from bindu.core.evaluation import Evaluation

MOST_SCENES = 16


@dataclass
class _Found:
    """What is known of a scene: what was seen, and the newest findings with their evaluation."""

    lock: Lock = field(default_factory=Lock)
    looked: Looked = field(default_factory=Looked)
    evaluation: Evaluation | None = None
    findings: tuple[Finding, ...] = ()


class KeptFindings:
    """A cache: it may lose anything at any time. What was looked at longest ago goes first."""

    def __init__(self) -> None:
        self._found: OrderedDict[int, _Found] = OrderedDict()
        self._lock = Lock()

    def of(self, scene_id: int, evaluation: Evaluation) -> tuple[Finding, ...]:
        """All findings of a scene, as it was evaluated."""
        with self._lock:
            found = self._found.setdefault(scene_id, _Found())
            self._found.move_to_end(scene_id)
            while len(self._found) > MOST_SCENES:
                self._found.popitem(last=False)
        with found.lock:
            if found.evaluation is not evaluation:
                found.findings = findings(evaluation, looked=found.looked)
                found.evaluation = evaluation
            return found.findings

    def forget(self, scene_id: int) -> None:
        """Lets go of a scene that is deleted."""
        with self._lock:
            self._found.pop(scene_id, None)
