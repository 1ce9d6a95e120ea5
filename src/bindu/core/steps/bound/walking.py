"""Feet that walk by rule: a phase from the ground that a root covers, and prints on its path.

All of it is counted on a ground: places in the ground's own axes, of which y points up. The prints
of a foot are where the root's own path passes in the middle of the foot's stance, so that the foot
lands ahead of the root, and lifts behind it, by the same way; beyond the ends of the path they lie
straight ahead.
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from bindu.core.curves.model import Array
from bindu.core.nodes.travelled import path_ways

LEAST = 1e-6
"""The shortest stride that counts, metres: none is divided by less."""
STANDS = 1e-5
"""Cycles from a frame to the next up to which the root stands."""
Rows = np.ndarray[tuple[int, ...], np.dtype[np.intp]]


@dataclass(frozen=True)
class Style:
    """How a figure walks, each of shape (F,): metres, shares, degrees; see ``Gait``."""

    step_length: Array
    stance: Array
    lift: Array
    width: Array
    turn_out: Array
    size: Array

    def at(self, name: str, times: Array) -> Array:
        """Numbers between the frames, straight from one to the next."""
        values: Array = getattr(self, name)
        return np.interp(times, np.arange(len(values)), values)


@dataclass(frozen=True)
class Track:
    """The way of a root on the ground.

    Attributes:
        points: shape (F, 3), y is 0.
        heading: where it looks, radians about y from z toward x, continuous, shape (F,).
        phase: cycles since the first frame, shape (F,).
        stride: metres of a cycle, shape (F,).
    """

    points: Array
    heading: Array
    phase: Array
    stride: Array


def track(root: Array, forward: Array, style: Style) -> Track:
    """The way of a root.

    Args:
        root: its places in the ground's axes, shape (F, 3, 4).
        forward: its own axis that looks ahead, shape (3,).
        style: how it walks.
    """
    points = np.array(root[:, :, 3])
    points[:, 1] = 0.0
    ahead = root[:, :, :3] @ forward
    heading = np.unwrap(np.arctan2(ahead[:, 0], ahead[:, 2]))
    stride = np.maximum(2.0 * style.step_length * style.size, LEAST)
    phase = np.zeros(len(points))
    if len(points) > 1:
        along = (np.diff(points, axis=0) * (ahead[1:] + ahead[:-1])).sum(axis=1)
        ways = np.where(along < 0.0, -1.0, 1.0) * path_ways(points)
        # Rounded, or rounding errors of a root that stands where a foot lands would lift it.
        phase[1:] = np.round(np.cumsum(ways * 2.0 / (stride[1:] + stride[:-1])), 10) + 0.0
    return Track(points, heading, phase, stride)


@dataclass(frozen=True)
class Foot:
    """A foot of a gait.

    Attributes:
        phase: at which share of a cycle it lands, later than the root's phase 0.
        offset: from the root's place on the ground to the foot as it stands: to the side, up and
            ahead, metres.
        turn: the foot's rotation as seen from the root's heading, a quaternion.
    """

    phase: float
    offset: Array
    turn: Array


@dataclass(frozen=True)
class Walked:
    """Where a foot is on each frame.

    Attributes:
        points: in the ground's axes, shape (F, 3).
        heading: radians about y, shape (F,).
        swing: how far it is on its way through the air, 0 to 1; 0 while it stands, shape (F,).
        phase: its own, cycles, shape (F,): that of the root less the foot's, but where a swing ends
            on the ground since the root stands: it is in the middle of its swing as long as that
            rests, where a foot is neither on its toes nor on its heel.
    """

    points: Array
    heading: Array
    swing: Array
    phase: Array


def walked(way: Track, style: Style, foot: Foot, width: float) -> Walked:
    """How a foot walks along a root's way.

    Args:
        way: of the root.
        style: how it walks.
        foot: which foot.
        width: between the feet of both sides as they stand, metres: what ``style.width`` is
            counted from.
    """
    cycles = way.phase - foot.phase
    whole = np.floor(cycles)
    starts = np.concatenate([[0], np.flatnonzero(np.diff(whole)) + 1])
    run = np.cumsum(np.isin(np.arange(len(cycles)), starts)) - 1
    stance = np.clip(style.stance[starts], 0.05, 0.95)
    runs = _Runs(way, style, foot, width, whole[starts], stance, starts, run)
    prints = runs.prints()
    ahead, here = runs.prints_ahead(prints), prints[run]
    air = np.clip((cycles - whole - stance[run]) / (1.0 - stance[run]), 0.0, 1.0)
    low, high = _rests(way.phase, air, whole[starts], run)
    start, end, step = _ease(low), _ease(high), high - low
    part = np.clip(np.where(step > 0.0, air - low, 0.0) / np.where(step > 0.0, step, 1.0), 0.0, 1.0)
    made = here + (start + (end - start) * _ease(part))[:, None] * (ahead - here)
    made[:, 1] += style.lift * style.size * step * 16.0 * part**2 * (1.0 - part) ** 2
    level = (5.0 * stance[run] + 7.0) / 12.0
    begins, ends = np.where(low > 0.0, level, stance[run]), np.where(high < 1.0, level, 1.0)
    cut = (air > 0.0) & ((low > 0.0) | (high < 1.0))
    phase = np.where(cut, whole + begins + (ends - begins) * part, cycles)
    swing = np.where((part > 0.0) & (part < 1.0), air, 0.0)
    return Walked(made[:, :3], made[:, 3], swing, phase)


def _rests(phase: Array, air: Array, whole: Array, run: Rows) -> tuple[Array, Array]:
    """Between which shares of a swing a foot is on its way on each frame, each of shape (F,): from
    print to print, or, where the root stands meanwhile, down to the ground where it is then, and on
    from there: what is in between finishes as the root stops.

    Args:
        phase: of the root, shape (F,).
        air: how far each frame is in the swing of its cycle, 0 to 1, shape (F,).
        whole: the cycle of each run of frames, shape (R,).
        run: of each frame, shape (F,).
    """
    count = len(phase)
    at = np.arange(count)
    still = np.abs(np.diff(phase)) <= STANDS
    stands = np.concatenate([[True], still]) & np.concatenate([still, [True]])
    rises = np.sign(phase[-1] - phase[0]) >= 0.0
    came = np.concatenate([[0.0 if rises else 1.0], np.where(np.diff(whole) > 0.0, 0.0, 1.0)])
    goes = np.concatenate([np.where(np.diff(whole) > 0.0, 1.0, 0.0), [1.0 if rises else 0.0]])
    last = np.maximum.accumulate(np.where(stands, at, -1))
    following = np.minimum.accumulate(np.where(stands, at, count)[::-1])[::-1]
    inside = (last >= 0) & (run[np.maximum(last, 0)] == run)
    before = np.where(inside, air[np.maximum(last, 0)], came[run])
    inside = (following < count) & (run[np.minimum(following, count - 1)] == run)
    after = np.where(inside, air[np.minimum(following, count - 1)], goes[run])
    low, high = np.minimum(before, after), np.maximum(before, after)
    # Where the root turns back in the middle of a swing without standing, it is all one way.
    whole_way = (air < low) | (air > high) | ((high <= low) & ~stands)
    return np.where(whole_way, 0.0, low), np.where(whole_way, 1.0, high)


def _ease(share: Array) -> Array:
    """The way of least jerk from rest to rest, so that a foot is off the ground before it goes far
    (T. Flash, N. Hogan, "The coordination of arm movements", J. Neurosci. 5, 1985)."""
    s = np.clip(share, 0.0, 1.0)
    return np.asarray(s**3 * (10.0 - 15.0 * s + 6.0 * s * s))


@dataclass(frozen=True)
class _Runs:
    """A foot's way cut into runs of frames that belong to one of its cycles.

    Attributes:
        way, style, foot, width: see ``walked``.
        whole, stance: of each run its cycle, and which share of it the foot stands, shape (R,).
        starts: the first row of each run, shape (R,).
        run: to which run each frame belongs, shape (F,).
    """

    way: Track
    style: Style
    foot: Foot
    width: float
    whole: Array
    stance: Array
    starts: Rows
    run: Rows

    def prints(self) -> Array:
        """The print of each run: x, y, z and heading, shape (R, 4)."""
        wanted = self._middle(self.whole)
        return self._placed(wanted, self._first_least(np.abs(self.way.phase - wanted[self.run])))

    def prints_ahead(self, prints: Array) -> Array:
        """For each frame the print that the foot lands on next, or comes from where the root goes
        back: of the run after or before, where that is the next cycle, else straight ahead."""
        wanted = self._middle(self.whole + 1.0)
        virtual = self._placed(wanted, self._first_least(-self.way.phase))
        runs = np.arange(len(self.starts))
        after, before = np.minimum(runs + 1, runs[-1]), np.maximum(runs - 1, 0)
        leads = (self.whole[after] == self.whole + 1.0)[:, None]
        came = (self.whole[before] == self.whole + 1.0)[:, None]
        following = np.where(leads, prints[after], virtual)
        previous = np.where(came, prints[before], following)
        following = np.where(came & ~leads, previous, following)
        lowest = self._first_least(self.way.phase)
        late = np.arange(len(self.run)) > lowest[self.run]
        return np.where(late[:, None], following[self.run], previous[self.run])

    def _middle(self, whole: Array) -> Array:
        """The root's phase in the middle of the stance of a cycle."""
        return np.asarray(whole + self.foot.phase + self.stance / 2.0)

    def _first_least(self, values: Array) -> Rows:
        """For each run the first row at which a value is least."""
        least = np.minimum.reduceat(values, self.starts)
        rows = np.flatnonzero(values == least[self.run])
        _, first = np.unique(self.run[rows], return_index=True)
        return rows[first]

    def _placed(self, wanted: Array, near: Rows) -> Array:
        """Where the foot stands when the root's phase passes a value, next to a row: x, y, z and
        heading, shape (R, 4). Beyond what the root covers there, straight ahead."""
        way, style, foot = self.way, self.style, self.foot
        times, rest = _passing(way.phase, wanted, near)
        rows = np.arange(len(way.phase))
        points = np.stack([np.interp(times, rows, way.points[:, n]) for n in (0, 1, 2)], axis=1)
        heading = np.interp(times, rows, way.heading)
        still = np.zeros(len(heading))
        ahead = np.stack([np.sin(heading), still, np.cos(heading)], axis=1)
        aside = np.stack([np.cos(heading), still, -np.sin(heading)], axis=1)
        size = style.at("size", times)
        wide = style.at("width", times) / self.width if self.width > 0.0 else 1.0
        points += (rest * way.stride[near] + foot.offset[2] * size)[:, None] * ahead
        points += (foot.offset[0] * wide * size)[:, None] * aside
        points[:, 1] += foot.offset[1] * size
        out = np.radians(style.at("turn_out", times)) * np.sign(foot.offset[0])
        return np.column_stack([points, heading + out])


def _passing(phase: Array, wanted: Array, near: Rows) -> tuple[Array, Array]:
    """The times, in rows, at which a phase passes values next to some rows, straight between
    frames; and what is left to go where it does not come so far, cycles. Each of shape (R,)."""
    here, last = phase[near], len(phase) - 1
    times, rest = near.astype(float), wanted - here
    for other in (np.maximum(near - 1, 0), np.minimum(near + 1, last)):
        span = phase[other] - here
        reaches = (span != 0.0) & (rest * span > 0.0) & (np.abs(wanted - here) <= np.abs(span))
        share = np.where(reaches, (wanted - here) / np.where(span == 0.0, 1.0, span), 0.0)
        times = np.where(reaches, near + share * (other - near), times)
        rest = np.where(reaches, 0.0, rest)
    return times, rest
