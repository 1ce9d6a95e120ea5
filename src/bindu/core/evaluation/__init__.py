"""Runs a graph over all frames and keeps the results."""

from bindu.core.evaluation.asking import answering, evaluated, evaluated_nodes
from bindu.core.evaluation.evaluate import evaluate, evaluate_after, evaluate_only
from bindu.core.evaluation.evaluation import Evaluation, row_at
from bindu.core.evaluation.results import KeptResults, Result, bytes_of
from bindu.core.evaluation.work import MOST_NUMBERS, MOST_WORK, Watch

__all__ = [
    "MOST_NUMBERS",
    "MOST_WORK",
    "Evaluation",
    "KeptResults",
    "Result",
    "Watch",
    "answering",
    "bytes_of",
    "evaluate",
    "evaluate_after",
    "evaluate_only",
    "evaluated",
    "evaluated_nodes",
    "row_at",
]
