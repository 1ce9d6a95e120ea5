"""Displacing points along the normal, by waves or a noise.

Source of the noise: values on a lattice, mixed with the quintic 6t⁵ − 15t⁴ + 10t³ (K. Perlin,
Improving noise, SIGGRAPH 2002), so that its slope and bend are continuous.
"""

from __future__ import annotations

import numpy as np
import numpy.typing as npt

from bindu.core.curves.model import Array
from bindu.core.scene.settings import Vector
from bindu.core.scene.surfaces import WaveForm

CORNERS = np.array([(x, y, z) for x in (0, 1) for y in (0, 1) for z in (0, 1)])
MIX = 0x9E3779B97F4A7C15


def displaced(
    points: Array,
    normals: Array,
    form: WaveForm,
    axis: Vector,
    seed: int,
    amplitude: Array,
    length: Array,
    shift: Array,
) -> Array:
    """p + amplitude · d(p) · normal, with d between −1 and 1.

    Args:
        points, normals: shape (F, P, 3).
        form: waves: d = sin 2π(p·axis / length − shift); noise: d = n(p / length − shift · axis).
        axis: along which the waves go, or the noise drifts; its length does not count.
        seed: which noise.
        amplitude, length: metres, shape (F,) or (1,).
        shift: in lengths, shape (F,) or (1,).

    Returns:
        Shape (F, P, 3).
    """
    along = np.array(axis) / np.linalg.norm(axis)
    with np.errstate(divide="ignore", invalid="ignore", over="ignore"):
        if form == "waves":
            at = (points @ along) / length[:, None] - shift[:, None]
            # Whole turns are taken off first: far away they would cost digits.
            depth = np.sin(2.0 * np.pi * (at - np.floor(at)))
        else:
            drift = shift[:, None, None] * along
            depth = space_noise(points / length[:, None, None] - drift, seed)
        return np.asarray(points + (amplitude[:, None] * depth)[..., None] * normals)


def space_noise(at: Array, seed: int) -> Array:
    """A smooth noise through space, between −1 and 1: shape (…, 3) to (…)."""
    base = np.floor(at)
    within = at - base
    mix = within * within * within * (within * (within * 6.0 - 15.0) + 10.0)
    cell = np.where(np.isfinite(base), base, 0.0)
    cell = np.clip(cell, -(2.0**62), 2.0**62).astype(np.int64)
    total = np.zeros(at.shape[:-1])
    for corner in CORNERS:
        share = np.prod(np.where(corner == 1, mix, 1.0 - mix), axis=-1)
        total += share * _lattice(cell + corner, seed)
    return total


def _lattice(cell: npt.NDArray[np.int64], seed: int) -> Array:
    """A number between −1 and 1 for each place of a lattice, shape (…, 3) to (…).

    Source: the finalizer of SplitMix64 (G. Steele, D. Lea and C. Flood, 2014).
    """
    made = np.full(cell.shape[:-1], (seed * MIX + 1) % 2**64, dtype=np.uint64)
    for n in range(3):
        made = _scrambled(made ^ cell[..., n].astype(np.uint64))
    return np.asarray(made / np.float64(2**63) - 1.0)


def _scrambled(z: npt.NDArray[np.uint64]) -> npt.NDArray[np.uint64]:
    z = (z + np.uint64(MIX)).astype(np.uint64)
    z = (z ^ (z >> np.uint64(30))) * np.uint64(0xBF58476D1CE4E5B9)
    z = (z ^ (z >> np.uint64(27))) * np.uint64(0x94D049BB133111EB)
    return z ^ (z >> np.uint64(31))
