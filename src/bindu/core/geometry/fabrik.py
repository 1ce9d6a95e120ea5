"""Chains of many segments that reach for a point: FABRIK (A. Aristidou and J. Lasenby, "FABRIK: a
fast, iterative solver for the inverse kinematics problem", Graphical Models 73, 2011)."""

from __future__ import annotations

import numpy as np

from bindu.core.curves.model import Array
from bindu.core.geometry.bend_for import bend_for
from bindu.core.geometry.turning import across, turn_about, turned
from bindu.core.geometry.two_segments import SAME, STRAIGHT, bent, hinge_of
from bindu.core.geometry.vectors import cross, dot, length, normalized

MOST_ROUNDS = 100
NEAR = 1e-10
"""How near, as a share of the reach, the end must come to the target."""
CLOSED = 1e-9
"""Which share of the first segment the end may be from the base for the chain to be closed."""


def reached(points: Array, wanted: Array, axis: Array) -> Array:
    """The joints of a chain whose end is so far from its base, from the pose that comes in; a turn
    of the whole brings it to where it is to be.

    The end is drawn along its own line from the base, not to where it is to be in the end: so a
    chain that is bent in one plane stays in it, and on whichever side the goal is, it bends alike.
    (Drawn aside, a leg would bend its knee aside, and its middle come to the line from base to
    goal, where no pole can tell a side.)

    Each chain goes its own way: what it comes to depends on no other, to the last bit. FABRIK comes
    near slowly where the chain is nearly straight; what its rounds left is taken up by one joint,
    in closed form.

    Args:
        points: the joints as they come in, seen from the base, which is first: shape (J, N, 3),
            metres.
        wanted: how far, at most as far as the chain is long, metres, shape (N,).
        axis: of length 1, about which a straight chain begins to bend, shape (N, 3).

    Returns:
        Shape (J, N, 3); the base stays, and each segment is as long as before.
    """
    lengths = length(points[1:] - points[:-1])
    reach = sum(lengths[1:], lengths[0])
    made = points.copy()
    far = wanted >= (1.0 - SAME) * reach
    made[:, far] = _straightened(points[:, far], lengths[:, far])
    straight = ~far & (_missed(points, wanted) > SAME * reach) & _is_straight(points)
    made[:, straight] = _bowed(points[:, straight], wanted[straight], axis[straight])
    begun = rows = np.flatnonzero(~far & (_missed(made, wanted) > SAME * reach))
    if not len(rows):
        return made
    target = wanted[:, None] * _outward(made)
    for _ in range(MOST_ROUNDS):
        made[:, rows] = _round(made[:, rows], target[rows], lengths[:, rows])
        rows = rows[~_near(made[:, rows], target[rows], reach[rows], NEAR)]
        if not len(rows):
            break
    made[:, begun] = _closed(made[:, begun], wanted[begun], axis[begun])
    # The rounds may fold up flat what is nearly straight; bowed it does better.
    missed = begun[_missed(made[:, begun], wanted[begun]) > NEAR * reach[begun]]
    if len(missed):
        other = _bowed(points[:, missed], wanted[missed], axis[missed])
        nearer = _missed(other, wanted[missed]) < _missed(made[:, missed], wanted[missed])
        made[:, missed[nearer]] = other[:, nearer]
    return made


def _outward(points: Array) -> Array:
    """The ways from base to end, of length 1; of chains that close, along their first segment."""
    out, begins = points[-1], points[1]
    closed = length(out) <= CLOSED * length(begins)
    return normalized(np.where(closed[:, None], begins, out))


def _straightened(points: Array, lengths: Array) -> Array:
    """Chains stretched out along the way to their ends."""
    return _after(lengths[..., None] * _outward(points))


def _missed(points: Array, wanted: Array) -> Array:
    """By how much the end is too far from the base, or too near to it, metres."""
    return np.asarray(np.abs(length(points[-1]) - wanted))


def _near(points: Array, target: Array, reach: Array, share: float) -> np.ndarray:
    return np.asarray(length(points[-1] - target) <= share * reach)


def _is_straight(points: Array) -> np.ndarray:
    along = points[1:] - points[:-1]
    off, size = length(cross(along, along[:1])), length(along)
    return np.asarray((off <= STRAIGHT * size * size[:1]).all(axis=0))


def _bowed(points: Array, wanted: Array, axis: Array) -> Array:
    """Straight chains, bowed evenly to their own side until the end is as far out as is wanted, or
    as near as that brings it: along a straight line to its target FABRIK never leaves it."""
    along = points[1:] - points[:-1]
    out = normalized(along[0])
    about = normalized(across(axis, out))
    shares = np.linspace(-1.0, 1.0, len(along))
    forward, aside, still = (dot(along, way) for way in (out, cross(about, out), about))

    def far(angle: Array) -> Array:
        x, y, z = np.zeros_like(angle), np.zeros_like(angle), np.zeros_like(angle)
        for share, a, b, c in zip(shares, forward, aside, still, strict=True):
            cosine, sine = np.cos(share * angle), np.sin(share * angle)
            x, y, z = x + a * cosine - b * sine, y + a * sine + b * cosine, z + c
        return np.sqrt(x * x + y * y + z * z)

    # There a chain of equal segments closes.
    most = np.full_like(wanted, np.pi * (1.0 - 1.0 / len(along)))
    angle = bend_for(far, most, wanted)
    # What is folded up has to leave its line as well.
    angle = np.where(angle > 0.0, angle, most / 2.0)
    turns = [turn_about(about, share * angle) for share in shares]
    ways = [turned(turn, one) for turn, one in zip(turns, along, strict=True)]
    return _after(np.stack(ways))


def _round(points: Array, target: Array, lengths: Array) -> Array:
    """Once from the target back to the base, and once from the base out again."""
    points = points.copy()
    points[-1] = target
    for n in range(len(points) - 2, -1, -1):
        points[n] = _drawn(points[n + 1], points[n], lengths[n])
    points[0] = 0.0
    for n in range(1, len(points)):
        points[n] = _drawn(points[n - 1], points[n], lengths[n - 1])
    return points


def _drawn(fixed: Array, loose: Array, far: Array) -> Array:
    """The loose point drawn along its line to the fixed one until it is as far away as it must be;
    two points in one place stay so."""
    away = loose - fixed
    size = length(away)
    return np.asarray(fixed + away * (far / np.where(size > 0.0, size, 1.0))[:, None])


def _closed(points: Array, wanted: Array, axis: Array) -> Array:
    """What the rounds left, taken up: where the end is not far enough out all joints straighten by
    one share; where it is too far the joint that changes the length most is bent."""
    short = length(points[-1]) < wanted
    made = points.copy()
    if short.any():
        made[:, short] = _straightened_to(points[:, short], wanted[short], axis[short])
    long = ~short
    if long.any():
        made[:, long] = _folded_to(points[:, long], wanted[long], axis[long])
    return made


def _straightened_to(points: Array, wanted: Array, axis: Array) -> Array:
    """Chains whose segments all turn toward the line from base to end by one share, until the end
    is as far out as is wanted."""
    along = points[1:] - points[:-1]
    lengths, line = length(along), normalized(points[-1])
    line = np.where(np.isfinite(line), line, normalized(along[0]))
    part = dot(along, line)
    off = along - part[..., None] * line
    aside = length(off)
    angle = np.arctan2(aside, part)
    # A segment on the line may point to its beginning: it turns to the side.
    side = normalized(across(axis, line))
    off = np.where(aside[..., None] > 0.0, off / np.where(aside > 0.0, aside, 1.0)[..., None], side)

    def ways(share: Array) -> Array:
        ahead, sideways = lengths * np.cos(share * angle), lengths * np.sin(share * angle)
        return ahead[..., None] * line + sideways[..., None] * off

    def far(share: Array) -> Array:
        return length(_after(ways(share))[-1])

    return _after(ways(bend_for(far, np.ones_like(wanted), wanted)))


def _after(ways: Array) -> Array:
    """The joints of a chain, seen from its base, from its segments."""
    joints = [np.zeros_like(ways[0])]
    for way in ways:
        joints.append(joints[-1] + way)
    return np.stack(joints)


def _folded_to(points: Array, wanted: Array, axis: Array) -> Array:
    """Chains of which one joint, the one that changes the length most, is bent until the end is as
    far out as is wanted."""
    upper, lower = points[1:-1], points[-1] - points[1:-1]
    normal = cross(upper, lower)
    size = length(normal)
    clear = size > 1e-9 * length(upper) * length(lower)
    about = np.where(clear[..., None], normalized(normal), axis)
    best, rows = np.argmax(size, axis=0), np.arange(points.shape[1])
    about, upper, lower = about[best, rows], upper[best, rows], lower[best, rows]
    bend = turn_about(about, bent(hinge_of(upper, lower, about), wanted))
    joint = points[best + 1, rows]
    beyond = np.arange(len(points))[:, None] > best + 1
    return np.where(beyond[..., None], joint + turned(bend, points - joint), points)
