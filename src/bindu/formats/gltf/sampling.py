"""Values of a glTF animation between its keys.

Source: Khronos Group, glTF 2.0 Specification (2021), appendix C: interpolation.
"""

from __future__ import annotations

from typing import Literal

import numpy as np

from bindu.core.clips.motion import same_signs
from bindu.core.curves.model import Array
from bindu.core.geometry.rotation import between
from bindu.core.nodes.operation import Indices
from bindu.core.refusal import Refusal

Interpolation = Literal["LINEAR", "STEP", "CUBICSPLINE"]


def sampled(
    times: Array, values: Array, kind: Interpolation, at: Array, path: str, place: str, width: int
) -> Array:
    """Values at times; before the first key and after the last they stay.

    Args:
        times: of the keys, ascending, seconds, shape (N,).
        values: shape (N, width), quaternions (N, 4); of cubic splines (3N, …): tangent in, value,
            tangent out of each key.
        at: seconds, shape (F,).
        width: how many numbers a value has.

    Raises:
        Refusal: when there are not as many values as times, or a rotation has no length.
    """
    count = len(times) * (3 if kind == "CUBICSPLINE" else 1)
    if values.shape != (count, width):
        text = f"{len(times)} times of a {path} want {count} rows of {width} numbers, "
        raise Refusal(text + f"not {values.shape[0]} of {values.shape[1]}.", place=place)
    keys = values if kind != "CUBICSPLINE" else values.reshape(-1, 3, width)[:, 1]
    turning = path == "rotation"
    if turning and np.any(np.linalg.norm(keys, axis=1) < 1e-6):
        raise Refusal("a rotation of length 0 is none.", code="number", place=place)
    at = np.clip(at, times[0], times[-1])
    left = np.clip(np.searchsorted(times, at + 1e-9, "right") - 1, 0, max(len(times) - 2, 0))
    right = np.minimum(left + 1, len(times) - 1)
    long = np.where(right > left, times[right] - times[left], 1.0)
    share = np.clip((at - times[left]) / long, 0.0, 1.0)[:, None]
    # A key is met within what its time can tell: a float32 of seconds.
    share = np.where(share < 1e-5, 0.0, np.where(share > 1.0 - 1e-5, 1.0, share))
    if kind == "STEP":
        made = np.where(share < 1.0, keys[left], keys[right])
    elif kind == "CUBICSPLINE":
        made = _spline(values.reshape(-1, 3, width), left, right, long[:, None], share)
    elif turning:
        unit = keys / np.linalg.norm(keys, axis=1, keepdims=True)
        made = between(unit[left], unit[right], share[:, 0])
    else:
        made = keys[left] + share * (keys[right] - keys[left])
    if not turning:
        return np.asarray(made)
    length = np.linalg.norm(made, axis=1, keepdims=True)
    return same_signs(np.where(length > 1e-9, made / np.where(length > 0, length, 1), keys[left]))


def _spline(values: Array, left: Indices, right: Indices, long: Array, t: Array) -> Array:
    """Cubic Hermite splines."""
    start, out = values[left, 1], long * values[left, 2]
    end, into = values[right, 1], long * values[right, 0]
    return np.asarray(
        (2 * t**3 - 3 * t**2 + 1) * start
        + (t**3 - 2 * t**2 + t) * out
        + (-2 * t**3 + 3 * t**2) * end
        + (t**3 - t**2) * into
    )
