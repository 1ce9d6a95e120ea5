"""Rotations: as angles, as matrices and as quaternions (x, y, z, w)."""

from __future__ import annotations

import numpy as np
from scipy.spatial.transform import Rotation

from bindu.core.curves.model import Array
from bindu.core.geometry.vectors import (
    columns_of,
    cross,
    dot,
    frames_last,
    length,
    normalized,
    vectors_of,
)
from bindu.core.scene.parts import RotationOrder


def rotation_matrices(angles: Array, order: RotationOrder, out: Array | None = None) -> Array:
    """Rotation matrices from angles about x, y and z.

    Order ``xyz`` means that x is applied first: R = Rz · Ry · Rx. The product is written out
    as in K. Shoemake, "Euler angle conversion", Graphics Gems IV, 1994, for static axes.

    Args:
        angles: degrees about x, y, z (in this sequence whatever the order), shape (…, 3).
        order: which axis is applied first, second, third.
        out: where they are written; None: a new array.

    Returns:
        Shape (…, 3, 3).
    """
    i, j, k = ("xyz".index(axis) for axis in order)
    radians = np.radians(angles if (j - i) % 3 == 1 else -angles)
    sin, cos = np.sin(radians), np.cos(radians)
    si, sj, sk = sin[..., i], sin[..., j], sin[..., k]
    ci, cj, ck = cos[..., i], cos[..., j], cos[..., k]
    cc, cs, sc, ss = ci * ck, ci * sk, si * ck, si * sk
    matrix = frames_last((*angles.shape, 3), 2) if out is None else out
    matrix[..., i, i] = cj * ck
    matrix[..., i, j] = sj * sc - cs
    matrix[..., i, k] = sj * cc + ss
    matrix[..., j, i] = cj * sk
    matrix[..., j, j] = sj * ss + cc
    matrix[..., j, k] = sj * cs - sc
    matrix[..., k, i] = -sj
    matrix[..., k, j] = cj * si
    matrix[..., k, k] = cj * ci
    return matrix


def quaternions_of(matrices: Array) -> Array:
    """Quaternions (x, y, z, w) of rotation matrices, shape (…, 4) from (…, 3, 3)."""
    flat = np.ascontiguousarray(matrices).reshape(-1, 3, 3)
    found = Rotation.from_matrix(flat, assume_valid=True).as_quat()
    return vectors_of(list(np.moveaxis(found.reshape(*matrices.shape[:-2], 4), -1, 0)))


def matrices_of(quaternions: Array) -> Array:
    """Rotation matrices of unit quaternions (x, y, z, w), shape (…, 3, 3) from (…, 4)."""
    x, y, z, w = (quaternions[..., n] for n in range(4))
    matrix = frames_last((*quaternions.shape[:-1], 3, 3), 2)
    matrix[..., 0, 0] = 1.0 - 2.0 * (y * y + z * z)
    matrix[..., 0, 1] = 2.0 * (x * y - z * w)
    matrix[..., 0, 2] = 2.0 * (x * z + y * w)
    matrix[..., 1, 0] = 2.0 * (x * y + z * w)
    matrix[..., 1, 1] = 1.0 - 2.0 * (x * x + z * z)
    matrix[..., 1, 2] = 2.0 * (y * z - x * w)
    matrix[..., 2, 0] = 2.0 * (x * z - y * w)
    matrix[..., 2, 1] = 2.0 * (y * z + x * w)
    matrix[..., 2, 2] = 1.0 - 2.0 * (x * x + y * y)
    return matrix


def orthonormal(linear: Array, signs: Array | None = None) -> tuple[Array, Array]:
    """The rotation in the linear part of a matrix, and which axes it mirrors.

    Axes that are known to be mirrored are turned round first; where the whole still is a mirror
    image, x is turned round too. Then x keeps its direction and y its plane (Gram-Schmidt), so
    that a scale along the axes is taken off exactly.

    Args:
        linear: shape (…, 3, 3).
        signs: -1 for axes that are known to be mirrored, else 1, shape (…, 3) or (1, 3).

    Returns:
        Rotation matrices, shape (…, 3, 3), not finite where an axis has no length; and a sign for
        each axis, shape (…, 3).
    """
    if signs is None:
        signs = np.ones(3)
    elif np.any(signs < 0.0):
        linear = linear * signs[..., None, :]
    across = cross(linear[..., 0], linear[..., 1])
    mirrored = dot(across, linear[..., 2]) < 0.0
    signs = np.broadcast_to(signs, np.broadcast_shapes(signs.shape, linear.shape[:-1]))
    x, z = normalized(linear[..., 0]), normalized(across)
    if mirrored.any():
        turned = np.where(mirrored, -1.0, 1.0)[..., None]
        x, z = x * turned, z * turned
        signs = np.concatenate([signs[..., :1] * turned, signs[..., 1:]], axis=-1)
    return columns_of([x, cross(z, x), z]), signs


def angles_quaternion(angles: Array, order: RotationOrder) -> Array:
    """Quaternions from angles about x, y, z in degrees, shape (…, 4) from (…, 3).

    Written out as in K. Shoemake, "Euler angle conversion", Graphics Gems IV, 1994; where the
    order is left-handed, with all axes and angles turned round.
    """
    i, j, k = ("xyz".index(axis) for axis in order)
    handed = 1.0 if (j - i) % 3 == 1 else -1.0
    half = np.radians(handed * angles) / 2.0
    sin, cos = np.sin(half), np.cos(half)
    si, sj, sk = sin[..., i], sin[..., j], sin[..., k]
    ci, cj, ck = cos[..., i], cos[..., j], cos[..., k]
    cc, cs, sc, ss = ci * ck, ci * sk, si * ck, si * sk
    made = frames_last((*angles.shape[:-1], 4), 1)
    made[..., i] = handed * (cj * sc - sj * cs)
    made[..., j] = handed * (cj * ss + sj * cc)
    made[..., k] = handed * (cj * cs - sj * sc)
    made[..., 3] = cj * cc + sj * ss
    return made


def product(first: Array, second: Array) -> Array:
    """The rotation ``second`` followed by ``first``, as quaternions, shape (…, 4)."""
    a, b, c, w = (first[..., n] for n in range(4))
    x, y, z, v = (second[..., n] for n in range(4))
    made = frames_last(np.broadcast_shapes(first.shape, second.shape), 1)
    made[..., 0] = w * x + v * a + b * z - c * y
    made[..., 1] = w * y + v * b + c * x - a * z
    made[..., 2] = w * z + v * c + a * y - b * x
    made[..., 3] = w * v - a * x - b * y - c * z
    return made


def inverse(quaternions: Array) -> Array:
    """The rotations back, shape (…, 4)."""
    return quaternions * (-1.0, -1.0, -1.0, 1.0)


def between(start: Array, end: Array, share: Array) -> Array:
    """The rotation a share of the way from one to another, the shortest way at an even pace
    (K. Shoemake, "Animating rotation with quaternion curves", SIGGRAPH 1985).

    Args:
        start, end: quaternions, shape (…, 4).
        share: 0 to 1, shape (…).

    Returns:
        Quaternions, shape (…, 4).
    """
    cosine = dot(start, end)
    end = np.where(cosine[..., None] < 0.0, -end, end)
    # The angle from both chords is exact near 0 and near half a turn, where arccos is not.
    apart = 2.0 * np.arctan2(length(end - start), length(end + start))
    sine = np.sin(apart)
    near = sine < 1e-9
    safe = np.where(near, 1.0, sine)
    one = np.where(near, 1.0 - share, np.sin((1.0 - share) * apart) / safe)
    other = np.where(near, share, np.sin(share * apart) / safe)
    made = one[..., None] * start + other[..., None] * end
    return normalized(made)


def mean_rotation(rotations: list[Array], weights: list[Array]) -> Array:
    """The weighted geodesic mean of rotations, whatever their order: the one from which the
    weighted turns to all of them cancel (H. Karcher, "Riemannian center of mass and mollifier
    smoothing", Comm. Pure Appl. Math. 30, 1977); of two, the even turn from one to the other.

    From the mean of the chords on (F. L. Markley, Y. Cheng, J. L. Crassidis, Y. Oshman,
    "Averaging quaternions", J. Guidance 30, 2007) it is found by Newton's method.

    Args:
        rotations: quaternions, each of shape (…, 4) or (1, 4).
        weights: not negative, each of shape (…) or (1,).

    Returns:
        Quaternions, shape (…, 4); not finite where all weights are 0.
    """
    if len(rotations) == 1:
        return np.where(weights[0][..., None] > 0.0, rotations[0], np.nan)
    total = np.asarray(sum(weights))
    with np.errstate(divide="ignore", invalid="ignore"):
        shares = [np.where(total > 0.0, weight / total, np.nan) for weight in weights]
    if len(rotations) == 2:
        one, other = np.broadcast_arrays(*rotations)
        made = between(one, other, np.nan_to_num(shares[1]))
        return np.where(np.isfinite(shares[1])[..., None], made, np.nan)
    shape = np.broadcast_shapes(*(r.shape[:-1] for r in rotations), total.shape)
    turns = np.stack([np.broadcast_to(r, (*shape, 4)) for r in rotations], axis=-2)
    parts = np.stack([np.broadcast_to(s, shape) for s in shares], axis=-1)
    turns, parts = turns.reshape(-1, len(rotations), 4), parts.reshape(-1, len(rotations))
    good = np.isfinite(parts).all(axis=1)
    parts = np.where(good[:, None], parts, 1.0)
    outer = np.einsum("nt,nti,ntj->nij", parts, turns, turns)
    made = _karcher(np.linalg.eigh(outer)[1][:, :, 3], turns, parts)
    return np.where(good[:, None], made, np.nan).reshape(*shape, 4)


MOST_ROUNDS = 50
MEAN = 1e-9
"""The step, in radians, below which the next one would change nothing any more."""


def _karcher(mean: Array, turns: Array, shares: Array) -> Array:
    """See ``mean_rotation``; ``turns`` of shape (N, T, 4), ``shares`` of shape (N, T). Each row
    goes its own way: what it comes to does not depend on the others."""
    mean, open_rows = mean.copy(), np.arange(len(mean))
    for _ in range(MOST_ROUNDS):
        step = _karcher_step(mean[open_rows], turns[open_rows], shares[open_rows])
        size = np.linalg.norm(step, axis=1)
        step *= (1.0 / np.maximum(size, 1.0))[:, None]
        moved = product(mean[open_rows], turn_by(step))
        mean[open_rows] = moved / np.linalg.norm(moved, axis=1)[:, None]
        open_rows = open_rows[size >= MEAN]
        if not len(open_rows):
            break
    return mean


def _karcher_step(mean: Array, turns: Array, shares: Array) -> Array:
    """The turn, a vector of shape (N, 3), by which Newton's method moves a mean."""
    away = product(inverse(mean)[:, None], turns)
    away = np.where(away[..., 3:] < 0.0, -away, away)
    sine = np.linalg.norm(away[..., :3], axis=2)
    half = np.arctan2(sine, away[..., 3])
    near = sine < 1e-9
    axis = away[..., :3] / np.where(near, 1.0, sine)[..., None]
    gradient = np.einsum("nt,nti->ni", shares * 2.0 * half, axis)
    # The second derivative of half the squared angle: 1 along its axis, less across it.
    across = np.where(near, 1.0, half / np.tan(np.where(near, 1.0, half)))
    bend = np.einsum("nt,nti,ntj->nij", shares * (1.0 - across), axis, axis)
    bend += ((shares * across).sum(axis=1) + 1e-12)[:, None, None] * np.eye(3)
    return np.asarray(np.linalg.solve(bend, gradient[:, :, None])[:, :, 0])


def turn_by(vectors: Array) -> Array:
    """Quaternions of turns about vectors by their lengths in radians, (…, 4) from (…, 3)."""
    half = length(vectors)[..., None] / 2.0
    share = np.where(half > 1e-9, np.sin(half) / np.where(half > 1e-9, half, 1.0), 1.0) / 2.0
    return np.concatenate([vectors * share, np.cos(half)], axis=-1)
