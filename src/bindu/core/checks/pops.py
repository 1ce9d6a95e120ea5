"""Pops: jumps of a part between two frames."""

from __future__ import annotations

from collections.abc import Iterator, Mapping, Sequence

import numpy as np

from bindu.core.checks.check import Check, Finding, Looked, Offer, Threshold, said, spans_of
from bindu.core.checks.motion import Moving, held_frames, moving_groups, speeds
from bindu.core.checks.pop_remedies import pop_offers
from bindu.core.curves.model import Array
from bindu.core.evaluation import Evaluation

AROUND = 10
"""How many frames on each side are a motion's surroundings."""
BESIDE = 1.5
"""How many times the changes of speed next to it a jump is at least."""


class Pops(Check):
    """A move stands out where it goes another way than the moves before and after it, and is none
    of what they foretell, held or carried straight on. It counts where it is many times the usual
    change of speed nearby (the median over ten frames on each side), more than the changes next to
    it, and more than the eye forgives. A straight motion that is added changes nothing of this.
    See ``Check``."""

    name = "pop"
    why = "A jump between two frames is seen at once, also where nobody looks for it."
    thresholds = (
        Threshold("times", 5.0, "", "{} × the usual", 1.0, 1000.0),
        Threshold("metres", 10.0, "mm", "over {} mm", 0.0, 1e6),
        Threshold("degrees", 5.0, "°", "over {}°", 0.0, 360.0),
    )

    def found(
        self, evaluation: Evaluation, limits: Mapping[str, float], looked: Looked
    ) -> Iterator[Finding]:
        """One for each part and group; jumps where a hold ends are meant."""
        scene, first = evaluation.scene, evaluation.times.first
        for group, least, unit in (
            ("translation", limits["metres"] / 1000.0, "mm"),
            ("rotation", limits["degrees"], "°"),
        ):
            for moving in moving_groups(evaluation, group):
                order = scene.parts[moving.part].rotation_order
                key = (self.name, limits["times"], least, group, order, moving.key)

                def stands_out(moving: Moving = moving, least: float = least) -> Array | None:
                    out = standing_out(speeds(evaluation, moving), limits["times"], least)
                    return out if out.any() else None

                out = looked.once(key, stands_out)
                if out is None:
                    continue
                meant = held_frames(scene, moving.part)
                rows = [int(row) + 1 for row in np.flatnonzero(out)]
                rows = [row for row in rows if first + row not in meant]
                if rows:
                    factor = 1000.0 if unit == "mm" else 1.0
                    yield _finding(evaluation, moving, out * factor, rows, unit, least * factor)

    def offers(self, evaluation: Evaluation, finding: Finding) -> Sequence[Offer]:
        """See ``pop_offers``."""
        return tuple(pop_offers(evaluation, finding))


def standing_out(way: Array, times: float, least: float) -> Array:
    """By how much each move from a frame to the next stands out, 0 where it does not.

    Args:
        way: shape (F - 1, 3).
        times: of the usual change of speed.
        least: in the unit of ``way``.

    Returns:
        Shape (F - 1,).
    """
    out = np.zeros(len(way))
    if len(way) < 3:
        return out
    changes = np.linalg.norm(np.diff(way, axis=0), axis=1)
    if changes.max() <= least:
        return out
    padded = np.pad(way, ((2, 2), (0, 0)), mode="edge")
    before, after = padded[1:-3], padded[3:-1]
    further, later = padded[:-4], padded[4:]
    foretold = np.stack([before, after, 2.0 * before - further, 2.0 * after - later])
    apart = np.linalg.norm(way - foretold, axis=2).min(axis=0)
    # One that goes on as its neighbours lead is the beginning or the end of a motion.
    returns = np.sum((way - before) * (after - way), axis=1) < 0.0
    # Where it goes and comes back, the change on one side is its own.
    beside = np.linalg.norm([before - further, later - after], axis=2).min(axis=0)
    for row in np.flatnonzero((apart > least) & returns & (apart > BESIDE * beside)):
        nearby = changes[max(row - AROUND, 0) : row + AROUND]
        if apart[row] > times * float(np.median(nearby)):
            out[row] = apart[row]
    return out


def _finding(
    evaluation: Evaluation,
    moving: Moving,
    out: Array,
    rows: Sequence[int],
    unit: str,
    level: float,
) -> Finding:
    scene, first = evaluation.scene, evaluation.times.first
    amounts = np.concatenate([np.zeros(1), out])
    worst = max(rows, key=lambda row: amounts[row])
    many = f" (and on {len(rows) - 1} more frames)" if len(rows) > 1 else ""
    name = scene.parts[moving.part].name
    text = f"{name}: its {moving.group} pops by {said(amounts[worst])} {unit} from frame "
    text += f"{first + worst - 1} to {first + worst}{many}. Look at the keys there, at what "
    text += "switches, or smooth it."
    return Finding(
        "pop",
        "doubtful",
        moving.part,
        f"{moving.group}.x",
        moving.group,
        text,
        float(amounts[worst]),
        unit,
        None,
        spans_of(rows, first),
        first + worst,
        amounts,
        level,
        moving.group,
    )
