"""Rotations shown as angles that go on from frame to frame without false jumps."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
import numpy.typing as npt

from bindu.core.curves.model import Array
from bindu.core.geometry.rotation import angles_quaternion, quaternions_of
from bindu.core.geometry.vectors import dot, frames_last, length, vectors_of
from bindu.core.scene.parts import RotationOrder

SAME = 1e-12
"""How far two quaternions may be apart, as a chord, to be one rotation."""
LOCK = 1e-12
"""At gimbal lock this share of the rotation, or less, says how the first and the last angle share
their sum or difference."""
OTHER_WAY = np.array((1.0, -1.0, 1.0))

Flags = npt.NDArray[np.bool_]


@dataclass(frozen=True)
class ShownAngles:
    """What was shown last.

    Attributes:
        angles: degrees about x, y, z, shape (…, 3), without ``turns``.
        turns: whole turns on top of them, shape (…, 3).
        plain: where the angles were those that came in, shape (…).
    """

    angles: Array
    turns: Array
    plain: Flags


def shown_angles(
    rotations: Array, plain: Array, order: RotationOrder, before: ShownAngles | None = None
) -> tuple[Array, ShownAngles]:
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
        rotations: quaternions, shape (…, N, 4) or (…, 1, 4): N rows each.
        plain: angles that came in, degrees about x, y, z, shape (…, N, 3) or (…, 1, 3).
        order: which axis is applied first, second, third.
        before: what was shown on the row before the first; None: the first plain angles.

    Returns:
        Degrees about x, y, z, shape (…, N, 3), and what was shown last.
    """
    shape = np.broadcast_shapes(rotations.shape[:-1], plain.shape[:-1])
    given = angles_quaternion(plain, order)
    away = np.minimum(_chord(rotations - given), _chord(rotations + given))
    same: Flags = np.broadcast_to(np.asarray(away <= SAME), shape)
    start = before or ShownAngles(plain[..., 0, :], np.zeros(3), np.ones(shape[:-1], dtype=bool))
    unchanged = np.asarray(same.all(axis=-1) & (before is None))
    if unchanged.all():
        shown = np.broadcast_to(plain, (*shape, 3)).copy()
        return shown, ShownAngles(shown[..., -1, :], np.zeros(3), same[..., -1])
    angles, turns = _continued(rotations, plain, order, same, start)
    shown = angles + 360.0 * turns
    if unchanged.any():
        shown = np.where(unchanged[..., None, None], plain, shown)
    return shown, ShownAngles(angles[..., -1, :], turns[..., -1, :], same[..., -1])


def nearest_angles(rotations: Array, order: RotationOrder, near: Array) -> Array:
    """Rotations as angles, each nearest to those of the row before, and the first one nearest to
    ``near``; see ``shown_angles``.

    Args:
        rotations: quaternions, shape (…, N, 4).
        order: which axis is applied first, second, third.
        near: degrees about x, y, z, shape (…, 3).

    Returns:
        Degrees about x, y, z, shape (…, N, 3).
    """
    none = np.zeros(rotations.shape[:-1], dtype=bool)
    start = ShownAngles(near, np.zeros(3), np.zeros(rotations.shape[:-2], dtype=bool))
    angles, turns = _continued(rotations, near[..., None, :], order, none, start)
    return np.asarray(angles + 360.0 * turns)


def continuous_angles(matrices: Array, order: RotationOrder, near: Array) -> Array:
    """See ``nearest_angles``; of rotation matrices, shape (…, N, 3, 3)."""
    return nearest_angles(quaternions_of(matrices), order, near)


def _continued(
    rotations: Array, plain: Array, order: RotationOrder, same: Flags, start: ShownAngles
) -> tuple[Array, Array]:
    """See ``shown_angles``: the angles, and the whole turns on top of them."""
    places = ["xyz".index(axis) for axis in order]
    shape = same.shape
    angles, apart, together = _angles(rotations, places)
    one_way = frames_last((*shape[:-1], shape[-1] + 1, 3), 1)
    for n, place in enumerate(places):
        one_way[..., 0, n] = start.angles[..., place]
        one_way[..., 1:, n] = np.where(same, plain[..., place], angles[..., n])
    locked = np.asarray(~same & (apart | together))
    if locked.any():
        _split_at_lock(one_way, locked, np.broadcast_to(apart, shape))
    other_way = one_way * OTHER_WAY + 180.0
    before = one_way[..., :-1, :]
    stay, change = _turned(one_way[..., 1:, :] - before), _turned(other_way[..., 1:, :] - before)
    # A plain row is always written the one way; counting begins anew behind it.
    changes = np.cumsum(np.asarray((change < stay) & ~locked & ~same), axis=-1)
    behind = np.maximum.accumulate(np.where(same, changes, 0), axis=-1)
    changed = np.asarray((changes - behind) % 2 == 1)
    chosen = one_way
    np.copyto(chosen[..., 1:, :], other_way[..., 1:, :], where=changed[..., None])
    plain_before = np.concatenate(
        [np.broadcast_to(start.plain, shape[:-1])[..., None], same[..., :-1]], axis=-1
    )
    shown, whole = frames_last((*shape, 3), 1), frames_last((*shape, 3), 1)
    for n, place in enumerate(places):
        turns = -np.round(np.diff(chosen[..., n], axis=-1) / 360.0)
        turns[same & plain_before] = 0.0
        shown[..., place], whole[..., place] = chosen[..., 1:, n], np.cumsum(turns, axis=-1)
    return shown, whole + start.turns[..., None, :]


def _angles(rotations: Array, axes: list[int]) -> tuple[Array, Flags, Flags]:
    """Angles in the order in which they are applied, the second within ±90, and where it is at
    gimbal lock: where only the difference of the outer angles is given, and where their sum.

    From half sums and half differences of the outer angles, which stay exact near gimbal lock
    (E. Bernardes, S. Viollet, "Quaternion to Euler angles conversion", PLoS ONE 17, 2022).
    """
    handed = 1.0 if (axes[1] - axes[0]) % 3 == 1 else -1.0
    i, j, k = (handed * rotations[..., axis] for axis in axes)
    w = rotations[..., 3]
    difference, minus = np.arctan2(k - i, w + j), np.hypot(k - i, w + j)
    total, plus = np.arctan2(i + k, w - j), np.hypot(i + k, w - j)
    middle = np.pi / 2.0 - 2.0 * np.arctan2(plus, minus)
    angles = vectors_of([total - difference, middle, total + difference])
    return np.degrees(handed * angles), np.asarray(plus <= LOCK), np.asarray(minus <= LOCK)


def _split_at_lock(angles: Array, locked: Flags, apart: Flags) -> None:
    """Gives the rows at gimbal lock, in place, the sum or the difference of the outer angles that
    the row before them has, where the rotation does not say it; ``apart`` where it says their
    difference. ``angles`` has one row more, in front."""
    for one in np.ndindex(locked.shape[:-1]):
        if locked[one].any():
            _split_rows(angles[one], locked[one], apart[one])


def _split_rows(angles: Array, locked: Flags, apart: Flags) -> None:
    """See ``_split_at_lock``; for one run of rows."""
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
    """How far rows of angles are apart, full turns aside: the sum of squares, shape (…)."""
    within = differences - 360.0 * np.round(differences / 360.0)
    return dot(within, within)


def _chord(differences: Array) -> Array:
    return length(differences)
