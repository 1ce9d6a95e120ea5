"""A share of the parent."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal

from bindu.core.scene.channels import Tap
from bindu.core.scene.settings.base import ALL_GROUPS, Group, Settings, StepInput


@dataclass(frozen=True)
class FollowSettings(Settings):
    """Lets a part take only a share of its parent's position, rotation and scale, 0 to 1 each;
    the rest of it stays as if the parent were at its rest."""

    takes: tuple[Group, ...] = ("rotation",)
    tap: Tap = "final"
    kind: Literal["follow"] = "follow"

    @property
    def groups(self) -> tuple[Group, ...]:
        """See ``Settings``."""
        return tuple(group for group in ALL_GROUPS if group in self.takes)

    @property
    def inputs(self) -> tuple[StepInput, ...]:
        """A share for each group that is shared."""
        return tuple(StepInput(group) for group in self.groups)
