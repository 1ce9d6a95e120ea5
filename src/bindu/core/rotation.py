"""Rotations: as angles, as matrices and as quaternions (x, y, z, w)."""

from __future__ import annotations

import warnings

import numpy as np
from scipy.spatial.transform import Rotation

from bindu.core.curves.model import Array
from bindu.core.scene.model import RotationOrder


def rotation_matrices(angles: Array, order: RotationOrder) -> Array:
    """Rotation matrices from angles about x, y and z.

    Order ``xyz`` means that x is applied first: R = Rz · Ry · Rx. The product is written out
    as in K. Shoemake, "Euler angle conversion", Graphics Gems IV, 1994, for static axes.

    Args:
        angles: degrees about x, y, z (in this sequence whatever the order), shape (N, 3).
        order: which axis is applied first, second, third.

    Returns:
        Shape (N, 3, 3).
    """
    i, j, k = ("xyz".index(axis) for axis in order)
    radians = np.radians(angles if (j - i) % 3 == 1 else -angles)
    sin, cos = np.sin(radians), np.cos(radians)
    si, sj, sk = sin[:, i], sin[:, j], sin[:, k]
    ci, cj, ck = cos[:, i], cos[:, j], cos[:, k]
    cc, cs, sc, ss = ci * ck, ci * sk, si * ck, si * sk
    matrix = np.empty((len(angles), 3, 3))
    matrix[:, i, i] = cj * ck
    matrix[:, i, j] = sj * sc - cs
    matrix[:, i, k] = sj * cc + ss
    matrix[:, j, i] = cj * sk
    matrix[:, j, j] = sj * ss + cc
    matrix[:, j, k] = sj * cs - sc
    matrix[:, k, i] = -sj
    matrix[:, k, j] = cj * si
    matrix[:, k, k] = cj * ci
    return matrix


def continuous_angles(matrices: Array, order: RotationOrder, near: Array) -> Array:
    """Angles about x, y and z of rotations, each nearest to those of the row before.

    Of the two ways to write a rotation as three angles, (a, b, c) and (a + 180, 180 - b,
    c + 180), and all their full turns, each row takes the one nearest to the row before it, and
    the first row the one nearest to ``near``. Changing over from one way to the other is as
    far from either, so that the choices are a running count of changes, without a loop.

    Args:
        matrices: rotations, shape (N, 3, 3).
        order: which axis is applied first, second, third.
        near: degrees about x, y, z, shape (3,).

    Returns:
        Degrees about x, y, z, shape (N, 3).
    """
    with warnings.catch_warnings():
        warnings.simplefilter("ignore")  # At gimbal lock SciPy chooses one of many ways.
        turns = Rotation.from_matrix(matrices, assume_valid=True)
        found = turns.as_euler(order, degrees=True)
    axes = ["xyz".index(axis) for axis in order]
    first_way = np.vstack([np.asarray(near, dtype=float)[axes], found])
    other_way = first_way * (1.0, -1.0, 1.0) + 180.0
    stay = _turned(first_way[1:] - first_way[:-1])
    change = _turned(other_way[1:] - first_way[:-1])
    changed = np.cumsum(change < stay) % 2 == 1
    chosen = np.where(changed[:, None], other_way[1:], first_way[1:])
    steps = np.diff(np.vstack([first_way[:1], chosen]), axis=0)
    steps -= 360.0 * np.round(steps / 360.0)
    angles = np.empty_like(chosen)
    angles[:, axes] = first_way[0] + np.cumsum(steps, axis=0)
    return angles


def _turned(differences: Array) -> Array:
    """How far rows of angles are apart, full turns aside: the sum of squares, shape (N,)."""
    within = differences - 360.0 * np.round(differences / 360.0)
    return np.asarray((within**2).sum(axis=1))


def quaternions_of(matrices: Array) -> Array:
    """Quaternions (x, y, z, w) of rotation matrices, shape (N, 4) from (N, 3, 3)."""
    return np.asarray(Rotation.from_matrix(matrices, assume_valid=True).as_quat())


def matrices_of(quaternions: Array) -> Array:
    """Rotation matrices of unit quaternions (x, y, z, w), shape (N, 3, 3) from (N, 4)."""
    x, y, z, w = quaternions.T
    matrix = np.empty((len(quaternions), 3, 3))
    matrix[:, 0, 0] = 1.0 - 2.0 * (y * y + z * z)
    matrix[:, 0, 1] = 2.0 * (x * y - z * w)
    matrix[:, 0, 2] = 2.0 * (x * z + y * w)
    matrix[:, 1, 0] = 2.0 * (x * y + z * w)
    matrix[:, 1, 1] = 1.0 - 2.0 * (x * x + z * z)
    matrix[:, 1, 2] = 2.0 * (y * z - x * w)
    matrix[:, 2, 0] = 2.0 * (x * z - y * w)
    matrix[:, 2, 1] = 2.0 * (y * z + x * w)
    matrix[:, 2, 2] = 1.0 - 2.0 * (x * x + y * y)
    return matrix


def cross(first: Array, second: Array) -> Array:
    """Cross products of vectors, shape (…, 3). NumPy's own takes several times as long, since it
    first moves axes about."""
    made = np.empty(np.broadcast_shapes(first.shape, second.shape))
    a, b, c = first[..., 0], first[..., 1], first[..., 2]
    x, y, z = second[..., 0], second[..., 1], second[..., 2]
    made[..., 0] = b * z - c * y
    made[..., 1] = c * x - a * z
    made[..., 2] = a * y - b * x
    return made


def unscaled(linear: Array) -> Array:
    """The rotation in the linear part of a matrix, shape (N, 3, 3).

    The x axis keeps its direction and the y axis its plane (Gram-Schmidt), so that a scale along
    the axes is taken off exactly. Not finite where an axis has no length.
    """
    with np.errstate(divide="ignore", invalid="ignore"):
        x = linear[:, :, 0] / np.linalg.norm(linear[:, :, 0], axis=1)[:, None]
        z = cross(x, linear[:, :, 1])
        z /= np.linalg.norm(z, axis=1)[:, None]
    return np.stack([x, cross(z, x), z], axis=2)


def angles_quaternion(angles: Array, order: RotationOrder) -> Array:
    """Quaternions from angles about x, y, z in degrees, shape (N, 4) from (N, 3)."""
    half = np.radians(angles) / 2.0
    made: Array | None = None
    for axis in order:
        n = "xyz".index(axis)
        turn = np.zeros((len(angles), 4))
        turn[:, n], turn[:, 3] = np.sin(half[:, n]), np.cos(half[:, n])
        made = turn if made is None else product(turn, made)
    assert made is not None
    return made


def product(first: Array, second: Array) -> Array:
    """The rotation ``second`` followed by ``first``, as quaternions, shape (N, 4)."""
    a, b, c, w = (first[..., n] for n in range(4))
    x, y, z, v = (second[..., n] for n in range(4))
    made = np.empty(np.broadcast_shapes(first.shape, second.shape))
    made[..., 0] = w * x + v * a + b * z - c * y
    made[..., 1] = w * y + v * b + c * x - a * z
    made[..., 2] = w * z + v * c + a * y - b * x
    made[..., 3] = w * v - a * x - b * y - c * z
    return made


def inverse(quaternions: Array) -> Array:
    """The rotations back, shape (N, 4)."""
    return quaternions * (-1.0, -1.0, -1.0, 1.0)


def between(start: Array, end: Array, share: Array) -> Array:
    """The rotation a share of the way from one to another, the shortest way at an even pace
    (K. Shoemake, "Animating rotation with quaternion curves", SIGGRAPH 1985).

    Args:
        start, end: quaternions, shape (N, 4).
        share: 0 to 1, shape (N,).

    Returns:
        Quaternions, shape (N, 4).
    """
    cosine = (start * end).sum(axis=1)
    end = np.where(cosine[:, None] < 0.0, -end, end)
    # The angle from both chords is exact near 0 and near half a turn, where arccos is not.
    apart = 2.0 * np.arctan2(
        np.linalg.norm(end - start, axis=1), np.linalg.norm(end + start, axis=1)
    )
    sine = np.sin(apart)
    near = sine < 1e-9
    safe = np.where(near, 1.0, sine)
    one = np.where(near, 1.0 - share, np.sin((1.0 - share) * apart) / safe)
    other = np.where(near, share, np.sin(share * apart) / safe)
    made = one[:, None] * start + other[:, None] * end
    return np.asarray(made / np.linalg.norm(made, axis=1)[:, None])


def mean_rotation(rotations: list[Array], weights: list[Array]) -> Array:
    """The weighted mean of rotations, the shortest way and whatever their order: the unit
    quaternion whose squared distances in rotation are least (F. L. Markley, Y. Cheng,
    J. L. Crassidis, Y. Oshman, "Averaging quaternions", J. Guidance 30, 2007; for two
    rotations by its closed form, equation 19).

    Args:
        rotations: quaternions, each of shape (N, 4) or (1, 4).
        weights: not negative, each of shape (N,) or (1,).

    Returns:
        Quaternions, shape (N, 4); not finite where all weights are 0.
    """
    if len(rotations) == 1:
        return np.where(weights[0][:, None] > 0.0, rotations[0], np.nan)
    if len(rotations) == 2:
        return _mean_of_two(rotations[0], rotations[1], weights[0], weights[1])
    frames = max(len(i) for i in (*rotations, *weights))
    outer = np.zeros((frames, 4, 4))
    for rotation, weight in zip(rotations, weights, strict=True):
        outer += weight[:, None, None] * rotation[:, :, None] * rotation[:, None, :]
    _, vectors = np.linalg.eigh(outer)
    total = np.sum(np.broadcast_arrays(*weights), axis=0)
    return np.asarray(np.where(total[:, None] > 0.0, vectors[:, :, 3], np.nan))


def _mean_of_two(p: Array, q: Array, u: Array, v: Array) -> Array:
    cosine = (p * q).sum(axis=1)
    q = np.where(cosine[:, None] < 0.0, -q, q)
    root = np.sqrt((u - v) ** 2 + 4.0 * u * v * cosine**2)
    # Of two equal forms of each factor, the one without cancellation.
    with np.errstate(divide="ignore", invalid="ignore"):
        one = np.where(u >= v, u - v + root, 4.0 * u * v * cosine**2 / (v - u + root))
        other = np.where(v > u, v - u + root, 4.0 * u * v * cosine**2 / (u - v + root))
        made = np.sqrt(u * one)[:, None] * p + np.sqrt(v * other)[:, None] * q
        return np.asarray(made / np.linalg.norm(made, axis=1)[:, None])
