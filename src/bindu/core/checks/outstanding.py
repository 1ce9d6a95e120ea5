"""Moves from a frame to the next that stand out, of many groups at once."""

from __future__ import annotations

from collections.abc import Iterator, Sequence

import numpy as np

from bindu.core.checks.motion import Moving
from bindu.core.curves.model import Array
from bindu.core.geometry.vectors import dot, length
from bindu.core.scene.parts import RotationOrder

AROUND = 10
"""How many frames on each side are a motion's surroundings."""
TOGETHER = 20_000
"""How many frames of parts are looked at together: what the nearest memory holds."""
BESIDE = 1.5
"""How many times the changes of speed next to it a jump is at least."""


def alike(
    places: Sequence[int], moving: Sequence[Moving], orders: Sequence[RotationOrder]
) -> Iterator[list[int]]:
    """The places of groups that are looked at together: as many as are quick to go through at once,
    of one rotation order where they are rotations."""
    by_order: dict[str, list[int]] = {}
    for n in places:
        by_order.setdefault(orders[n] if moving[n].group == "rotation" else "", []).append(n)
    for some in by_order.values():
        at_once = max(TOGETHER // max(moving[some[0]].frames, 1), 1)
        yield from (some[n : n + at_once] for n in range(0, len(some), at_once))


def standing_out(way: Array, times: float, least: float) -> Array:
    """By how much each move from a frame to the next stands out, 0 where it does not.

    Args:
        way: of B groups, shape (B, F - 1, 3).
        times: of the usual change of speed.
        least: in the unit of ``way``.

    Returns:
        Shape (B, F - 1).
    """
    out = np.zeros(way.shape[:2])
    if way.shape[1] < 3:
        return out
    changes = length(np.diff(way, axis=1))
    padded = np.pad(way, ((0, 0), (2, 2), (0, 0)), mode="edge")
    before, after = padded[:, 1:-3], padded[:, 3:-1]
    into, onward = before - padded[:, :-4], after - padded[:, 4:]
    foretold = (before, after, before + into, after + onward)
    apart = np.minimum.reduce([length(way - one) for one in foretold])
    # One that goes on as its neighbours lead is the beginning or the end of a motion.
    returns = dot(way - before, after - way) < 0.0
    # Where it goes and comes back, the change on one side is its own.
    beside = np.minimum(length(into), length(onward))
    for place, row in np.argwhere((apart > least) & returns & (apart > BESIDE * beside)):
        nearby = changes[place, max(row - AROUND, 0) : row + AROUND]
        if apart[place, row] > times * float(np.median(nearby)):
            out[place, row] = apart[place, row]
    return out
