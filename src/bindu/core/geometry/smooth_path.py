"""A smooth path through points, measured by its true length."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from functools import cached_property

import numpy as np

from bindu.core.curves.model import Array

PIECES = 16
"""Into how many pieces each way between two points is cut at first to measure it."""
TOLERANCE = 1e-12
"""The share of the path's length by which halving a piece may still change its length; pieces that
it changes more are halved again."""
MOST_HALVINGS = 24
_NODES, _WEIGHTS = np.polynomial.legendre.leggauss(5)


@dataclass(frozen=True)
class SmoothPath:
    """Cubic ways between neighbouring points.

    Attributes:
        cubics: the coefficients of 1, s, s², s³ of each way, s from 0 to 1, shape
            (N, ways, 4, 3); N is 1 where the points stand still.
    """

    cubics: Array

    @cached_property
    def _pieces(self) -> tuple[Array, Array]:
        """Where each piece begins (way and s as one number), and the last one ends, shape
        (P + 1,); and the length up to there, from 0, shape (N, P + 1)."""
        ways = self.cubics.shape[1]
        starts = np.arange(ways * PIECES) / PIECES
        widths = np.full(len(starts), 1.0 / PIECES)
        done: list[tuple[Array, Array]] = []
        whole = self._piece_lengths(starts, widths)
        bound = TOLERANCE * np.maximum(whole.sum(axis=1, keepdims=True), 1e-300)
        for _ in range(MOST_HALVINGS):
            widths = widths / 2.0
            halves = np.stack([starts, starts + widths], axis=1).ravel()
            twice = np.repeat(widths, 2)
            parts = self._piece_lengths(halves, twice)
            sums = parts[:, 0::2] + parts[:, 1::2]
            coarse = np.any(np.abs(sums - whole) > bound, axis=0)
            done.append((starts[~coarse], sums[:, ~coarse]))
            if not coarse.any():
                break
            again = np.repeat(coarse, 2)
            starts, widths, whole = halves[again], twice[again], parts[:, again]
        else:
            done.append((starts, whole))
        edges = np.concatenate([edge for edge, _ in done])
        order = np.argsort(edges)
        lengths = np.concatenate([length for _, length in done], axis=1)[:, order]
        sums = np.concatenate([np.zeros((len(lengths), 1)), np.cumsum(lengths, axis=1)], axis=1)
        return np.append(edges[order], float(ways)), sums

    @property
    def lengths(self) -> Array:
        """The length up to the end of each piece, from 0, shape (N, P + 1), metres."""
        return self._pieces[1]

    def _piece_lengths(self, starts: Array, widths: Array) -> Array:
        """The lengths of pieces, by Gauss's rule with five nodes, shape (N, P)."""
        way = np.minimum(starts.astype(int), self.cubics.shape[1] - 1)
        s = (starts - way)[:, None] + widths[:, None] * (_NODES + 1.0) / 2.0
        powers = np.stack([np.ones_like(s), 2.0 * s, 3.0 * s**2])
        speeds = np.einsum("npkx,kpg->npgx", self.cubics[:, way, 1:], powers)
        return np.asarray((np.linalg.norm(speeds, axis=3) * _WEIGHTS).sum(axis=2) * widths / 2.0)

    def at_share(self, share: Array) -> Array:
        """Where a share of the whole length ends: way and s as one number, shape (N,).

        The piece is looked up, and the place in it found by Newton's method.
        """
        frames = max(len(share), len(self.cubics))
        edges, lengths = self._pieces
        wanted = np.broadcast_to(share, frames) * lengths[:, -1]
        if len(lengths) == 1:
            piece = np.searchsorted(lengths[0, 1:-1], wanted, side="right")
        else:
            piece = (lengths[:, 1:-1] <= wanted[:, None]).sum(axis=1)
        rows = np.arange(frames) if len(lengths) > 1 else np.zeros(frames, dtype=int)
        start, end = lengths[rows, piece], lengths[rows, piece + 1]
        with np.errstate(divide="ignore", invalid="ignore"):
            part = np.where(end > start, (wanted - start) / (end - start), 0.0)
        way = np.minimum(edges[piece].astype(int), self.cubics.shape[1] - 1)
        cubic = self.cubics[rows, way]
        low, high = edges[piece] - way, edges[piece + 1] - way
        s = low + part * (high - low)
        for _ in range(8):
            speed = np.linalg.norm(_slope(cubic, s), axis=1)
            over = _length(cubic, low, s) - (wanted - start)
            with np.errstate(divide="ignore", invalid="ignore"):
                s = s - np.where(speed > 0.0, over / speed, 0.0)
            s = np.clip(s, low, high)
        return np.asarray(way + s)

    def positions(self, places: Array) -> Array:
        """Positions, shape (N, 3), at places as ``at_share`` gives them."""
        cubic, s = self._at(places)
        powers = np.stack([np.ones_like(s), s, s**2, s**3], axis=1)
        return np.asarray((cubic * powers[:, :, None]).sum(axis=1))

    def directions(self, places: Array) -> Array:
        """The derivatives along the path, shape (N, 3); 0 where two points are the same."""
        return _slope(*self._at(places))

    def _at(self, places: Array) -> tuple[Array, Array]:
        way = np.minimum(places.astype(int), self.cubics.shape[1] - 1)
        rows = np.arange(len(places)) if len(self.cubics) > 1 else np.zeros(len(places), dtype=int)
        return self.cubics[rows, way], places - way


def smooth_path(points: Sequence[Array], closed: bool) -> SmoothPath:
    """The path through points: a Catmull-Rom curve with centripetal knots, which makes no loops
    or cusps between close points (C. Yuksel, S. Schaefer, J. Keyser, "Parameterization and
    applications of Catmull-Rom curves", CAD 43, 2011).

    Args:
        points: at least two, each of shape (N, 3) or (1, 3).
        closed: whether it returns to the first point.
    """
    given = np.stack(np.broadcast_arrays(*points), axis=1)
    if closed:
        given = np.concatenate([given[:, -1:], given, given[:, :2]], axis=1)
    else:
        first = 2.0 * given[:, :1] - given[:, 1:2]
        last = 2.0 * given[:, -1:] - given[:, -2:-1]
        given = np.concatenate([first, given, last], axis=1)
    chords = np.diff(given, axis=1)
    knots = np.maximum(np.sqrt(np.linalg.norm(chords, axis=2)), 1e-6)[:, :, None]
    slopes = chords / knots
    across = (given[:, 2:] - given[:, :-2]) / (knots[:, :-1] + knots[:, 1:])
    tangents = slopes[:, :-1] - across + slopes[:, 1:]
    start, end, width = given[:, 1:-2], given[:, 2:-1], knots[:, 1:-1]
    out, into = tangents[:, :-1] * width, tangents[:, 1:] * width
    way = end - start
    cubics = np.stack([start, out, 3.0 * way - 2.0 * out - into, out + into - 2.0 * way], axis=2)
    return SmoothPath(cubics)


def _slope(cubic: Array, s: Array) -> Array:
    powers = np.stack([np.ones_like(s), 2.0 * s, 3.0 * s**2], axis=1)
    return np.asarray((cubic[:, 1:] * powers[:, :, None]).sum(axis=1))


def _length(cubic: Array, start: Array, end: Array) -> Array:
    half = (end - start) / 2.0
    s = start[:, None] + half[:, None] * (_NODES + 1.0)
    powers = np.stack([np.ones_like(s), 2.0 * s, 3.0 * s**2], axis=1)
    slopes = np.einsum("nkx,nkg->ngx", cubic[:, 1:], powers)
    return np.asarray((np.linalg.norm(slopes, axis=2) * _WEIGHTS).sum(axis=1) * half)
