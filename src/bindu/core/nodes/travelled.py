"""Distance travelled and speed."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from bindu.core.curves.model import Array
from bindu.core.geometry.vectors import cross, length
from bindu.core.nodes.operation import OverTime, Running, Times
from bindu.core.nodes.running import KeptRunning


def path_ways(positions: Array) -> Array:
    """How far points go from each frame to the next, along their paths, shape (…, F - 1), metres.

    Each way is an arc: as bent as the circles through the frames around its two ends, on the
    average, but never more than twice the gentler one, so that a way beside a corner stays
    straight. Exact for straight paths, with corners on whole frames too, and for circles at an
    even speed.

    Args:
        positions: shape (…, F, 3).
    """
    steps = np.diff(positions, axis=-2)
    chords = length(steps)
    if chords.shape[-1] < 3:
        return chords
    # The curvature of the circle through three points: 2 sin of the turn over the third side.
    across = length(cross(steps[..., :-1, :], steps[..., 1:, :]))
    third = length(positions[..., 2:, :] - positions[..., :-2, :])
    sides = chords[..., :-1] * chords[..., 1:] * third
    bend = np.zeros((*chords.shape[:-1], chords.shape[-1] + 1))
    bend[..., 1:-1] = np.divide(2.0 * across, sides, out=np.zeros_like(across), where=sides > 1e-30)
    bend[..., 0], bend[..., -1] = bend[..., 1], bend[..., -2]
    gentler = np.minimum(bend[..., :-1], bend[..., 1:])
    mean = (bend[..., :-1] + bend[..., 1:]) / 2.0
    half = np.minimum(mean, 2.0 * gentler) * chords / 2.0
    half = np.clip(half, 0.0, 1.0)
    # Beyond a quarter turn between two frames the arc is only guessed at; it stays the chord.
    stretch = np.where(half < 0.7, np.arcsin(half) / np.where(half > 1e-9, half, 1.0), 1.0)
    return np.asarray(chords * np.where(half > 1e-9, stretch, 1.0))


@dataclass(frozen=True)
class Travelled(OverTime):
    """The true distance that a point has covered since the scene's first frame; see
    ``path_ways``."""

    @property
    def digest(self) -> str:
        """See ``Operation``."""
        return "travelled by arcs"

    def compute(self, inputs: Sequence[Array], times: Times) -> Array:
        """Shape (F,), metres; input: world position."""
        ways = np.zeros(len(times.frames))
        if len(inputs[0]) > 1:
            ways[1:] = path_ways(inputs[0])
        return np.cumsum(ways)

    def running(self) -> Running:
        """See ``OverTime``."""
        return _WayRunning(None)


@dataclass(frozen=True)
class TravelledAlong(OverTime):
    """The distance covered, counted backwards where the part moves against its own axis."""

    axis: int

    @property
    def digest(self) -> str:
        return f"travelled along {self.axis}"

    def compute(self, inputs: Sequence[Array], times: Times) -> Array:
        """Shape (F,), metres; input: world matrix."""
        ways = np.zeros(len(times.frames))
        matrix = inputs[0]
        if len(matrix) > 1:
            position, direction = matrix[:, :, 3], matrix[:, :, self.axis]
            ways[1:] = _signs(position, direction) * path_ways(position)
        return np.cumsum(ways)

    def running(self) -> Running:
        """See ``OverTime``."""
        return _WayRunning(self.axis)


class _WayRunning:
    """The way so far. Where the last frames' way bends is only known with the frame after, so
    the ways of the last rows are measured again with each frame."""

    ROWS = 6

    def __init__(self, axis: int | None) -> None:
        self._axis = axis
        self._settled, self._dropped = 0.0, False
        self._positions, self._directions = list[Array](), list[Array]()

    def following(self, inputs: Sequence[Array], times: Times) -> Array:
        row = inputs[0][0]
        self._positions.append(row if self._axis is None else row[:, 3])
        self._directions.append(row if self._axis is None else row[:, self._axis])
        ways = self._ways()
        # The first way of a row that is not the scene's first lacks its frame before.
        open_ways = ways[1:] if self._dropped else ways
        made = self._settled + open_ways.sum()
        if len(self._positions) > self.ROWS:
            self._settled += ways[1] if self._dropped else ways[:2].sum()
            self._dropped = True
            del self._positions[0], self._directions[0]
        return np.array([made])

    def _ways(self) -> Array:
        positions = np.array(self._positions)
        ways = path_ways(positions)
        if self._axis is None:
            return ways
        return _signs(positions, np.array(self._directions)) * ways


def _signs(positions: Array, directions: Array) -> Array:
    """Whether a point moves along a direction or against it, from each frame to the next."""
    ahead = directions[1:] + directions[:-1]
    return np.asarray(np.sign((np.diff(positions, axis=0) * ahead).sum(axis=1)))


@dataclass(frozen=True)
class Speed(OverTime):
    """How fast a point moves: its way since the frame before; on the first frame, its way to
    the next one, so that a motion that is already under way does not start from rest."""

    @property
    def digest(self) -> str:
        """See ``Operation``."""
        return "speed"

    def compute(self, inputs: Sequence[Array], times: Times) -> Array:
        """Shape (F,), metres a second; input: distance travelled."""
        ways = np.diff(inputs[0], prepend=inputs[0][:1])
        if len(ways) > 1:
            ways[0] = ways[1]
        return ways * times.fps

    def running(self) -> Running:
        """See ``OverTime``."""
        return KeptRunning(self._following)

    @staticmethod
    def _following(
        inputs: Sequence[Array], times: Times, before: Array | None
    ) -> tuple[Array, Array]:
        way = inputs[0] - (inputs[0] if before is None else before)
        return np.asarray(way * times.fps), inputs[0]
