"""Evaluations for edits that ask for one.

Whoever applies edits may have evaluated the scene already; ``answering`` lets edits have that in
place of one of their own. It changes what an edit costs, and nothing of what it does.
"""

from __future__ import annotations

from collections.abc import Callable, Collection, Iterator
from contextlib import contextmanager
from contextvars import ContextVar

from bindu.core.evaluation.evaluate import evaluate, evaluate_only
from bindu.core.evaluation.evaluation import Evaluation
from bindu.core.nodes.identity import NodeId
from bindu.core.scene.model import Scene

Evaluate = Callable[[Scene], Evaluation]
_ANSWER: ContextVar[Evaluate | None] = ContextVar("answer", default=None)


@contextmanager
def answering(answer: Evaluate) -> Iterator[None]:
    """While this is open, edits get their evaluations from ``answer``."""
    token = _ANSWER.set(answer)
    try:
        yield
    finally:
        _ANSWER.reset(token)


def evaluated(scene: Scene) -> Evaluation:
    """A scene over its whole range."""
    return (_ANSWER.get() or evaluate)(scene)


def evaluated_nodes(scene: Scene, nodes: Collection[NodeId]) -> Evaluation:
    """A scene of which only these nodes are wanted; they may be such that nothing else reads."""
    answer = _ANSWER.get()
    if answer is not None:
        whole = answer(scene)
        if all(whole.knows(node) for node in nodes):
            return whole
    return evaluate_only(scene, nodes)
