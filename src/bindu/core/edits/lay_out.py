"""Scenes that are made of what a bake wrote out."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import replace

import numpy as np

from bindu.core.clips.baking import written
from bindu.core.curves.keys import with_keys
from bindu.core.curves.model import Array, Interpolation, Key
from bindu.core.edits import applied
from bindu.core.edits.base import Edit
from bindu.core.edits.channels import AddChannel, SetValue
from bindu.core.edits.keys import PutCurves
from bindu.core.edits.parts import AddPart
from bindu.core.edits.scene import ChangeScene
from bindu.core.edits.sets import PutMarker
from bindu.core.scene.bakes import Bake, Baked, Whole
from bindu.core.scene.channels import TRANSFORM_CHANNELS
from bindu.core.scene.model import Scene
from bindu.core.scene.names import LONGEST_NAME
from bindu.core.scene.parts import OwnChannel, Part, Shape

GONE = Part("", "", shape=Shape("axes", (0.3, 0.3, 0.3)))
"""How a part looks that is not in the bake's scene any more."""


def laid_out(scene: Scene, bake: Bake) -> Scene:
    """A scene of a bake's parts and curves, with keys where the bake has them, straight between
    them. Its parts and their own channels look as they do in the bake's scene.

    Args:
        scene: the bake's.

    Raises:
        Refusal: when the bake wrote nothing yet, or is spoiled.
    """
    made = written(bake)
    name = f"{scene.name} {bake.name}"[:LONGEST_NAME].strip()
    return replace(applied(Scene(), list(_edits(scene, made, name))), units=scene.units)


def _edits(scene: Scene, made: Baked, name: str) -> Iterator[Edit]:
    last = max(made.last, made.first + 1)
    yield ChangeScene(name=name, fps=made.fps, first=made.first, last=last)
    for n, part in enumerate(made.parts):
        seen = scene.parts.get(part.part, GONE)
        parent = None if part.parent is None else f"p{part.parent + 1}"
        yield AddPart(
            part.name, parent, part.role, seen.side, part.rest, part.rotation_order, seen.shape,
            id=f"p{n + 1}",
        )  # fmt: skip
        own = {channel.name: channel for channel in scene.channels_of.get(part.part, ())}
        for c, curve in enumerate(part.curves):
            if curve.channel in TRANSFORM_CHANNELS:
                yield _moved(f"p{n + 1}", curve.channel, *curve.unpacked())
            else:
                channel = own.get(curve.channel, OwnChannel("", "", curve.channel))
                channel = replace(channel, id=f"p{n + 1}c{c + 1}", part=f"p{n + 1}")
                yield from _own_moved(channel, *curve.unpacked())
    for frame, label in made.markers:
        yield PutMarker(frame, label)


def _moved(
    part: str, channel: str, frames: Array | Whole, values: Array, between: Interpolation = "linear"
) -> Edit:
    """Gives a channel its value, or keys where it has several."""
    if len(values) == 1:
        return SetValue(part, channel, float(values[0]))
    keys = [Key(float(f), float(v), between) for f, v in zip(frames, values, strict=True)]
    return PutCurves(part, ((channel, with_keys(None, keys)),))


def _own_moved(channel: OwnChannel, frames: Array | Whole, values: Array) -> Iterator[Edit]:
    """Adds an own channel and moves it. A switch or choice steps from frame to frame; where numbers
    do not fit it, it is a plain number, and so is a range that they leave none."""
    every = np.arange(frames[0], frames[-1] + 1)
    steps = np.interp(every, frames, values)
    most = {"switch": 1, "choice": len(channel.options) - 1}.get(channel.kind, -1)
    between: Interpolation = "linear"
    if np.isin(steps, np.arange(most + 1)).all():
        changes = np.flatnonzero(np.diff(steps, prepend=np.nan))
        frames, values, between = every[changes], steps[changes], "hold"
    elif channel.kind != "number":
        channel = replace(channel, kind="number", default=0.0, options=())
    low = -np.inf if channel.low is None else channel.low
    high = np.inf if channel.high is None else channel.high
    if values.min() < low or values.max() > high:
        channel = replace(channel, low=None, high=None)
    yield AddChannel(
        channel.part, channel.name, channel.kind, channel.default, channel.low, channel.high,
        channel.unit, channel.options, channel.id, channel.shows,
    )  # fmt: skip
    yield _moved(channel.part, channel.id, frames, values, between)
