"""Rotations that come near gimbal lock."""

from __future__ import annotations

from collections.abc import Iterator, Mapping, Sequence

import numpy as np

from bindu.core.checks.check import Check, Finding, Looked, Offer, Threshold, spans_of
from bindu.core.checks.keyed_rotations import keyed_rotations
from bindu.core.checks.motion import ROTATION, Moving
from bindu.core.curves.model import Array
from bindu.core.edits.rotation_order import ChangeRotationOrder
from bindu.core.evaluation import Evaluation
from bindu.core.placing.reordering import angles_in_order
from bindu.core.scene.channels import AXES, ChannelRef
from bindu.core.scene.parts import ORDERS, RotationOrder

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
            text += f"{first + worst}, the gimbal lock of the order {order}. Another rotation "
            text += "order keeps away from it; the poses stay."
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
    frames, now = len(evaluation.times.frames), evaluation.scene.parts[part].rotation_order
    columns = [evaluation.channel(ChannelRef(part, channel), "driven") for channel in ROTATION]
    angles = np.stack([np.broadcast_to(one, frames) for one in columns], axis=1)
    return {
        order: float(nearness(angles_in_order(angles, now, order), order).min()) for order in ORDERS
    }


def _nearness(moving: Moving, order: RotationOrder) -> Array | None:
    """See ``nearness``; None where the part turns about one axis alone."""
    if int((np.ptp(moving.values, axis=0) > MOVES).sum()) < 2:
        return None
    return nearness(moving.values, order)
