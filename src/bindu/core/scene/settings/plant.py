"""A plant."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass, replace
from typing import Literal, Self

from bindu.core.scene.channels import Tap
from bindu.core.scene.settings.base import ALL_GROUPS, Group, Settings

PlantKind = Literal["place", "position", "rotation", "height"]
PLANTED: dict[PlantKind, tuple[Group, ...]] = {
    "place": ("translation", "rotation"),
    "position": ("translation",),
    "rotation": ("rotation",),
    "height": ("translation",),
}


@dataclass(frozen=True)
class PlantSpan:
    """A stretch of frames on which a part stands still.

    Attributes:
        first, last: whole frames.
        keep: the frame whose place is kept; it may be any of the range.
        entry, exit: over how many frames it joins before ``first`` and leaves after ``last``.
    """

    first: int
    last: int
    keep: int
    entry: int = 3
    exit: int = 3


def _moved(span: PlantSpan, to: Callable[[float], float]) -> PlantSpan:
    first, last = round(to(span.first)), round(to(span.last))
    entry = max(first - round(to(span.first - span.entry)), 0)
    leave = max(round(to(span.last + span.exit)) - last, 0)
    return PlantSpan(first, last, round(to(span.keep)), entry, leave)


@dataclass(frozen=True)
class PlantSettings(Settings):
    """Lets a part stand still in the world over spans of frames while what carries it moves.

    Attributes:
        plants: whether position and rotation, one of them, or only the height in the world is kept.
        spans: by their first frames, ascending.
        tap: at which tap what carries the part is read.
    """

    plants: PlantKind = "place"
    spans: tuple[PlantSpan, ...] = ()
    tap: Tap = "final"
    kind: Literal["plant"] = "plant"

    @property
    def groups(self) -> tuple[Group, ...]:
        """See ``Settings``."""
        return tuple(group for group in ALL_GROUPS if group in PLANTED[self.plants])

    def retimed(self, to: Callable[[float], float]) -> Self:
        """The settings with spans on other frames, their entries and exits as much longer or
        shorter; where two come to meet, the later one stays."""
        kept: list[PlantSpan] = []
        for one in sorted((_moved(span, to) for span in self.spans), key=lambda one: one.first):
            while kept and kept[-1].last >= one.first:
                before = kept.pop()
                if before.first < one.first:
                    kept.append(replace(before, last=one.first - 1))
            if one.first <= one.last:
                kept.append(one)
        return replace(self, spans=tuple(kept))
