"""Surfaces whose points joints do not hold as they should."""

from __future__ import annotations

from collections.abc import Iterator, Mapping, Sequence

import numpy as np

from bindu.core.checks.check import Check, Finding, Looked, Offer, Threshold, said
from bindu.core.counted import counted
from bindu.core.edits.deforms import SmoothWeights
from bindu.core.evaluation import Evaluation
from bindu.core.scene.surfaces import BendByJoints, Surface
from bindu.core.surface.bend import weights_of


class Skin(Check):
    """Weights of a bend that do not sum to 1, so that they are shared out anew, and points that no
    joint holds, so that they stay behind. See ``Check``."""

    name = "skin"
    why = "A point follows its joints by shares of one; another sum is not what it looks like."
    severity = "untidy"
    thresholds = (Threshold("apart", 0.001, "", "sums off 1 by over {}", 0.0, 1.0),)

    def found(
        self, evaluation: Evaluation, limits: Mapping[str, float], looked: Looked
    ) -> Iterator[Finding]:
        """At most one of each kind for each bend."""
        for surface in sorted(evaluation.scene.surfaces.values(), key=lambda one: one.name):
            for step in surface.steps:
                if not isinstance(step, BendByJoints) or not step.on:
                    continue
                sums = weights_of(step.joints, len(surface.points)).sum(axis=1)
                loose = np.flatnonzero(sums <= 0.0)
                if len(loose):
                    held = counted(len(loose), "point")
                    text = f"{surface.name}: {step.name} holds {held} by no joint, "
                    text += f"point {loose[0]} first; what no joint holds goes along with the part."
                    yield _finding(surface, step, "loose", text, float(len(loose)), "points")
                off = np.where(sums > 0.0, np.abs(sums - 1.0), 0.0)
                if off.max() > limits["apart"]:
                    worst = int(np.argmax(off))
                    many = int(np.count_nonzero(off > limits["apart"]))
                    text = f"{surface.name}: {step.name} has weights of {many} points that do not "
                    text += f"sum to 1, most of point {worst}: {said(float(sums[worst]))}. They "
                    text += "are shared out so that they do."
                    yield _finding(surface, step, "sums", text, float(off[worst]), "")

    def offers(self, evaluation: Evaluation, finding: Finding) -> Sequence[Offer]:
        """Weights smoothed once: points without a joint take those of their neighbours."""
        surface_id, step_id, _ = finding.key.split(" ")
        smooth = SmoothWeights(surface_id, step_id, 1)
        text = "smooth the weights once: points get some of their neighbours'"
        return (Offer("smooth", text, "folds become a little rounder", (smooth,)),)


def _finding(
    surface: Surface, step: BendByJoints, key: str, text: str, amount: float, unit: str
) -> Finding:
    return Finding(
        "skin",
        "untidy",
        surface.part,
        f"{surface.id}.{step.id}.weight",
        surface.name,
        text,
        amount,
        unit,
        key=f"{surface.id} {step.id} {key}",
    )
