"""Keys shared among channels."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal

from bindu.core.counted import counted
from bindu.core.curves.keys import found_key
from bindu.core.curves.model import Curve
from bindu.core.curves.spans import with_key_held
from bindu.core.edits.retime import KeyPick, Picks, changed_curves
from bindu.core.refusal import Refusal
from bindu.core.scene.channels import ChannelRef
from bindu.core.scene.model import Scene


@dataclass(frozen=True)
class ShareKeys:
    """Gives all chosen channels keys on the frames on which any of them has one (of the chosen
    keys, where some are), so that each frame holds a whole pose. On whole frames no curve
    changes."""

    picks: Picks
    do: Literal["share keys"] = "share keys"

    def label(self, scene: Scene) -> str:
        """See ``Edit``."""
        return f"share keys among {counted(len(self.picks), 'channel')}"

    def apply(self, scene: Scene) -> Scene:
        """See ``Edit``."""
        if len(self.picks) < 2:
            raise Refusal("choose two channels with keys or more.", code="choice")
        frames = sorted({frame for pick in self.picks for frame in _frames(scene, pick)})

        def keyed(curve: Curve, chosen: tuple[float, ...], ref: ChannelRef) -> Curve:
            for frame in frames:
                if curve.key_at(frame) is None:
                    curve = with_key_held(curve, frame)
            return curve

        return changed_curves(scene, self.picks, keyed)


def _frames(scene: Scene, pick: KeyPick) -> tuple[float, ...]:
    curve = scene.curves.get(ChannelRef(pick.part, pick.channel))
    if curve is None:
        return ()
    if pick.frames is not None:
        return tuple(found_key(curve, frame).frame for frame in pick.frames)
    return tuple(curve.frames.tolist())
