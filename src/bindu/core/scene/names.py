"""Names that people see, and the way between them and identities."""

from __future__ import annotations

import re
from collections.abc import Mapping

from bindu.core.refusal import Refusal, nearest_names
from bindu.core.scene.channels import (
    BUILT_IN_CHANNELS,
    UNITS,
    ChannelRef,
    layer_and_channel,
    step_and_key,
    weight_channel,
)
from bindu.core.scene.model import Scene

NAME = re.compile(r"[^\W_](?:[\w \-]*[\w])?")
LONGEST_NAME = 80


def check_name(name: str, place: str) -> str:
    """The name, if it may name a part, channel or step.

    Letters, digits, spaces, ``-`` and ``_``, beginning with a letter or digit, since a name
    must be readable inside a reference.

    Raises:
        Refusal: with the place, when it is empty, too long or holds another character.
    """
    if len(name) > LONGEST_NAME:
        raise Refusal(
            f"a name has at most {LONGEST_NAME} characters.", code="too much", place=place
        )
    if not NAME.fullmatch(name):
        raise Refusal(
            f"{name!r} is no name: use letters, digits, spaces, - and _, "
            "beginning with a letter or digit.",
            code="text",
            place=place,
        )
    return name


def part_named(scene: Scene, name: str) -> str:
    """The id of the part with this name.

    Raises:
        Refusal: with the nearest names, when there is none.
    """
    found = parts_by_name(scene).get(name)
    if found is None:
        known = parts_by_name(scene)
        raise Refusal(
            f"there is no part {name!r}.", code="unknown", nearest=nearest_names(name, known)
        )
    return found


def parts_by_name(scene: Scene) -> Mapping[str, str]:
    """Part ids by name."""
    return scene.part_ids


def channel_names(scene: Scene, part: str) -> dict[str, str]:
    """Channel ids of a part by the names that people see."""
    names = {channel: channel for channel in BUILT_IN_CHANNELS}
    names.update({c.name: c.id for c in scene.channels_of.get(part, ())})
    layers = scene.layers_of.get(part, ())
    names.update({f"{layer.name}.weight": weight_channel(layer.id) for layer in layers})
    given = scene.inputs_of(part)
    names.update({channel_name(scene, ChannelRef(part, channel)): channel for channel in given})
    return names


def channel_named(scene: Scene, text: str) -> ChannelRef:
    """The channel written ``part.channel``.

    Raises:
        Refusal: with the nearest names, when there is no such part or channel.
    """
    part_name, dot, channel_name = text.partition(".")
    part = part_named(scene, part_name)
    if not dot:
        raise Refusal(
            f"write a channel as part.channel, for example {part_name}.translation.x.", code="text"
        )
    names = channel_names(scene, part)
    if channel_name not in names:
        near = [f"{part_name}.{name}" for name in nearest_names(channel_name, names)]
        raise Refusal(f"{part_name} has no channel {channel_name!r}.", code="unknown", nearest=near)
    return ChannelRef(part, names[channel_name])


def channel_name(scene: Scene, ref: ChannelRef) -> str:
    """The channel's name within its part, as people see it."""
    if ref.channel in BUILT_IN_CHANNELS:
        return ref.channel
    if ref.channel in scene.channels:
        return scene.channels[ref.channel].name
    layer_id, channel = layer_and_channel(ref.channel)
    if layer_id is not None:
        below = channel_name(scene, ChannelRef(ref.part, channel))
        return f"{below} on {scene.layers[layer_id].name}"
    owner_id, key = step_and_key(ref.channel)
    surface = scene.surfaces.get(owner_id)
    if surface is not None:
        return f"{surface.name}.{surface.input_names.get(key, key)}"
    owner = scene.steps.get(owner_id) or scene.layers.get(owner_id) or scene.owners.get(owner_id)
    return f"{owner.name}.{_key_name(scene, key)}" if owner else ref.channel


def _key_name(scene: Scene, key: str) -> str:
    """What a channel of a step is for; the weight of a target is told with its part."""
    what, dot, target = key.partition(".")
    if not dot:
        return {"translation": "position"}.get(key, key)
    part = scene.parts.get(target)
    return f"{what} of {part.name if part else 'the world'}"


def full_name(scene: Scene, ref: ChannelRef) -> str:
    """``part.channel`` as people see it."""
    return f"{scene.parts[ref.part].name}.{channel_name(scene, ref)}"


def known_channel(scene: Scene, ref: ChannelRef) -> bool:
    """Whether the channel is there; on a layer, whether that is there too."""
    layer_id, channel = layer_and_channel(ref.channel)
    if layer_id is not None and layer_id not in scene.layers:
        return False
    return ref.part in scene.parts and channel in scene.channel_ids(ref.part)


def unit_of(scene: Scene, channel: str) -> str:
    """The unit that a channel's values are in; nothing where it is a plain number."""
    own = scene.channels.get(channel)
    if own:
        return own.unit
    one = scene.input_of(channel)
    return one.unit if one else UNITS.get(channel, "")
