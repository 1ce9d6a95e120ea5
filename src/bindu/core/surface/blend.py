"""Blend shapes: offsets added to points."""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np

from bindu.core.curves.model import Array
from bindu.core.scene.surfaces import BlendShape
from bindu.core.surface.mesh import Sparse


def offsets_of(shapes: Sequence[BlendShape], cage: int) -> Array:
    """The offsets of shapes as one array, shape (S, P, 3), zero where they say nothing."""
    made = np.zeros((len(shapes), cage, 3))
    for n, shape in enumerate(shapes):
        for point, offset in shape.offsets:
            made[n, point] = offset
    return made


def blended(points: Array, shapes: Sequence[BlendShape], weights: Array, shares: Sparse) -> Array:
    """p + Σ weight · offset.

    Args:
        points: shape (F, P, 3).
        shapes: S of them, over the cage's points.
        weights: shape (S, F).
        shares: of which of the cage's points each point is made, shape (P, C): its offset is made
            the same way.

    Returns:
        Shape (F, P, 3).
    """
    offsets = offsets_of(shapes, shares.shape[1])
    made = np.stack([np.asarray(shares @ one) for one in offsets]) if len(shapes) else offsets
    return np.asarray(points + np.einsum("sf,spx->fpx", weights, made))
