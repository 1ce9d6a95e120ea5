"""Runs a graph over all frames and keeps the results."""

from bindu.core.evaluation.evaluate import evaluate, evaluate_after, evaluate_only
from bindu.core.evaluation.evaluation import Evaluation, row_at
from bindu.core.evaluation.results import KeptResults, Result
from bindu.core.evaluation.work import MOST_NUMBERS, MOST_WORK, Watch

__all__ = [
    "MOST_NUMBERS",
    "MOST_WORK",
    "Evaluation",
    "KeptResults",
    "Result",
    "Watch",
    "evaluate",
    "evaluate_after",
    "evaluate_only",
    "row_at",
]
