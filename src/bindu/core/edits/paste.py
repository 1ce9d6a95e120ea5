"""Pasting copied poses and animation."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass, replace
from typing import Literal

from bindu.core.clips.clip import (
    Clip,
    ClipChannel,
    ClipPart,
    at_rate,
    in_order,
    mirror_signs,
    mirrored_channel,
    target_of,
)
from bindu.core.counted import counted, some_of
from bindu.core.curves.keys import with_keys
from bindu.core.curves.model import Curve, Key
from bindu.core.edits.base import finite, found_part
from bindu.core.edits.channels import in_range
from bindu.core.edits.poses import given_values
from bindu.core.refusal import Refusal
from bindu.core.scene.channels import ChannelRef, layer_channel, step_channel
from bindu.core.scene.model import Scene
from bindu.core.scene.names import channel_names, full_name
from bindu.core.scene.pairs import opposite_channel


@dataclass(frozen=True)
class PasteClip:
    """Pastes a copy at a frame: onto the parts of the same names, with ``mirrored`` onto their
    opposites, or onto the parts ``onto`` in their order; one copied part goes onto all of them.

    Mirrored, the channels of a left limb, and own ones with a side in their name, go to those of
    the right one; a limb's turn is turned round.

    Channels are found by name; locked ones and those that are not there are left out. Pasted
    keys replace those in their span. What was copied in a scene of another frame rate takes the
    same time here.
    """

    clip: Clip
    frame: float
    onto: tuple[str, ...] = ()
    mirrored: bool = False
    layer: str | None = None
    key: bool = False
    do: Literal["paste clip"] = "paste clip"

    def label(self, scene: Scene) -> str:
        """See ``Edit``."""
        pairs = list(self._pairs(scene))
        missing = [p.name for p in self.clip.parts if all(p is not source for source, _ in pairs)]
        text = f"paste {self.clip.kind} of {counted(len(pairs), 'part')} at {self.frame:g}"
        text += " mirrored" if self.mirrored else ""
        if self.clip.fps not in (None, scene.fps):
            text += f", {self.clip.fps:g} → {scene.fps:g} frames a second"
        text += f"; not here: {some_of(missing)}" if missing else ""
        locked = self._locked(scene)
        return text + (f"; locked: {some_of(locked)}" if locked else "")

    def apply(self, scene: Scene) -> Scene:
        """See ``Edit``."""
        finite(self.frame, "frame")
        return replace(self, clip=at_rate(self.clip, scene.fps))._pasted(scene)

    def _pasted(self, scene: Scene) -> Scene:
        placed = list(self._channels(scene))
        locked = self._locked(scene)
        if locked and not placed:
            text = "what all of it goes to is locked; unlock what shall change."
            raise Refusal(text, code="locked", place=some_of(locked))
        if not placed:
            names = ", ".join(part.name for part in self.clip.parts[:5])
            raise Refusal(
                f"nothing here has the names of what was copied ({names}); choose the parts to "
                "paste onto.",
                code="choice",
                place="paste",
            )
        if self.clip.kind == "pose":
            values = [(*ref, channel.value) for ref, channel in placed]
            return given_values(scene, self.frame, values, self.layer, self.key)
        for ref, channel in placed:
            scene = self._with_curve(scene, ref, channel.curve or Curve((Key(0.0, 0.0),)))
        return scene

    def _pairs(self, scene: Scene) -> Iterator[tuple[ClipPart, str]]:
        parts = self.clip.parts
        if not self.onto:
            for part in parts:
                target = target_of(scene, part.name, self.mirrored)
                if target is not None:
                    yield part, target
            return
        if len(parts) not in (1, len(self.onto)):
            raise Refusal(
                f"{len(parts)} parts were copied and {len(self.onto)} are chosen; choose as many.",
                code="choice",
                place="paste",
            )
        for n, target in enumerate(self.onto):
            yield parts[n if len(parts) > 1 else 0], found_part(scene, target).id

    def _channels(self, scene: Scene) -> Iterator[tuple[ChannelRef, ClipChannel]]:
        for source, target in self._pairs(scene):
            signs = mirror_signs(scene, source, target) if self.mirrored else {}
            turns = {step_channel(limb.id, "turn") for limb in scene.limbs.values()}
            locked = scene.parts[target].locked
            source = in_order(source, scene.parts[target].rotation_order)
            for channel, found in self._targets(scene, source, target):
                if found not in locked:
                    usual = -1.0 if self.mirrored and found in turns else 1.0
                    sign = signs.get(channel.name, usual)
                    yield ChannelRef(target, found), mirrored_channel(channel, sign)

    def _targets(
        self, scene: Scene, source: ClipPart, target: str
    ) -> Iterator[tuple[ClipChannel, str]]:
        """What was copied of a part, and the channels that are there for it."""
        names = channel_names(scene, target)
        for channel in source.channels:
            name = channel.name
            found = opposite_channel(names, name) if self.mirrored else names.get(name)
            if found is not None:
                yield channel, found

    def _locked(self, scene: Scene) -> list[str]:
        return [
            full_name(scene, ChannelRef(target, found))
            for source, target in self._pairs(scene)
            for _, found in self._targets(scene, source, target)
            if found in scene.parts[target].locked
        ]

    def _with_curve(self, scene: Scene, ref: ChannelRef, pasted: Curve) -> Scene:
        if self.layer is not None and self.layer not in scene.layers:
            raise Refusal(
                f"there is no layer with the identity {self.layer!r} any more.", code="gone"
            )
        ref = ChannelRef(ref.part, layer_channel(self.layer, ref.channel))
        shift = self.frame - self.clip.first
        first, last = self.clip.first + shift, self.clip.last + shift
        keys = [replace(key, frame=key.frame + shift) for key in pasted.keys]
        for key in keys:
            in_range(scene, ref, key.value)
        old = scene.curves.get(ref)
        kept = [key for key in old.keys if not first <= key.frame <= last] if old else []
        base = replace(old or pasted, keys=())
        return replace(scene, curves={**scene.curves, ref: with_keys(base, [*kept, *keys])})
