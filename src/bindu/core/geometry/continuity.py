"""Keyed angles without jumps that nobody meant."""

from __future__ import annotations

import numpy as np
import numpy.typing as npt

from bindu.core.curves.model import Array
from bindu.core.geometry.rotation import angles_quaternion, inverse, product
from bindu.core.scene.channels import AXES
from bindu.core.scene.parts import RotationOrder

Flags = npt.NDArray[np.bool_]
LARGE = 120.0
NEAR = 90.0
"""An angle that changes by more than ``LARGE`` may jump where the rotations are less than ``NEAR``
apart, degrees."""
SHORT = 2.0
"""Over more frames than this, whole turns are a spin that somebody wanted."""


def jumping(angles: Array, order: RotationOrder, frames: Array) -> Flags:
    """After which of some keys in a row an angle jumps though the rotations are near each other,
    and could be written at less than half of the change.

    Args:
        angles: x, y, z in degrees, shape (N, 3).
        order: the rotation order.
        frames: of the keys, ascending, shape (N,).

    Returns:
        Shape (N - 1,).
    """
    stay, change = _ways(angles, order)
    size = np.abs(stay).max(axis=1)
    best = np.minimum(np.abs(_wrapped(stay)).max(axis=1), np.abs(change).max(axis=1))
    turns = angles_quaternion(angles, order)
    way = product(inverse(turns[:-1]), turns[1:])
    apart = 2.0 * np.degrees(np.arctan2(np.linalg.norm(way[:, :3], axis=1), np.abs(way[:, 3])))
    spins = (size > 360.0 - 1e-6) & (np.diff(frames) > SHORT)
    return np.asarray((size > LARGE) & (apart < NEAR) & (best < 0.5 * size) & ~spins)


def without_jumps(angles: Array, order: RotationOrder, frames: Array) -> tuple[Array, Flags]:
    """The same rotations as angles without the jumps of ``jumping``; all other changes stay.

    A rotation with the middle angle m, and a and c outside, is (a + 180, 180 - m, c + 180) too, and
    each angle may have whole turns more: of these, what is nearest to the key before is taken.

    Args:
        angles, order, frames: see ``jumping``.

    Returns:
        The angles, and which keys are written the other way, so that the middle angle goes back
        where it went on: shape (N, 3) and (N,).
    """
    jump = jumping(angles, order, frames)
    stay, change = _ways(angles, order)
    nearer = np.abs(change).sum(axis=1) < np.abs(_wrapped(stay)).sum(axis=1)
    turned = jump & nearer
    steps = np.where(jump[:, None], _wrapped(stay), stay)
    steps = np.where(turned[:, None], change, steps)
    way = np.concatenate([[False], np.cumsum(turned) % 2 == 1])
    steps[:, AXES.index(order[1])] *= np.where(way[:-1], -1.0, 1.0)
    made = np.concatenate([angles[:1], angles[:1] + np.cumsum(steps, axis=0)])
    return made, way


def _ways(angles: Array, order: RotationOrder) -> tuple[Array, Array]:
    """The changes from key to key, as they are, and to the other way of writing the next one by the
    least turns, shape (N - 1, 3) each."""
    middle = AXES.index(order[1])
    other = angles[1:] + 180.0
    other[:, middle] = 180.0 - angles[1:, middle]
    return np.asarray(np.diff(angles, axis=0)), _wrapped(other - angles[:-1])


def _wrapped(degrees: Array) -> Array:
    """Angles by whole turns into -180 to 180."""
    return np.asarray(degrees - 360.0 * np.round(degrees / 360.0))
