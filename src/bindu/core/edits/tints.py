"""Tints of keys."""

from __future__ import annotations

from dataclasses import dataclass, replace
from typing import Literal

from bindu.core.curves.keys import changed_keys, found_key
from bindu.core.curves.model import Curve, Tint
from bindu.core.edits.retime import Picks, changed_curves, counted_keys
from bindu.core.scene.channels import ChannelRef
from bindu.core.scene.model import Scene


@dataclass(frozen=True)
class TintKeys:
    """Tints chosen keys with a word and a colour, by which they are found again; without a tint
    takes theirs away."""

    picks: Picks
    tint: Tint | None = None
    do: Literal["tint keys"] = "tint keys"

    def label(self, scene: Scene) -> str:
        """See ``Edit``."""
        if self.tint is None:
            return f"take the tint from {counted_keys(scene, self.picks)}"
        return f"tint {counted_keys(scene, self.picks)} “{self.tint.word}”"

    def apply(self, scene: Scene) -> Scene:
        """See ``Edit``."""

        def tinted(curve: Curve, chosen: tuple[float, ...], ref: ChannelRef) -> Curve:
            keys = (found_key(curve, frame) for frame in chosen)
            return changed_keys(curve, {key.frame: replace(key, tint=self.tint) for key in keys})

        return changed_curves(scene, self.picks, tinted)
