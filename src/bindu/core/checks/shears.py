"""Where a step loses a shear: the place from which it takes a rotation has axes that are not at
right angles, since something above it is unevenly scaled."""

from __future__ import annotations

from collections.abc import Iterator, Mapping
from dataclasses import dataclass

import numpy as np

from bindu.core.checks.check import Check, Finding, Looked
from bindu.core.curves.model import Array
from bindu.core.evaluation import Evaluation
from bindu.core.graph.kinds.group import group_node
from bindu.core.graph.kinds.ties import step_made
from bindu.core.nodes.identity import QUATERNION, SOLVE, at_tap
from bindu.core.nodes.node import Node
from bindu.core.scene.channels import AXES, ChannelRef
from bindu.core.scene.model import Scene

LOST = 1e-6
"""Degrees up to which a corner is right."""


@dataclass(frozen=True)
class Shear:
    """What a step loses: by how many degrees at most a corner is not right, and on which frames.

    Attributes:
        part: the owner; of a lead group the part that carries its channels.
        step: its identity; None for a lead group.
        first: the first frame.
        worst: the frame on which it is most.
    """

    part: str
    step: str | None
    degrees: float
    first: int
    worst: int
    frames: int


def shears(evaluation: Evaluation) -> Iterator[Shear]:
    """What the steps of a scene lose by shear, in the order of evaluation."""
    if not any(_uneven(evaluation, part) for part in evaluation.scene.parts):
        return
    for node_id in evaluation.graph.order:
        if node_id.quantity not in (QUATERNION, SOLVE):
            continue
        lost = _lost(evaluation, evaluation.graph.nodes[node_id])
        frames = np.flatnonzero(lost > LOST)
        if len(frames):
            step = step_made(evaluation.scene, node_id)
            first, still = evaluation.times.first, len(lost) == 1
            yield Shear(
                node_id.part,
                step.id if step else None,
                float(lost.max()),
                first + int(frames[0]),
                first + int(np.argmax(lost)),
                len(evaluation.times.frames) if still else len(frames),
            )


def _lost(evaluation: Evaluation, node: Node) -> Array:
    """By how much the corners of the places that a node takes rotations from are not right,
    degrees, shape (F,) or (1,)."""
    values = [evaluation.results[i].values for i in node.inputs]
    found = [_skew(place) for place in node.operation.taken(values)]
    return np.asarray(np.max(np.broadcast_arrays(np.zeros(1), *found), axis=0))


def _skew(place: Array) -> Array:
    linear = place[:, :, :3]
    with np.errstate(divide="ignore", invalid="ignore"):
        axes = linear / np.linalg.norm(linear, axis=1)[:, None, :]
        corners = np.matmul(axes.transpose(0, 2, 1), axes) - np.eye(3)
    worst = np.nan_to_num(np.abs(corners).max(axis=(1, 2)))
    return np.asarray(np.degrees(np.arcsin(np.clip(worst, 0.0, 1.0))))


def _uneven(evaluation: Evaluation, part: str) -> bool:
    """Whether a part's scale is uneven on some frame."""
    scene = evaluation.scene
    if not _scaled(scene, part):
        return False
    scale = evaluation.result(group_node(scene, part, "scale", at_tap("final")))
    size = np.abs(scale.values)
    return bool(np.any(np.ptp(size, axis=1) > 1e-9 * size.max(axis=1)))


def _scaled(scene: Scene, part: str) -> bool:
    refs = [ChannelRef(part, f"scale.{axis}") for axis in AXES]
    return any(
        ref in scene.curves or scene.writers(ref) or ref.channel in scene.parts[part].values
        for ref in refs
    )


class Shears(Check):
    """See ``Check``."""

    name = "shear"
    why = "An uneven scale above a turned part leaves axes that no rotation can hold."

    def found(
        self, evaluation: Evaluation, limits: Mapping[str, float], looked: Looked
    ) -> Iterator[Finding]:
        """One for each step that loses one."""
        scene = evaluation.scene
        for shear in shears(evaluation):
            step = scene.steps.get(shear.step or "")
            name = scene.parts[shear.part].name
            text = f"{name}: “{step.name}”" if step else f"{name}: a lead group or a limb"
            text += f" loses a shear of up to {shear.degrees:.3g}° on {shear.frames} frames, most "
            text += f"on {shear.worst}: an uneven scale above leaves axes that are not at right "
            text += "angles, and no rotation can hold that. Make that scale even."
            yield Finding(
                self.name,
                self.severity,
                shear.part,
                "rotation.x",
                step.name if step else "what is solved together",
                text,
                shear.degrees,
                "°",
                shear.step,
                ((shear.first, shear.first),),
                shear.worst,
            )
