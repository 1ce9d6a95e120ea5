"""Writing keyed rotations without jumps of their angles."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace
from typing import Literal

import numpy as np

from bindu.core.curves.keys import with_keys
from bindu.core.curves.model import Array, Curve, Key, Tangent
from bindu.core.edits.base import found_part
from bindu.core.edits.poses import named_parts
from bindu.core.evaluation.keyed import own_values
from bindu.core.geometry.continuity import Flags, without_jumps
from bindu.core.placing.place import refuse_locked
from bindu.core.placing.reordering import ROTATION, kinds_of, rewritten
from bindu.core.refusal import Refusal
from bindu.core.scene.changes import with_curve
from bindu.core.scene.channels import ChannelRef
from bindu.core.scene.model import Scene

SAME = 1e-9


@dataclass(frozen=True)
class MakeAnglesContinuous:
    """Writes the keyed rotations of parts so that no angle jumps by a turn, or flips, between
    neighbouring keys whose poses are near each other. The pose on every key stays; spins stay."""

    parts: tuple[str, ...]
    do: Literal["continuous angles"] = "continuous angles"

    def label(self, scene: Scene) -> str:
        """See ``Edit``."""
        return f"write the angles of {named_parts(scene, self.parts)} continuously"

    def apply(self, scene: Scene) -> Scene:
        """See ``Edit``."""
        made = scene
        for part in self.parts:
            made = _continuous(made, found_part(scene, part).id)
        if made is scene:
            raise Refusal("none of their angles jumps between keys.", code="choice")
        return made


def _continuous(scene: Scene, part: str) -> Scene:
    refs = [ChannelRef(part, channel) for channel in ROTATION]
    curves = [scene.curves.get(ref) for ref in refs]
    frames = np.array(sorted({key.frame for curve in curves if curve for key in curve.keys}))
    if len(frames) < 2:
        return scene
    order = scene.parts[part].rotation_order
    old = np.stack([own_values(scene, ref, frames) for ref in refs], axis=1)
    new, turned = without_jumps(old, order, frames)
    outside = next(curve for curve in curves if curve)
    for n, (ref, curve) in enumerate(zip(refs, curves, strict=True)):
        if np.abs(new[:, n] - old[:, n]).max() <= SAME:
            continue
        refuse_locked(scene, ref)
        back = turned if ref.channel[-1] == order[1] else np.zeros(len(frames), dtype=bool)
        scene = with_curve(scene, ref, _moved(curves, curve, outside, frames, new[:, n], back))
    return scene


def _moved(
    curves: Sequence[Curve | None],
    curve: Curve | None,
    outside: Curve,
    frames: Array,
    values: Array,
    back: Flags,
) -> Curve:
    """A curve with other values on its keys, each with its tangents, turned round where it goes
    back; one that has no key where others do is written anew."""
    if curve is None or len(curve.keys) < len(frames):
        return rewritten(curve or outside, frames, values, kinds_of(curves))
    keys = [
        _placed(key, float(value), bool(turn))
        for key, value, turn in zip(curve.keys, values, back, strict=True)
    ]
    return with_keys(replace(curve, keys=()), keys)


def _placed(key: Key, value: float, back: bool) -> Key:
    if not back:
        return replace(key, value=value)
    left, right = (Tangent(-one.angle, one.length) for one in (key.left, key.right))
    return replace(key, value=value, left=left, right=right)
