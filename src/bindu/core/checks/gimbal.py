"""Rotations that come near gimbal lock."""

from __future__ import annotations

from collections.abc import Iterator, Mapping, Sequence

import numpy as np

from bindu.core.checks.check import Check, Finding, Looked, Offer, Threshold, Way, spans_of
from bindu.core.checks.keyed_rotations import driven_angles, keyed_rotations, rotation_keys
from bindu.core.checks.motion import Moving
from bindu.core.checks.one_axis import off_axis, spin_ways
from bindu.core.curves.model import Array
from bindu.core.curves.segments import Places
from bindu.core.edits.rotation_order import ChangeRotationOrder
from bindu.core.evaluation import Evaluation
from bindu.core.placing.reordering import angles_in_order
from bindu.core.scene.channels import AXES
from bindu.core.scene.parts import ORDERS, RotationOrder

BENT = 1.0
"""From how many degrees off the turn about one axis on it is told."""
MOVES = 0.01
"""By how many degrees an angle must move to count as moving."""


class Gimbal(Check):
    """The middle angle of the rotation order, from ±90°. A part that turns about one axis alone
    comes to no harm. See ``Check``."""

    name = "gimbal"
    why = "Near ±90° of the middle angle the other two turn wildly, and so do poses between keys."
    thresholds = (Threshold("degrees", 6.0, "°", "within {}°", 0.1, 45.0),)

    def found(
        self, evaluation: Evaluation, limits: Mapping[str, float], looked: Looked
    ) -> Iterator[Finding]:
        """One for each part whose rotation is keyed."""
        scene, first = evaluation.scene, evaluation.times.first
        for moving in keyed_rotations(evaluation, looked):
            order = scene.parts[moving.part].rotation_order
            near = looked.once(
                (self.name, order, moving.key),
                lambda moving=moving, order=order: _nearness(moving, order),  # type: ignore[misc]
            )
            if near is None or near.min() >= limits["degrees"]:
                continue
            rows = np.flatnonzero(near < limits["degrees"])
            worst = int(np.argmin(near))
            name, axis = scene.parts[moving.part].name, order[1]
            text = f"{name}: rotation.{axis} comes within {near[worst]:.2g}° of ±90 on "
            text += f"{first + worst}, the gimbal lock of the order {order}. "
            row, bent = bent_beside(
                moving.values, order, rotation_keys(scene, moving.part) - first, rows
            )
            if bent >= BENT:
                text += f"Between its keys it leaves the turn about one axis by up to {bent:.3g}°, "
                text += f"most on {first + row}. "
            text += "Another rotation order keeps away from it; the poses stay."
            yield Finding(
                self.name,
                self.severity,
                moving.part,
                f"rotation.{axis}",
                "rotation",
                text,
                limits["degrees"] - float(near[worst]),
                "° too near",
                None,
                spans_of(rows, first),
                first + worst,
                np.maximum(limits["degrees"] - near, 0.0),
                0.0,
            )

    def offers(self, evaluation: Evaluation, finding: Finding) -> Sequence[Offer]:
        """The rotation orders that keep farther away, the farthest first; all six are scored."""
        part = evaluation.scene.parts[finding.part]
        scores = order_scores(evaluation, finding.part)
        now = scores[part.rotation_order]
        better = [order for order in ORDERS if scores[order] > now + 1e-9]
        better.sort(key=lambda order: -scores[order])
        said = ", ".join(f"{order} {scores[order]:.1f}°" for order in ORDERS)
        return tuple(
            Offer(
                f"order {order}",
                f"rotation order {order}: keeps {scores[order]:.1f}° away",
                f"the curves of its rotation are written again, poses kept on keys; all: {said}",
                (ChangeRotationOrder(part.id, order),),
            )
            for order in better[:2]
        )

    def ways(self, evaluation: Evaluation, finding: Finding) -> Sequence[Way]:
        """What the lock does to the way from key to key: as it goes, and about one axis."""
        scene, first = evaluation.scene, evaluation.times.first
        keys = rotation_keys(scene, finding.part)
        rows = np.concatenate([np.arange(a, b + 1) for a, b in finding.spans]) - first
        order = scene.parts[finding.part].rotation_order
        row, bent = bent_beside(driven_angles(evaluation, finding.part), order, keys - first, rows)
        return spin_ways(evaluation, finding.part, keys, first + row) if bent >= BENT else ()


def bent_beside(
    angles: Array, order: RotationOrder, keys: Array, rows: Places
) -> tuple[int, float]:
    """Where between keys beside some frames a rotation leaves the turn about one axis most: the
    frame, counted from the first one, and by how many degrees.

    Args:
        angles: x, y, z in degrees on each frame, shape (F, 3).
        order: the rotation order.
        keys: where its keys are, counted from the first frame, ascending.
        rows: the frames, counted as well.
    """
    beside = [np.searchsorted(keys, rows, side) for side in ("left", "right")]
    between = np.searchsorted(keys, np.arange(len(angles)), "left")
    off = np.where(np.isin(between, np.concatenate(beside)), off_axis(angles, order, keys), 0.0)
    worst = int(np.argmax(off))
    return worst, float(off[worst])


def nearness(angles: Array, order: RotationOrder) -> Array:
    """How far the middle angle of rotations is from ±90, degrees, shape (F,).

    Args:
        angles: x, y, z in degrees, shape (F, 3).
        order: the rotation order.
    """
    middle = angles[:, AXES.index(order[1])]
    return np.asarray(np.abs(90.0 - np.abs((middle + 180.0) % 360.0 - 180.0)))


def order_scores(evaluation: Evaluation, part: str) -> dict[RotationOrder, float]:
    """How far from gimbal lock a part would keep in each rotation order, degrees, at worst."""
    now = evaluation.scene.parts[part].rotation_order
    angles = driven_angles(evaluation, part)
    return {
        order: float(nearness(angles_in_order(angles, now, order), order).min()) for order in ORDERS
    }


def _nearness(moving: Moving, order: RotationOrder) -> Array | None:
    """See ``nearness``; None where the part turns about one axis alone."""
    if int((np.ptp(moving.values, axis=0) > MOVES).sum()) < 2:
        return None
    return nearness(moving.values, order)
