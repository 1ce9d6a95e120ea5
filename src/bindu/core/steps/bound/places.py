"""Places as seen from spaces: how targets are read, and owners written.

A place is a matrix of three rows, shape (N, 3, 4): three columns of axes and one of the origin.
Rotations and scales are taken from places as seen from where they are written, so that what lies
above both cancels, however it is mirrored or scaled.
"""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from dataclasses import dataclass

import numpy as np

from bindu.core.curves.model import Array
from bindu.core.graph.node import Read
from bindu.core.graph.operations import LocalFrame
from bindu.core.rotation import cross, matrices_of, orthonormal, quaternions_of
from bindu.core.scene.channels import Tap
from bindu.core.scene.model import Scene, Step
from bindu.core.scene.settings import Space, Target

IDENTITY = np.eye(3, 4)[None]
Inputs = Iterator[Array]
"""The arrays of the reads, taken one after the other in the order of the reads."""


def owner_frame(scene: Scene, part: str) -> LocalFrame:
    """The rest of a step's owner."""
    data = scene.parts[part]
    return LocalFrame(data.rest, data.rotation_order)


def rest_place(local: LocalFrame) -> Array:
    """A rest as a place in the parent, shape (1, 3, 4)."""
    axes = np.eye(3) if local.axes is None else local.axes
    return np.concatenate([axes, local.place[:, None]], axis=1)[None]


def within(outer: Array, inner: Array) -> Array:
    """A place given inside another, seen from where the outer one is seen."""
    made = np.matmul(outer[:, :, :3], inner)
    made[:, :, 3] += outer[:, :, 3]
    return np.asarray(made)


def seen_from(outer: Array, place: Array) -> Array:
    """A place as seen from another; not finite where that has no size along some axis."""
    back = inverted(outer[:, :, :3])
    with np.errstate(invalid="ignore"):
        made = np.matmul(back, place[:, :, :3])
        moved = np.matmul(back, (place[:, :, 3] - outer[:, :, 3])[:, :, None])
    return np.concatenate([made, moved], axis=2)


def inverted(linear: Array) -> Array:
    """Inverses by cofactors, shape (N, 3, 3); not finite where there is none."""
    rows = np.stack(
        [
            cross(linear[:, :, 1], linear[:, :, 2]),
            cross(linear[:, :, 2], linear[:, :, 0]),
            cross(linear[:, :, 0], linear[:, :, 1]),
        ],
        axis=1,
    )
    with np.errstate(divide="ignore", invalid="ignore"):
        return np.asarray(rows / (linear[:, :, 0] * rows[:, 0]).sum(axis=1)[:, None, None])


def points_inside(place: Array, points: Array) -> Array:
    """Points seen from a place, given where the place is, shape (N, 3)."""
    if _unturned(place):
        return np.asarray(points - place[:, :, 3])
    away = (points - place[:, :, 3])[:, :, None]
    with np.errstate(invalid="ignore"):
        return np.asarray(np.matmul(inverted(place[:, :, :3]), away)[:, :, 0])


def points_outside(place: Array, points: Array) -> Array:
    """Points given inside a place, seen from where the place is, shape (N, 3)."""
    return np.asarray(np.matmul(place[:, :, :3], points[:, :, None])[:, :, 0] + place[:, :, 3])


def rotation_and_scale(place: Array, signs: Array | None = None) -> tuple[Array, Array]:
    """The rotation of a place as quaternions, shape (N, 4), and its scale, shape (N, 3), negative
    along axes that are mirrored; not finite where it has none.

    Args:
        place: shape (N, 3, 4) or (N, 3, 3).
        signs: of the scale channels of what stands there, shape (N, 3); see ``orthonormal``.
    """
    linear, mirrored = orthonormal(place[:, :, :3], signs)
    scale = np.linalg.norm(place[:, :, :3], axis=1) * mirrored
    bad = np.asarray(~np.isfinite(linear).all(axis=(1, 2)))
    if not bad.any():
        return quaternions_of(linear), scale
    made = quaternions_of(np.where(bad[:, None, None], np.eye(3), linear))
    made[bad] = np.nan
    return made, scale


def rotation_of(place: Array, signs: Array | None = None) -> Array:
    """See ``rotation_and_scale``."""
    return rotation_and_scale(place, signs)[0]


def turned_outside(place: Array, rotation: Array) -> Array:
    """A rotation given inside a place, seen from where the place is, quaternions of shape (N, 4).
    Where the place is mirrored, the x axis of what is turned is."""
    if _unturned(place):
        return rotation
    return rotation_of(np.matmul(place[:, :, :3], matrices_of(rotation)))


def turned_inside(place: Array, rotation: Array) -> Array:
    """A rotation seen from inside a place, given where the place is; see ``turned_outside``, which
    it takes back."""
    if _unturned(place):
        return rotation
    with np.errstate(invalid="ignore"):
        return rotation_of(np.matmul(inverted(place[:, :, :3]), matrices_of(rotation)))


def directions_inside(place: Array, directions: Array) -> Array:
    """Directions seen from inside a place, given where the place is, shape (N, 3)."""
    if _unturned(place):
        return directions
    with np.errstate(invalid="ignore"):
        turned = np.matmul(inverted(place[:, :, :3]), directions[:, :, None])
    return np.asarray(turned[:, :, 0])


def place_of(translation: Array, quaternion: Array, scale: Array) -> Array:
    """A place from what channels say."""
    frames = max(len(translation), len(quaternion), len(scale))
    place = np.empty((frames, 3, 4))
    place[:, :, :3] = matrices_of(quaternion) * scale[:, None, :]
    place[:, :, 3] = translation
    return place


@dataclass(frozen=True)
class SeenTarget:
    """A target in the space in which it is read.

    Attributes:
        place: shape (N, 3, 4).
        signs: of its scale channels, shape (N, 3); None of the world, and where only its position
            counts.
        rotation: of a target that is read locally its channels' own, quaternions, shape (N, 4).
    """

    place: Array
    signs: Array | None = None
    rotation: Array | None = None


def target_reads(scene: Scene, target: Target, space: Space, turns: bool) -> tuple[Read, ...]:
    """What is read of a target to know its place in a space, and with ``turns`` also which of its
    axes are mirrored."""
    if target.part is None:
        return _space_reads(space, target.tap, target.back)
    if space.kind == "local":
        groups = ("translation", "quaternion", "scale")
        return tuple(Read(target.part, group, target.tap, target.back) for group in groups)
    own = [Read(target.part, "world matrix", target.tap, target.back)]
    if turns:
        own.append(Read(target.part, "scale", target.tap, target.back))
    parent = scene.parts[target.part].parent
    if space.kind == "parent" and parent is not None:
        return (Read(parent, "world matrix", target.tap, target.back), *own)
    return (*_space_reads(space, target.tap, target.back), *own)


def seen_target(
    part: str | None, parented: bool, space: Space, turns: bool, inputs: Inputs
) -> SeenTarget:
    """A target in a space, from what ``target_reads`` asked for."""
    if part is None:
        return SeenTarget(seen_from(next(inputs), IDENTITY) if space.kind == "part" else IDENTITY)
    if space.kind == "local":
        translation, rotation, scale = next(inputs), next(inputs), next(inputs)
        return SeenTarget(place_of(translation, rotation, scale), signs_of(scale), rotation)
    if space.kind == "part" or (space.kind == "parent" and parented):
        outer = next(inputs)
        place = seen_from(outer, next(inputs))
    else:
        place = next(inputs)
    return SeenTarget(place, signs_of(next(inputs)) if turns else None)


def signs_of(scale: Array) -> Array:
    """-1 where a scale is negative, else 1, shape (N, 3)."""
    return np.where(scale < 0.0, -1.0, 1.0)


def owner_reads(scene: Scene, step: Step, space: Space, tap: Tap) -> tuple[Read, ...]:
    """What is read of the owner's surroundings to write it in a space."""
    if space.kind in ("local", "parent"):
        return ()
    parent = scene.parts[step.part].parent
    around = (Read(parent, "world matrix", tap),) if parent is not None else ()
    return (*_space_reads(space, tap, False), *around)


def owner_base(local: LocalFrame, parented: bool, space: Space, inputs: Inputs) -> Array:
    """Where the owner's channels count from, as seen from the space that it is written in."""
    if space.kind == "local":
        return IDENTITY
    base = rest_place(local)
    if space.kind == "parent":
        return base
    outer = next(inputs) if space.kind == "part" else None
    base = within(next(inputs), base) if parented else base
    return base if outer is None else seen_from(outer, base)


def weighted_mean(values: Sequence[Array], weights: Sequence[Array]) -> Array:
    """The weighted mean of vectors, shape (N, 3); not finite where the weights sum to zero."""
    if len(values) == 1:
        return np.where(weights[0][:, None] > 0.0, values[0], np.nan)
    total = sum(weights)
    with np.errstate(divide="ignore", invalid="ignore"):
        shares = [np.where(total > 0.0, weight / total, np.nan)[:, None] for weight in weights]
    return np.asarray(sum(share * value for share, value in zip(shares, values, strict=True)))


def _unturned(place: Array) -> bool:
    """Whether a place stands still with the axes of where it is seen from."""
    return len(place) == 1 and np.array_equal(place[0, :, :3], np.eye(3))


def _space_reads(space: Space, tap: Tap, back: bool) -> tuple[Read, ...]:
    if space.kind == "part" and space.part is not None:
        return (Read(space.part, "world matrix", tap, back),)
    return ()
