"""Edits of values and of own channels."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass, replace
from typing import Literal

from bindu.core.edits.base import (
    LARGEST,
    finite,
    found_channel,
    found_part,
    identities,
    named,
    new_id,
    refuse_readers,
    unlocked,
    weights_of,
    within,
    without_channels,
    without_steps,
    writers_of,
)
from bindu.core.refusal import Refusal
from bindu.core.scene.changes import with_part
from bindu.core.scene.channels import TRANSFORM_CHANNELS, ChannelRef, layer_and_channel
from bindu.core.scene.model import Scene
from bindu.core.scene.names import channel_names, check_name, full_name, known_channel
from bindu.core.scene.parts import ChannelKind, ChannelShow, OwnChannel

MOST_OWN_CHANNELS = 500


@dataclass(frozen=True)
class SetValue:
    """Sets a channel that has no keys. A value at the default is kept like any other."""

    part: str
    channel: str
    value: float
    do: Literal["set value"] = "set value"

    def label(self, scene: Scene) -> str:
        """See ``Edit``."""
        return f"set {named(scene, ChannelRef(self.part, self.channel))} to {self.value:g}"

    def apply(self, scene: Scene) -> Scene:
        """See ``Edit``."""
        ref = unlocked(scene, found_channel(scene, self.part, self.channel))
        if layer_and_channel(self.channel)[0]:
            raise Refusal("a layer holds keys only; put a key.", place=full_name(scene, ref))
        if ref in scene.curves:
            raise Refusal("it has keys; change or add a key.", place=full_name(scene, ref))
        value = in_range(scene, ref, self.value)
        part = scene.parts[self.part]
        part = replace(part, values=within(part.values, self.channel, value))
        return with_part(scene, part)


@dataclass(frozen=True)
class AddChannel:
    """Adds an own channel to a part, behind its others."""

    part: str
    name: str
    kind: ChannelKind = "number"
    default: float = 0.0
    low: float | None = None
    high: float | None = None
    unit: str = ""
    options: tuple[str, ...] = ()
    id: str | None = None
    shows: ChannelShow = "nothing"
    do: Literal["add channel"] = "add channel"

    def label(self, scene: Scene) -> str:
        """See ``Edit``."""
        return f"add channel {self.name} to {found_part(scene, self.part).name}"

    def apply(self, scene: Scene) -> Scene:
        """See ``Edit``."""
        part = found_part(scene, self.part)
        own = scene.channels_of.get(self.part, ())
        if len(own) >= MOST_OWN_CHANNELS:
            raise Refusal(
                f"a part has at most {MOST_OWN_CHANNELS} own channels.",
                code="too much",
                place=part.name,
            )
        channel = OwnChannel(
            new_id("c", scene.channels, self.id, identities(scene)),
            self.part,
            _free_name(scene, self.part, self.name),
            own[-1].position + 1 if own else 0,
            self.kind,
            self.default,
            self.low,
            self.high,
            self.unit,
            self.options,
            self.shows,
        )
        checked_channel(channel, f"{part.name}.{self.name}")
        return replace(scene, channels=within(scene.channels, channel.id, channel))


@dataclass(frozen=True)
class ChangeChannel:
    """Gives an own channel a new name, default, range, unit or list of options."""

    part: str
    channel: str
    name: str
    default: float = 0.0
    low: float | None = None
    high: float | None = None
    unit: str = ""
    options: tuple[str, ...] = ()
    shows: ChannelShow | None = None
    do: Literal["change channel"] = "change channel"

    def label(self, scene: Scene) -> str:
        """See ``Edit``."""
        return f"change channel {named(scene, ChannelRef(self.part, self.channel))}"

    def apply(self, scene: Scene) -> Scene:
        """See ``Edit``."""
        old = _own(scene, self.part, self.channel)
        name = self.name if self.name == old.name else _free_name(scene, self.part, self.name)
        channel = replace(
            old,
            name=name,
            default=self.default,
            low=self.low,
            high=self.high,
            unit=self.unit,
            options=self.options,
            shows=self.shows or old.shows,
        )
        checked_channel(channel, full_name(scene, ChannelRef(self.part, self.channel)))
        return replace(scene, channels=within(scene.channels, channel.id, channel))


@dataclass(frozen=True)
class RemoveChannel:
    """Takes an own channel away, with its curve, its value and the steps that write it."""

    part: str
    channel: str
    do: Literal["remove channel"] = "remove channel"

    def label(self, scene: Scene) -> str:
        """See ``Edit``."""
        return f"delete channel {named(scene, ChannelRef(self.part, self.channel))}"

    def apply(self, scene: Scene) -> Scene:
        """See ``Edit``."""
        gone = ChannelRef(self.part, _own(scene, self.part, self.channel).id)
        steps = writers_of(scene, [gone])
        lost = weights_of(scene, steps) | {gone}
        refuse_readers(scene, set(), lost, steps, full_name(scene, gone))
        left = without_channels(without_steps(scene, steps), [gone])
        channels = {i: c for i, c in scene.channels.items() if i != gone.channel}
        return replace(left, channels=channels)


@dataclass(frozen=True)
class MoveChannel:
    """Moves an own channel to another place among the part's own channels."""

    part: str
    channel: str
    position: int
    do: Literal["move channel"] = "move channel"

    def label(self, scene: Scene) -> str:
        """See ``Edit``."""
        return f"move channel {named(scene, ChannelRef(self.part, self.channel))}"

    def apply(self, scene: Scene) -> Scene:
        """See ``Edit``."""
        moved = _own(scene, self.part, self.channel)
        others = [c for c in scene.channels_of[self.part] if c is not moved]
        at = min(max(self.position, 0), len(others))
        listed = [*others[:at], moved, *others[at:]]
        placed = {c.id: replace(c, position=n) for n, c in enumerate(listed)}
        return replace(scene, channels={**scene.channels, **placed})


ChannelEdit = SetValue | AddChannel | ChangeChannel | RemoveChannel | MoveChannel


def in_range(scene: Scene, ref: ChannelRef, value: float) -> float:
    """The value, if a person may give it to the channel.

    Raises:
        Refusal: when it is no number, or outside the range of an own channel or a weight.
    """
    if ref.channel in TRANSFORM_CHANNELS and abs(value) <= LARGEST:
        return value
    place = full_name(scene, ref)
    finite(value, place)
    layer_id, channel = layer_and_channel(ref.channel)
    if layer_id is not None:
        replaces = scene.layers[layer_id].mode == "replace"
        return in_range(scene, ChannelRef(ref.part, channel), value) if replaces else value
    own = scene.channels.get(ref.channel)
    low, high = (own.low, own.high) if own else (None, None)
    if ref.channel.endswith(".weight"):
        low, high = 0.0, 1.0
    one = scene.input_of(ref.channel)
    if one is not None:
        low, high = one.low, one.high
    if own and own.kind == "switch":
        low, high = 0.0, 1.0
    if own and own.kind == "choice":
        low, high = 0.0, float(len(own.options) - 1)
    if (low is not None and value < low) or (high is not None and value > high):
        ends = " … ".join("" if end is None else f"{end:g}" for end in (low, high))
        raise Refusal(f"{value:g} is outside its range {ends}.", code="number", place=place)
    if own and own.kind != "number" and value != int(value):
        raise Refusal(
            f"a {own.kind} takes whole numbers, not {value:g}.", code="number", place=place
        )
    return value


def _refuse_any(scene: Scene, ref: ChannelRef, values: Sequence[float]) -> None:
    """Refuses values of which one is outside a channel's range; where all numbers between two are
    in range if they are, the least and the largest tell it."""
    own = scene.channels.get(layer_and_channel(ref.channel)[1])
    whole = own is not None and own.kind != "number"
    if values and not whole and math.isfinite(sum(values)):
        values = (min(values), max(values))
    for value in values:
        in_range(scene, ref, value)


def refuse_out_of_range(before: Scene, after: Scene) -> None:
    """Refuses edits after which a key, a set value or a default pose is outside the range of its
    channel, so that what was made can always be written down and read again.

    Only what changed is looked at; what is shared with the scene before is passed over.
    """
    channels = {i: c for i, c in after.channels.items() if before.channels.get(i) is not c}
    layers = {i for i, layer in after.layers.items() if before.layers.get(i) is not layer}
    if before.curves is not after.curves or channels or layers:
        for ref, curve in after.curves.items():
            old = before.curves.get(ref)
            if old is curve and not channels and not layers:
                continue
            layer, channel = layer_and_channel(ref.channel)
            ranged = channel in channels or layer in layers
            if old is curve and not ranged:
                continue
            known = frozenset() if ranged or old is None else frozenset(map(id, old.keys))
            _refuse_any(after, ref, [key.value for key in curve.keys if id(key) not in known])
    for part in after.parts.values():
        own = [c.id for c in channels.values() if c.part == part.id]
        if before.parts.get(part.id) is part and not own:
            continue
        for values in (part.values, part.pose):
            for channel, value in values.items():
                if known_channel(after, ChannelRef(part.id, channel)):
                    in_range(after, ChannelRef(part.id, channel), value)


def checked_channel(channel: OwnChannel, place: str) -> None:
    """Refuses an own channel whose settings do not fit together."""
    for end in (channel.default, channel.low, channel.high):
        if end is not None:
            finite(end, place)
    if channel.kind == "choice" and not 2 <= len(channel.options) <= 100:
        raise Refusal("a choice needs 2 to 100 options.", place=place)
    if len(channel.unit) > 12 or any(len(option) > 80 for option in channel.options):
        raise Refusal(
            "a unit has at most 12 characters, an option at most 80.", code="too much", place=place
        )
    low, high = channel.low, channel.high
    if low is not None and high is not None and low > high:
        raise Refusal(f"its range goes down, from {low:g} to {high:g}.", code="number", place=place)
    if (low is not None and channel.default < low) or (high is not None and channel.default > high):
        raise Refusal(
            f"its default {channel.default:g} is outside its range.", code="number", place=place
        )


def _own(scene: Scene, part: str, channel: str) -> OwnChannel:
    ref = found_channel(scene, part, channel)
    if channel not in scene.channels:
        raise Refusal(
            "it belongs to every part and cannot be changed.", place=full_name(scene, ref)
        )
    return scene.channels[channel]


def _free_name(scene: Scene, part: str, name: str) -> str:
    check_name(name, "channel name")
    if name in channel_names(scene, part):
        raise Refusal(
            f"{scene.parts[part].name} has a channel {name!r} already.", code="taken", place=name
        )
    return name
