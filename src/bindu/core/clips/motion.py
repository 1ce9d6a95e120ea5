"""Motion as every format holds it: parts, and where each is as seen from what carries it."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field

import numpy as np

from bindu.core.curves.model import Array
from bindu.core.geometry.places import inverted, within
from bindu.core.geometry.rotation import matrices_of, orthonormal, quaternions_of
from bindu.core.scene.parts import Role, RotationOrder


@dataclass(frozen=True)
class MotionPart:
    """A part of a clip.

    Attributes:
        parent: the place of what carries it, before it in the list; None: the world.
        rest: as seen from that, shape (3, 4).
    """

    name: str
    parent: int | None
    rest: Array
    role: Role = "joint"
    rotation_order: RotationOrder = "xyz"


@dataclass(frozen=True)
class MotionClip:
    """P parts on F frames.

    Attributes:
        fps: frames a second.
        frames: ascending, shape (F,); fractions where the file has them.
        translation: metres, shape (P, F, 3).
        rotation: quaternions x, y, z, w of length 1, without jumps of sign, shape (P, F, 4).
        scale: shape (P, F, 3).
        channels: the parts' own channels by ``part.channel``, shape (F,).
        events: frames and labels.
        tolerance: within which keys were left out of it, metres, degrees and factors; 0: none
            were.
    """

    name: str
    fps: float
    frames: Array
    parts: tuple[MotionPart, ...]
    translation: Array
    rotation: Array
    scale: Array
    channels: Mapping[str, Array] = field(default_factory=dict)
    events: tuple[tuple[float, str], ...] = ()
    tolerance: float = 0.0

    @property
    def local(self) -> Array:
        """Each part as seen from what carries it, shape (P, F, 3, 4)."""
        linear = matrices_of(self.rotation) * self.scale[..., None, :]
        return np.concatenate([linear, self.translation[..., None]], axis=-1)

    @property
    def worlds(self) -> Array:
        """Each part in the world, shape (P, F, 3, 4)."""
        return worlds_of([part.parent for part in self.parts], self.local)


def worlds_of(parents: Sequence[int | None], local: Array) -> Array:
    """Places in the world of parts that are given as seen from their parents, which come first,
    shape (P, F, 3, 4)."""
    made = np.empty_like(local)
    for n, parent in enumerate(parents):
        made[n] = local[n] if parent is None else within(made[parent], local[n])
    return made


def locals_of(parents: Sequence[int | None], worlds: Array) -> Array:
    """Places as seen from the parents, of parts in the world, shape (P, F, 3, 4); not finite below
    a parent that is scaled to nothing."""
    made = np.empty_like(worlds)
    for n, parent in enumerate(parents):
        if parent is None:
            made[n] = worlds[n]
            continue
        back = inverted(worlds[parent][..., :3])
        with np.errstate(invalid="ignore", over="ignore"):
            made[n, ..., :3] = back @ worlds[n][..., :3]
            moved = worlds[n][..., 3] - worlds[parent][..., 3]
            made[n, ..., 3] = (back @ moved[..., None])[..., 0]
    return made


def taken_apart(local: Array) -> tuple[Array, Array, Array]:
    """Translation (…, F, 3), quaternions (…, F, 4) and scale (…, F, 3) of places (…, F, 3, 4).

    A mirror is given to x; a shear is lost; an axis that has no length keeps the rotation of the
    frame before it, and where there is none, none at all.
    """
    scale = np.linalg.norm(local[..., :3], axis=-2)
    with np.errstate(invalid="ignore", divide="ignore"):
        turned, mirrored = orthonormal(
            local[..., :3] / np.where(scale > 0.0, scale, 1.0)[..., None, :]
        )
    whole = np.all(np.isfinite(turned), axis=(-2, -1)) & np.all(scale > 0.0, axis=-1)
    turned = np.where(whole[..., None, None], turned, np.eye(3))
    quaternions = quaternions_of(turned)
    shape = quaternions.shape
    flat, known = quaternions.reshape(-1, *shape[-2:]), whole.reshape(-1, shape[-2])
    made = np.array([_carried_on(q, k) for q, k in zip(flat, known, strict=True)])
    mirror = np.where(whole[..., None], mirrored, 1.0)
    return local[..., 3], made.reshape(shape), scale * mirror


def _carried_on(quaternions: Array, known: Array) -> Array:
    """Quaternions on frames, shape (F, 4), without jumps of sign, and with the last that is known
    in the place of those that are not."""
    rows = np.maximum.accumulate(np.where(known, np.arange(len(known)), -1))
    held = np.where(rows[:, None] >= 0, quaternions[rows], [0.0, 0.0, 0.0, 1.0])
    return same_signs(held)


def same_signs(quaternions: Array) -> Array:
    """Quaternions on frames, shape (F, 4), each with the sign that is nearer to the one before."""
    turns = np.einsum("fi,fi->f", quaternions[1:], quaternions[:-1]) < 0.0
    signs = np.concatenate([[1.0], np.where(np.cumsum(turns) % 2, -1.0, 1.0)])
    return np.asarray(quaternions * signs[:, None])


@dataclass(frozen=True)
class Gap:
    """How far apart two motions of the same parts are.

    Attributes:
        places: metres, the worst of each part, shape (P,).
        turns: degrees, of each part's axes, shape (P,).
        frames: where each part is farthest, places in the list of frames, shape (P,).
    """

    places: Array
    turns: Array
    frames: Array

    @property
    def worst(self) -> int:
        """The part that is farthest away."""
        return int(np.argmax(self.places)) if len(self.places) else 0


def gap_between(one: Array, other: Array) -> Gap:
    """How far apart two motions are, given as worlds, shape (P, F, 3, 4)."""
    with np.errstate(invalid="ignore"):
        away = np.linalg.norm(one[..., 3] - other[..., 3], axis=-1)
        lengths = [np.linalg.norm(m[..., :3], axis=-2, keepdims=True) for m in (one, other)]
        axes = [
            m[..., :3] / np.where(n > 0.0, n, 1.0)
            for m, n in zip((one, other), lengths, strict=True)
        ]
        across = np.linalg.norm(np.cross(axes[0], axes[1], axis=-2), axis=-2)
        along = np.einsum("...ij,...ij->...j", axes[0], axes[1])
        seen = (lengths[0] > 0.0)[..., 0, :] & (lengths[1] > 0.0)[..., 0, :]
        turns = np.where(seen, np.degrees(np.arctan2(across, along)), 0.0).max(axis=-1)
    away, turns = np.nan_to_num(away, nan=np.inf), np.nan_to_num(turns, nan=180.0)
    frames = np.argmax(away, axis=1) if away.shape[1] else np.zeros(len(away), dtype=int)
    return Gap(away.max(axis=1, initial=0.0), turns.max(axis=1, initial=0.0), frames)
