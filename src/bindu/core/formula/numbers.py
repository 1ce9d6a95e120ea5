"""The numbers in a formula's text, and formulas that are alike but for numbers and references."""

from __future__ import annotations

import re
from functools import lru_cache
from typing import NamedTuple

from bindu.core.formula.references import BRACES

NUMBER = re.compile(r"\{[^{}]*\}|[A-Za-z_][A-Za-z_0-9]*|((?:\d+\.?\d*|\.\d+)(?:[eE][+-]?\d+)?)")


class NumberSpan(NamedTuple):
    """A number as it stands in a text: from ``start`` up to ``end``."""

    start: int
    end: int
    value: float


def numbers_in(text: str) -> tuple[NumberSpan, ...]:
    """The numbers of a formula in the order of the text; those in names and braces are none."""
    return tuple(
        NumberSpan(match.start(), match.end(), float(match[1]))
        for match in NUMBER.finditer(text)
        if match[1] is not None
    )


def with_number(text: str, place: int, words: str) -> str:
    """The text with its ``place``-th number replaced by words.

    Raises:
        IndexError: when it has fewer numbers.
    """
    span = numbers_in(text)[place]
    return text[: span.start] + words + text[span.end :]


@lru_cache(maxsize=50_000)
def shape_of(text: str) -> str:
    """The text without its numbers, references and spaces: the same for formulas that are alike."""
    bare = BRACES.sub("{}", text)
    for span in reversed(numbers_in(bare)):
        bare = bare[: span.start] + "#" + bare[span.end :]
    return "".join(bare.split())


def written_number(value: float) -> str:
    """A number as a formula takes it, in parentheses where it is negative."""
    text = repr(float(value))
    text = text.removesuffix(".0")
    return f"({text})" if value < 0 else text
