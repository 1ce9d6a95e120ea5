"""Feet that walk by rule: a phase from the ground that a root covers, and prints on its path.

All of it is counted on a ground: places in the ground's own axes, of which y points up. The prints
of a foot are where the root's own path passes in the middle of the foot's stance, so that the foot
lands ahead of the root, and lifts behind it, by the same way; beyond the ends of the path they lie
straight ahead.
"""

from __future__ import annotations

from dataclasses import dataclass
from functools import cached_property

import numpy as np
import numpy.typing as npt

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
class Feet:
    """The N feet of a gait.

    Attributes:
        phases: at which share of a cycle each lands, later than the root's phase 0, shape (N,).
        offsets: from the root's place on the ground to the foot as it stands: to the side, up and
            ahead, metres, shape (N, 3).
    """

    phases: Array
    offsets: Array


@dataclass(frozen=True)
class Walked:
    """Where feet are on each frame.

    Attributes:
        points: in the ground's axes, shape (N, F, 3).
        heading: radians about y, shape (N, F).
        swing: how far each is on its way through the air, 0 to 1; 0 while it stands, shape (N, F).
        phase: its own, cycles, shape (N, F): that of the root less the foot's, but where a swing
            ends on the ground since the root stands: it is in the middle of its swing as long as
            that rests, where a foot is neither on its toes nor on its heel.
    """

    points: Array
    heading: Array
    swing: Array
    phase: Array


def walked(way: Track, style: Style, feet: Feet, width: float) -> Walked:
    """How feet walk along a root's way.

    The frames of all feet are counted in one row, one foot behind the other.

    Args:
        way: of the root.
        style: how it walks.
        feet: which feet.
        width: between the feet of both sides as they stand, metres: what ``style.width`` is
            counted from.
    """
    count, frames = len(feet.phases), len(way.phase)
    row = np.tile(np.arange(frames), count)
    cycles = (way.phase - feet.phases[:, None]).ravel()
    whole = np.floor(cycles)
    starts = np.flatnonzero((row == 0) | (np.diff(whole, prepend=whole[0]) != 0.0))
    run = np.cumsum((row == 0) | (np.diff(whole, prepend=whole[0]) != 0.0)) - 1
    stance = np.clip(style.stance[row[starts]], 0.05, 0.95)
    runs = _Runs(way, style, feet, width, whole[starts], stance, starts, run, row)
    prints = runs.prints()
    ahead, here = runs.prints_ahead(prints), prints[run]
    air = np.clip((cycles - whole - stance[run]) / (1.0 - stance[run]), 0.0, 1.0)
    low, high = runs.rests(air)
    start, end, step = _ease(low), _ease(high), high - low
    part = np.clip(np.where(step > 0.0, air - low, 0.0) / np.where(step > 0.0, step, 1.0), 0.0, 1.0)
    made = here + (start + (end - start) * _ease(part))[:, None] * (ahead - here)
    lift = (style.lift * style.size)[row]
    made[:, 1] += lift * step * 16.0 * part**2 * (1.0 - part) ** 2
    level = (5.0 * stance[run] + 7.0) / 12.0
    begins, ends = np.where(low > 0.0, level, stance[run]), np.where(high < 1.0, level, 1.0)
    cut = (air > 0.0) & ((low > 0.0) | (high < 1.0))
    phase = np.where(cut, whole + begins + (ends - begins) * part, cycles)
    swing = np.where((part > 0.0) & (part < 1.0), air, 0.0)
    shape = (count, frames)
    points = made[:, :3].reshape(*shape, 3)
    return Walked(points, *(one.reshape(shape) for one in (made[:, 3], swing, phase)))


def _ease(share: Array) -> Array:
    """The way of least jerk from rest to rest, so that a foot is off the ground before it goes far
    (T. Flash, N. Hogan, "The coordination of arm movements", J. Neurosci. 5, 1985)."""
    s = np.clip(share, 0.0, 1.0)
    return np.asarray(s**3 * (10.0 - 15.0 * s + 6.0 * s * s))


@dataclass(frozen=True)
class _Runs:
    """The ways of feet cut into runs of frames that belong to one cycle of one foot.

    Attributes:
        way, style, feet, width: see ``walked``.
        whole, stance: of each run its cycle, and which share of it the foot stands, shape (R,).
        starts: the first place of each run, shape (R,).
        run: to which run each place belongs, shape (N * F,).
        row: the frame of each place, shape (N * F,).
    """

    way: Track
    style: Style
    feet: Feet
    width: float
    whole: Array
    stance: Array
    starts: Rows
    run: Rows
    row: Rows

    @cached_property
    def phase(self) -> Array:
        """The root's phase at each place, shape (N * F,)."""
        return self.way.phase[self.row]

    @cached_property
    def foot(self) -> Rows:
        """Whose each run is, shape (R,)."""
        return self.starts // len(self.way.phase)

    def prints(self) -> Array:
        """The print of each run: x, y, z and heading, shape (R, 4)."""
        wanted = self._middle(self.whole)
        return self._placed(wanted, self._first_least(np.abs(self.phase - wanted[self.run])))

    def prints_ahead(self, prints: Array) -> Array:
        """For each place the print that the foot lands on next, or comes from where the root goes
        back: of the run after or before, where that is the next cycle, else straight ahead."""
        wanted = self._middle(self.whole + 1.0)
        virtual = self._placed(wanted, self._first_least(-self.phase))
        following, leads = self._beside(1)
        before, came = self._beside(-1)
        leads = leads & (self.whole[following] == self.whole + 1.0)
        came = came & (self.whole[before] == self.whole + 1.0)
        after = np.where(leads[:, None], prints[following], virtual)
        previous = np.where(came[:, None], prints[before], after)
        after = np.where((came & ~leads)[:, None], previous, after)
        lowest = self._first_least(self.phase)
        late = np.arange(len(self.run)) > lowest[self.run]
        return np.where(late[:, None], after[self.run], previous[self.run])

    def rests(self, air: Array) -> tuple[Array, Array]:
        """Between which shares of a swing a foot is on its way at each place, each of shape
        (N * F,): from print to print, or, where the root stands meanwhile, down to the ground where
        it is then, and on from there: what is in between finishes as the root stops.

        Args:
            air: how far each place is in the swing of its cycle, 0 to 1, shape (N * F,).
        """
        phase, run, count = self.way.phase, self.run, len(self.run)
        still = np.abs(np.diff(phase)) <= STANDS
        stands = (np.concatenate([[True], still]) & np.concatenate([still, [True]]))[self.row]
        rises = bool(np.sign(phase[-1] - phase[0]) >= 0.0)
        came, goes = self._ends(-1, rises), self._ends(1, rises)
        at = np.arange(count)
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

    def _beside(self, step: int) -> tuple[Rows, npt.NDArray[np.bool_]]:
        """The run after (1) or before (-1) each, and whether it is there and of the same foot,
        shape (R,)."""
        runs = np.arange(len(self.starts))
        other = np.clip(runs + step, 0, len(runs) - 1)
        return other, (other != runs) & (self.foot[other] == self.foot)

    def _ends(self, step: int, rises: bool) -> Array:
        """At which end of its swing, 0 or 1, a foot goes on into the run beside each; beyond the
        first and the last as the root goes on the whole, shape (R,)."""
        other, there = self._beside(step)
        climbs = (self.whole[other] - self.whole) * step > 0.0
        return np.where(np.where(there, climbs, rises), float(step > 0), float(step < 0))

    def _middle(self, whole: Array) -> Array:
        """The root's phase in the middle of the stance of a cycle."""
        return np.asarray(whole + self.feet.phases[self.foot] + self.stance / 2.0)

    def _first_least(self, values: Array) -> Rows:
        """For each run the first place at which a value is least."""
        least = np.minimum.reduceat(values, self.starts)
        places = np.flatnonzero(values == least[self.run])
        _, first = np.unique(self.run[places], return_index=True)
        return places[first]

    def _placed(self, wanted: Array, near: Rows) -> Array:
        """Where the foot stands when the root's phase passes a value, next to a place: x, y, z and
        heading, shape (R, 4). Beyond what the root covers there, straight ahead."""
        way, style, near = self.way, self.style, self.row[near]
        offset = self.feet.offsets[self.foot]
        times, rest = _passing(way.phase, wanted, near)
        rows = np.arange(len(way.phase))
        points = np.stack([np.interp(times, rows, way.points[:, n]) for n in (0, 1, 2)], axis=1)
        heading = np.interp(times, rows, way.heading)
        still = np.zeros(len(heading))
        ahead = np.stack([np.sin(heading), still, np.cos(heading)], axis=1)
        aside = np.stack([np.cos(heading), still, -np.sin(heading)], axis=1)
        size = style.at("size", times)
        wide = style.at("width", times) / self.width if self.width > 0.0 else 1.0
        points += (rest * way.stride[near] + offset[:, 2] * size)[:, None] * ahead
        points += (offset[:, 0] * wide * size)[:, None] * aside
        points[:, 1] += offset[:, 1] * size
        out = np.radians(style.at("turn_out", times)) * np.sign(offset[:, 0])
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
