"""A layer's curve."""

from __future__ import annotations

from dataclasses import dataclass, replace
from typing import Literal, Self

from bindu.core.scene.channels import ChannelRef
from bindu.core.scene.settings.base import ChannelSettings, Followed

LayerMode = Literal["add", "replace"]


@dataclass(frozen=True)
class LayerSettings(ChannelSettings):
    """A layer's curve over what lies below it; the curve is the channel ``source``."""

    channel: str
    source: ChannelRef
    mode: LayerMode = "add"
    kind: Literal["layer"] = "layer"

    def followed(self, to: Followed) -> Self:
        """See ``Settings``."""
        return replace(self, channel=to.channel(self.channel))
