"""Copies of poses and of animation, by name, so that they fit other parts and other scenes."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass, replace
from typing import Literal

import numpy as np

from bindu.core.curves.evaluate import curve_values
from bindu.core.curves.keys import LARGEST, checked
from bindu.core.curves.model import Array, Curve, Key, Tangent
from bindu.core.curves.operations import cropped, moved_in_time, tidy
from bindu.core.evaluation.keyed import keyed_values
from bindu.core.placing.place import rest_matrix
from bindu.core.placing.reordering import ROTATION, angles_in_order, kinds_of, rewritten
from bindu.core.refusal import Refusal
from bindu.core.scene.channels import AXES, ChannelRef, layer_channel
from bindu.core.scene.model import Scene
from bindu.core.scene.names import channel_name
from bindu.core.scene.pairs import opposite
from bindu.core.scene.parts import RotationOrder

Matrix = tuple[tuple[float, float, float], tuple[float, float, float], tuple[float, float, float]]
LEFT_RIGHT = np.diag([-1.0, 1.0, 1.0])


@dataclass(frozen=True)
class ClipChannel:
    """A channel by name: its value in a pose, or its curve."""

    name: str
    value: float = 0.0
    curve: Curve | None = None


@dataclass(frozen=True)
class ClipPart:
    """What was copied of a part.

    Attributes:
        axes: its rest axes in the world, as columns.
        order: its rotation order; None where that is not known.
    """

    name: str
    axes: Matrix
    channels: tuple[ClipChannel, ...]
    order: RotationOrder | None = None


@dataclass(frozen=True)
class Clip:
    """A copied pose, or curves from frame ``first`` to ``last``.

    Attributes:
        fps: frames a second of the scene that it was copied from; None where that is not known.
    """

    kind: Literal["pose", "animation"]
    parts: tuple[ClipPart, ...]
    first: float = 0.0
    last: float = 0.0
    fps: float | None = None


def pose_clip(scene: Scene, channels: Iterable[ChannelRef], frame: float) -> Clip:
    """The keyed values of channels on a frame."""
    at = np.array([float(frame)])

    def copied(ref: ChannelRef) -> ClipChannel:
        return ClipChannel(channel_name(scene, ref), float(keyed_values(scene, ref, at)[0]))

    return Clip("pose", _parts(scene, {ref: copied(ref) for ref in channels}), frame, frame)


def animation_clip(
    scene: Scene, channels: Iterable[ChannelRef], span: tuple[float, float], layer: str | None
) -> Clip:
    """The curves of channels, their own or those on a layer, between two frames.

    Raises:
        Refusal: when none of them has keys.
    """
    first, last = span
    found = {}
    for ref in channels:
        curve = scene.curves.get(ChannelRef(ref.part, layer_channel(layer, ref.channel)))
        if curve is not None:
            name = channel_name(scene, ref)
            found[ref] = ClipChannel(name, curve=cropped(curve, first, last))
    if not found:
        raise Refusal("none of these channels has keys; nothing was copied.", code="choice")
    return Clip("animation", _parts(scene, found), first, last, scene.fps)


def at_rate(clip: Clip, fps: float) -> Clip:
    """Copied animation as it takes the same time in a scene of another frame rate: its keys go to
    other frames, whole or not.

    Raises:
        Refusal: when its own rate is none, keys would meet, or a frame is beyond ±1e9.
    """
    if clip.fps is None or clip.fps == fps:
        return clip
    if not 1.0 <= clip.fps <= 1000.0:
        text = f"it says {clip.fps:g} frames a second, not 1 to 1000; copy it again."
        raise Refusal(text, place="fps")
    if not max(abs(clip.first), abs(clip.last)) <= LARGEST:
        text = f"it goes from {clip.first:g} to {clip.last:g}, beyond ±1e9; copy it again."
        raise Refusal(text, code="number", place="clip")
    factor = fps / clip.fps

    def retimed(channel: ClipChannel) -> ClipChannel:
        if channel.curve is None:
            return channel
        frames = [checked(key).frame for key in channel.curve.keys]
        curve = moved_in_time(channel.curve, frames, lambda frame: frame * factor)
        return replace(channel, curve=curve)

    parts = tuple(replace(p, channels=tuple(map(retimed, p.channels))) for p in clip.parts)
    return replace(
        clip, parts=parts, first=tidy(clip.first * factor), last=tidy(clip.last * factor), fps=fps
    )


def mirror_signs(scene: Scene, source: ClipPart, part: str) -> dict[str, float]:
    """By which factor each transform channel goes to a part on the other side.

    Mirrored in the plane x = 0 of the world, the source's rest axes must be the part's own, up
    to directions: with F the way from one to the other, a shift t becomes F·t and a rotation R
    becomes F·R·F⁻¹, and with F diagonal both only change signs.

    Raises:
        Refusal: when the rest axes are not mirror images.
    """
    way = world_rest_axes(scene, part).T @ LEFT_RIGHT @ np.array(source.axes)
    signs = np.sign(np.diag(way))
    if np.any(np.abs(way - np.diag(signs)) > 1e-6) or np.any(signs == 0.0):
        name = scene.parts[part].name
        raise Refusal(
            f"its rest axes are no mirror image of those of {source.name}; "
            "turn its rest so that they are.",
            place=name,
        )
    handed = float(np.prod(signs))
    found = {}
    for axis, sign in zip(AXES, signs, strict=True):
        found[f"translation.{axis}"] = float(sign)
        found[f"rotation.{axis}"] = handed * float(sign)
    return found


def mirrored_channel(channel: ClipChannel, sign: float) -> ClipChannel:
    """A copied channel with its values multiplied by 1 or -1."""
    if sign == 1.0:
        return channel
    curve = channel.curve
    if curve is not None:
        curve = replace(curve, keys=tuple(_mirrored_key(key) for key in curve.keys))
    return replace(channel, value=-channel.value, curve=curve)


def in_order(source: ClipPart, order: RotationOrder) -> ClipPart:
    """What was copied of a part, its rotation written in another order: a pose exactly, curves on
    all their keys.

    Raises:
        Refusal: when not all three angles were copied.
    """
    if source.order is None or source.order == order:
        return source
    angles = {c.name: c for c in source.channels if c.name in ROTATION}
    if not angles:
        return source
    if len(angles) < len(ROTATION):
        raise Refusal(
            f"its rotation order is {order}, that of {source.name} is {source.order}: copy "
            "rotation x, y and z together, so that they can be written in its order.",
            place=source.name,
        )
    curves = [angles[name].curve for name in ROTATION]
    frames = np.array(sorted({key.frame for curve in curves if curve for key in curve.keys}))
    at = frames if len(frames) else np.zeros(1)
    old = np.stack(
        [
            curve_values(curve, at) if curve else np.full(len(at), angles[name].value)
            for name, curve in zip(ROTATION, curves, strict=True)
        ],
        axis=1,
    )
    new, kinds = angles_in_order(old, source.order, order), kinds_of(curves)
    outside = next((curve for curve in curves if curve), None)
    made = {
        name: ClipChannel(
            name,
            float(new[0, n]),
            rewritten(outside, frames, new[:, n], kinds) if outside else None,
        )
        for n, name in enumerate(ROTATION)
    }
    channels = tuple(made.get(channel.name, channel) for channel in source.channels)
    return replace(source, channels=channels, order=order)


def world_rest_axes(scene: Scene, part: str) -> Array:
    """A part's rest axes in the world when all its ancestors are at rest too, shape (3, 3)."""
    axes = np.eye(3)
    above: str | None = part
    while above is not None:
        axes = rest_matrix(scene.parts[above])[:3, :3] @ axes
        above = scene.parts[above].parent
    return axes


def target_of(scene: Scene, name: str, mirrored: bool) -> str | None:
    """The part that a copied part of this name is meant for."""
    found = next((part.id for part in scene.parts.values() if part.name == name), None)
    if found is None or not mirrored:
        return found
    return opposite(scene, found) or found


def _mirrored_key(key: Key) -> Key:
    left, right = (Tangent(-t.angle, t.length) for t in (key.left, key.right))
    return replace(key, value=-key.value, left=left, right=right)


def _parts(scene: Scene, channels: dict[ChannelRef, ClipChannel]) -> tuple[ClipPart, ...]:
    by_part: dict[str, list[ClipChannel]] = {}
    for ref, channel in channels.items():
        by_part.setdefault(ref.part, []).append(channel)
    return tuple(
        ClipPart(
            scene.parts[part].name,
            matrix_of(world_rest_axes(scene, part)),
            tuple(found),
            scene.parts[part].rotation_order,
        )
        for part, found in by_part.items()
    )


def matrix_of(axes: Array) -> Matrix:
    """A (3, 3) array as plain rows."""
    x, y, z = ((float(a), float(b), float(c)) for a, b, c in axes)
    return x, y, z
