"""Frames whose way stands out of a motion that goes evenly otherwise."""

from __future__ import annotations

from collections.abc import Iterator, Mapping, Sequence

import numpy as np

from bindu.core.checks.check import Check, Finding, Looked, Offer, Threshold, spans_of
from bindu.core.checks.motion import Moving, moving_groups
from bindu.core.curves.model import Array
from bindu.core.curves.spacing import even_motions, uneven
from bindu.core.edits.spacing import EvenSpacing
from bindu.core.evaluation import Evaluation
from bindu.core.scene.channels import TRANSFORM_CHANNELS

PERCENT = 100.0
AROUND = 6
"""How many frames on each side of the worst one are evened out with it."""
POSITION = TRANSFORM_CHANNELS[:3]


class Spacing(Check):
    """The way of a part's keyed position from frame to frame, in its parent; see ``EvenMotion``
    for what is meant to be even. See ``Check``."""

    name = "spacing"
    why = "One frame that goes farther than its neighbours makes an even motion stutter."
    thresholds = (Threshold("share", 25.0, "%", "over {} % off the usual way", 10.0, 1000.0),)

    def found(
        self, evaluation: Evaluation, limits: Mapping[str, float], looked: Looked
    ) -> Iterator[Finding]:
        """One for each part."""
        scene, first = evaluation.scene, evaluation.times.first
        keyed = dict.fromkeys(ref.part for ref in scene.curves if ref.channel in POSITION)
        for moving in moving_groups(evaluation, looked, "translation", "keyed", keyed):

            def stands_out(moving: Moving = moving) -> Array | None:
                out = uneven(_ways(moving), limits["share"] / PERCENT)
                return out if out.any() else None

            out = looked.once((self.name, limits["share"], moving.key), stands_out)
            if out is None:
                continue
            worst = int(np.argmax(np.abs(out)))
            by = PERCENT * float(out[worst])
            rows = np.flatnonzero(out) + 1
            text = f"{scene.parts[moving.part].name} goes {abs(by):.0f} % "
            text += f"{'farther' if by > 0 else 'less far'} than usual from frame {first + worst} "
            text += f"to {first + worst + 1}, in a motion that is even otherwise. Even it out by "
            text += "true length, or look at the keys there."
            yield Finding(
                self.name,
                self.severity,
                moving.part,
                "translation.x",
                "translation",
                text,
                abs(by),
                "%",
                None,
                spans_of(rows, first),
                first + worst + 1,
                np.concatenate([np.zeros(1), PERCENT * np.abs(out)]),
                limits["share"],
            )

    def offers(self, evaluation: Evaluation, finding: Finding) -> Sequence[Offer]:
        """Evening out around the worst frame, or all of the motion."""
        first, level = evaluation.times.first, (finding.level or 0.0) / PERCENT
        moving = next(moving_groups(evaluation, Looked(), "translation", "keyed", [finding.part]))
        row = (finding.frame or first) - first - 1
        found = []
        for one in even_motions(_ways(moving), level):
            if not one.start <= row < one.end:
                continue
            around = {"here": (row - AROUND, row + 1 + AROUND), "all": (one.start, one.end)}
            for kind, (a, b) in around.items():
                a, b = max(a, one.start) + first, min(b, one.end) + first
                edit = EvenSpacing(finding.part, a, b)
                cost = f"a key of its position on every frame {a} … {b}; its way stays"
                found.append(Offer(kind, f"even out {a} … {b} by true length", cost, (edit,)))
        return tuple(found)


def _ways(moving: Moving) -> Array:
    return np.asarray(np.linalg.norm(np.diff(moving.values, axis=0), axis=1))
