"""Keying: keys on channels, and values typed on a layer."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass, replace
from typing import Literal

import numpy as np

from bindu.core.counted import counted
from bindu.core.curves.keys import changed_keys, with_inserted_key, with_keys
from bindu.core.curves.model import Interpolation, Key
from bindu.core.edits.base import found_channel, named, unlocked
from bindu.core.edits.channels import in_range
from bindu.core.edits.keys import with_made_curve
from bindu.core.evaluation.keyed import keyed_values, own_values, weight_values
from bindu.core.refusal import Refusal
from bindu.core.scene.channels import ChannelRef, layer_channel, step_and_key
from bindu.core.scene.model import Scene
from bindu.core.scene.names import full_name
from bindu.core.scene.things import Layer


@dataclass(frozen=True)
class KeyChannels:
    """Keys each of these channels: a key with the value that it has there, the shape
    of its curve kept. Channels that have a key on this frame stay as they are."""

    frame: float
    channels: tuple[ChannelRef, ...]
    layer: str | None = None
    do: Literal["key channels"] = "key channels"

    def label(self, scene: Scene) -> str:
        """See ``Edit``."""
        if len(self.channels) == 1:
            return f"key {named(scene, self.channels[0])} at {self.frame:g}"
        return f"key {counted(len(self.channels), 'channel')} at {self.frame:g}"

    def apply(self, scene: Scene) -> Scene:
        """See ``Edit``."""
        if not self.channels:
            raise Refusal("choose what to key: the key scope holds no channel.", code="choice")
        layer = _layer(scene, self.layer)
        for part, channel in self.channels:
            ref = unlocked(scene, found_channel(scene, part, channel))
            if layer and not _weighs_layer(scene, ref):
                scene = key_on_layer(scene, ref, layer, self.frame)
                continue
            scene = _keyed(scene, ref, self.frame)
        return scene


@dataclass(frozen=True)
class KeyValue:
    """Keys channels so that they come to a value on a frame: with a layer, so that they do
    right after that layer."""

    frame: float
    values: tuple[tuple[str, str, float], ...]
    layer: str | None = None
    do: Literal["key value"] = "key value"

    def label(self, scene: Scene) -> str:
        """See ``Edit``."""
        if len(self.values) == 1:
            part, channel, value = self.values[0]
            name = named(scene, ChannelRef(part, channel))
            return f"key {name} = {value:g} at {self.frame:g}"
        return f"key {counted(len(self.values), 'value')} at {self.frame:g}"

    def apply(self, scene: Scene) -> Scene:
        """See ``Edit``."""
        layer = _layer(scene, self.layer)
        for part, channel, value in self.values:
            ref = unlocked(scene, found_channel(scene, part, channel))
            in_range(scene, ref, value)
            if layer and not _weighs_layer(scene, ref):
                value = layer_value(scene, ref, layer, self.frame, value)
                ref = ChannelRef(part, layer_channel(layer.id, channel))
            scene = with_value(scene, ref, self.frame, value)
        return scene


@dataclass(frozen=True)
class SetChannels:
    """Gives channels values by hand on a frame: a key where the channel has keys (or on the
    layer, where one is given), else what it is set to."""

    frame: float
    values: tuple[tuple[str, str, float], ...]
    layer: str | None = None
    what: str = ""
    do: Literal["set channels"] = "set channels"

    def label(self, scene: Scene) -> str:
        """See ``Edit``."""
        if self.what:
            return self.what[:80]
        if len(self.values) == 1:
            part, channel, value = self.values[0]
            return f"set {named(scene, ChannelRef(part, channel))} to {value:g}"
        return f"set {counted(len(self.values), 'channel')}"

    def apply(self, scene: Scene) -> Scene:
        """See ``Edit``."""
        for one in self.values:
            part, channel, value = one
            ref = unlocked(scene, found_channel(scene, part, channel))
            if ref in scene.curves or (self.layer and not _weighs_layer(scene, ref)):
                scene = KeyValue(self.frame, (one,), self.layer).apply(scene)
            else:
                in_range(scene, ref, value)
                owner = scene.parts[part]
                owner = replace(owner, values={**owner.values, channel: value})
                scene = replace(scene, parts={**scene.parts, part: owner})
        return scene


KeyingEdit = KeyChannels | KeyValue | SetChannels


def _keyed(scene: Scene, ref: ChannelRef, frame: float) -> Scene:
    curve = scene.curves.get(ref)
    if curve is None:
        key = Key(frame, scene.set_value(ref), _kind(scene, ref))
        return with_made_curve(scene, ref, lambda: with_keys(None, [key]))
    if curve.key_at(frame) is not None:
        return scene
    return with_made_curve(scene, ref, lambda: with_inserted_key(curve, frame))


def with_value(scene: Scene, ref: ChannelRef, frame: float, value: float) -> Scene:
    """The scene with a curve's key on a frame at this value; a new key continues the kind of
    segment that it stands in."""
    curve = scene.curves.get(ref)
    key = curve.key_at(frame) if curve else None
    if curve and key:
        changed = {frame: replace(key, value=value)}
        return with_made_curve(scene, ref, lambda: changed_keys(curve, changed))
    before = [k for k in curve.keys if k.frame < frame] if curve else []
    kind = before[-1].interpolation if before else _kind(scene, ref)
    return with_made_curve(scene, ref, lambda: with_keys(curve, [Key(frame, value, kind)]))


def layer_value(scene: Scene, ref: ChannelRef, layer: Layer, frame: float, value: float) -> float:
    """What a layer's key must be so that the channel comes to ``value`` right after the layer.

    Raises:
        Refusal: where the layer's weight is 0.
    """
    at = np.array([float(frame)])
    below = float(keyed_values(scene, ref, at, layer)[0])
    weight = float(weight_values(scene, layer, at)[0])
    if weight < 1e-9:
        raise Refusal(
            f"{layer.name} has the weight 0 at frame {frame:g}; raise it, or key another layer.",
            place=full_name(scene, ref),
        )
    way = (value - below) / weight
    return way if layer.mode == "add" else below + way


def key_on_layer(scene: Scene, ref: ChannelRef, layer: Layer, frame: float) -> Scene:
    """The scene with a key on a layer that changes no value on this frame."""
    on_layer = ChannelRef(ref.part, layer_channel(layer.id, ref.channel))
    curve = scene.curves.get(on_layer)
    if curve is not None:
        if curve.key_at(frame) is not None:
            return scene
        return with_made_curve(scene, on_layer, lambda: with_inserted_key(curve, frame))
    at = np.array([float(frame)])
    same = 0.0 if layer.mode == "add" else float(keyed_values(scene, ref, at, layer)[0])
    return with_value(scene, on_layer, frame, same)


def value_at(scene: Scene, ref: ChannelRef, frame: float) -> float:
    """A channel's own curve or value on a frame."""
    return float(own_values(scene, ref, np.array([float(frame)]))[0])


def part_channels(scene: Scene, part: str) -> Iterator[ChannelRef]:
    """The channels of a part that belong to its pose: all but weights."""
    for channel in scene.channel_ids(part):
        if not channel.endswith(".weight"):
            yield ChannelRef(part, channel)


def _weighs_layer(scene: Scene, ref: ChannelRef) -> bool:
    """Whether a channel is a layer's weight: these have their keys under all layers."""
    owner, key = step_and_key(ref.channel)
    return key == "weight" and owner in scene.layers


def _kind(scene: Scene, ref: ChannelRef) -> Interpolation:
    """Switches, choices and visibility jump; other channels move smoothly."""
    own = scene.channels.get(ref.channel)
    jumps = ref.channel == "visible" or (own is not None and own.kind != "number")
    return "hold" if jumps else "smooth"


def _layer(scene: Scene, layer: str | None) -> Layer | None:
    if layer is None:
        return None
    if layer not in scene.layers:
        raise Refusal(f"there is no layer with the identity {layer!r} any more.", code="gone")
    return scene.layers[layer]
