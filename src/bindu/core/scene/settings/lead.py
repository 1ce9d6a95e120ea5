"""A membership of a lead group."""

from __future__ import annotations

from dataclasses import dataclass, replace
from typing import Literal, Self

from bindu.core.scene.settings.base import Followed, Group, Settings


@dataclass(frozen=True)
class LeadSettings(Settings):
    """Makes a part a member of a lead group: whoever leads carries it."""

    lead: str
    kind: Literal["lead"] = "lead"

    @property
    def groups(self) -> tuple[Group, ...]:
        """See ``Settings``."""
        return ("translation", "rotation")

    @property
    def member_of(self) -> str:
        """Its group."""
        return self.lead

    def followed(self, to: Followed) -> Self:
        """See ``Settings``."""
        return replace(self, lead=to.thing(self.lead))
