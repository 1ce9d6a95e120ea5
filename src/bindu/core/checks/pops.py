"""Pops: jumps of a part between two frames."""

from __future__ import annotations

from collections.abc import Iterator, Mapping, Sequence

import numpy as np

from bindu.core.checks.check import Check, Finding, Looked, Offer, Threshold, said, spans_of
from bindu.core.checks.motion import Moving, held_frames, moving_groups, speeds
from bindu.core.checks.outstanding import alike, standing_out
from bindu.core.checks.pop_remedies import pop_offers
from bindu.core.curves.model import Array
from bindu.core.evaluation import Evaluation
from bindu.core.scene.parts import RotationOrder


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
            moving = list(moving_groups(evaluation, looked, group))
            orders = [scene.parts[one.part].rotation_order for one in moving]
            limit = (self.name, limits["times"], least, group)
            keys = [(*limit, order, one.key) for order, one in zip(orders, moving, strict=True)]

            def outstanding(
                places: Sequence[int],
                moving: Sequence[Moving] = moving,
                orders: Sequence[RotationOrder] = orders,
                least: float = least,
            ) -> list[Array | None]:
                found: dict[int, Array | None] = {}
                for some in alike(places, moving, orders):
                    values = np.stack([moving[n].values for n in some])
                    turned = orders[some[0]] if moving[some[0]].group == "rotation" else None
                    out = standing_out(speeds(values, turned), limits["times"], least)
                    found |= {
                        n: row if row.any() else None for n, row in zip(some, out, strict=True)
                    }
                return [found[n] for n in places]

            for one, out in zip(moving, looked.each(keys, outstanding), strict=True):
                if out is None:
                    continue
                meant = held_frames(scene, one.part)
                rows = [int(row) + 1 for row in np.flatnonzero(out)]
                rows = [row for row in rows if first + row not in meant]
                if rows:
                    factor = 1000.0 if unit == "mm" else 1.0
                    yield _finding(evaluation, one, out * factor, rows, unit, least * factor)

    def offers(self, evaluation: Evaluation, finding: Finding) -> Sequence[Offer]:
        """See ``pop_offers``."""
        return tuple(pop_offers(evaluation, finding))


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
