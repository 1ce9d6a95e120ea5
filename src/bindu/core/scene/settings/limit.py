"""A limit."""

from __future__ import annotations

from dataclasses import dataclass, replace
from typing import Literal, Self

from bindu.core.scene.settings.base import ChannelSettings, Followed


@dataclass(frozen=True)
class LimitSettings(ChannelSettings):
    """Keeps a channel between two numbers; None leaves that end open."""

    channel: str
    low: float | None = None
    high: float | None = None
    kind: Literal["limit"] = "limit"

    def followed(self, to: Followed) -> Self:
        """See ``Settings``."""
        return replace(self, channel=to.channel(self.channel))
