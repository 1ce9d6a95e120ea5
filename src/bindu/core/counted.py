"""How many of something, and which, in a sentence."""

from __future__ import annotations

from collections.abc import Sequence


def counted(count: int, one: str, many: str | None = None) -> str:
    """A count and what is counted: 1 key, 2 keys; 1 key goes, 1,200 keys go.

    Args:
        count: how many.
        one: what follows where it is one.
        many: what follows else; ``one`` with an s where it is not given.
    """
    return f"{count:,} {one if count == 1 else many or f'{one}s'}"


def some_of(names: Sequence[str], most: int = 8) -> str:
    """The first of some names, and how many more there are."""
    more = f" and {len(names) - most} more" if len(names) > most else ""
    return ", ".join(names[:most]) + more
