"""Rotations that move by keys, for the checks of angles."""

from __future__ import annotations

from collections.abc import Iterator

import numpy as np

from bindu.core.checks.motion import ROTATION, Moving, moving_groups
from bindu.core.curves.model import Array
from bindu.core.evaluation import Evaluation
from bindu.core.evaluation.keyed import own_values
from bindu.core.scene.channels import ChannelRef
from bindu.core.scene.model import Scene


def keyed_rotations(evaluation: Evaluation) -> Iterator[Moving]:
    """The rotations that move by keys, as they are after Driven."""
    keyed = rotation_keys(evaluation.scene)
    for moving in moving_groups(evaluation, "rotation", "driven"):
        if moving.part in keyed:
            yield moving


def rotation_keys(scene: Scene) -> dict[str, set[float]]:
    """By part the frames on which its rotation has keys of its own."""
    found: dict[str, set[float]] = {}
    for ref, curve in scene.curves.items():
        if ref.channel in ROTATION:
            found.setdefault(ref.part, set()).update(curve.frames.tolist())
    return found


def angles_at(scene: Scene, part: str, frames: Array) -> Array:
    """The own angles of a part, shape (N, 3)."""
    columns = []
    for channel in ROTATION:
        ref = ChannelRef(part, channel)
        curve = scene.curves.get(ref)
        if curve is not None and np.array_equal(curve.frames, frames):
            columns.append(np.array([key.value for key in curve.keys]))
        else:
            columns.append(own_values(scene, ref, frames))
    return np.stack(columns, axis=1)
