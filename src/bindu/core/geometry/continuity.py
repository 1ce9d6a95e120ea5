"""Keyed angles without jumps that nobody meant."""

from __future__ import annotations

import numpy as np
import numpy.typing as npt

from bindu.core.curves.model import Array
from bindu.core.geometry.rotation import angles_quaternion, inverse, product
from bindu.core.scene.channels import AXES
from bindu.core.scene.parts import RotationOrder

Flags = npt.NDArray[np.bool_]
FLIPPED = 180.0
NEAR = 90.0
"""An angle that changes by more than half a turn jumps where the rotations are less than this
apart, degrees."""
WHOLE = 1e-6
"""Degrees up to which a change is whole turns: a spin that somebody wanted."""


def jumping(angles: Array, order: RotationOrder) -> Flags:
    """After which of some keys in a row an angle jumps though the rotations are near each other.

    Args:
        angles: x, y, z in degrees, shape (N, 3).
        order: the rotation order.

    Returns:
        Shape (N - 1,).
    """
    changes = np.diff(angles, axis=0)
    turns = angles_quaternion(angles, order)
    way = product(inverse(turns[:-1]), turns[1:])
    apart = 2.0 * np.degrees(np.arctan2(np.linalg.norm(way[:, :3], axis=1), np.abs(way[:, 3])))
    spins = np.all(np.abs(_wrapped(changes)) < WHOLE, axis=1)
    return np.asarray((np.abs(changes).max(axis=1) > FLIPPED) & (apart < NEAR) & ~spins)


def without_jumps(angles: Array, order: RotationOrder) -> tuple[Array, Flags]:
    """The same rotations as angles without the jumps of ``jumping``; all other changes stay.

    A rotation with the middle angle m, and a and c outside, is (a + 180, 180 - m, c + 180) too, and
    each angle may have whole turns more: of these, what is nearest to the key before is taken.

    Args:
        angles: x, y, z in degrees, shape (N, 3).
        order: the rotation order.

    Returns:
        The angles, and which keys are written the other way, so that the middle angle goes back
        where it went on: shape (N, 3) and (N,).
    """
    middle = AXES.index(order[1])
    jump = jumping(angles, order)
    stay = np.diff(angles, axis=0)
    other = angles[1:] + 180.0
    other[:, middle] = 180.0 - angles[1:, middle]
    change = _wrapped(other - angles[:-1])
    nearer = np.abs(change).sum(axis=1) < np.abs(_wrapped(stay)).sum(axis=1)
    turned = jump & nearer
    steps = np.where(jump[:, None], _wrapped(stay), stay)
    steps = np.where(turned[:, None], change, steps)
    way = np.concatenate([[False], np.cumsum(turned) % 2 == 1])
    steps[:, middle] *= np.where(way[:-1], -1.0, 1.0)
    made = np.concatenate([angles[:1], angles[:1] + np.cumsum(steps, axis=0)])
    return made, way


def _wrapped(degrees: Array) -> Array:
    """Angles by whole turns into -180 to 180."""
    return np.asarray(degrees - 360.0 * np.round(degrees / 360.0))
