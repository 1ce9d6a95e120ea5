"""Rotations from angles."""

from __future__ import annotations

import numpy as np

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
