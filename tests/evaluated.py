"""Evaluations as a server keeps them, for tests of many edits one after the other."""

from __future__ import annotations

from bindu.core.evaluation import Evaluation, evaluate, evaluate_after
from bindu.core.scene.model import Scene


class Evaluated:
    """Evaluates scenes, each from the one that was asked for before it."""

    def __init__(self) -> None:
        self._known: Evaluation | None = None

    def __call__(self, scene: Scene) -> Evaluation:
        """The evaluation of a scene."""
        known = self._known
        if known is None or known.scene is not scene:
            self._known = known = evaluate_after(known, scene) if known else evaluate(scene)
        return known
