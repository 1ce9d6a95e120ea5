"""The one error that the core raises for input that it cannot take."""

from __future__ import annotations

from collections.abc import Iterable
from difflib import get_close_matches
from typing import Literal

Code = Literal[
    "unknown",
    "gone",
    "taken",
    "locked",
    "in use",
    "too much",
    "number",
    "text",
    "choice",
    "impossible",
]
"""What kind of trouble it is, for programs: a name that stands for nothing; a thing that has been
deleted meanwhile; a name or place that is taken; something locked; something that others read or
write; more than there is room for; a number that does not fit; a text that is not what it should
be; something that has to be chosen, or chosen otherwise; anything else that has no meaning."""


class Refusal(ValueError):
    """Something was refused; the message says what, where and what to do.

    Attributes:
        place: the part, field or line at fault, e.g. ``paddle.rotation.z`` or ``parts[3].name``.
        column: for text, the 1-based column at fault, else None.
        nearest: names that were perhaps meant.
        code: what kind of trouble it is.
    """

    def __init__(
        self,
        message: str,
        *,
        place: str = "",
        column: int | None = None,
        nearest: Iterable[str] = (),
        code: Code = "impossible",
    ) -> None:
        self.place = place
        self.code: Code = code
        self.column = column
        self.nearest = tuple(nearest)
        super().__init__(message)

    def __str__(self) -> str:
        text = super().__str__()
        if self.column is not None:
            text = f"column {self.column}: {text}"
        if self.place:
            text = f"{self.place}: {text}"
        if self.nearest:
            text += f" Nearest: {', '.join(self.nearest)}."
        return text

    @property
    def message(self) -> str:
        """The message alone, without place, column and nearest names."""
        return str(self.args[0])

    def at(self, place: str) -> Refusal:
        """The same refusal, told of a place."""
        return Refusal(
            self.message, place=place, column=self.column, nearest=self.nearest, code=self.code
        )


def nearest_names(wanted: str, known: Iterable[str], most: int = 3) -> list[str]:
    """Up to ``most`` of the known names that resemble the wanted one, best first."""
    by_lower = {name.lower(): name for name in known}
    found = get_close_matches(wanted.lower(), list(by_lower), n=most, cutoff=0.5)
    return [by_lower[name] for name in found]
