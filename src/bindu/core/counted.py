"""How many of something, in a sentence."""

from __future__ import annotations


def counted(count: int, one: str, many: str | None = None) -> str:
    """A count and what is counted: 1 key, 2 keys; 1 key goes, 1,200 keys go.

    Args:
        count: how many.
        one: what follows where it is one.
        many: what follows else; ``one`` with an s where it is not given.
    """
    return f"{count:,} {one if count == 1 else many or f'{one}s'}"
