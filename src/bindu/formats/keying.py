"""Keys for places and numbers that a file gives on its frames."""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np

from bindu.core.curves.keys import with_keys
from bindu.core.curves.model import Array, Curve, Key
from bindu.core.placing.place import channels_of_local, square
from bindu.core.scene.channels import DEFAULTS, TRANSFORM_CHANNELS
from bindu.core.scene.parts import Part

SAME = 1e-9
DEFAULT_ROW = np.array([DEFAULTS[channel] for channel in TRANSFORM_CHANNELS])


def channel_rows(part: Part, local: Array, scale: Array) -> Array:
    """The nine channels that give a part these places, shape (F, 9)."""
    near = np.broadcast_to(DEFAULT_ROW, (len(local), 9)).copy()
    near[:, 6:9] = np.where(scale < 0.0, -1.0, 1.0)
    nothing = scale == 0.0
    if np.any(nothing):
        # What is scaled to nothing keeps its axes for the turning.
        local = local.copy()
        flat = np.where(nothing[:, None, :], np.eye(3), local[..., :3])
        local[..., :3] = np.where(np.any(nothing, axis=1)[:, None, None], flat, local[..., :3])
    rows = channels_of_local(part, square(local), near, exact=False)
    rows[:, 6:9] = np.where(nothing, 0.0, rows[:, 6:9])
    return rows


def keys_on(frames: Array, values: Array, others: Sequence[Key] = ()) -> Curve:
    """A curve with a key on each frame, straight between them, and with these others."""
    keys = [Key(float(f), float(v), "linear") for f, v in zip(frames, values, strict=True)]
    return with_keys(None, [*others, *keys])
