"""A position, rotation, scale or full constraint."""

from __future__ import annotations

from collections.abc import Callable, Mapping, Set
from dataclasses import dataclass, replace
from typing import Literal, Self

from bindu.core.scene.channels import Tap
from bindu.core.scene.settings.base import (
    ALL_AXES,
    Axis,
    Followed,
    Group,
    Settings,
    Space,
    StepInput,
    Target,
    Vector,
)

ConstraintKind = Literal["position", "rotation", "scale", "full"]


CONSTRAINED: Mapping[ConstraintKind, tuple[Group, ...]] = {
    "position": ("translation",),
    "rotation": ("rotation",),
    "scale": ("scale",),
    "full": ("translation", "rotation", "scale"),
}


@dataclass(frozen=True)
class ConstraintSettings(Settings):
    """Carries position, rotation, scale or all three of targets over to the owner.

    Attributes:
        axes: which axes of the written space follow.
        offset: metres, degrees in the owner's rotation order, or factors, beyond the targets;
            a full constraint has an offset for each target instead.
        read: the space that targets are read in.
        write: the space that the owner is written in.
        tap: at which tap the owner's surroundings (its parent, parts as spaces) are read.
    """

    targets: tuple[Target, ...]
    axes: tuple[Axis, ...] = ALL_AXES
    offset: Vector = (0.0, 0.0, 0.0)
    read: Space = Space()
    write: Space = Space()
    tap: Tap = "final"
    kind: ConstraintKind = "full"

    @property
    def groups(self) -> tuple[Group, ...]:
        """See ``Settings``."""
        return CONSTRAINED[self.kind]

    @property
    def inputs(self) -> tuple[StepInput, ...]:
        """A weight for each target."""
        return tuple(StepInput(target.weight_key, high=None) for target in self.targets)

    def followed(self, to: Followed) -> Self:
        """See ``Settings``."""
        targets = tuple(target.followed(to) for target in self.targets)
        return replace(
            self, targets=targets, read=self.read.followed(to), write=self.write.followed(to)
        )

    def without(self, gone: Set[str]) -> Self | None:
        """See ``Settings``: without targets."""
        left = tuple(target for target in self.targets if target.part not in gone)
        return replace(self, targets=left) if left else None

    def in_order(self, turned: Callable[[Vector], Vector]) -> Self:
        """See ``Settings``: its offsets."""
        if self.kind == "rotation":
            return replace(self, offset=turned(self.offset))
        targets = tuple(
            replace(t, offset=replace(t.offset, rotation=turned(t.offset.rotation)))
            for t in self.targets
        )
        return replace(self, targets=targets)
