"""Rotations from angles."""

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
        found = Rotation.from_matrix(matrices).as_euler(order, degrees=True)
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
