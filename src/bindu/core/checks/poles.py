"""Aims whose up says nothing: where it lies along the direction that they look in."""

from __future__ import annotations

from collections.abc import Iterator, Mapping
from dataclasses import dataclass

import numpy as np

from bindu.core.checks.check import Check, Finding, Looked
from bindu.core.evaluation import Evaluation
from bindu.core.geometry.looking import POLE
from bindu.core.geometry.places import weighted_mean
from bindu.core.geometry.vectors import normalized
from bindu.core.nodes.identity import QUATERNION, NodeId, after
from bindu.core.scene.parts import Step
from bindu.core.scene.settings import AimSettings


@dataclass(frozen=True)
class Pole:
    """An aim along its own up: on which frame first, and on how many."""

    step: Step
    first: int
    frames: int


def poles(evaluation: Evaluation) -> Iterator[Pole]:
    """The aims of a scene that look along their up on some frame; there the side of the frame
    before is kept, or on all frames the least turn is taken."""
    for step in evaluation.scene.steps.values():
        settings = step.settings
        if not step.on or not isinstance(settings, AimSettings) or settings.up == "none":
            continue
        frames = _frames_at_the_pole(evaluation, step, settings)
        if frames:
            yield Pole(step, evaluation.times.first + frames[0], len(frames))


def _frames_at_the_pole(evaluation: Evaluation, step: Step, settings: AimSettings) -> list[int]:
    # What the step really took: in a loop, that is not what it asked for.
    node = evaluation.graph.nodes[NodeId(step.part, QUATERNION, after(step))]
    rest = iter([evaluation.results[i].values for i in node.inputs[1:]])
    points, weights = [], []
    for target in settings.targets:
        points.append(np.zeros((1, 3)) if target.part is None else next(rest))
        weights.append(np.maximum(next(rest), 0.0))
    own = next(rest)
    up = next(rest) - own if settings.up == "part" else np.array([settings.up_direction])
    with np.errstate(invalid="ignore"):
        directions = normalized(weighted_mean(points, weights) - own)
        sides = np.linalg.norm(np.cross(directions, normalized(up)), axis=1)
    found = np.flatnonzero(sides <= POLE)
    frames = range(len(evaluation.times.frames)) if len(sides) == 1 and len(found) else found
    return [int(frame) for frame in frames]


class AimPoles(Check):
    """See ``Check``."""

    name = "aim"
    why = "Where a part looks along its up, up says nothing, and the part may flip."

    def found(
        self, evaluation: Evaluation, limits: Mapping[str, float], looked: Looked
    ) -> Iterator[Finding]:
        """One for each aim."""
        for pole in poles(evaluation):
            step = pole.step
            name = evaluation.scene.parts[step.part].name
            text = f"{name}: “{step.name}” looks along its up on {pole.frames} frames, first on "
            text += f"{pole.first}; up says nothing there. Give it another up, or the least turn."
            yield Finding(
                self.name,
                self.severity,
                step.part,
                "rotation.x",
                step.name,
                text,
                float(pole.frames),
                "frames",
                step.id,
                ((pole.first, pole.first),),
                pole.first,
            )
