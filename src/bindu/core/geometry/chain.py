"""A chain of joints that reaches for a goal, moved by the least from the pose that comes in.

Everything is seen from one place, in which the segments are rigid.
"""

from __future__ import annotations

from collections.abc import Sequence
from typing import NamedTuple

import numpy as np

from bindu.core.curves.model import Array
from bindu.core.geometry.fabrik import reached
from bindu.core.geometry.reach import lengthening, softened
from bindu.core.geometry.rotation import product
from bindu.core.geometry.turning import angle_about, shortest_turn, turn_about, turned
from bindu.core.geometry.two_segments import Hinge, bent, hinge_of, side_of
from bindu.core.geometry.vectors import cross, dot, length

BENT, SOFT, STRAIGHT, FOLDED, LIMITED = range(5)
BRANCHES = ("bent", "soft", "straight", "folded", "at its limit")
"""Which way a solution came about, by its number."""
ALONG = 1e-9
"""Which share of its distance a point may be off a line to be on it."""
CLEAR = 1e-6
"""Which share of its length the middle of a chain must be off the line between its ends to tell a
side: less is known to a few digits only, of what may be no more than rounding."""


class Wanted(NamedTuple):
    """What a chain is to do.

    Attributes:
        goal: where its end is to be, metres, shape (…, 3).
        pole: to where its middle is to point; None: it turns no further.
        turn: about the line from base to goal, degrees, shape (…).
        soft: the share of the reach over which it slows, shape (…).
        stretch: how far it gets longer when the goal is out of reach, 0 to 1, shape (…).
        limits: of two segments the least and the largest bend, degrees, shape (…) each.
    """

    goal: Array
    pole: Array | None
    turn: Array
    soft: Array
    stretch: Array
    limits: tuple[Array, Array] | None = None


class Solved(NamedTuple):
    """How a chain gets there.

    Attributes:
        turns: for each segment the turn of the part that carries it, quaternions, shape (…, 4).
        factor: how many times as long each segment becomes, shape (…).
        end: where the end comes to be, shape (…, 3).
        distance, reach: from base to goal, and of the straight chain, shape (…).
        bend: of two segments, from straight, degrees, positive to the limb's own side; of more, how
            far all joints together bend, shape (…).
        branch: see ``BRANCHES``, shape (…).
    """

    turns: list[Array]
    factor: Array
    end: Array
    distance: Array
    reach: Array
    bend: Array
    branch: Array


def solved(points: Sequence[Array], axis: Array, wanted: Wanted) -> Solved:
    """The turns that bring the end of a chain to its goal.

    First the chain is bent until its end is as far out as the goal (``two_segments``, or
    ``fabrik`` for more), then it turns as a whole: by the shortest turn that brings the end onto
    the line to the goal, about that line until the middle is on the pole's side, then by ``turn``.

    Args:
        points: the joints as they come in, base first, each of shape (…, 3).
        axis: of length 1, about which the middle bends, shape (…, 3).
        wanted: see there.
    """
    base = points[0]
    goes = wanted.goal - base
    distance = length(goes)
    came = [end - start for start, end in zip(points[:-1], points[1:], strict=True)]
    if len(came) == 2:
        hinge = hinge_of(came[0], came[1], axis)
        reach, least = hinge.reach, hinge.least
        gone = softened(distance, reach, wanted.soft)
        bends, bend, limited = _two_bent(hinge, axis, gone, wanted.limits)
    else:
        reach, least = _lengths(came)
        gone = softened(distance, reach, wanted.soft)
        bends, bend = _many_bent(points, came, axis, gone)
        limited = np.zeros(distance.shape, dtype=bool)
    factor = lengthening(distance, gone, wanted.stretch)
    segments = [turned(turn, one) for turn, one in zip(bends, came, strict=True)]
    if len(came) == 2:
        straight = own_side(segments, side_of(hinge)[..., None] * axis)
    else:
        straight = _carried_side(came, segments, axis)
    pole = None if wanted.pole is None else wanted.pole - base
    side = bend_side(segments, straight)
    whole = _whole_turn(segments, side, axis, goes, pole, wanted.turn)
    turns = [product(whole, turn) for turn in bends]
    out = sum(segments[1:], segments[0])
    end = base + factor[..., None] * turned(whole, out)
    branch = np.select(
        [limited, distance > reach, gone < distance, distance < least],
        [LIMITED, STRAIGHT, SOFT, FOLDED],
        BENT,
    )
    return Solved(turns, factor, end, distance, reach, bend, branch)


def reach_of(points: Sequence[Array], axis: Array) -> Array:
    """How long a chain is when it is straight, metres, shape (…); see ``solved``."""
    segments = [end - start for start, end in zip(points[:-1], points[1:], strict=True)]
    if len(segments) == 2:
        return hinge_of(segments[0], segments[1], axis).reach
    return _lengths(segments)[0]


def middle_of(joints: int) -> int:
    """Which joint of a chain is its middle, that the pole looks at."""
    return joints // 2


def bend_side(segments: Sequence[Array], straight: Array) -> Array:
    """From the line between base and end the way to the middle, not of length 1, shape (…, 3).

    Args:
        segments: of the chain, each of shape (…, 3).
        straight: what it is where the chain is straight, so that nothing tells it.
    """
    line = _line(segments)
    away = sum(segments[1 : middle_of(len(segments) + 1)], segments[0])
    side = away - dot(away, line)[..., None] * line
    told = length(side) > CLEAR * length(away)
    return np.where(told[..., None], side, straight)


def own_side(segments: Sequence[Array], axis: Array) -> Array:
    """From the line between base and end to where the middle would go if the chain bent a little to
    its own side, by a positive turn about its bend axis, shape (…, 3)."""
    return cross(_line(segments), axis)


def _line(segments: Sequence[Array]) -> Array:
    out = sum(segments[1:], segments[0])
    size = length(out)
    return np.asarray(out / np.where(size > 0.0, size, 1.0)[..., None])


def _two_bent(
    hinge: Hinge, axis: Array, gone: Array, limits: tuple[Array, Array] | None
) -> tuple[list[Array], Array, np.ndarray]:
    within = None if limits is None else (np.radians(limits[0]), np.radians(limits[1]))
    free = bent(hinge, gone)
    delta = free if within is None else bent(hinge, gone, within)
    lost = np.abs(_length_at(hinge, delta) - _length_at(hinge, free))
    still = np.broadcast_to((0.0, 0.0, 0.0, 1.0), (*delta.shape, 4))
    bend = delta - hinge.straight
    bend = np.degrees(np.arctan2(np.sin(bend), np.cos(bend)))
    turns = [still, turn_about(np.broadcast_to(axis, (*delta.shape, 3)), delta)]
    return turns, bend, lost > 1e-12 * hinge.reach


def _length_at(hinge: Hinge, delta: Array) -> Array:
    squared = hinge.mean + hinge.swing * np.cos(delta - hinge.straight)
    return np.sqrt(np.maximum(squared, 0.0))


def _many_bent(
    points: Sequence[Array], segments: Sequence[Array], axis: Array, gone: Array
) -> tuple[list[Array], Array]:
    """The turns of many segments, each with the least twist against the one before, and how far all
    joints bend together."""
    shape = np.broadcast_shapes(*(p.shape for p in points), (*gone.shape, 3))
    rows = np.stack([np.broadcast_to(p - points[0], shape).reshape(-1, 3) for p in points])
    about = np.broadcast_to(axis, shape).reshape(-1, 3)
    found = reached(rows, np.broadcast_to(gone, shape[:-1]).reshape(-1), about)
    joints = [one.reshape(shape) for one in found]
    turns: list[Array] = []
    bend, before = np.zeros(shape[:-1]), None
    for segment, start, end in zip(segments, joints[:-1], joints[1:], strict=True):
        aim = end - start
        carried = turned(turns[-1], segment) if turns else np.broadcast_to(segment, shape)
        swing = shortest_turn(carried, aim, axis)
        turns.append(product(swing, turns[-1]) if turns else swing)
        if before is not None:
            bend = bend + np.degrees(np.arctan2(length(cross(before, aim)), dot(before, aim)))
        before = aim
    return turns, bend


def _carried_side(came: Sequence[Array], segments: Sequence[Array], axis: Array) -> Array:
    """The side to which a chain came in bent, carried along as it became straight."""
    side = bend_side(came, own_side(came, axis))
    out, now = (sum(one[1:], one[0]) for one in (came, segments))
    return turned(shortest_turn(out, now, axis), side)


def _whole_turn(
    segments: Sequence[Array],
    side: Array,
    axis: Array,
    goes: Array,
    pole: Array | None,
    turn: Array,
) -> Array:
    """The turn of the whole chain, once it is bent to a side; ``goes`` and ``pole`` from its
    base."""
    out = sum(segments[1:], segments[0])
    whole = shortest_turn(out, goes, axis)
    distance = length(goes)
    safe = np.where(distance > 0.0, distance, 1.0)[..., None]
    line = np.where(distance[..., None] > 0.0, goes / safe, (1.0, 0.0, 0.0))
    if pole is not None:
        side = turned(whole, side)
        clear = length(cross(line, pole)) > ALONG * length(pole)
        angle = np.where(clear, angle_about(line, side, pole), 0.0)
        whole = product(turn_about(line, angle), whole)
    return product(turn_about(line, np.radians(turn)), whole)


def _lengths(segments: Sequence[Array]) -> tuple[Array, Array]:
    """Of a chain, how long it is when straight, and the nearest that its end can come to its
    base."""
    sizes = [length(one) for one in segments]
    reach, longest = sizes[0], sizes[0]
    for size in sizes[1:]:
        reach, longest = reach + size, np.maximum(longest, size)
    return reach, np.maximum(2.0 * longest - reach, 0.0)
