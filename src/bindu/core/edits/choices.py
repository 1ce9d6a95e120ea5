"""Hold keys on channels that choose: which space is active, who leads."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import replace

from bindu.core.curves.keys import with_keys, without_keys
from bindu.core.curves.model import Key
from bindu.core.edits.keys import without_curve
from bindu.core.refusal import Refusal
from bindu.core.scene.changes import with_part
from bindu.core.scene.channels import ChannelRef
from bindu.core.scene.model import Scene
from bindu.core.scene.names import full_name


def with_choice(scene: Scene, ref: ChannelRef, frame: float, value: float) -> Scene:
    """The scene with a hold key; what was chosen before stays so until then."""
    refuse_steps(scene, ref)
    curve = scene.curves.get(ref)
    keys = [Key(float(frame), float(value), "hold")]
    if curve is None and frame > scene.first:
        keys.insert(0, Key(float(scene.first), scene.set_value(ref), "hold"))
    return replace(scene, curves={**scene.curves, ref: with_keys(curve, keys)})


def without_choice(scene: Scene, ref: ChannelRef, frame: float) -> Scene:
    """The scene without the key on a frame.

    Raises:
        Refusal: when there is none.
    """
    curve = scene.curves.get(ref)
    if curve is None or curve.key_at(frame) is None:
        raise Refusal(
            f"there is no handover on frame {frame:g}.", code="unknown", place=full_name(scene, ref)
        )
    if len(curve.keys) == 1:
        return without_curve(scene, ref)
    return replace(scene, curves={**scene.curves, ref: without_keys(curve, [frame])})


def chosen_values(scene: Scene, ref: ChannelRef) -> Mapping[int, float]:
    """The numbers that a choosing channel has by its keys, or without keys, each with the first
    frame that has it."""
    curve = scene.curves.get(ref)
    if curve is None:
        return {round(scene.set_value(ref)): float(scene.first)}
    return {round(key.value): key.frame for key in reversed(curve.keys)}


def with_choices_renumbered(scene: Scene, ref: ChannelRef, places: Mapping[int, int]) -> Scene:
    """The scene in which a choosing channel chooses by new numbers.

    Args:
        scene: the scene.
        ref: the channel.
        places: the new number of each old one; an old one without a new one becomes 0.
    """

    def new(value: float) -> float:
        return float(places.get(round(value), 0))

    part, curve = scene.parts[ref.part], scene.curves.get(ref)
    if ref.channel in part.values:
        values = {**part.values, ref.channel: new(part.values[ref.channel])}
        scene = with_part(scene, replace(part, values=values))
    if curve is None:
        return scene
    keys = tuple(replace(key, value=new(key.value)) for key in curve.keys)
    return replace(scene, curves={**scene.curves, ref: replace(curve, keys=keys)})


def refuse_steps(scene: Scene, ref: ChannelRef) -> None:
    """Refuses to choose by keys what a step chooses."""
    writers = [step.name for step in scene.writers(ref) if step.on]
    if writers:
        names = ", ".join(f"“{name}”" for name in writers)
        raise Refusal(
            f"it is written by {names}; mute that first.",
            code="in use",
            place=full_name(scene, ref),
        )
