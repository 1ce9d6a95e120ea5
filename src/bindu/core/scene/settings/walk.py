"""A foot that walks by rule."""

from __future__ import annotations

from dataclasses import dataclass, replace
from typing import Literal, Self

from bindu.core.scene.settings.base import Followed, Group, Settings


@dataclass(frozen=True)
class WalkSettings(Settings):
    """Puts a part where its gait's prints and steps are.

    Attributes:
        gait: the gait.
    """

    gait: str
    kind: Literal["walk"] = "walk"

    @property
    def groups(self) -> tuple[Group, ...]:
        """See ``Settings``."""
        return ("translation", "rotation")

    @property
    def member_of(self) -> str:
        """Its gait."""
        return self.gait

    def followed(self, to: Followed) -> Self:
        """See ``Settings``."""
        return replace(self, gait=to.thing(self.gait))
