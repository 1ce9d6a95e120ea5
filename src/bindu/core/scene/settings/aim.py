"""An aim."""

from __future__ import annotations

from collections.abc import Callable, Set
from dataclasses import dataclass, replace
from typing import Literal, Self

from bindu.core.scene.channels import Tap
from bindu.core.scene.settings.base import Followed, Group, Settings, StepInput, Target, Vector

UpKind = Literal["none", "direction", "part"]


@dataclass(frozen=True)
class AimSettings(Settings):
    """Turns an axis of the owner to the weighted middle of targets, and another one up.

    Attributes:
        axis, up_axis: directions in the owner's own axes.
        up: nothing (the least turn), a direction of the world, or toward a part.
        offset: degrees in the owner's rotation order, applied first.
        up_tap: at which tap the up part is read.
    """

    targets: tuple[Target, ...]
    axis: Vector = (1.0, 0.0, 0.0)
    up_axis: Vector = (0.0, 1.0, 0.0)
    up: UpKind = "direction"
    up_direction: Vector = (0.0, 1.0, 0.0)
    up_part: str | None = None
    up_tap: Tap = "final"
    offset: Vector = (0.0, 0.0, 0.0)
    tap: Tap = "final"
    kind: Literal["aim"] = "aim"

    @property
    def groups(self) -> tuple[Group, ...]:
        """See ``Settings``."""
        return ("rotation",)

    @property
    def inputs(self) -> tuple[StepInput, ...]:
        """A weight for each target."""
        return tuple(StepInput(target.weight_key, high=None) for target in self.targets)

    def followed(self, to: Followed) -> Self:
        """See ``Settings``."""
        targets = tuple(target.followed(to) for target in self.targets)
        up = None if self.up_part is None else to.part(self.up_part)
        return replace(self, targets=targets, up_part=up)

    def without(self, gone: Set[str]) -> Self | None:
        """See ``Settings``: without targets."""
        left = tuple(target for target in self.targets if target.part not in gone)
        return replace(self, targets=left) if left else None

    def in_order(self, turned: Callable[[Vector], Vector]) -> Self:
        """See ``Settings``: its offset."""
        return replace(self, offset=turned(self.offset))
