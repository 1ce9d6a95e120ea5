"""A parsed formula made ready to run over arrays."""

from __future__ import annotations

from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass
from functools import cached_property, lru_cache

import numpy as np

from bindu.core.curves.model import Array
from bindu.core.formula.functions import CONSTANTS, FUNCTIONS, MEASURES, OPERATORS, TIMES, measured
from bindu.core.formula.parser import parse
from bindu.core.formula.tree import Constant, Measure, Number, Reference, Tree
from bindu.core.nodes.identity import Read
from bindu.core.nodes.operation import Times


@dataclass(frozen=True)
class Formula:
    """A stored formula: its tree and what it reads, each read once, in the order of the text."""

    tree: Tree
    reads: tuple[Read, ...]

    @cached_property
    def calculations(self) -> int:
        """How many operations and functions it has."""
        return 1 + sum(1 for _ in _inner(self.tree))

    @cached_property
    def timed(self) -> bool:
        """Whether it reads the time itself."""
        return any(isinstance(t, Constant) and t.name in TIMES[:2] for t in _inner(self.tree))

    def values(self, inputs: Sequence[Array], times: Times) -> Array:
        """The formula's value, shape (F,) or (1,) where it does not change over time.

        Args:
            inputs: an array for each of ``reads``.
            times: the frames.
        """
        found = dict(zip(self.reads, inputs, strict=True))
        with np.errstate(all="ignore"):
            return np.atleast_1d(_value(self.tree, found, times))


@lru_cache(maxsize=50_000)
def compiled(text: str) -> Formula:
    """A stored formula (identities in its braces), ready to run.

    Raises:
        Refusal: when the text is no formula.
    """
    tree = parse(text)
    return Formula(tree, tuple(dict.fromkeys(_reads(tree))))


def _inner(tree: Tree) -> Iterator[Tree]:
    """A tree and all that it is made of."""
    pending = [tree]
    while pending:
        here = pending.pop()
        yield here
        if not isinstance(here, Number | Constant | Reference | Measure):
            pending.extend(here.arguments)


def _reads(tree: Tree) -> list[Read]:
    if isinstance(tree, Reference):
        return [Read(tree.part, tree.channel or "", tree.tap, tree.back)]
    if isinstance(tree, Measure):
        reads = MEASURES[tree.name].reads
        pairs = zip(tree.parts, reads, strict=True)
        return [Read(p.part, read, p.tap, p.back) for p, read in pairs]
    if isinstance(tree, Number | Constant):
        return []
    return [read for argument in tree.arguments for read in _reads(argument)]


def _value(tree: Tree, found: Mapping[Read, Array], times: Times) -> Array:
    if isinstance(tree, Number):
        return np.array([tree.value])
    if isinstance(tree, Constant):
        return _constant(tree.name, times)
    if isinstance(tree, Reference | Measure):
        values = [found[read] for read in _reads(tree)]
        return measured(tree.name, values) if isinstance(tree, Measure) else values[0]
    arguments = [_value(argument, found, times) for argument in tree.arguments]
    compute = OPERATORS.get(tree.name) or FUNCTIONS[tree.name].compute
    counted = arguments[:1] if tree.name == "if" else arguments
    return _sound(np.asarray(compute(*arguments)), counted)


def _sound(made: Array, counted: Sequence[Array]) -> Array:
    """A result with no value (NaN) where it is not finite, or where something that it is made of
    has none. Of ``if`` the condition alone is counted: the branch that is not taken may be
    anything."""
    bad = ~np.isfinite(made)
    for argument in counted:
        bad = bad | np.isnan(argument)
    return np.where(bad, np.nan, made) if bad.any() else made


def _constant(name: str, times: Times) -> Array:
    if name == "frame":
        return times.frames
    if name == "seconds":
        return times.frames / times.fps
    return np.array([times.fps if name == "fps" else CONSTANTS[name]])
