"""Rotations written as angles, written again in another rotation order."""

from __future__ import annotations

from collections.abc import Mapping, Sequence

import numpy as np

from bindu.core.curves.keys import with_keys
from bindu.core.curves.model import Array, Curve, Interpolation, Key
from bindu.core.geometry.angles import nearest_angles
from bindu.core.geometry.rotation import angles_quaternion
from bindu.core.scene.channels import AXES
from bindu.core.scene.parts import RotationOrder
from bindu.core.scene.settings import Vector

ROTATION = tuple(f"rotation.{axis}" for axis in AXES)


def angles_in_order(angles: Array, old: RotationOrder, new: RotationOrder) -> Array:
    """The same rotations as angles in another order, without false jumps, shape (N, 3)."""
    if old == new:
        return angles
    return nearest_angles(angles_quaternion(angles, old), new, angles[0])


def vector_in_order(angles: Vector, old: RotationOrder, new: RotationOrder) -> Vector:
    """One rotation as angles in another order."""
    if old == new or not any(angles):
        return angles
    x, y, z = (float(v) for v in angles_in_order(np.array([angles]), old, new)[0])
    return x, y, z


def kinds_of(curves: Sequence[Curve | None]) -> Mapping[float, Interpolation]:
    """The kinds of the segments behind the keys of some curves, by frame; the last curve that has
    a key there says which."""
    return {key.frame: key.interpolation for c in curves if c for key in c.keys}


def rewritten(
    outside: Curve, frames: Array, values: Array, kinds: Mapping[float, Interpolation]
) -> Curve:
    """A curve with these values on frames, its segments of these kinds or else linear; before and
    after its keys it goes on as another one."""
    keys = [
        Key(float(f), float(v), kinds.get(float(f), "linear"))
        for f, v in zip(frames, values, strict=True)
    ]
    return with_keys(Curve((), outside.before, outside.after), keys)
