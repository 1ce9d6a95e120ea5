"""Where the mirrored value of a channel comes from."""

from __future__ import annotations

from bindu.core.clips.clip import ClipPart, matrix_of, mirror_signs, world_rest_axes
from bindu.core.refusal import Refusal
from bindu.core.scene.channels import ChannelRef, below_layers, layer_and_channel, step_channel
from bindu.core.scene.model import Scene
from bindu.core.scene.names import channel_name, channel_names, full_name
from bindu.core.scene.pairs import opposite, opposite_channel


def mirrored_from(scene: Scene, ref: ChannelRef) -> tuple[ChannelRef, float]:
    """The channel on the other side that a channel mirrors, and the factor between their values; a
    part in the middle mirrors itself. See ``mirror_signs``.

    Raises:
        Refusal: when the other side has no such channel, or its rest axes are no mirror image.
    """
    base = below_layers(ref)
    other = opposite(scene, ref.part) or ref.part
    name = channel_name(scene, base)
    found = opposite_channel(channel_names(scene, other), name)
    if found is None:
        text = f"{scene.parts[other].name} has no channel {name} to mirror."
        raise Refusal(text, code="unknown", place=full_name(scene, ref))
    axes = matrix_of(world_rest_axes(scene, other))
    source = ClipPart(scene.parts[other].name, axes, ())
    turns = {step_channel(limb.id, "turn") for limb in scene.limbs.values()}
    sign = -1.0 if base.channel in turns else 1.0
    if layer_and_channel(ref.channel)[1].startswith(("translation.", "rotation.")):
        sign = mirror_signs(scene, source, ref.part)[base.channel]
    return ChannelRef(other, found), sign
