"""A formula multiplied by a factor, written as a person would write it."""

from __future__ import annotations

import re
from typing import NamedTuple

from bindu.core.formula.numbers import numbers_in, with_number, written_number
from bindu.core.formula.parser import parse
from bindu.core.formula.tree import Call, Number, Tree

NOTHING = re.compile(r"\s*/\s*1$")
"""What changes nothing at the end of a product."""
STRAIGHT = ("minus", "degrees", "radians")
"""What passes a factor on to its argument."""


class Scaled(NamedTuple):
    """A formula that makes so many times as much.

    Attributes:
        text: the formula.
        place: which of its numbers took the factor in, counted from 0 as the text goes; None where
            none could, and the factor stands before it all.
        value: what that number is now.
    """

    text: str
    place: int | None = None
    value: float | None = None


def scaled(text: str, factor: float) -> Scaled:
    """The formula times a factor: taken in by a number that multiplies or divides all of it, if
    there is one, so that ``-degrees({way} / 0.5)`` with 1.25 gives ``-degrees({way} / 0.4)``.

    Args:
        text: a formula, references as they stand.
        factor: not 0.

    Raises:
        Refusal: where the text is no formula.
    """
    found = _multiplier(parse(text), 0)
    if found is None or factor == 0.0:
        return Scaled(f"{written_number(plain(factor))} * ({text})")
    place, divides = found
    old = numbers_in(text)[place].value
    value = plain(old / factor if divides else old * factor)
    made = with_number(text, place, written_number(value))
    return Scaled(NOTHING.sub("", made) or made, place, value)


def plain(value: float) -> float:
    """The number without the last digits that computing left in it: 1.2500000000000002 is 1.25. It
    is off by less than 1e-12 of itself."""
    return float(f"{value:.13g}")


def _multiplier(tree: Tree, before: int) -> tuple[int, bool] | None:
    """The number that multiplies or divides the whole of a tree, which stands behind so many
    others: its place, and whether it divides."""
    if isinstance(tree, Number):
        return before, False
    if not isinstance(tree, Call):
        return None
    if tree.name in STRAIGHT:
        return _multiplier(tree.arguments[0], before)
    if tree.name not in ("*", "/"):
        return None
    left, right = tree.arguments
    behind = before + _count(left)
    if isinstance(right, Number):
        return behind, tree.name == "/"
    found = _multiplier(left, before)
    if found is None and tree.name == "*":
        found = _multiplier(right, behind)
    return found


def _count(tree: Tree) -> int:
    """How many numbers stand in a tree."""
    if isinstance(tree, Number):
        return 1
    return sum(map(_count, tree.arguments)) if isinstance(tree, Call) else 0
