"""Angles that jump by a turn, or flip."""

from __future__ import annotations

from collections.abc import Iterator, Mapping, Sequence

import numpy as np

from bindu.core.checks.check import Check, Finding, Looked, Offer
from bindu.core.checks.keyed_rotations import angles_at, made_of, rotation_keys, turned_by_keys
from bindu.core.curves.model import Array
from bindu.core.edits.continuous import MakeAnglesContinuous
from bindu.core.evaluation import Evaluation
from bindu.core.geometry.continuity import jumping
from bindu.core.scene.channels import AXES
from bindu.core.scene.model import Scene
from bindu.core.scene.parts import RotationOrder

Jumps = tuple[Array, Array, np.ndarray[tuple[int, ...], np.dtype[np.int64]]]
"""The frames of keys, the angles there, and after which of them one jumps."""


class AngleJumps(Check):
    """See ``Check``."""

    name = "angle jump"
    why = "An angle that jumps by a turn makes the part spin between the frames or keys around it."

    def found(
        self, evaluation: Evaluation, limits: Mapping[str, float], looked: Looked
    ) -> Iterator[Finding]:
        """One for each part whose rotation is keyed."""
        scene, first = evaluation.scene, evaluation.times.first
        for ref in turned_by_keys(scene):
            order = scene.parts[ref].rotation_order
            kept = (self.name, order, made_of(scene, ref, looked))
            frames, values, rows = looked.once(
                kept,
                lambda part=ref, order=order: _jumps(scene, part, order),  # type: ignore[misc]
            )
            if not len(rows):
                continue
            steps = np.abs(np.diff(values, axis=0)).max(axis=1)
            worst = int(rows[np.argmax(steps[rows])])
            last = evaluation.times.last
            spans = tuple(
                (max(int(np.floor(frames[n])), first), min(int(np.ceil(frames[n + 1])), last))
                for n in rows
            )
            a, b = frames[worst], frames[worst + 1]
            text = f"{scene.parts[ref].name}: an angle jumps by {steps[worst]:.4g}° between "
            text += f"{a:g} and {b:g}, though the poses are near each other. Write the angles "
            text += "continuously; the poses stay."
            axis = AXES[int(np.argmax(np.abs(values[worst + 1] - values[worst])))]
            yield Finding(
                self.name,
                self.severity,
                ref,
                f"rotation.{axis}",
                "rotation",
                text,
                float(steps[worst]),
                "°",
                None,
                spans,
                min(max(int(np.ceil(b)), first), last),
            )

    def offers(self, evaluation: Evaluation, finding: Finding) -> Sequence[Offer]:
        """Continuous angles, every pose kept."""
        edit = MakeAnglesContinuous((finding.part,))
        return (
            Offer(
                "continuous",
                "write the angles continuously",
                "the pose on every key stays",
                (edit,),
            ),
        )


def _jumps(scene: Scene, part: str, order: RotationOrder) -> Jumps:
    frames = rotation_keys(scene, part)
    values = angles_at(scene, part, frames)
    if len(frames) < 2:
        return frames, values, np.zeros(0, dtype=np.int64)
    return frames, values, np.flatnonzero(jumping(values, order, frames))
