"""Evaluations as a server keeps them, for tests of many edits one after the other."""

from __future__ import annotations

from bindu.core.evaluation import Evaluation, evaluate, evaluate_after
from bindu.core.scene.model import Scene

_ASKED: list[Evaluation] = []
_KEPT = 4


def known(scene: Scene) -> Evaluation:
    """A scene's evaluation from nothing; where the same one is asked for again, the same."""
    for evaluation in _ASKED:
        if evaluation.scene is scene:
            return evaluation
    _ASKED.append(evaluate(scene))
    del _ASKED[:-_KEPT]
    return _ASKED[-1]


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
