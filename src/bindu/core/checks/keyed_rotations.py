"""Rotations that move by keys, for the checks of angles."""

from __future__ import annotations

from collections.abc import Iterator

import numpy as np

from bindu.core.checks.check import Looked
from bindu.core.checks.motion import ROTATION, Moving, moving_groups
from bindu.core.curves.model import Array
from bindu.core.evaluation import Evaluation
from bindu.core.evaluation.keyed import own_values
from bindu.core.scene.channels import ChannelRef
from bindu.core.scene.model import Scene


def keyed_rotations(evaluation: Evaluation, looked: Looked) -> Iterator[Moving]:
    """The rotations that move by keys, as they are after Driven."""
    yield from moving_groups(
        evaluation, looked, "rotation", "driven", turned_by_keys(evaluation.scene)
    )


def turned_by_keys(scene: Scene) -> tuple[str, ...]:
    """The parts whose rotation has keys of its own."""
    return tuple(dict.fromkeys(ref.part for ref in scene.curves if ref.channel in ROTATION))


def rotation_keys(scene: Scene, part: str) -> Array:
    """The frames on which a part's rotation has keys of its own, ascending."""
    curves = (scene.curves.get(ChannelRef(part, channel)) for channel in ROTATION)
    frames = [curve.frames for curve in curves if curve is not None]
    return np.unique(np.concatenate(frames)) if frames else np.zeros(0)


def made_of(scene: Scene, part: str, looked: Looked) -> tuple[str | float, ...]:
    """What a part's own angles are made of: curves by their digests, else values."""
    return looked.this_time(("angles of", part), lambda: tuple(_made_of(scene, part)))


def _made_of(scene: Scene, part: str) -> Iterator[str | float]:
    for channel in ROTATION:
        ref = ChannelRef(part, channel)
        curve = scene.curves.get(ref)
        yield curve.digest if curve else scene.set_value(ref)


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


def driven_angles(evaluation: Evaluation, part: str) -> Array:
    """The angles of a part after Driven, shape (F, 3)."""
    frames = len(evaluation.times.frames)
    columns = [evaluation.channel(ChannelRef(part, channel), "driven") for channel in ROTATION]
    return np.stack([np.broadcast_to(one, frames) for one in columns], axis=1)
