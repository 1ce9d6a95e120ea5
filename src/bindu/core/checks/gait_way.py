"""Roots along whose way no feet can walk well."""

from __future__ import annotations

from collections.abc import Iterator, Mapping

import numpy as np

from bindu.core.checks.check import Check, Finding, Looked, Threshold, said, spans_of
from bindu.core.curves.model import Array
from bindu.core.evaluation import Evaluation
from bindu.core.scene.things import Gait
from bindu.core.steps.bound.walk import COLUMNS, gait_read
from bindu.core.steps.bound.walking import STANDS


class GaitWay(Check):
    """What the root of a gait does that its feet cannot follow on foot: it goes so far in one frame
    that whole steps are left out, or turns while it stands. See ``Check``."""

    name = "gait"
    why = "Feet follow the ground that their root covers; what it does beside that, they cannot."
    thresholds = (
        Threshold("cycles", 0.35, "cycles", "over {} of a cycle in one frame", 0.01, 100.0),
        Threshold("degrees", 30.0, "°", "turned by over {}° while it stands", 1.0, 3600.0),
    )

    def found(
        self, evaluation: Evaluation, limits: Mapping[str, float], looked: Looked
    ) -> Iterator[Finding]:
        """At most one of each kind for each gait."""
        scene = evaluation.scene
        count = len(evaluation.times.frames)
        for gait in sorted(scene.gaits.values(), key=lambda one: one.name):
            solved = np.broadcast_to(
                evaluation.read(gait_read(gait)), (count, len(gait.feet) + 1, COLUMNS)
            )
            ways = np.concatenate([[0.0], np.abs(np.diff(solved[:, -1, 0]))])
            name = scene.parts[gait.part].name
            if ways.max() > limits["cycles"]:
                text = f"{gait.name}: {name} covers {{}} of a cycle in one frame, most on {{}}: "
                text += "steps are left out there. Let it go slower, or take longer steps."
                yield _finding(evaluation, gait, "leaps", text, "cycles", ways, limits["cycles"])
            turned = _turned_standing(evaluation, gait, ways)
            if turned.max() > limits["degrees"]:
                text = f"{gait.name}: {name} turns by {{}}° while it stands, most on {{}}, and its "
                text += "feet stay. Let it go a little way as it turns, or key the feet over it."
                yield _finding(evaluation, gait, "turns", text, "°", turned, limits["degrees"])


def _turned_standing(evaluation: Evaluation, gait: Gait, ways: Array) -> Array:
    """How far a root has turned about its up since it stands, degrees, shape (F,)."""
    world = np.broadcast_to(evaluation.world(gait.part), (len(ways), 3, 4))
    ahead = world[:, :, :3] @ np.array(gait.forward)
    heading = np.unwrap(np.arctan2(ahead[:, 0], ahead[:, 2]))
    rows = np.arange(len(ways))
    began = np.maximum.accumulate(np.where(ways > STANDS, rows, 0))
    return np.asarray(np.abs(np.degrees(heading - heading[began])))


def _finding(
    evaluation: Evaluation, gait: Gait, key: str, text: str, unit: str, amounts: Array, level: float
) -> Finding:
    first = evaluation.times.first
    worst = int(np.argmax(amounts))
    return Finding(
        "gait",
        "doubtful",
        gait.part,
        f"{gait.id}.step length",
        gait.name,
        text.format(said(float(amounts[worst])), first + worst),
        float(amounts[worst]),
        unit,
        None,
        spans_of(np.flatnonzero(amounts > level), first),
        first + worst,
        amounts,
        level,
        f"{gait.id} {key}",
    )
