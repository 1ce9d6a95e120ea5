"""Places as seen from spaces: how targets are read, and owners written.

A place is a matrix of three rows, shape (N, 3, 4): three columns of axes and one of the origin.
"""

from __future__ import annotations

from collections.abc import Iterator, Sequence

import numpy as np

from bindu.core.curves.model import Array
from bindu.core.graph.node import Read
from bindu.core.graph.operations import LocalFrame
from bindu.core.rotation import cross, inverse, matrices_of, product, quaternions_of, unscaled
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


def rotation_of(place: Array) -> Array:
    """The rotation of a place as quaternions, shape (N, 4); not finite where it has none."""
    linear = unscaled(place[:, :, :3])
    bad = np.asarray(~np.isfinite(linear).all(axis=(1, 2)))
    if not bad.any():
        return quaternions_of(linear)
    made = quaternions_of(np.where(bad[:, None, None], np.eye(3), linear))
    made[bad] = np.nan
    return made


def scale_of(place: Array) -> Array:
    """The lengths of a place's axes, shape (N, 3)."""
    return np.asarray(np.linalg.norm(place[:, :, :3], axis=1))


def place_of(translation: Array, quaternion: Array, scale: Array) -> Array:
    """A place from what channels say."""
    frames = max(len(translation), len(quaternion), len(scale))
    place = np.empty((frames, 3, 4))
    place[:, :, :3] = matrices_of(quaternion) * scale[:, None, :]
    place[:, :, 3] = translation
    return place


def target_reads(scene: Scene, target: Target, space: Space) -> tuple[Read, ...]:
    """What is read of a target to know its place in a space."""
    if target.part is None:
        return _space_reads(space, target.tap, target.back)
    if space.kind == "local":
        groups = ("translation", "quaternion", "scale")
        return tuple(Read(target.part, group, target.tap, target.back) for group in groups)
    own = Read(target.part, "world matrix", target.tap, target.back)
    parent = scene.parts[target.part].parent
    if space.kind == "parent" and parent is not None:
        return (Read(parent, "world matrix", target.tap, target.back), own)
    return (*_space_reads(space, target.tap, target.back), own)


def target_place(scene_part: str | None, parented: bool, space: Space, inputs: Inputs) -> Array:
    """A target's place in a space, from what ``target_reads`` asked for."""
    if scene_part is None:
        return seen_from(next(inputs), IDENTITY) if space.kind == "part" else IDENTITY
    if space.kind == "local":
        return place_of(next(inputs), next(inputs), next(inputs))
    if space.kind == "part" or (space.kind == "parent" and parented):
        outer = next(inputs)
        return seen_from(outer, next(inputs))
    return next(inputs)


def owner_reads(scene: Scene, step: Step, space: Space, tap: str) -> tuple[Read, ...]:
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


def channels_rotation(base: Array, rotation: Array) -> Array:
    """What the channels must turn, seen from their base, for a rotation in the space."""
    if _unturned(base):
        return rotation
    return product(inverse(rotation_of(base)), rotation)


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


def _space_reads(space: Space, tap: str, back: bool) -> tuple[Read, ...]:
    if space.kind == "part" and space.part is not None:
        return (Read(space.part, "world matrix", tap, back),)
    return ()
