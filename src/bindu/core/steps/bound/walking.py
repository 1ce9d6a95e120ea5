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

    @property
    def turns_back(self) -> bool:
        """Whether the root goes both forth and back."""
        ways = np.diff(self.phase)
        return bool((ways > STANDS).any() and (ways < -STANDS).any())


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
        phase[1:] = np.cumsum(ways * 2.0 / (stride[1:] + stride[:-1]))
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
    """

    points: Array
    heading: Array
    swing: Array


def walked(way: Track, style: Style, foot: Foot, width: float, rest_frames: int) -> Walked:
    """How a foot walks along a root's way.

    Args:
        way: of the root.
        style: how it walks.
        foot: which foot.
        width: between the feet of both sides as they stand, metres: what ``style.width`` is
            counted from.
        rest_frames: over how many frames a foot in the air comes down when the root stands.
    """
    cycles = way.phase - foot.phase
    whole = np.floor(cycles)
    starts = np.concatenate([[0], np.flatnonzero(np.diff(whole)) + 1])
    run = np.cumsum(np.isin(np.arange(len(cycles)), starts)) - 1
    stance = np.clip(style.stance[starts], 0.05, 0.95)
    share = cycles - whole
    prints = _prints(way, style, foot, width, whole[starts], stance, starts, run)
    ahead = _prints_ahead(way, style, foot, width, whole[starts], stance, starts, run, prints)
    air = np.clip((share - stance[run]) / (1.0 - stance[run]), 0.0, 1.0)
    eased = air * air * (3.0 - 2.0 * air)
    here = prints[run]
    made = here + eased[:, None] * (ahead - here)
    lift = style.lift * style.size * 16.0 * air**2 * (1.0 - air) ** 2
    made[:, 1] += lift * (1.0 - resting(way.phase, rest_frames))
    return Walked(made[:, :3], made[:, 3], air)


def resting(phase: Array, frames: int) -> Array:
    """How far feet in the air have come down since the root stands, 0 to 1, shape (F,). It eases in
    over so many frames from where the root stops, and out again from where it goes on; at the first
    and the last frame of the range it has come down already where the root stands there."""
    count = len(phase)
    if count < 2:
        return np.ones(count)
    still = np.abs(np.diff(phase)) <= STANDS
    stands = np.concatenate([[True], still]) & np.concatenate([still, [True]])
    at = np.arange(count)
    begins = stands & ~np.concatenate([[False], stands[:-1]])
    start = np.maximum.accumulate(np.where(begins, at, -1))
    down = np.where(start == 0, 1.0, _ease((at - start) / frames))
    last = np.maximum.accumulate(np.where(stands, at, -1))
    since = _ease((at - last) / frames)
    left = np.where(last >= 0, down[np.maximum(last, 0)] * (1.0 - since), 0.0)
    return np.where(stands, down, left)


def _ease(share: Array) -> Array:
    s = np.clip(share, 0.0, 1.0)
    return np.asarray(s * s * (3.0 - 2.0 * s))


def _prints(
    way: Track,
    style: Style,
    foot: Foot,
    width: float,
    whole: Array,
    stance: Array,
    starts: Rows,
    run: Rows,
) -> Array:
    """The print of each run of frames in one cycle: x, y, z and heading, shape (R, 4)."""
    wanted = whole + foot.phase + stance / 2.0
    apart = np.abs(way.phase - wanted[run])
    return _placed(way, style, foot, width, wanted, _first_where_least(apart, starts, run))


def _prints_ahead(
    way: Track,
    style: Style,
    foot: Foot,
    width: float,
    whole: Array,
    stance: Array,
    starts: Rows,
    run: Rows,
    prints: Array,
) -> Array:
    """For each frame the print that the foot lands on next, or comes from where the root goes
    back: of the run after or before, where that is the next cycle, else straight ahead."""
    wanted = whole + 1.0 + foot.phase + stance / 2.0
    nearest = _first_where_least(-way.phase, starts, run)
    virtual = _placed(way, style, foot, width, wanted, nearest)
    runs = np.arange(len(starts))
    after, before = np.minimum(runs + 1, runs[-1]), np.maximum(runs - 1, 0)
    leads = whole[after] == whole + 1.0
    came = whole[before] == whole + 1.0
    following = np.where(leads[:, None], prints[after], virtual)
    previous = np.where(came[:, None], prints[before], following)
    following = np.where((came & ~leads)[:, None], previous, following)
    lowest = _first_where_least(way.phase, starts, run)
    late = np.arange(len(run)) > lowest[run]
    return np.where(late[:, None], following[run], previous[run])


def _first_where_least(values: Array, starts: Rows, run: Rows) -> Rows:
    """For each run of frames the first row at which a value is least."""
    least = np.minimum.reduceat(values, starts)
    rows = np.flatnonzero(values == least[run])
    _, first = np.unique(run[rows], return_index=True)
    return rows[first]


def _placed(way: Track, style: Style, foot: Foot, width: float, wanted: Array, near: Rows) -> Array:
    """Where a foot stands when the root's phase passes a value, next to a row: x, y, z and heading,
    shape (R, 4). Beyond what the root covers there, straight ahead."""
    last = len(way.phase) - 1
    lower, upper = np.maximum(near - 1, 0), np.minimum(near + 1, last)
    here = way.phase[near]
    times, rest = near.astype(float), wanted - here
    for other in (lower, upper):
        span = way.phase[other] - here
        reaches = (span != 0.0) & (rest * span > 0.0) & (np.abs(wanted - here) <= np.abs(span))
        share = np.where(reaches, (wanted - here) / np.where(span == 0.0, 1.0, span), 0.0)
        times = np.where(reaches, near + share * (other - near), times)
        rest = np.where(reaches, 0.0, rest)
    rows = np.arange(last + 1)
    points = np.stack([np.interp(times, rows, way.points[:, n]) for n in (0, 1, 2)], axis=1)
    heading = np.interp(times, rows, way.heading)
    ahead = np.stack([np.sin(heading), np.zeros(len(heading)), np.cos(heading)], axis=1)
    points += (rest * way.stride[near])[:, None] * ahead
    aside = np.stack([np.cos(heading), np.zeros(len(heading)), -np.sin(heading)], axis=1)
    size = style.at("size", times)
    wide = style.at("width", times) / width if width > 0.0 else np.ones(len(times))
    points += (foot.offset[0] * wide * size)[:, None] * aside
    points += (foot.offset[2] * size)[:, None] * ahead
    points[:, 1] += foot.offset[1] * size
    out = np.radians(style.at("turn_out", times)) * np.sign(foot.offset[0])
    return np.column_stack([points, heading + out])
