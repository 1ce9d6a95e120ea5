"""Who would write a part of what is played."""

from __future__ import annotations

from dataclasses import dataclass

from bindu.core.curves.model import Array


@dataclass(frozen=True)
class Writer:
    """Somebody who would write a part.

    Attributes:
        name: the clip, or the override.
        kind: *clip*, *blend* (what is shown from before while another clip comes in), or the kind
            of an override.
        shares: how far it goes on each frame, 0 to 1, shape (F,).
        parts: the places of the parts that it writes.
    """

    name: str
    kind: str
    shares: Array
    parts: tuple[int, ...]
