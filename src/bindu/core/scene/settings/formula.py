"""A formula."""

from __future__ import annotations

from dataclasses import dataclass, replace
from typing import Literal, Self

from bindu.core.scene.settings.base import ChannelSettings, Followed, FormulaMode


@dataclass(frozen=True)
class FormulaSettings(ChannelSettings):
    """A formula that sets, adds to or scales a channel; references in ``text`` are identities."""

    channel: str
    text: str
    mode: FormulaMode = "set"
    kind: Literal["formula"] = "formula"

    def followed(self, to: Followed) -> Self:
        """See ``Settings``."""
        return replace(self, channel=to.channel(self.channel), text=to.text(self.text))
