"""A part's place in the chain of a limb."""

from __future__ import annotations

from dataclasses import dataclass, replace
from typing import Literal, Self

from bindu.core.scene.settings.base import Followed, Group, Settings


@dataclass(frozen=True)
class LimbSettings(Settings):
    """Makes a part one of the chain of a limb: it takes its share of what the limb solves.

    Attributes:
        limb: the limb.
        base: it is the first of the chain, which turns and never moves.
    """

    limb: str
    base: bool = False
    kind: Literal["limb"] = "limb"

    @property
    def groups(self) -> tuple[Group, ...]:
        """See ``Settings``: the segments behind the base also get longer."""
        return ("rotation",) if self.base else ("translation", "rotation")

    @property
    def member_of(self) -> str:
        """Its limb."""
        return self.limb

    def followed(self, to: Followed) -> Self:
        """See ``Settings``."""
        return replace(self, limb=to.thing(self.limb))
