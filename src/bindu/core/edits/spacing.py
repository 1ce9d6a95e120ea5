"""Ways evened out by true length."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal

import numpy as np

from bindu.core.curves.model import Array, Key
from bindu.core.curves.spacing import FINE, even_times
from bindu.core.curves.spans import with_span
from bindu.core.edits.base import found_part, unlocked
from bindu.core.evaluation.keyed import own_values
from bindu.core.refusal import Refusal
from bindu.core.scene.changes import with_curve
from bindu.core.scene.channels import AXES, ChannelRef
from bindu.core.scene.model import Scene


@dataclass(frozen=True)
class EvenSpacing:
    """Lets a part go the same way at one speed between two frames: its own position gets a key on
    each of them, at equal shares of the true length of its way in its parent."""

    part: str
    first: int
    last: int
    do: Literal["even spacing"] = "even spacing"

    def label(self, scene: Scene) -> str:
        """See ``Edit``."""
        return f"even out the way of {found_part(scene, self.part).name} {self.first} … {self.last}"

    def apply(self, scene: Scene) -> Scene:
        """See ``Edit``."""
        part = found_part(scene, self.part)
        if not scene.first <= self.first < self.last - 1 <= scene.last - 1:
            text = f"choose two frames of the range {scene.first} … {scene.last}, with one between."
            raise Refusal(text, code="number", place="first")
        refs = [ChannelRef(part.id, f"translation.{axis}") for axis in AXES]
        keyed = [ref for ref in refs if ref in scene.curves]
        if not keyed:
            text = "its position has no keys of its own to be evened out."
            raise Refusal(text, code="choice", place=part.name)
        count = self.last - self.first
        fine = self.first + np.arange(count * FINE + 1) / FINE
        times = even_times(_points(scene, refs, fine), self.first, count)
        points = _points(scene, refs, times)
        for n, ref in enumerate(refs):
            if ref not in scene.curves:
                continue
            unlocked(scene, ref)
            keys = [
                Key(float(self.first + row), float(value), "linear")
                for row, value in enumerate(points[:, n])
            ]
            span, shown = (self.first, self.last), (scene.first, scene.last)
            scene = with_curve(scene, ref, with_span(scene.curves[ref], span, keys, shown))
        return scene


def _points(scene: Scene, refs: list[ChannelRef], frames: Array) -> Array:
    """The own position, shape (N, 3)."""
    return np.stack([own_values(scene, ref, frames) for ref in refs], axis=1)
