"""A path."""

from __future__ import annotations

from collections.abc import Set
from dataclasses import dataclass, replace
from typing import Literal, Self

from bindu.core.scene.channels import Tap
from bindu.core.scene.settings.base import Followed, Group, Settings, StepInput, Vector

Ends = Literal["stop", "repeat"]


@dataclass(frozen=True)
class PathPoint:
    """A point that a path passes through: in a part's own axes, or in the world's."""

    part: str | None = None
    point: Vector = (0.0, 0.0, 0.0)
    tap: Tap = "final"

    def followed(self, to: Followed) -> PathPoint:
        """The point on another part."""
        return self if self.part is None else replace(self, part=to.part(self.part))


@dataclass(frozen=True)
class PathSettings(Settings):
    """Puts the owner on a smooth path, as far as its channel ``progress`` says: a share of the
    path's true length, 0 to 1.

    Attributes:
        closed: the path returns to its first point.
        ends: beyond 0 and 1 it stops, or begins again.
        along: the owner's ``axis`` looks along the path, its ``up_axis`` up.
    """

    points: tuple[PathPoint, ...]
    closed: bool = False
    ends: Ends = "stop"
    along: bool = True
    axis: Vector = (1.0, 0.0, 0.0)
    up_axis: Vector = (0.0, 1.0, 0.0)
    up_direction: Vector = (0.0, 1.0, 0.0)
    tap: Tap = "final"
    kind: Literal["path"] = "path"

    @property
    def groups(self) -> tuple[Group, ...]:
        """See ``Settings``."""
        return ("translation", "rotation") if self.along else ("translation",)

    @property
    def inputs(self) -> tuple[StepInput, ...]:
        """How far along the path."""
        return (StepInput("progress", 0.0, None, None),)

    def followed(self, to: Followed) -> Self:
        """See ``Settings``."""
        return replace(self, points=tuple(point.followed(to) for point in self.points))

    def without(self, gone: Set[str]) -> Self | None:
        """See ``Settings``: without points."""
        left = tuple(point for point in self.points if point.part not in gone)
        return replace(self, points=left) if len(left) > 1 else None
