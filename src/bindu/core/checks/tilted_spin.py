"""Rotations that leave the turn about one axis between two keys."""

from __future__ import annotations

from collections.abc import Iterator, Mapping, Sequence

import numpy as np

from bindu.core.checks.check import Check, Finding, Looked, Offer, Span, Threshold, Way, spans_of
from bindu.core.checks.keyed_rotations import angles_at, keyed_rotations, made_of, rotation_keys
from bindu.core.checks.motion import Moving
from bindu.core.checks.one_axis import off_axis, spin_ways
from bindu.core.checks.spin_keys import more_keys
from bindu.core.curves.model import Array
from bindu.core.edits.axis import TurnAboutAxis
from bindu.core.edits.rotation_order import ChangeRotationOrder
from bindu.core.evaluation import Evaluation
from bindu.core.refusal import Refusal
from bindu.core.scene.model import Scene
from bindu.core.scene.parts import ORDERS, Part, RotationOrder


class TiltedSpin(Check):
    """Between two keys a part should turn about one axis: the shortest way. How far its rotation
    leaves that axis is the swing that is left when the turn about the axis is taken out of it.
    See ``Check``."""

    name = "tilted spin"
    why = "A tilted part keyed as angles wobbles between keys in place of turning about one axis."
    thresholds = (Threshold("degrees", 20.0, "°", "over {}° off the axis", 1.0, 180.0),)

    def found(
        self, evaluation: Evaluation, limits: Mapping[str, float], looked: Looked
    ) -> Iterator[Finding]:
        """One for each part whose rotation is keyed."""
        scene, first = evaluation.scene, evaluation.times.first
        for moving in keyed_rotations(evaluation, looked):
            order = scene.parts[moving.part].rotation_order

            def leaves(
                moving: Moving = moving, order: RotationOrder = order
            ) -> tuple[Array, int, tuple[Span, ...]]:
                off = off_axis(moving.values, order, rotation_keys(scene, moving.part) - first)
                rows = np.flatnonzero(off > limits["degrees"])
                return off, int(np.argmax(off)), spans_of(rows, first)

            made = made_of(scene, moving.part, looked), moving.key
            off, worst, spans = looked.once(
                (self.name, order, first, limits["degrees"], *made), leaves
            )
            if not spans:
                continue
            text = f"{scene.parts[moving.part].name}: between its keys it leaves the turn about "
            text += f"one axis by up to {off[worst]:.3g}°, most on {first + worst}. Key it in "
            text += "between, or give it another rotation order, poses kept."
            yield Finding(
                self.name,
                self.severity,
                moving.part,
                "rotation.x",
                "rotation",
                text,
                float(off[worst]),
                "°",
                None,
                spans,
                first + worst,
                off,
                limits["degrees"],
            )

    def offers(self, evaluation: Evaluation, finding: Finding) -> Sequence[Offer]:
        """A helper that turns it about the axis, the rotation orders that stay nearer to it, and
        more keys."""
        scene, first = evaluation.scene, evaluation.times.first
        part = scene.parts[finding.part]
        keys = rotation_keys(scene, part.id)
        found = []
        for order in ORDERS:
            if order == part.rotation_order:
                continue
            try:
                turned = ChangeRotationOrder(part.id, order).apply(scene)
            except Refusal:
                continue
            at = np.arange(first, evaluation.times.last + 1).astype(float)
            values = angles_at(turned, part.id, at)
            off = off_axis(values, order, keys - first).max()
            if off < 0.75 * finding.amount:
                text = f"rotation order {order}: at most {off:.3g}° off the axis"
                edit = ChangeRotationOrder(part.id, order)
                found.append(
                    (off, Offer(f"order {order}", text, "the pose on every key stays", (edit,)))
                )
        orders = [offer for _, offer in sorted(found, key=lambda one: one[0])[:2]]
        return (*_helper(scene, part), *orders, *more_keys(evaluation, finding))

    def ways(self, evaluation: Evaluation, finding: Finding) -> Sequence[Way]:
        """As it goes, and about one axis, between the keys around the worst frame."""
        assert finding.frame is not None
        keys = rotation_keys(evaluation.scene, finding.part)
        return spin_ways(evaluation, finding.part, keys, finding.frame)


def _helper(scene: Scene, part: Part) -> Iterator[Offer]:
    """A helper turned about its own axis, where the part's keys turn it about one."""
    edit = TurnAboutAxis(part.id)
    try:
        edit.apply(scene)
    except Refusal:
        return
    text = "turn it by a helper about one axis"
    cost = f"“{part.name} axis” above it holds the tilt as its rest and turns by one angle; the "
    yield Offer("helper", text, cost + "pose on every key stays", (edit,))
