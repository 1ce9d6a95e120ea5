"""Rotations shown as angles that go on from frame to frame without false jumps."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
import numpy.typing as npt

from bindu.core.curves.model import Array
from bindu.core.geometry.rotation import angles_quaternion, quaternions_of
from bindu.core.scene.model import RotationOrder

SAME = 1e-12
"""How far two quaternions may be apart, as a chord, to be one rotation."""
LOCK = 1e-12
"""At gimbal lock this share of the rotation, or less, says how the first and the last angle share
their sum or difference."""
OTHER_WAY = np.array((1.0, -1.0, 1.0))

Flags = npt.NDArray[np.bool_]


@dataclass(frozen=True)
class Shown:
    """What was shown last.

    Attributes:
        angles: degrees about x, y, z, shape (3,), without ``turns``.
        turns: whole turns on top of them, shape (3,).
        plain: the angles were those that came in.
    """

    angles: Array
    turns: Array
    plain: bool


def shown_angles(
    rotations: Array, plain: Array, order: RotationOrder, before: Shown | None = None
) -> tuple[Array, Shown]:
    """Rotations as angles, each nearest to those of the row before.

    Where a rotation is the plain one, its angles are the plain ones plus whole turns: as many as
    on the row before, if that was plain too. Any other rotation has two ways to be written as
    angles, (a, b, c) and (a + 180, 180 - b, c + 180) in the order in which they are applied, and
    all their whole turns; the nearest to the row before is taken. At gimbal lock the first and
    the last angle keep their sum, or their difference, from the row before, whichever the
    rotation does not say.

    Changing over from one way to the other is as far from either, so that the choices are a
    running count of changes, without a loop over rows.

    Args:
        rotations: quaternions, shape (N, 4) or (1, 4).
        plain: angles that came in, degrees about x, y, z, shape (N, 3) or (1, 3).
        order: which axis is applied first, second, third.
        before: what was shown on the row before the first; None: the first plain angles.

    Returns:
        Degrees about x, y, z, shape (N, 3), and what was shown last.
    """
    count = max(len(rotations), len(plain))
    given = angles_quaternion(plain, order)
    away = np.minimum(_chord(rotations - given), _chord(rotations + given))
    same = np.broadcast_to(away <= SAME, count)
    if same.all() and before is None:
        shown = np.broadcast_to(plain, (count, 3)).copy()
        return shown, Shown(shown[-1], np.zeros(3), True)
    start = before or Shown(plain[0], np.zeros(3), True)
    angles, turns = _continued(rotations, plain, order, same, start)
    return angles + 360.0 * turns, Shown(angles[-1], turns[-1], bool(same[-1]))


def nearest_angles(rotations: Array, order: RotationOrder, near: Array) -> Array:
    """Rotations as angles, each nearest to those of the row before, and the first one nearest to
    ``near``; see ``shown_angles``.

    Args:
        rotations: quaternions, shape (N, 4).
        order: which axis is applied first, second, third.
        near: degrees about x, y, z, shape (3,).

    Returns:
        Degrees about x, y, z, shape (N, 3).
    """
    none = np.zeros(len(rotations), dtype=bool)
    start = Shown(near, np.zeros(3), False)
    angles, turns = _continued(rotations, near[None], order, none, start)
    return np.asarray(angles + 360.0 * turns)


def continuous_angles(matrices: Array, order: RotationOrder, near: Array) -> Array:
    """See ``nearest_angles``; of rotation matrices, shape (N, 3, 3)."""
    return nearest_angles(quaternions_of(matrices), order, near)


def _continued(
    rotations: Array, plain: Array, order: RotationOrder, same: Flags, start: Shown
) -> tuple[Array, Array]:
    """See ``shown_angles``: the angles, and the whole turns on top of them."""
    places = ["xyz".index(axis) for axis in order]
    count = len(same)
    angles, apart, together = _angles(rotations, places)
    one_way = np.empty((count + 1, 3))
    one_way[0], one_way[1:] = start.angles[places], angles
    one_way[1:][same] = np.broadcast_to(plain[:, places], (count, 3))[same]
    locked = ~same & np.broadcast_to(apart | together, count)
    if locked.any():
        _split_at_lock(one_way, locked, np.broadcast_to(apart, count))
    other_way = one_way * OTHER_WAY + 180.0
    stay = _turned(one_way[1:] - one_way[:-1])
    change = _turned(other_way[1:] - one_way[:-1])
    # A plain row is always written the one way; counting begins anew behind it.
    changes = np.cumsum((change < stay) & ~locked & ~same)
    behind = np.maximum.accumulate(np.where(same, changes, 0))
    chosen = one_way.copy()
    changed = (changes - behind) % 2 == 1
    chosen[1:][changed] = other_way[1:][changed]
    turns = -np.round(np.diff(chosen, axis=0) / 360.0)
    turns[same & np.concatenate([[start.plain], same[:-1]])] = 0.0
    shown, whole = np.empty((count, 3)), np.empty((count, 3))
    shown[:, places], whole[:, places] = chosen[1:], np.cumsum(turns, axis=0)
    return shown, whole + start.turns


def _angles(rotations: Array, axes: list[int]) -> tuple[Array, Flags, Flags]:
    """Angles in the order in which they are applied, the second within ±90, and where it is at
    gimbal lock: where only the difference of the outer angles is given, and where their sum.

    From half sums and half differences of the outer angles, which stay exact near gimbal lock
    (E. Bernardes, S. Viollet, "Quaternion to Euler angles conversion", PLoS ONE 17, 2022).
    """
    handed = 1.0 if (axes[1] - axes[0]) % 3 == 1 else -1.0
    i, j, k = (handed * rotations[:, axis] for axis in axes)
    w = rotations[:, 3]
    difference, minus = np.arctan2(k - i, w + j), np.hypot(k - i, w + j)
    total, plus = np.arctan2(i + k, w - j), np.hypot(i + k, w - j)
    middle = np.pi / 2.0 - 2.0 * np.arctan2(plus, minus)
    angles = np.stack([total - difference, middle, total + difference], axis=1)
    return np.degrees(handed * angles), np.asarray(plus <= LOCK), np.asarray(minus <= LOCK)


def _split_at_lock(angles: Array, locked: Flags, apart: Flags) -> None:
    """Gives the rows at gimbal lock, in place, the sum or the difference of the outer angles that
    the row before them has, where the rotation does not say it; ``apart`` where it says their
    difference. ``angles`` has one row more, in front."""
    edges = np.flatnonzero(np.diff(np.concatenate([[False], locked, [False]]).astype(int)))
    swaps = np.flatnonzero(locked[1:] & locked[:-1] & (apart[1:] != apart[:-1])) + 1
    ends = sorted({*edges.tolist(), *swaps.tolist()})
    for start, end in zip(ends[:-1], ends[1:], strict=True):
        if not locked[start]:
            continue
        sign = -1.0 if apart[start] else 1.0
        rows, before = angles[start + 1 : end + 1], angles[start]
        given = rows[:, 2] + sign * rows[:, 0]
        kept = before[2] - sign * before[0]
        ways = np.diff(given, prepend=before[2] + sign * before[0])
        ways -= 360.0 * np.round(ways / 360.0)
        given = before[2] + sign * before[0] + np.cumsum(ways)
        rows[:, 2], rows[:, 0] = (given + kept) / 2.0, sign * (given - kept) / 2.0


def _turned(differences: Array) -> Array:
    """How far rows of angles are apart, full turns aside: the sum of squares, shape (N,)."""
    within = differences - 360.0 * np.round(differences / 360.0)
    return np.asarray((within**2).sum(axis=1))


def _chord(differences: Array) -> Array:
    return np.asarray(np.linalg.norm(differences, axis=1))
