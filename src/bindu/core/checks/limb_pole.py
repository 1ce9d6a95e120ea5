"""Limbs whose pole says no side."""

from __future__ import annotations

from collections.abc import Iterator, Mapping

import numpy as np

from bindu.core.account.limbs import limb_account
from bindu.core.checks.check import Check, Finding, Looked, spans_of
from bindu.core.checks.limb_reach import limbs_of
from bindu.core.evaluation import Evaluation

ON_THE_LINE = 1e-3
"""Which share of the reach a pole must be off the line from base to goal to say a side."""


class PoleOnTheLine(Check):
    """See ``Check``."""

    name = "pole"
    why = "A pole on the line from base to goal says no side; the limb may turn over there."

    def found(
        self, evaluation: Evaluation, limits: Mapping[str, float], looked: Looked
    ) -> Iterator[Finding]:
        """One for each limb, where IK is on."""
        scene, first = evaluation.scene, evaluation.times.first
        for limb in limbs_of(scene):
            if limb.pole is None:
                continue
            said = limb_account(evaluation, limb)
            on = (said.blend > 0.0) & (said.off_the_line < ON_THE_LINE * said.reach)
            spans = spans_of(np.flatnonzero(on), first)
            if spans:
                name, frames = scene.parts[limb.pole].name, int(on.sum())
                text = f"{limb.name}: {name} is on the line from base to goal on {frames} frames, "
                text += f"first on {spans[0][0]}; it says no side there. Move it off the line."
                yield Finding(
                    self.name,
                    self.severity,
                    limb.pole,
                    "translation.x",
                    limb.name,
                    text,
                    float(frames),
                    "frames",
                    None,
                    spans,
                    spans[0][0],
                    key=limb.id,
                )
