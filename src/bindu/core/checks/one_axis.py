"""Rotations between keys beside the turn about one axis: how far they leave it, and both ways."""

from __future__ import annotations

import numpy as np

from bindu.core.checks.check import Way
from bindu.core.curves.model import Array
from bindu.core.evaluation import Evaluation
from bindu.core.geometry.rotation import angles_quaternion, inverse, matrices_of, product
from bindu.core.geometry.vectors import dot, length
from bindu.core.scene.channels import AXES, ChannelRef
from bindu.core.scene.parts import RotationOrder, Shape

HALF = 180.0
AT_ITS_END, BESIDE = 0.6, 0.3
"""How far out on an own axis the point lies: as a share of what the part's shape measures along it,
and at least of what it measures at most, so that the view on the part shows it."""
LEAST = 0.25
"""The least that it lies out, metres."""


def spin_ways(evaluation: Evaluation, part: str, keys: Array, frame: int) -> tuple[Way, ...]:
    """The way through the world of a point on one of the part's own axes, from the key before a
    frame to the key behind it; and what it would be if the part turned about one axis, by as much
    on each frame. It is the axis on which both ways are farthest apart.

    Args:
        keys: the frames of the rotation's keys, ascending.
        frame: any frame between two of them.
    """
    scene, first, count = evaluation.scene, evaluation.times.first, len(evaluation.times.frames)
    start = int(np.clip(np.ceil(keys[keys <= frame].max()) - first, 0, count - 1))
    end = int(np.clip(np.floor(keys[keys >= frame].min()) - first, 0, count - 1))
    rows = slice(start, end + 1)
    refs = [ChannelRef(part, f"rotation.{axis}") for axis in AXES]
    values = [np.broadcast_to(evaluation.channel(ref, "driven"), count)[rows] for ref in refs]
    turns = angles_quaternion(np.stack(values, axis=1), scene.parts[part].rotation_order)
    other = matrices_of(product(inverse(turns), product(turns[:1], about_one_axis(turns))))
    out = _out(scene.parts[part].shape)
    world = np.broadcast_to(evaluation.world(part), (count, 3, 4))[rows]
    points = np.diag(out)
    goes = world[:, None, :, 3] + np.einsum("fij,pj->fpi", world[:, :, :3], points)
    would = world[:, None, :, 3] + np.einsum("fij,fjk,pk->fpi", world[:, :, :3], other, points)
    apart = np.linalg.norm(goes - would, axis=2).max(axis=0)
    n = int(np.argmax(apart))
    return (
        Way(f"the end of its {AXES[n]} axis, {out[n]:.3g} m out, as it goes", goes[:, n]),
        Way("and turned about one axis", would[:, n], dashed=True),
    )


def _out(shape: Shape) -> Array:
    """How far out the points on the three axes lie, metres, shape (3,)."""
    size = np.zeros(3) if shape.kind == "none" else np.array(shape.size)
    return np.asarray(np.maximum(np.maximum(AT_ITS_END * size, BESIDE * size.max()), LEAST))


def about_one_axis(turns: Array) -> Array:
    """How far each rotation has gone from the first about the axis that leads to the last.

    Args:
        turns: quaternions, shape (N, 4).

    Returns:
        Quaternions as seen from the first, shape (N, 4): the twist about the axis.
    """
    way = product(inverse(turns[:1]), turns)
    axis, _ = _axis(way[-1])
    along = dot(way[:, :3], axis)
    twist = np.concatenate([along[:, None] * axis, way[:, 3:]], axis=1)
    size = length(twist)[:, None]
    still = np.array([0.0, 0.0, 0.0, 1.0])
    return np.asarray(np.where(size > 0.0, twist / np.where(size > 0.0, size, 1.0), still))


def off_axis(angles: Array, order: RotationOrder, keys: Array) -> Array:
    """How far a rotation leaves the turn about one axis between its keys, degrees, shape (F,).

    Args:
        angles: x, y, z in degrees on each frame, shape (F, 3).
        order: the rotation order.
        keys: where its keys are, in frames from the first one, ascending.
    """
    count = len(angles)
    if len(keys) < 2:
        return np.zeros(count)
    at = np.arange(count)
    place = np.clip(np.searchsorted(keys, at, side="right") - 1, 0, len(keys) - 2)
    start = np.clip(np.ceil(keys[:-1]), 0, count - 1).astype(int)
    end = np.clip(np.floor(keys[1:]), 0, count - 1).astype(int)
    turns = angles_quaternion(angles, order)
    back = inverse(turns[start])
    axis, size = _axis(_short(product(back, turns[end])))
    # More than half a turn: which axis was meant, nobody can tell.
    known = np.abs(angles[end] - angles[start]).max(axis=1) < HALF
    known &= (end - start >= 2) & (size > 1e-6)
    way = _short(product(back[place], turns))
    # The swing: what is left without the twist about the axis.
    twist = np.hypot(way[:, 3], dot(way[:, :3], axis[place]))
    off = 2.0 * np.degrees(np.arccos(np.clip(twist, -1.0, 1.0)))
    inside = (at > start[place]) & (at <= end[place]) & known[place]
    return np.where(inside, off, 0.0)


def _axis(turns: Array) -> tuple[Array, Array]:
    """About which axis rotations turn, and the sine of half the angle, shapes (…, 3) and (…); of
    one that stands still the axis is 0."""
    size = length(turns[..., :3])
    return turns[..., :3] / np.where(size > 0.0, size, 1.0)[..., None], size


def _short(quaternions: Array) -> Array:
    return np.where(quaternions[:, 3:] < 0.0, -quaternions, quaternions)
