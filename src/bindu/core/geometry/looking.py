"""Turning one axis to a direction and another one up, without a flip at the poles."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from bindu.core.curves.model import Array
from bindu.core.geometry.rotation import product, quaternions_of
from bindu.core.geometry.vectors import columns_of, cross, dot, length, normalized, where_finite
from bindu.core.scene.settings import Vector

POLE = 1e-7
"""Sine of the angle between aim and up below which up says nothing."""


@dataclass(frozen=True)
class KeptSide:
    """Where something looked last, and the side that it kept: directions of shape (3,)."""

    direction: Array
    side: Array


def looking(
    directions: Array, ups: Array, axis: Vector, up_axis: Vector, before: KeptSide | None = None
) -> tuple[Array, KeptSide] | None:
    """Rotations that turn ``axis`` to directions, and ``up_axis`` as near up as can be.

    The side (direction times up) is carried from frame to frame by the least turn, and where
    the one that up asks for is more than a quarter turn from that, the opposite one is taken: so
    a direction that passes over the pole goes on without a flip. At the pole itself the side is
    that of the frame before.

    Args:
        directions, ups: shape (N, 3) or (1, 3), not of length 0.
        axis, up_axis: in the own axes of what is turned.
        before: what was kept before the first of these frames.

    Returns:
        Quaternions, shape (N, 4), and what is kept for the frames that follow; None where up lies
        along the direction on all frames so far.
    """
    directions, ups = np.broadcast_arrays(normalized(directions), normalized(ups))
    sides = cross(directions, ups)
    lengths = length(sides)
    with np.errstate(divide="ignore", invalid="ignore"):
        sides = sides / lengths[:, None]
    good = lengths > POLE
    if before is not None:
        directions = np.concatenate([before.direction[None], directions])
        sides = np.concatenate([before.side[None], sides])
        good = np.concatenate([[True], good])
    if not good.any():
        return None
    at = np.flatnonzero(good)
    kept = sides[at]
    carried = _carried(kept[:-1], directions[at[:-1]], directions[at[1:]])
    flips = np.where(dot(carried, kept[1:]) < 0.0, -1.0, 1.0)
    kept[1:] *= np.cumprod(flips)[:, None]
    # Frames at the pole take the side of the good frame before, or of the first good one.
    earlier = np.maximum(np.searchsorted(at, np.arange(len(good)), side="right") - 1, 0)
    filled = kept[earlier]
    filled = normalized(filled - dot(filled, directions)[:, None] * directions)
    made = product(_frame(directions, filled), _inverse_own(axis, up_axis))
    return made if before is None else made[1:], KeptSide(directions[at[-1]], kept[-1])


def looking_all_along(directions: Array, ups: Array, axis: Vector, up_axis: Vector) -> Array | None:
    """The same as ``looking`` for several things at once, where up says something on all frames;
    else None.

    Args:
        directions, ups: shape (B, N, 3) or (B, 1, 3).
        axis, up_axis: in the own axes of all of them.

    Returns:
        Quaternions, shape (B, N, 4).
    """
    directions, ups = np.broadcast_arrays(normalized(directions), normalized(ups))
    sides = cross(directions, ups)
    lengths = length(sides)
    if not np.all(lengths > POLE):
        return None
    sides = sides / lengths[..., None]
    carried = _carried(sides[:, :-1], directions[:, :-1], directions[:, 1:])
    flips = np.where(dot(carried, sides[:, 1:]) < 0.0, -1.0, 1.0)
    sides[:, 1:] *= np.cumprod(flips, axis=-1)[..., None]
    filled = normalized(sides - dot(sides, directions)[..., None] * directions)
    return product(_frame(directions, filled), _inverse_own(axis, up_axis))


def least_turn(directions: Array, turned: Array, rotation: Array) -> Array:
    """Rotations whose axis looks along directions, by the least turn from what they are.

    Args:
        directions: shape (…, 3).
        turned: where the axis looks now, shape (…, 3).
        rotation: what is turned, quaternions, shape (…, 4).
    """
    directions, turned = np.broadcast_arrays(normalized(directions), normalized(turned))
    cosine = dot(directions, turned)
    axis = cross(turned, directions)
    # Opposite ways have no least turn: any axis across will do, always the same one.
    across = cross(turned, np.eye(3)[np.argmin(np.abs(turned), axis=-1)])
    opposite = np.asarray(cosine < -1.0 + 1e-12)
    arc = np.concatenate([axis, 1.0 + cosine[..., None]], axis=-1)
    arc[opposite, :3], arc[opposite, 3] = across[opposite], 0.0
    arc /= length(arc)[..., None]
    return product(arc, rotation)


def _carried(sides: Array, start: Array, end: Array) -> Array:
    """Sides after the least turn that takes one direction to another."""
    total = start + end
    along = dot(end, sides) / np.maximum(1.0 + dot(start, end), 1e-12)
    return np.asarray(sides - along[..., None] * total)


def _frame(directions: Array, sides: Array) -> Array:
    """Quaternions of the axes direction, up, side; not finite where they are not."""
    axes = columns_of([directions, cross(sides, directions), sides])
    bad = ~where_finite(axes, 2)
    made = quaternions_of(np.where(bad[..., None, None], np.eye(3), axes))
    made[bad] = np.nan
    return made


def _inverse_own(axis: Vector, up_axis: Vector) -> Array:
    own = normalized(np.array([axis]))
    side = normalized(cross(own, np.array([up_axis])))
    return _frame(own, side) * (-1.0, -1.0, -1.0, 1.0)
