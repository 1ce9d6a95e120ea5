"""A row of driven keys."""

from __future__ import annotations

from dataclasses import dataclass, replace
from typing import Literal, Self

from bindu.core.curves.model import Curve
from bindu.core.scene.settings.base import ChannelSettings, Followed, FormulaMode


@dataclass(frozen=True)
class DrivenSettings(ChannelSettings):
    """A row of driven keys: the driver's value mapped to one for the channel.

    The frames of the mapping's keys are driver values: one key at each stop of the set.
    """

    channel: str
    driven: str
    mapping: Curve
    mode: FormulaMode = "add"
    kind: Literal["driven keys"] = "driven keys"

    @property
    def member_of(self) -> str:
        """Its set."""
        return self.driven

    def followed(self, to: Followed) -> Self:
        """See ``Settings``."""
        return replace(self, channel=to.channel(self.channel), driven=to.thing(self.driven))
