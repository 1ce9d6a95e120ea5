"""Clips at any time, and poses on the way from one to another."""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np

from bindu.core.clips.motion import MotionClip, taken_apart
from bindu.core.curves.model import Array
from bindu.core.geometry.rotation import between, matrices_of
from bindu.receiver.moving import length_of

Pose = tuple[Array, Array, Array]
"""Translation (P, F, 3), rotation (P, F, 4) and scale (P, F, 3) as seen from the parents."""


class Sampler:
    """A clip at any time."""

    def __init__(self, clip: MotionClip, names: Sequence[str], rests: Array, once: bool) -> None:
        self.clip, self.once = clip, once
        self.length = length_of(clip)
        have = {part.name: n for n, part in enumerate(clip.parts)}
        self._rows = [have.get(name) for name in names]
        self._rests = taken_apart(rests[:, None])
        self.parts = tuple(n for n, row in enumerate(self._rows) if row is not None)

    def at(self, seconds: Array) -> Pose:
        """The pose at times since its beginning: it goes round, or stays at its end."""
        if self.length <= 0.0:
            inside = np.zeros(len(seconds))
        elif self.once:
            inside = np.clip(seconds, 0.0, self.length)
        else:
            # The last frame is the first one of the next round.
            inside = np.mod(seconds, self.length)
        row = inside * self.clip.fps
        left = np.clip(np.floor(row + 1e-9).astype(int), 0, len(self.clip.frames) - 1)
        right = np.minimum(left + 1, len(self.clip.frames) - 1)
        share = np.clip(row - left, 0.0, 1.0)
        share = np.where(share < 1e-9, 0.0, share)
        shape = (len(self._rows), len(seconds))
        made = tuple(np.empty((*shape, one.shape[-1])) for one in self._rests)
        for n, own in enumerate(self._rows):
            for values, clip, rest in zip(
                made, (self.clip.translation, self.clip.rotation, self.clip.scale), self._rests,
                strict=True,
            ):  # fmt: skip
                if own is None:
                    values[n] = rest[n]
                elif clip.shape[-1] == 4:
                    values[n] = between(clip[own, left], clip[own, right], share)
                else:
                    a, b = clip[own, left], clip[own, right]
                    values[n] = a + share[:, None] * (b - a)
        return made[0], made[1], made[2]


def mixed(one: Pose, other: Pose, share: Array) -> Pose:
    """A pose on the way from one to another, by shares (F,)."""
    t = share[None, :, None]
    every = np.broadcast_to(share, one[1].shape[:2])
    return (
        one[0] + t * (other[0] - one[0]),
        between(one[1], other[1], every),
        one[2] + t * (other[2] - one[2]),
    )


def matrices(pose: Pose) -> Array:
    """Places of a pose, shape (P, F, 3, 4)."""
    linear = matrices_of(pose[1]) * pose[2][..., None, :]
    return np.concatenate([linear, pose[0][..., None]], axis=-1)
