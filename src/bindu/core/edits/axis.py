"""A helper that turns a part about one axis."""

from __future__ import annotations

from dataclasses import dataclass, replace
from typing import Literal

import numpy as np

from bindu.core.curves.keys import with_keys
from bindu.core.curves.model import Array, Interpolation, Key
from bindu.core.edits.base import found_part, unlocked
from bindu.core.edits.parts import AddPart, ChangePart, MovePart
from bindu.core.edits.retime import DeleteKeys, KeyPick
from bindu.core.evaluation.keyed import own_values
from bindu.core.geometry.rotation import angles_quaternion, inverse, matrices_of, product
from bindu.core.geometry.turning import shortest_turn
from bindu.core.placing.place import refuse_written, rest_matrix, rest_of
from bindu.core.refusal import Refusal
from bindu.core.scene.changes import with_curve, with_part
from bindu.core.scene.channels import AXES, TRANSFORM_CHANNELS, ChannelRef
from bindu.core.scene.model import Scene
from bindu.core.scene.parts import Part, Rest
from bindu.core.steps.registry import reads_of

ONE_AXIS = 1.0
"""Degrees by which the axes of the turns between keys may differ and still be one."""
X = np.array([1.0, 0.0, 0.0])
STILL = 1e-6
OWN = ("rotation", "translation", "quaternion", *TRANSFORM_CHANNELS[:6])


@dataclass(frozen=True)
class TurnAboutAxis:
    """Puts a helper above a part whose rest is the part's tilt, and lets its x turn the part about
    the one axis about which its keys turn it. On all keys the pose stays; between them it goes
    straight about that axis."""

    part: str
    do: Literal["turn about axis"] = "turn about axis"

    def label(self, scene: Scene) -> str:
        """See ``Edit``."""
        return f"turn {found_part(scene, self.part).name} about one axis by a helper"

    def apply(self, scene: Scene) -> Scene:
        """See ``Edit``."""
        part = found_part(scene, self.part)
        _refuse_bound(scene, part)
        frames, turns = _keyed_turns(scene, part)
        axis = _axis(turns, part.name)
        steps = product(inverse(turns[:-1]), turns[1:])
        steps = np.where(steps[:, 3:] < 0.0, -steps, steps)
        by = np.degrees(2.0 * np.arctan2(steps[:, :3] @ axis, steps[:, 3]))
        angles = np.concatenate([[0.0], np.cumsum(by)])
        onto = shortest_turn(X[None], axis[None], np.array([[0.0, 0.0, 1.0]]))[0]
        made, helper = self._with_helper(scene, part, product(turns[:1], onto[None])[0])
        kinds = _kinds(scene, part.id, frames)
        turned = zip(frames.tolist(), angles.tolist(), strict=True)
        keys = [Key(frame, angle, kinds[frame]) for frame, angle in turned]
        made = with_curve(made, ChannelRef(helper, "rotation.x"), with_keys(None, keys))
        return _hung(made, part.id, helper, inverse(onto[None])[0])

    def _with_helper(self, scene: Scene, part: Part, tilt: Array) -> tuple[Scene, str]:
        """The scene with the helper where the part is, turned by its tilt."""
        name, n = f"{part.name} axis", 1
        while name in scene.part_ids:
            n += 1
            name = f"{part.name} axis {n}"
        made = AddPart(name, part.parent, "helper", part.side).apply(scene)
        helper = made.part_ids[name]
        place = np.eye(4)
        place[:3, 3] = [scene.set_value(ChannelRef(part.id, f"translation.{a}")) for a in AXES]
        place[:3, :3] = matrices_of(tilt[None])[0]
        rest = rest_of(rest_matrix(part) @ place, made.parts[helper])
        return ChangePart(helper, rest=rest).apply(made), helper


def _hung(scene: Scene, part_id: str, helper: str, turned: Array) -> Scene:
    """The scene with the part below the helper, its own position and rotation at their defaults."""
    picks = tuple(
        KeyPick(part_id, channel)
        for channel in TRANSFORM_CHANNELS[3:6]
        if ChannelRef(part_id, channel) in scene.curves
    )
    scene = MovePart(part_id, helper).apply(DeleteKeys(picks).apply(scene))
    part = scene.parts[part_id]
    place = np.eye(4)
    place[:3, :3] = matrices_of(turned[None])[0]
    rest = rest_of(place, replace(part, rest=Rest()))
    values = {c: v for c, v in part.values.items() if c not in TRANSFORM_CHANNELS[:6]}
    return with_part(scene, replace(part, rest=rest, values=values))


def _refuse_bound(scene: Scene, part: Part) -> None:
    """Refuses a part whose position or rotation is more than its own rotation's keys."""
    for channel in TRANSFORM_CHANNELS[:6]:
        ref = unlocked(scene, ChannelRef(part.id, channel))
        refuse_written(scene, ref)
        if channel.startswith("translation") and ref in scene.curves:
            text = "its position is keyed; put it below a part that carries these keys first."
            raise Refusal(text, code="in use", place=part.name)
    for step in scene.steps.values():
        if any(read.part == part.id and read.quantity in OWN for read in reads_of(scene, step)):
            text = f"“{step.name}” of {scene.parts[step.part].name} reads its channels."
            raise Refusal(text, code="in use", place=part.name)


def _keyed_turns(scene: Scene, part: Part) -> tuple[Array, Array]:
    """The frames of its rotation's keys, shape (K,), and the rotations there, (K, 4)."""
    refs = [ChannelRef(part.id, channel) for channel in TRANSFORM_CHANNELS[3:6]]
    curves = [scene.curves[ref] for ref in refs if ref in scene.curves]
    frames = np.unique(np.concatenate([np.zeros(0), *(curve.frames for curve in curves)]))
    if len(frames) < 2:
        text = "its rotation has fewer than two keys: nothing turns it."
        raise Refusal(text, code="choice", place=part.name)
    angles = np.stack([own_values(scene, ref, frames) for ref in refs], axis=1)
    return frames, angles_quaternion(angles, part.rotation_order)


def _axis(turns: Array, name: str) -> Array:
    """The axis about which all turns from the first key go, of length 1.

    Raises:
        Refusal: where they go about several, or nowhere.
    """
    ways = product(inverse(turns[:1]), turns)[:, :3]
    size = np.linalg.norm(ways, axis=1)
    far = int(np.argmax(size))
    if size[far] < STILL:
        raise Refusal("its keys do not turn it.", code="choice", place=name)
    axis = ways[far] / size[far]
    seen = size > np.sin(np.radians(ONE_AXIS))
    apart = np.linalg.norm(np.cross(ways[seen] / size[seen, None], axis), axis=1)
    if apart.max() > np.sin(np.radians(ONE_AXIS)):
        text = "its keys turn it about several axes, so that no one helper can."
        raise Refusal(text, code="choice", place=name)
    return np.asarray(axis)


def _kinds(scene: Scene, part: str, frames: Array) -> dict[float, Interpolation]:
    """The interpolation behind each key, of the first channel that has one there."""
    found: dict[float, Interpolation] = {}
    for channel in TRANSFORM_CHANNELS[3:6]:
        curve = scene.curves.get(ChannelRef(part, channel))
        for key in curve.keys if curve else ():
            found.setdefault(key.frame, key.interpolation)
    return found
