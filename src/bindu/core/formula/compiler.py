"""A parsed formula made ready to run over arrays."""

from __future__ import annotations

from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass
from functools import cached_property, lru_cache

import numpy as np

from bindu.core.curves.finite import all_finite
from bindu.core.curves.model import Array
from bindu.core.formula.functions import CONSTANTS, FUNCTIONS, MEASURES, OPERATORS, TIMES, measured
from bindu.core.formula.parser import parse
from bindu.core.formula.tree import Call, Constant, Measure, Number, Reference, Tree
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

    @cached_property
    def shape(self) -> str:
        """The same for formulas that differ only in their numbers and in what they read."""
        return _shape(self.tree, {read: n for n, read in enumerate(self.reads)})

    @cached_property
    def numbers(self) -> tuple[float, ...]:
        """Its numbers, in the order in which they are met."""
        return tuple(_numbers(self.tree))

    def values(self, inputs: Sequence[Array], times: Times) -> Array:
        """The formula's value, shape (F,) or (1,) where it does not change over time.

        Args:
            inputs: an array for each of ``reads``.
            times: the frames.
        """
        return np.asarray(values_of_many([self], [one[None] for one in inputs], times)[0])


def values_of_many(formulas: Sequence[Formula], inputs: Sequence[Array], times: Times) -> Array:
    """The values of B formulas of one shape.

    Args:
        formulas: with the same ``shape``.
        inputs: for each of their reads a stack, shape (B, F, …) or (B, 1, …).
        times: the frames.

    Returns:
        Shape (B, F), or (B, 1) where they do not change over time.
    """
    first = formulas[0]
    columns = zip(*(formula.numbers for formula in formulas), strict=True)
    numbers = iter([_stacked(column) for column in columns])
    found = dict(zip(first.reads, inputs, strict=True))
    with np.errstate(all="ignore"):
        made = _value(first.tree, found, numbers, times)
    if len(made) == len(formulas):
        return made
    return np.broadcast_to(made, (len(formulas), made.shape[-1]))


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
    if isinstance(tree, Call):
        return [read for argument in tree.arguments for read in _reads(argument)]
    return _own_reads(tree)


def _own_reads(tree: Tree) -> list[Read]:
    if isinstance(tree, Reference):
        return [Read(tree.part, tree.channel or "", tree.tap, tree.back)]
    if isinstance(tree, Measure):
        reads = MEASURES[tree.name].reads
        pairs = zip(tree.parts, reads, strict=True)
        return [Read(p.part, read, p.tap, p.back) for p, read in pairs]
    return []


def _numbers(tree: Tree) -> Iterator[float]:
    if isinstance(tree, Number):
        yield tree.value
    elif isinstance(tree, Call):
        for argument in tree.arguments:
            yield from _numbers(argument)


def _shape(tree: Tree, places: Mapping[Read, int]) -> str:
    if isinstance(tree, Number):
        return "#"
    if isinstance(tree, Constant):
        return tree.name
    reads = ",".join(str(places[read]) for read in _own_reads(tree))
    if isinstance(tree, Reference):
        return f"{{{reads}}}"
    if isinstance(tree, Measure):
        return f"{tree.name}{{{reads}}}"
    return f"{tree.name}({','.join(_shape(argument, places) for argument in tree.arguments)})"


def _stacked(numbers: Sequence[float]) -> Array:
    """The numbers at one place of some formulas, shape (B, 1); (1, 1) where they are all the same,
    so that what is made of such numbers and the time alone is computed once."""
    stack = np.array(numbers, dtype=np.float64)[:, None]
    bits = stack.view(np.int64)  # 0 and -0 are equal, but not the same
    return stack[:1] if np.all(bits == bits[0]) else stack


def _value(
    tree: Tree, found: Mapping[Read, Array], numbers: Iterator[Array], times: Times
) -> Array:
    """A stack of values, shape (B, F), (B, 1) or, of what is the same for all, (1, F) or (1, 1);
    ``numbers`` gives those of the formulas in the order in which they are met."""
    if isinstance(tree, Number):
        return next(numbers)
    if isinstance(tree, Constant):
        return _constant(tree.name, times)
    if isinstance(tree, Reference | Measure):
        values = [found[read] for read in _own_reads(tree)]
        return measured(tree.name, values) if isinstance(tree, Measure) else values[0]
    arguments = [_value(argument, found, numbers, times) for argument in tree.arguments]
    compute = OPERATORS.get(tree.name) or FUNCTIONS[tree.name].compute
    counted = arguments[:1] if tree.name == "if" else arguments
    return _sound(np.asarray(compute(*arguments)), counted)


def _sound(made: Array, counted: Sequence[Array]) -> Array:
    """A result with no value (NaN) where it is not finite, or where something that it is made of
    has none. Of ``if`` the condition alone is counted: the branch that is not taken may be
    anything."""
    if all_finite(made) and all(all_finite(argument) for argument in counted):
        return made
    bad = ~np.isfinite(made)
    for argument in counted:
        bad = bad | np.isnan(argument)
    return np.where(bad, np.nan, made) if bad.any() else made


def _constant(name: str, times: Times) -> Array:
    if name == "frame":
        return times.frames[None]
    if name == "seconds":
        return times.frames[None] / times.fps
    return np.array([[times.fps if name == "fps" else CONSTANTS[name]]])
