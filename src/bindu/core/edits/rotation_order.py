"""Edits of rotation orders: what is written as angles is written again."""

from __future__ import annotations

from dataclasses import dataclass, replace
from typing import Literal

import numpy as np
from scipy.spatial.transform import Rotation

from bindu.core.edits.base import found_part
from bindu.core.edits.parts import checked_rest
from bindu.core.evaluation.keyed import keyed_values
from bindu.core.geometry.rotation import rotation_matrices
from bindu.core.placing.place import carried_pose, refuse_locked, rest_matrix, rest_of
from bindu.core.placing.reordering import (
    ROTATION,
    angles_in_order,
    kinds_of,
    rewritten,
    vector_in_order,
)
from bindu.core.refusal import Refusal
from bindu.core.scene.changes import with_curve, with_part
from bindu.core.scene.channels import ChannelRef
from bindu.core.scene.model import Scene
from bindu.core.scene.names import full_name
from bindu.core.scene.parts import Part, RotationOrder

Rewrite = Literal["on keys", "on every frame", "leave"]


@dataclass(frozen=True)
class ChangeRotationOrder:
    """Gives a part another rotation order; its rest, its own default pose and the offsets of its
    steps are written in the new order too.

    The rotation curves are rewritten so that the pose stays on their keys, or on every frame of
    the range; or they are left, and the poses change.
    """

    part: str
    order: RotationOrder
    rewrite: Rewrite = "on keys"
    do: Literal["change rotation order"] = "change rotation order"

    def label(self, scene: Scene) -> str:
        """See ``Edit``."""
        part = found_part(scene, self.part)
        text = f"rotation order of {part.name} {part.rotation_order} → {self.order}"
        if self.rewrite == "leave":
            return text
        worst, frame = rotation_error(scene, self.apply(scene), self.part)
        if worst < 1e-6:
            return f"{text}, every pose kept"
        return f"{text}, poses kept {self.rewrite}; between them up to {worst:.3g}° (frame {frame})"

    def apply(self, scene: Scene) -> Scene:
        """See ``Edit``."""
        part = found_part(scene, self.part)
        ordered = replace(part, rotation_order=self.order)
        rest = replace(rest_of(rest_matrix(part), ordered), translation=part.rest.translation)
        ordered = replace(ordered, rest=checked_rest(rest, part.name))
        scene = _with_offsets_in_order(scene, part, self.order)
        if self.rewrite == "leave":
            return with_part(scene, ordered)
        ordered = replace(ordered, pose=carried_pose(part, ordered))
        refs = [ChannelRef(part.id, channel) for channel in ROTATION]
        curves = [scene.curves.get(ref) for ref in refs]
        frames = {key.frame for curve in curves if curve for key in curve.keys}
        if self.rewrite == "on every frame" and frames:
            frames = {float(frame) for frame in range(scene.first, scene.last + 1)}
        at = np.array(sorted(frames) or [float(scene.first)])
        old = np.stack([keyed_values(scene, ref, at) for ref in refs], axis=1)
        new = angles_in_order(old, part.rotation_order, self.order)
        for ref in refs if np.abs(new - old).max() > 0.0 else ():
            refuse_locked(scene, ref)
        _refuse_angles_written(scene, part)
        scene = with_part(scene, ordered)
        for n, ref in enumerate(refs):
            if frames:
                kinds = {} if self.rewrite == "on every frame" else kinds_of(curves)
                outside = next(c for c in curves if c)
                curve = rewritten(outside, at, new[:, n], kinds)
                scene = with_curve(scene, ref, curve)
            else:
                values = {**scene.parts[part.id].values, ref.channel: float(new[0, n])}
                owner = replace(scene.parts[part.id], values=values)
                scene = with_part(scene, owner)
        return scene


def rotation_error(before: Scene, after: Scene, part_id: str) -> tuple[float, int]:
    """How far two scenes' keyed rotations of a part differ at most over the range: degrees, and
    on which frame."""
    frames = np.arange(before.first, before.last + 1, dtype=float)
    turned = [
        Rotation.from_matrix(
            rest_matrix(scene.parts[part_id])[:3, :3]
            @ rotation_matrices(
                np.stack(
                    [keyed_values(scene, ChannelRef(part_id, c), frames) for c in ROTATION], axis=1
                ),
                scene.parts[part_id].rotation_order,
            )
        )
        for scene in (before, after)
    ]
    apart = np.degrees((turned[0].inv() * turned[1]).magnitude())
    worst = int(np.argmax(apart))
    return float(apart[worst]), int(frames[worst])


def _refuse_angles_written(scene: Scene, part: Part) -> None:
    """Refuses another order where steps write single angles of a rotation about several axes: they
    would mean another pose in it. Steps that write the rotation as a whole do not mind."""
    refs = [ChannelRef(part.id, channel) for channel in ROTATION]
    writers = {ref: [s for s in scene.writers(ref) if s.on] for ref in refs}
    turning = [ref for ref in refs if ref in scene.curves or scene.set_value(ref) or writers[ref]]
    for ref in refs if len(turning) > 1 else ():
        names = [f"“{step.name}”" for step in writers[ref] if not step.settings.groups]
        if names:
            raise Refusal(
                f"it is written by {', '.join(names)} as an angle, which would mean another pose "
                "in another order; mute those steps or merge those layers first, or let the "
                "poses change.",
                code="in use",
                place=full_name(scene, ref),
            )


def _with_offsets_in_order(scene: Scene, part: Part, order: RotationOrder) -> Scene:
    """The scene with the offsets of a part's steps, and of limbs that end in it, which are angles
    in its rotation order, written in another one."""
    steps = dict(scene.steps)
    for step in scene.steps_of.get(part.id, ()):
        settings = step.settings.in_order(
            lambda angles: vector_in_order(angles, part.rotation_order, order)
        )
        if settings != step.settings:
            steps[step.id] = replace(step, settings=settings)
    limbs = {
        key: replace(limb, offset=vector_in_order(limb.offset, part.rotation_order, order))
        if limb.chain[-1] == part.id
        else limb
        for key, limb in scene.limbs.items()
    }
    return replace(scene, steps=steps, limbs=limbs)
