"""Bending by joints: linear blend skinning.

Source: N. Magnenat-Thalmann, R. Laperrière and D. Thalmann, Joint-dependent local deformations for
hand animation and object grasping, Graphics Interface (1988).
"""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np

from bindu.core.curves.model import Array
from bindu.core.scene.surfaces import JointWeights
from bindu.core.surface.mesh import Sparse


def weights_of(joints: Sequence[JointWeights], cage: int) -> Array:
    """The joints' weights as one array, shape (C, J), zero where they say nothing."""
    made = np.zeros((cage, len(joints)))
    for n, one in enumerate(joints):
        for point, weight in one.weights:
            made[point, n] = weight
    return made


def shared_out(weights: Array) -> Array:
    """Weights that sum to 1 for each point, shape (P, J); none where no joint holds a point."""
    total = weights.sum(axis=1, keepdims=True)
    return np.asarray(np.where(total > 0.0, weights / np.where(total > 0.0, total, 1.0), 0.0))


def bent(points: Array, joints: Sequence[JointWeights], motions: Array, shares: Sparse) -> Array:
    """Σ weight · motion · p; a point that no joint holds stays where it is.

    Args:
        points: shape (F, P, 3).
        joints: J of them, over the cage's points.
        motions: from where each joint rests to where it is, shape (J, F, 3, 4).
        shares: of which of the cage's points each point is made, shape (P, C): its weights are made
            the same way.

    Returns:
        Shape (F, P, 3).
    """
    weights = shared_out(np.asarray(shares @ weights_of(joints, shares.shape[1])))
    count = points.shape[1]
    held = weights.sum(axis=1) > 0.0
    matrices = np.einsum("pj,jfk->fpk", weights, motions.reshape(*motions.shape[:2], 12))
    blend = matrices.reshape(len(motions[0]), count, 3, 4)
    moved = np.einsum("fpij,fpj->fpi", blend[..., :3], points) + blend[..., 3]
    return np.asarray(np.where(held[:, None], moved, points))
