"""How evenly something goes along its way, and the times at which it would go evenly."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass

import numpy as np

from bindu.core.curves.model import Array

FINE = 32
"""Places looked at from each frame to the next, for a true length."""
EVEN = 0.1
"""By which share a frame's way may differ from the usual and still be even."""
MOSTLY = 0.7
"""On which share of its frames a motion is even that is meant to be."""
LEAST = 8
"""How many frames a motion has at least to have a spacing."""
STANDS = 3
"""From how many frames on something that does not move stands, and is no slow frame."""
STILL = 1e-9


@dataclass(frozen=True)
class EvenMotion:
    """A motion that is meant to be even: one of some frames of which most go the usual way within
    a tenth. How it starts and how it stops is no matter, and left out.

    Attributes:
        start, end: its rows among the ways, from … to before.
        usual: the median way.
    """

    start: int
    end: int
    usual: float


def even_motions(ways: Array, share: float) -> Iterator[EvenMotion]:
    """The motions that are meant to be even.

    Args:
        ways: from each frame to the next, at least 0, shape (F - 1,).
        share: by which share a way is off the usual one that does not belong to a start or stop.
    """
    for a, b in _stretches(ways):
        usual = float(np.median(ways[a:b]))
        off = np.abs(ways[a:b] - usual)
        if b - a < LEAST or usual <= 0.0 or np.mean(off <= EVEN * usual) < MOSTLY:
            continue
        steady = np.flatnonzero(off <= share * usual)
        yield EvenMotion(a + int(steady[0]), a + int(steady[-1]) + 1, usual)


def uneven(ways: Array, share: float) -> Array:
    """By which share of the usual way each frame's way stands out of a motion that is meant to be
    even: shape (F - 1,), 0 where it does not; see ``even_motions``."""
    out = np.zeros(len(ways))
    for one in even_motions(ways, share):
        off = ways[one.start : one.end] / one.usual - 1.0
        out[one.start : one.end] = np.where(np.abs(off) > share, off, 0.0)
    return out


def even_times(points: Array, start: float, frames: int) -> Array:
    """The times at which something has gone equal shares of its true length.

    Args:
        points: its places, ``FINE`` from each frame to the next, shape (FINE · frames + 1, D).
        start: the time of the first.
        frames: how many equal shares.

    Returns:
        Shape (frames + 1,), from ``start`` to ``start + frames``.
    """
    gone = np.concatenate([[0.0], np.cumsum(np.linalg.norm(np.diff(points, axis=0), axis=1))])
    at = start + np.arange(len(points)) / FINE
    # Where it stands, the first of the times at which it has gone so far.
    moves = np.concatenate([[True], np.diff(gone) > 0.0])
    moves[-1] = True
    return np.asarray(np.interp(np.linspace(0.0, gone[-1], frames + 1), gone[moves], at[moves]))


def _stretches(ways: Array) -> list[tuple[int, int]]:
    """The stretches of frames between stands, as rows from … to before."""
    still = np.concatenate([[False], ways <= STILL, [False]])
    edges = np.flatnonzero(np.diff(still.astype(int)))
    stands = [(a, b) for a, b in edges.reshape(-1, 2) if b - a >= STANDS or a == 0]
    found, start = [], 0
    for a, b in [*stands, (len(ways), len(ways))]:
        if a > start:
            found.append((start, int(a)))
        start = int(b)
    return found
