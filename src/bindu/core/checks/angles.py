"""Angles that come near gimbal lock, jump by a turn, or leave the turn about one axis."""

from __future__ import annotations

from collections.abc import Iterator, Mapping, Sequence
from typing import get_args

import numpy as np

from bindu.core.checks.check import Check, Finding, Looked, Offer, Threshold, spans_of
from bindu.core.checks.motion import ROTATION, Moving, moving_groups
from bindu.core.curves.model import Array
from bindu.core.edits.continuous import ContinuousAngles
from bindu.core.edits.rotation_order import ChangeRotationOrder
from bindu.core.evaluation import Evaluation
from bindu.core.evaluation.keyed import own_values
from bindu.core.geometry.continuity import jumping
from bindu.core.geometry.rotation import angles_quaternion, inverse, product
from bindu.core.placing.reordering import angles_in_order
from bindu.core.scene.channels import AXES, ChannelRef
from bindu.core.scene.model import Scene
from bindu.core.scene.parts import RotationOrder

ORDERS: tuple[RotationOrder, ...] = get_args(RotationOrder)
HALF = 180.0
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
        for moving in _keyed(evaluation):
            order = scene.parts[moving.part].rotation_order
            near = looked.once(
                (self.name, order, moving.key),
                lambda moving=moving, order=order: _nearness(moving, order),  # type: ignore[misc]
            )
            if near is None:
                continue
            rows = np.flatnonzero(near < limits["degrees"])
            if not len(rows):
                continue
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
                f"rotation order {order}: keeps {scores[order]:.1f}° away",
                f"the curves of its rotation are written again, poses kept on keys; all: {said}",
                (ChangeRotationOrder(part.id, order),),
            )
            for order in better[:2]
        )


class AngleJumps(Check):
    """See ``Check``."""

    name = "angle jump"
    why = "An angle that jumps by a turn makes the part spin between the frames or keys around it."

    def found(
        self, evaluation: Evaluation, limits: Mapping[str, float], looked: Looked
    ) -> Iterator[Finding]:
        """One for each part whose rotation is keyed."""
        scene, first = evaluation.scene, evaluation.times.first
        for ref, at in _rotation_keys(scene).items():
            order = scene.parts[ref].rotation_order
            kept = (self.name, order, _made_of(scene, ref))

            def jumps(part: str = ref, at: set[float] = at, order: RotationOrder = order) -> Jumps:
                return _jumps(scene, part, np.array(sorted(at)), order)

            frames, values, rows = looked.once(kept, jumps)
            if not len(rows):
                continue
            steps = np.abs(np.diff(values, axis=0)).max(axis=1)
            worst = int(rows[np.argmax(steps[rows])])
            last = evaluation.times.last
            spans = tuple(
                (max(int(np.floor(frames[n])), first), min(int(np.ceil(frames[n + 1])), last))
                for n in rows
            )
            a, b = frames[worst], frames[worst + 1]
            text = f"{scene.parts[ref].name}: an angle jumps by {steps[worst]:.4g}° between "
            text += f"{a:g} and {b:g}, though the poses are near each other. Write the angles "
            text += "continuously; the poses stay."
            axis = AXES[int(np.argmax(np.abs(values[worst + 1] - values[worst])))]
            yield Finding(
                self.name,
                self.severity,
                ref,
                f"rotation.{axis}",
                "rotation",
                text,
                float(steps[worst]),
                "°",
                None,
                spans,
                min(max(int(np.ceil(b)), first), last),
            )

    def offers(self, evaluation: Evaluation, finding: Finding) -> Sequence[Offer]:
        """Continuous angles, every pose kept."""
        edit = ContinuousAngles((finding.part,))
        return (Offer("write the angles continuously", "the pose on every key stays", (edit,)),)


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
        keyed = _rotation_keys(scene)
        for moving in _keyed(evaluation):
            keys = tuple(key - first for key in sorted(keyed[moving.part]))
            order = scene.parts[moving.part].rotation_order
            off = looked.once(
                (self.name, order, keys, moving.key),
                lambda moving=moving, order=order, keys=keys: off_axis(  # type: ignore[misc]
                    moving.values, order, keys
                ),
            )
            rows = np.flatnonzero(off > limits["degrees"])
            if not len(rows):
                continue
            worst = int(np.argmax(off))
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
                spans_of(rows, first),
                first + worst,
                off,
                limits["degrees"],
            )

    def offers(self, evaluation: Evaluation, finding: Finding) -> Sequence[Offer]:
        """The rotation orders that stay nearer to the axis."""
        scene, first = evaluation.scene, evaluation.times.first
        part = scene.parts[finding.part]
        keys = np.array(sorted(_rotation_keys(scene)[part.id]))
        found = []
        for order in ORDERS:
            if order == part.rotation_order:
                continue
            turned = ChangeRotationOrder(part.id, order).apply(scene)
            at = np.arange(first, evaluation.times.last + 1).astype(float)
            values = _angles_at(turned, part.id, at)
            off = off_axis(values, order, [float(key) - first for key in keys]).max()
            if off < 0.75 * finding.amount:
                text = f"rotation order {order}: at most {off:.3g}° off the axis"
                edit = ChangeRotationOrder(part.id, order)
                found.append((off, Offer(text, "the pose on every key stays", (edit,))))
        return tuple(offer for _, offer in sorted(found, key=lambda one: one[0])[:2])


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


def off_axis(angles: Array, order: RotationOrder, keys: Sequence[float]) -> Array:
    """How far a rotation leaves the turn about one axis between its keys, degrees, shape (F,).

    Args:
        angles: x, y, z in degrees on each frame, shape (F, 3).
        order: the rotation order.
        keys: where its keys are, in frames from the first one, ascending.
    """
    count = len(angles)
    at, ends = np.arange(count), np.array(keys)
    place = np.clip(np.searchsorted(ends, at, side="right") - 1, 0, max(len(ends) - 2, 0))
    if len(ends) < 2:
        return np.zeros(count)
    start = np.clip(np.ceil(ends[place]), 0, count - 1).astype(int)
    end = np.clip(np.floor(ends[place + 1]), 0, count - 1).astype(int)
    turns = angles_quaternion(angles, order)
    back = inverse(turns)[start]
    way, whole = _short(product(back, turns)), _short(product(back, turns[end]))
    size = np.linalg.norm(whole[:, :3], axis=1)
    axis = whole[:, :3] / np.where(size > 0.0, size, 1.0)[:, None]
    # The swing: what is left without the twist about the axis.
    twist = np.hypot(way[:, 3], np.sum(way[:, :3] * axis, axis=1))
    off = 2.0 * np.degrees(np.arccos(np.clip(twist, -1.0, 1.0)))
    # More than half a turn: which axis was meant, nobody can tell.
    known = np.abs(angles[end] - angles[start]).max(axis=1) < HALF
    inside = (at > start) & (at <= end) & (end - start >= 2) & (size > 1e-6)
    return np.where(inside & known, off, 0.0)


def _short(quaternions: Array) -> Array:
    return np.where(quaternions[:, 3:] < 0.0, -quaternions, quaternions)


Jumps = tuple[Array, Array, np.ndarray[tuple[int, ...], np.dtype[np.int64]]]
"""The frames of keys, the angles there, and after which of them one jumps."""


def _jumps(scene: Scene, part: str, frames: Array, order: RotationOrder) -> Jumps:
    values = _angles_at(scene, part, frames)
    if len(frames) < 2:
        return frames, values, np.zeros(0, dtype=np.int64)
    return frames, values, np.flatnonzero(jumping(values, order, frames))


def _made_of(scene: Scene, part: str) -> tuple[str | float, ...]:
    """What a part's own angles are made of."""
    found: list[str | float] = []
    for channel in ROTATION:
        curve = scene.curves.get(ChannelRef(part, channel))
        found.append(curve.digest if curve else scene.set_value(ChannelRef(part, channel)))
    return tuple(found)


def _nearness(moving: Moving, order: RotationOrder) -> Array | None:
    """See ``nearness``; None where the part turns about one axis alone."""
    if int((np.ptp(moving.values, axis=0) > MOVES).sum()) < 2:
        return None
    return nearness(moving.values, order)


def _keyed(evaluation: Evaluation) -> Iterator[Moving]:
    """The rotations that move by keys, as they are after Driven."""
    keyed = _rotation_keys(evaluation.scene)
    for moving in moving_groups(evaluation, "rotation", "driven"):
        if moving.part in keyed:
            yield moving


def _rotation_keys(scene: Scene) -> dict[str, set[float]]:
    """By part the frames on which its rotation has keys of its own."""
    found: dict[str, set[float]] = {}
    for ref, curve in scene.curves.items():
        if ref.channel in ROTATION:
            found.setdefault(ref.part, set()).update(curve.frames.tolist())
    return found


def _angles_at(scene: Scene, part: str, frames: Array) -> Array:
    """The own angles of a part, shape (N, 3)."""
    columns = []
    for channel in ROTATION:
        ref = ChannelRef(part, channel)
        curve = scene.curves.get(ref)
        if curve is not None and np.array_equal(curve.frames, frames):
            columns.append(np.array([key.value for key in curve.keys]))
        else:
            columns.append(own_values(scene, ref, frames))
    return np.stack(columns, axis=1)
