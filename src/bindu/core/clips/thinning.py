"""As few keys of a motion as a tolerance allows, each place in the world among it."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass

import numpy as np

from bindu.core.clips.motion import MotionClip, worlds_of
from bindu.core.curves.model import Array
from bindu.core.curves.thin import thinned
from bindu.core.geometry.rotation import between, matrices_of
from bindu.core.geometry.vectors import dot, length
from bindu.core.nodes.operation import Indices

FINEST = 2.0**-10
"""From which share of a tolerance on every frame stays."""
FILE_METRES, DEGREES_OF_A_METRE = 4e-6, 100.0
"""How far a file may be from a clip that leaves keys out, which is what a file's own numbers can
tell; and how many degrees count as a metre."""
Thin = Callable[[Sequence[int], Array], Array]
"""Thins parts, each within a tolerance, and says where they are then as seen from their parents,
shape (parts, F, 3, 4)."""


def within_tolerance(
    parents: Sequence[int | None], worlds: Array, tolerance: float, thin: Thin
) -> None:
    """Thins parts until each keeps its place in the world within a tolerance, metres: where one
    does not, it and all that carry it are thinned again, within half of what they had.

    Args:
        worlds: where the parts are, shape (P, F, 3, 4).
    """
    tolerances = np.full(len(parents), tolerance)
    finer, local = set(range(len(parents))), np.empty_like(worlds)
    while finer:
        some = sorted(finer)
        local[some] = thin(some, tolerances[some])
        made = worlds_of(parents, local)
        far = np.linalg.norm(made[..., 3] - worlds[..., 3], axis=-1).max(axis=1) > tolerance
        finer = {n for n in np.flatnonzero(far).tolist() if tolerances[n] > 0.0}
        for n in tuple(finer):
            above = parents[n]
            while above is not None:
                finer.add(above)
                above = parents[above]
        for n in finer:
            half = tolerances[n] / 2.0
            tolerances[n] = half if half >= FINEST * tolerance else 0.0


@dataclass(frozen=True)
class KeptFrames:
    """Which frames of a clip's parts stay, by part."""

    translation: list[Indices]
    rotation: list[Indices]
    scale: list[Indices]


def sparse(clip: MotionClip) -> KeptFrames:
    """The frames of a clip that a file needs which goes straight between places and turns evenly
    between rotations, to say the same as with all of them; all where the clip has no tolerance."""
    every = np.arange(len(clip.frames))
    kept = KeptFrames(*([every for _ in clip.parts] for _ in range(3)))
    if clip.tolerance == 0.0:
        return kept

    def thin(parts: Sequence[int], tolerances: Array) -> Array:
        for paths, values, thinner, unit in (
            (kept.translation, clip.translation, thinned_points, 1.0),
            (kept.rotation, clip.rotation, thinned_turns, DEGREES_OF_A_METRE),
            (kept.scale, clip.scale, thinned_points, 1.0),
        ):
            for part, places in zip(parts, thinner(values[parts], unit * tolerances), strict=True):
                paths[part] = places
        return np.stack([_drawn(clip, kept, part) for part in parts])

    parents = [part.parent for part in clip.parts]
    within_tolerance(parents, clip.worlds, FILE_METRES, thin)
    return kept


def _drawn(clip: MotionClip, kept: KeptFrames, part: int) -> Array:
    """Where a part is as seen from its parent when only some frames stay, shape (F, 3, 4)."""
    every, turn = np.arange(len(clip.frames)), kept.rotation[part]
    left = turn[np.clip(np.searchsorted(turn, every, "right") - 1, 0, max(len(turn) - 2, 0))]
    right = turn[np.minimum(np.searchsorted(turn, left) + 1, len(turn) - 1)]
    share = (every - left) / np.maximum(right - left, 1)
    turned = between(clip.rotation[part, left], clip.rotation[part, right], share)
    straight = [
        np.stack([np.interp(every, at, values[at, axis]) for axis in range(3)], axis=1)
        for at, values in (
            (kept.translation[part], clip.translation[part]),
            (kept.scale[part], clip.scale[part]),
        )
    ]
    linear = matrices_of(turned) * straight[1][:, None, :]
    return np.concatenate([linear, straight[0][..., None]], axis=-1)


def thinned_points(rows: Array, tolerances: Array) -> list[Indices]:
    """Which points of rows must stay, shape (N, F, 3), so that straight lines between them keep
    within tolerances of all, shape (N,); see ``thinned_rows``."""
    flat = rows.reshape(-1, 3)

    def apart(at: Indices, left: Indices, right: Indices, share: Array) -> Array:
        line = flat[left] + share[:, None] * (flat[right] - flat[left])
        return length(flat[at] - line)

    return thinned(rows.shape[0], rows.shape[1], tolerances, apart)


def thinned_turns(rows: Array, degrees: Array) -> list[Indices]:
    """The same for rows of quaternions, shape (N, F, 4), that turn evenly from one to the next."""
    flat = rows.reshape(-1, 4)

    def apart(at: Indices, left: Indices, right: Indices, share: Array) -> Array:
        made = between(flat[left], flat[right], share)
        made = np.where(dot(made, flat[at])[:, None] < 0.0, -made, made)
        return np.degrees(4.0 * np.arcsin(np.minimum(0.5 * length(made - flat[at]), 1.0)))

    return thinned(rows.shape[0], rows.shape[1], degrees, apart)
