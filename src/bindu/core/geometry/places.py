"""Places as seen from spaces: how targets are read, and owners written.

A place is a matrix of three rows, shape (…, 3, 4): three columns of axes and one of the origin.
Rotations and scales are taken from places as seen from where they are written, so that what lies
above both cancels, however it is mirrored or scaled.
"""

from __future__ import annotations

from collections.abc import Callable, Sequence

import numpy as np

from bindu.core.curves.model import Array
from bindu.core.geometry.local_frame import LocalFrame
from bindu.core.geometry.rotation import matrices_of, orthonormal, quaternions_of
from bindu.core.geometry.vectors import (
    columns_of,
    cross,
    dot,
    frames_last,
    length,
    matrix_product,
    transformed,
    where_finite,
)

IDENTITY = np.eye(3, 4)[None]
UNTURNED = np.eye(3)


def rest_place(local: LocalFrame) -> Array:
    """A rest as a place in the parent, shape (1, 3, 4)."""
    return local.matrix[None]


def within(outer: Array, inner: Array) -> Array:
    """A place given inside another, seen from where the outer one is seen."""
    stands = inner.ndim == outer.ndim and inner.shape[-3] == 1 < outer.shape[-3]
    if not stands or inner.shape[:-3] != outer.shape[:-3]:
        return _turned_and_moved(outer, inner)
    # What stands still and is not turned, as most parts of a rig, is only moved: a third of the
    # work. Each row by itself, so that what it comes to depends on no other.
    unturned = np.all(inner[..., 0, :, :3] == UNTURNED, axis=(-2, -1))
    if not unturned.any():
        return _turned_and_moved(outer, inner)
    made = frames_last(outer.shape, 2)
    made[..., :3] = outer[..., :3]
    made[..., 3] = points_outside(outer, inner[..., 3])
    if not unturned.all():
        made[~unturned] = _turned_and_moved(outer[~unturned], inner[~unturned])
    return made


def _turned_and_moved(outer: Array, inner: Array) -> Array:
    made = matrix_product(outer[..., :3], inner)
    made[..., 3] += outer[..., 3]
    return made


def seen_from(outer: Array, place: Array) -> Array:
    """A place as seen from another; not finite where that has no size along some axis."""
    back = inverted(outer[..., :3])
    with np.errstate(invalid="ignore"):
        turned = matrix_product(back, place[..., :3])
        moved = transformed(back, place[..., 3] - outer[..., 3])
    return columns_of([*(turned[..., n] for n in range(3)), moved])


def inverted(linear: Array) -> Array:
    """Inverses by cofactors, shape (…, 3, 3); not finite where there is none."""
    x, y, z = (linear[..., n] for n in range(3))
    rows = np.swapaxes(columns_of([cross(y, z), cross(z, x), cross(x, y)]), -1, -2)
    with np.errstate(divide="ignore", invalid="ignore"):
        return np.asarray(rows / dot(x, rows[..., 0, :])[..., None, None])


def points_inside(place: Array, points: Array) -> Array:
    """Points seen from a place, given where the place is, shape (…, 3)."""
    away = points - place[..., 3]

    def turned() -> Array:
        with np.errstate(invalid="ignore"):
            return transformed(inverted(place[..., :3]), away)

    return _where_turned(place, away, turned)


def points_outside(place: Array, points: Array) -> Array:
    """Points given inside a place, seen from where the place is, shape (…, 3)."""
    return np.asarray(transformed(place[..., :3], points) + place[..., 3])


def rotation_and_scale(place: Array, signs: Array | None = None) -> tuple[Array, Array]:
    """The rotation of a place as quaternions, shape (…, 4), and its scale, shape (…, 3), negative
    along axes that are mirrored; not finite where it has none.

    Args:
        place: shape (…, 3, 4) or (…, 3, 3).
        signs: of the scale channels of what stands there, shape (…, 3); see ``orthonormal``.
    """
    linear, mirrored = orthonormal(place[..., :3], signs)
    scale = length(np.swapaxes(place[..., :3], -1, -2)) * mirrored
    bad = ~where_finite(linear, 2)
    if not bad.any():
        return quaternions_of(linear), scale
    made = quaternions_of(np.where(bad[..., None, None], np.eye(3), linear))
    made[bad] = np.nan
    return made, scale


def rotation_of(place: Array, signs: Array | None = None) -> Array:
    """See ``rotation_and_scale``."""
    return rotation_and_scale(place, signs)[0]


def turned_outside(place: Array, rotation: Array) -> Array:
    """A rotation given inside a place, seen from where the place is, quaternions of shape (…, 4).
    Where the place is mirrored, the x axis of what is turned is."""
    return _where_turned(
        place,
        rotation,
        lambda: rotation_of(matrix_product(place[..., :3], matrices_of(rotation))),
    )


def turned_inside(place: Array, rotation: Array) -> Array:
    """A rotation seen from inside a place, given where the place is; see ``turned_outside``, which
    it takes back."""

    def turned() -> Array:
        with np.errstate(invalid="ignore"):
            return rotation_of(matrix_product(inverted(place[..., :3]), matrices_of(rotation)))

    return _where_turned(place, rotation, turned)


def directions_inside(place: Array, directions: Array) -> Array:
    """Directions seen from inside a place, given where the place is, shape (…, 3)."""

    def turned() -> Array:
        with np.errstate(invalid="ignore"):
            return transformed(inverted(place[..., :3]), directions)

    return _where_turned(place, directions, turned)


def place_of(translation: Array, quaternion: Array, scale: Array) -> Array:
    """A place from what channels say."""
    shape = np.broadcast_shapes(translation.shape, quaternion.shape[:-1] + (3,), scale.shape)
    place = frames_last((*shape, 4), 2)
    place[..., :3] = matrices_of(quaternion) * scale[..., None, :]
    place[..., 3] = translation
    return place


def signs_of(scale: Array) -> Array:
    """-1 where a scale is negative, else 1, shape (…, 3)."""
    return np.where(scale < 0.0, -1.0, 1.0)


def weighted_mean(values: Sequence[Array], weights: Sequence[Array]) -> Array:
    """The weighted mean of vectors, shape (…, 3); not finite where the weights sum to zero."""
    if len(values) == 1:
        return np.where(weights[0][..., None] > 0.0, values[0], np.nan)
    total = sum(weights)
    with np.errstate(divide="ignore", invalid="ignore"):
        shares = [np.where(total > 0.0, weight / total, np.nan)[..., None] for weight in weights]
    return np.asarray(sum(share * value for share, value in zip(shares, values, strict=True)))


def _where_turned(place: Array, unturned: Array, turned: Callable[[], Array]) -> Array:
    """What a place makes of vectors: themselves, to the last bit, where it stands still with the
    axes of where it is seen from. Of several places in a stack each is looked at by itself."""
    if place.shape[-3] > 1:
        return turned()
    still = np.asarray((place[..., :3] == UNTURNED).all(axis=(-3, -2, -1)))
    if still.all():
        return unturned
    made = turned()
    return np.where(still[..., None, None], unturned, made) if still.any() else made
