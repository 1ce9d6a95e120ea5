"""Names of channels, zones and taps, and references to channels."""

from __future__ import annotations

from typing import Literal, NamedTuple, get_args

Zone = Literal["keyed", "driven", "bound", "solved", "late", "final"]
Tap = Zone
"""A tap is the value right after the zone of the same name."""

ZONES: tuple[Zone, ...] = get_args(Zone)
_PLACES = {zone: place for place, zone in enumerate(ZONES)}
TAPS: tuple[Tap, ...] = ZONES

GROUPS = ("translation", "rotation", "scale")
AXES = ("x", "y", "z")
TRANSFORM_CHANNELS = tuple(f"{group}.{axis}" for group in GROUPS for axis in AXES)
BUILT_IN_CHANNELS = (*TRANSFORM_CHANNELS, "visible")

GROUP_DEFAULTS = {
    "translation": (0.0, 0.0, 0.0),
    "rotation": (0.0, 0.0, 0.0),
    "scale": (1.0, 1.0, 1.0),
}
DEFAULTS = {
    **{
        f"{group}.{axis}": value
        for group, vector in GROUP_DEFAULTS.items()
        for axis, value in zip(AXES, vector, strict=True)
    },
    "visible": 1.0,
}
UNITS = {
    **{f"translation.{axis}": "m" for axis in AXES},
    **{f"rotation.{axis}": "°" for axis in AXES},
}


class ChannelRef(NamedTuple):
    """One channel by identity: the part's id, and a built-in name, an own channel's id or
    ``<step or layer id>.weight``. The curve that a layer lays over a channel is found as
    ``<layer id>:<channel>``."""

    part: str
    channel: str


def zone_index(zone: Zone) -> int:
    """The zone's place in the fixed order, 0 to 5."""
    return _PLACES[zone]


def weight_channel(step_id: str) -> str:
    """The channel id of a step's weight."""
    return f"{step_id}.weight"


def step_channel(step_id: str, key: str) -> str:
    """The channel id of what a step, or a lead group, has of its own."""
    return f"{step_id}.{key}"


def step_and_key(channel: str) -> tuple[str, str]:
    """The step (or layer, or lead group) that a channel belongs to, and what it is for."""
    step, _, key = channel.partition(".")
    return step, key


def layer_channel(layer_id: str | None, channel: str) -> str:
    """Where a channel's curve on a layer is found; without a layer, the channel's own."""
    return channel if layer_id is None else f"{layer_id}:{channel}"


def below_layers(ref: ChannelRef) -> ChannelRef:
    """The channel itself, of a reference that may be to its curve on a layer."""
    return ChannelRef(ref.part, layer_and_channel(ref.channel)[1])


def layer_and_channel(channel: str) -> tuple[str | None, str]:
    """The layer's id (None: the channel's own curve) and the channel's own id."""
    layer_id, colon, rest = channel.partition(":")
    return (layer_id, rest) if colon else (None, channel)
