"""Edits of keys and curves."""

from __future__ import annotations

from collections.abc import Callable, Iterable
from dataclasses import dataclass, replace
from typing import Literal

from bindu.core.counted import counted
from bindu.core.curves.keys import (
    changed_keys,
    found_key,
    with_inserted_key,
    with_keys,
    without_keys,
)
from bindu.core.curves.model import Curve, Interpolation, Key, Outside, Tangent, TangentMode
from bindu.core.edits.base import found_channel, found_part, named, unlocked
from bindu.core.edits.channels import in_range
from bindu.core.edits.frames import with_handovers_moved
from bindu.core.refusal import Refusal
from bindu.core.scene.changes import with_curve, with_curves
from bindu.core.scene.channels import ChannelRef, layer_and_channel
from bindu.core.scene.model import Scene
from bindu.core.scene.names import full_name


@dataclass(frozen=True)
class PutKeys:
    """Puts whole keys on a channel's curve; a key on the same frame is replaced."""

    part: str
    channel: str
    keys: tuple[Key, ...]
    do: Literal["put keys"] = "put keys"

    def label(self, scene: Scene) -> str:
        """See ``Edit``."""
        ref = ChannelRef(self.part, self.channel)
        if len(self.keys) == 1:
            return f"key {named(scene, ref)} at {self.keys[0].frame:g}"
        return f"put {counted(len(self.keys), 'key')} on {named(scene, ref)}"

    def apply(self, scene: Scene) -> Scene:
        """See ``Edit``."""
        ref = unlocked(scene, found_channel(scene, self.part, self.channel))
        for key in self.keys:
            in_range(scene, ref, key.value)
        return with_made_curve(scene, ref, lambda: with_keys(scene.curves.get(ref), self.keys))


@dataclass(frozen=True)
class PutCurves:
    """Gives channels of a part whole curves, in place of what they have; what a file holds.

    Attributes:
        curves: channels and their curves.
    """

    part: str
    curves: tuple[tuple[str, Curve], ...]
    do: Literal["put curves"] = "put curves"

    def label(self, scene: Scene) -> str:
        """See ``Edit``."""
        return f"put {counted(len(self.curves), 'curve')} on {found_part(scene, self.part).name}"

    def apply(self, scene: Scene) -> Scene:
        """See ``Edit``."""
        made = {}
        for channel, curve in self.curves:
            ref = unlocked(scene, found_channel(scene, self.part, channel))
            for key in curve.keys:
                in_range(scene, ref, key.value)
            try:
                made[ref] = with_keys(replace(curve, keys=()), curve.keys)
            except Refusal as refusal:
                raise refusal.at(full_name(scene, ref)) from None
        return with_curves(scene, made)


@dataclass(frozen=True)
class InsertKey:
    """Adds a key on the curve, which keeps its shape; on a bare channel, a key at its value."""

    part: str
    channel: str
    frame: float
    do: Literal["insert key"] = "insert key"

    def label(self, scene: Scene) -> str:
        """See ``Edit``."""
        return f"insert a key on {named(scene, ChannelRef(self.part, self.channel))}"

    def apply(self, scene: Scene) -> Scene:
        """See ``Edit``."""
        ref = unlocked(scene, found_channel(scene, self.part, self.channel))
        curve = scene.curves.get(ref)
        if curve is None:
            key = Key(self.frame, scene.set_value(ref))
            return with_made_curve(scene, ref, lambda: with_keys(None, [key]))
        return with_made_curve(scene, ref, lambda: with_inserted_key(curve, self.frame))


@dataclass(frozen=True)
class KeyChange:
    """What becomes of the key at ``frame``; what is not given stays."""

    frame: float
    to_frame: float | None = None
    value: float | None = None
    interpolation: Interpolation | None = None
    left: Tangent | None = None
    right: Tangent | None = None
    mode: TangentMode | None = None


@dataclass(frozen=True)
class ChangeKeys:
    """Moves keys and changes their values, tangents and interpolation."""

    part: str
    channel: str
    changes: tuple[KeyChange, ...]
    do: Literal["change keys"] = "change keys"

    def label(self, scene: Scene) -> str:
        """See ``Edit``."""
        count = len(self.changes)
        moves = any(c.to_frame is not None or c.value is not None for c in self.changes)
        what = "the key" if count == 1 else f"{count} keys"
        where = f" at {self.changes[0].frame:g}" if count == 1 else ""
        verb = "move" if moves else "change"
        return f"{verb} {what} of {named(scene, ChannelRef(self.part, self.channel))}{where}"

    def apply(self, scene: Scene) -> Scene:
        """See ``Edit``."""
        ref, curve = _curve(scene, self.part, self.channel)
        for change in self.changes:
            _place(scene, ref, curve, change.frame)
            if change.value is not None:
                in_range(scene, ref, change.value)
        made = with_made_curve(scene, ref, lambda: with_changes(curve, self.changes))
        to = {c.frame: c.frame if c.to_frame is None else c.to_frame for c in self.changes}
        return with_handovers_moved(made, ref, to, to.get)


@dataclass(frozen=True)
class RemoveKeys:
    """Takes keys away. With the last of them the curve goes; the channel keeps its value."""

    part: str
    channel: str
    frames: tuple[float, ...]
    do: Literal["remove keys"] = "remove keys"

    def label(self, scene: Scene) -> str:
        """See ``Edit``."""
        count = len(self.frames)
        what = f"the key at {self.frames[0]:g}" if count == 1 else f"{count} keys"
        return f"delete {what} of {named(scene, ChannelRef(self.part, self.channel))}"

    def apply(self, scene: Scene) -> Scene:
        """See ``Edit``."""
        ref, curve = _curve(scene, self.part, self.channel)
        for frame in self.frames:
            _place(scene, ref, curve, frame)
        left = without_keys(curve, self.frames)
        made = with_made_curve(scene, ref, lambda: left) if left.keys else without_curve(scene, ref)
        return with_handovers_moved(made, ref, self.frames, lambda frame: None)


@dataclass(frozen=True)
class SetOutside:
    """What a curve does before its first and after its last key; None leaves an end."""

    part: str
    channel: str
    before: Outside | None = None
    after: Outside | None = None
    do: Literal["set outside"] = "set outside"

    def label(self, scene: Scene) -> str:
        """See ``Edit``."""
        return f"change before and after of {named(scene, ChannelRef(self.part, self.channel))}"

    def apply(self, scene: Scene) -> Scene:
        """See ``Edit``."""
        ref, curve = _curve(scene, self.part, self.channel)
        before, after = self.before or curve.before, self.after or curve.after
        return with_made_curve(scene, ref, lambda: replace(curve, before=before, after=after))


def without_curve(scene: Scene, ref: ChannelRef) -> Scene:
    """The scene without a curve; a channel's own keeps the value of its first key."""
    first = scene.curves[ref].keys[0].value
    curves = {r: c for r, c in scene.curves.items() if r != ref}
    if layer_and_channel(ref.channel)[0] is not None:
        return replace(scene, curves=curves)
    part = scene.parts[ref.part]
    part = replace(part, values={**part.values, ref.channel: first})
    return replace(scene, curves=curves, parts={**scene.parts, part.id: part})


KeyEdit = PutKeys | InsertKey | ChangeKeys | RemoveKeys | SetOutside


def _curve(scene: Scene, part: str, channel: str) -> tuple[ChannelRef, Curve]:
    ref = unlocked(scene, found_channel(scene, part, channel))
    curve = scene.curves.get(ref)
    if curve is None:
        raise Refusal("it has no keys.", code="choice", place=full_name(scene, ref))
    return ref, curve


def _place(scene: Scene, ref: ChannelRef, curve: Curve, frame: float) -> Key:
    try:
        return found_key(curve, frame)
    except Refusal as refusal:
        raise refusal.at(full_name(scene, ref)) from None


def with_changes(curve: Curve, changes: Iterable[KeyChange]) -> Curve:
    """The curve with some of its keys changed.

    Raises:
        Refusal: when a key is not there, named twice, or lands on one that stays.
    """
    new: dict[float, Key] = {}
    for change in changes:
        if change.frame in new:
            raise Refusal(f"the key at frame {change.frame:g} is named twice.", code="taken")
        new[change.frame] = _changed(found_key(curve, change.frame), change)
    return changed_keys(curve, new)


def _changed(key: Key, change: KeyChange) -> Key:
    bent = change.left is not None or change.right is not None
    mode = change.mode or ("broken" if bent and key.mode == "smart" else key.mode)
    left, right = change.left or key.left, change.right or key.right
    if mode == "joined":
        angle = (change.left or right).angle
        left, right = replace(left, angle=angle), replace(right, angle=angle)
    return Key(
        key.frame if change.to_frame is None else change.to_frame,
        key.value if change.value is None else change.value,
        change.interpolation or key.interpolation,
        left,
        right,
        mode,
    )


def with_made_curve(scene: Scene, ref: ChannelRef, make: Callable[[], Curve]) -> Scene:
    """The scene with a new curve of a channel; a refusal to make it names the channel."""
    try:
        curve = make()
    except Refusal as refusal:
        raise refusal.at(full_name(scene, ref)) from None
    return with_curve(scene, ref, curve)
