"""Feet that walk by rule: a phase from the ground that a root covers, and prints on its path.

All of it is counted on a ground: places in the ground's own axes, of which y points up. The prints
of a foot are where the root's own path passes in the middle of the foot's stance, so that the foot
lands ahead of the root, and lifts behind it, by the same way; beyond the ends of the path they lie
straight ahead.

B figures with the same number of feet are computed at once, each by itself.
"""

from __future__ import annotations

from dataclasses import dataclass
from functools import cached_property

import numpy as np
import numpy.typing as npt

from bindu.core.curves.model import Array
from bindu.core.geometry.vectors import dot, transformed
from bindu.core.nodes.travelled import path_ways

LEAST = 1e-6
"""The shortest stride that counts, metres: none is divided by less."""
STANDS = 1e-5
"""Cycles from a frame to the next up to which the root stands."""
Rows = np.ndarray[tuple[int, ...], np.dtype[np.intp]]


@dataclass(frozen=True)
class Style:
    """How figures walk, each of shape (B, F): metres, shares, degrees; see ``Gait``."""

    step_length: Array
    stance: Array
    lift: Array
    width: Array
    turn_out: Array
    size: Array


@dataclass(frozen=True)
class Track:
    """The ways of roots on the ground.

    Attributes:
        points: shape (B, F, 3), y is 0.
        heading: where they look, radians about y from z toward x, continuous, shape (B, F).
        phase: cycles since the first frame, shape (B, F).
        stride: metres of a cycle, shape (B, F).
    """

    points: Array
    heading: Array
    phase: Array
    stride: Array


def track(root: Array, forward: Array, style: Style) -> Track:
    """The ways of roots.

    Args:
        root: their places in the ground's axes, shape (B, F, 3, 4).
        forward: their own axes that look ahead, shape (B, 1, 3).
        style: how they walk.
    """
    points = np.array(root[..., 3])
    points[..., 1] = 0.0
    ahead = transformed(root[..., :3], forward)
    heading = np.unwrap(np.arctan2(ahead[..., 0], ahead[..., 2]))
    stride = np.maximum(2.0 * style.step_length * style.size, LEAST)
    phase = np.zeros(stride.shape)
    if stride.shape[1] > 1:
        along = dot(np.diff(points, axis=1), ahead[:, 1:] + ahead[:, :-1])
        ways = np.where(along < 0.0, -1.0, 1.0) * path_ways(points)
        covered = np.cumsum(ways * 2.0 / (stride[:, 1:] + stride[:, :-1]), axis=1)
        # Rounded, or rounding errors of a root that stands where a foot lands would lift it.
        phase[:, 1:] = np.round(covered, 10) + 0.0
    return Track(points, heading, phase, stride)


@dataclass(frozen=True)
class Feet:
    """The N feet of each gait.

    Attributes:
        phases: at which share of a cycle each lands, later than the root's phase 0, shape (B, N).
        offsets: from the root's place on the ground to the foot as it stands: to the side, up and
            ahead, metres, shape (B, N, 3).
    """

    phases: Array
    offsets: Array


@dataclass(frozen=True)
class Walked:
    """Where feet are on each frame.

    Attributes:
        points: in the ground's axes, shape (B, N, F, 3).
        heading: radians about y, shape (B, N, F).
        swing: how far each is on its way through the air, 0 to 1; 0 while it stands, (B, N, F).
        phase: its own, cycles, (B, N, F): that of the root less the foot's, but where a swing
            ends on the ground since the root stands: it is in the middle of its swing as long as
            that rests, where a foot is neither on its toes nor on its heel.
    """

    points: Array
    heading: Array
    swing: Array
    phase: Array


def walked(way: Track, style: Style, feet: Feet, width: Array) -> Walked:
    """How feet walk along the ways of their roots.

    The frames of all feet of all figures are counted in one row of places, one foot behind the
    other.

    Args:
        way: of the roots.
        style: how they walk.
        feet: which feet.
        width: between the feet of both sides as they stand, metres: what ``style.width`` is
            counted from, shape (B,).
    """
    shape = (*feet.phases.shape, way.phase.shape[1])
    cycles = (way.phase[:, None] - feet.phases[..., None]).ravel()
    whole = np.floor(cycles)
    begins = np.diff(whole, prepend=whole[0]) != 0.0
    begins[:: shape[2]] = True
    starts, run = np.flatnonzero(begins), np.cumsum(begins) - 1
    runs = _Runs(way, style, feet, width, whole[starts], starts, run)
    stance, row = runs.stance, runs.row
    prints = runs.prints()
    ahead, here = runs.prints_ahead(prints), prints[run]
    air = np.clip((cycles - whole - stance[run]) / (1.0 - stance[run]), 0.0, 1.0)
    low, high = runs.rests(air)
    start, end, step = _ease(low), _ease(high), high - low
    part = np.clip(np.where(step > 0.0, air - low, 0.0) / np.where(step > 0.0, step, 1.0), 0.0, 1.0)
    made = here + (start + (end - start) * _ease(part))[:, None] * (ahead - here)
    lift = (style.lift * style.size).ravel()[row]
    made[:, 1] += lift * step * 16.0 * part**2 * (1.0 - part) ** 2
    level = (5.0 * stance[run] + 7.0) / 12.0
    leaves, lands = np.where(low > 0.0, level, stance[run]), np.where(high < 1.0, level, 1.0)
    cut = (air > 0.0) & ((low > 0.0) | (high < 1.0))
    phase = np.where(cut, whole + leaves + (lands - leaves) * part, cycles)
    swing = np.where((part > 0.0) & (part < 1.0), air, 0.0)
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
        whole: the cycle of each run, shape (R,).
        starts: the first place of each run, shape (R,).
        run: to which run each place belongs, shape (B * N * F,).
    """

    way: Track
    style: Style
    feet: Feet
    width: Array
    whole: Array
    starts: Rows
    run: Rows

    @cached_property
    def frames(self) -> int:
        """How many there are."""
        return len(self.way.phase[0])

    @cached_property
    def foot(self) -> Rows:
        """Whose each run is, counted through all figures, shape (R,)."""
        return self.starts // self.frames

    @cached_property
    def figure(self) -> Rows:
        """Whose foot that is, shape (R,)."""
        return np.asarray(self.foot // self.feet.phases.shape[1])

    @cached_property
    def first(self) -> Rows:
        """That figure's first row, shape (R,)."""
        return np.asarray(self.figure * self.frames)

    @cached_property
    def row(self) -> Rows:
        """The frame of each place, counted through all figures, shape (B * N * F,)."""
        place = np.arange(len(self.run))
        return np.asarray(place - (self.foot * self.frames - self.first)[self.run])

    @cached_property
    def stance(self) -> Array:
        """Which share of each run's cycle the foot stands, shape (R,)."""
        return np.clip(self.style.stance.ravel()[self.row[self.starts]], 0.05, 0.95)

    @cached_property
    def phase(self) -> Array:
        """The root's phase at each place, shape (B * N * F,)."""
        return np.asarray(self.way.phase.ravel()[self.row])

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
        (B * N * F,): from print to print, or, where the root stands meanwhile, down to the ground
        where it is then, and on from there: what is in between finishes as the root stops.

        Args:
            air: how far each place is in the swing of its cycle, 0 to 1.
        """
        phase, run, count = self.way.phase, self.run, len(self.run)
        still = np.abs(np.diff(phase)) <= STANDS
        ends = np.ones((len(phase), 1), dtype=bool)
        stands = np.hstack([ends, still]) & np.hstack([still, ends])
        stands = stands.ravel()[self.row]
        rises = (np.sign(phase[:, -1] - phase[:, 0]) >= 0.0)[self.figure]
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

    def _ends(self, step: int, rises: npt.NDArray[np.bool_]) -> Array:
        """At which end of its swing, 0 or 1, a foot goes on into the run beside each; beyond the
        first and the last as the root goes on the whole, shape (R,)."""
        other, there = self._beside(step)
        climbs = (self.whole[other] - self.whole) * step > 0.0
        return np.where(np.where(there, climbs, rises), float(step > 0), float(step < 0))

    def _middle(self, whole: Array) -> Array:
        """The root's phase in the middle of the stance of a cycle."""
        return np.asarray(whole + self.feet.phases.ravel()[self.foot] + self.stance / 2.0)

    def _first_least(self, values: Array) -> Rows:
        """For each run the first place at which a value is least, whether it is a number or not."""
        values = np.where(np.isnan(values), np.inf, values)
        least = np.minimum.reduceat(values, self.starts)
        places = np.flatnonzero(values == least[self.run])
        _, first = np.unique(self.run[places], return_index=True)
        return places[first]

    def _placed(self, wanted: Array, near: Rows) -> Array:
        """Where the foot stands when the root's phase passes a value, next to a place: x, y, z and
        heading, shape (R, 4). Beyond what the root covers there, straight ahead."""
        way, style, near = self.way, self.style, self.row[near]
        offset = self.feet.offsets.reshape(-1, 3)[self.foot]
        times, rest = self._passing(wanted, near)
        heading = self._between(way.heading, times)
        still = np.zeros(len(heading))
        ahead = np.stack([np.sin(heading), still, np.cos(heading)], axis=1)
        aside = np.stack([np.cos(heading), still, -np.sin(heading)], axis=1)
        size, width = self._between(style.size, times), self.width[self.figure]
        known = np.where(width > 0.0, width, 1.0)
        wide = np.where(width > 0.0, self._between(style.width, times) / known, 1.0)
        points = np.stack([self._between(way.points[..., n], times) for n in (0, 1, 2)], axis=1)
        stride = way.stride.ravel()[near]
        points += (rest * stride + offset[:, 2] * size)[:, None] * ahead
        points += (offset[:, 0] * wide * size)[:, None] * aside
        points[:, 1] += offset[:, 1] * size
        out = np.radians(self._between(style.turn_out, times)) * np.sign(offset[:, 0])
        return np.column_stack([points, heading + out])

    def _passing(self, wanted: Array, near: Rows) -> tuple[Array, Array]:
        """The times, in frames from the first, at which the root's phase passes values next to some
        rows, straight between frames; and what is left to go where it does not come so far, cycles.
        Each of shape (R,)."""
        phase, first = self.way.phase.ravel(), self.first
        here, frame = phase[near], near - first
        times, rest = frame.astype(float), wanted - here
        last = first + self.frames - 1
        for other in (np.maximum(near - 1, first), np.minimum(near + 1, last)):
            span = phase[other] - here
            reaches = (span != 0.0) & (rest * span > 0.0) & (np.abs(wanted - here) <= np.abs(span))
            share = np.where(reaches, (wanted - here) / np.where(span == 0.0, 1.0, span), 0.0)
            times = np.where(reaches, frame + share * (other - near), times)
            rest = np.where(reaches, 0.0, rest)
        return times, rest

    def _between(self, values: Array, times: Array) -> Array:
        """Numbers of each run's figure at times, in frames from the first, straight from one frame
        to the next, shape (R,)."""
        flat, before = values.ravel(), np.floor(times).astype(int)
        share = times - before
        low = flat[self.first + before]
        # On a frame, be it a figure's last, the next one plays no part.
        high = flat[self.first + np.minimum(before + 1, self.frames - 1)]
        return np.asarray(np.where(share == 0.0, low, low + share * (high - low)))
