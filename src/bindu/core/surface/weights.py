"""How far each joint holds each of a cage's points: by distance, smoothed, set by hand."""

from __future__ import annotations

from collections.abc import Collection, Sequence

import numpy as np

from bindu.core.curves.model import Array
from bindu.core.placing.place import rest_world
from bindu.core.refusal import Refusal
from bindu.core.scene.model import Scene
from bindu.core.scene.surfaces import JointWeights, Surface
from bindu.core.surface.bend import shared_out, weights_of
from bindu.core.surface.mesh import mesh_of

MOST_HOLDERS = 4
"""By how many joints a point is held at most where weights come from distance: what the open
formats of skins hold without more ado."""
NEAR = 1e-6


def by_distance(scene: Scene, surface: Surface, joints: Sequence[str]) -> tuple[JointWeights, ...]:
    """Weights that fall with the fourth power of the distance from each joint's bone: the line from
    where it rests to where those of the joints rest that hang on it, or the joint itself."""
    points = _resting(scene, surface)
    distances = np.stack([_from_bone(scene, one, joints, points) for one in joints], axis=1)
    weights = 1.0 / (distances + NEAR) ** 4
    if len(joints) > MOST_HOLDERS:
        least = np.sort(weights, axis=1)[:, -MOST_HOLDERS][:, None]
        weights = np.where(weights >= least, weights, 0.0)
    return joint_weights(joints, shared_out(weights))


def smoothed(
    surface: Surface, joints: Sequence[JointWeights], rounds: int
) -> tuple[JointWeights, ...]:
    """Weights mixed half and half with the mean of those of the neighbours, some times over."""
    near = mesh_of(len(surface.points), surface.faces).neighbours
    count = np.asarray(near.sum(axis=1)).reshape(-1, 1)
    weights = shared_out(weights_of(joints, len(surface.points)))
    for _ in range(rounds):
        weights = 0.5 * weights + 0.5 * np.asarray(near @ weights) / np.maximum(count, 1.0)
    return joint_weights([one.joint for one in joints], shared_out(weights))


def set_by_hand(
    surface: Surface,
    joints: Sequence[JointWeights],
    joint: str,
    points: Collection[int],
    weight: float,
) -> tuple[JointWeights, ...]:
    """Weights where one joint holds some points as far as one says, and the others share the rest
    as they did before.

    Raises:
        Refusal: where the rest would be held by nobody, for no other joint holds the point.
    """
    names = [one.joint for one in joints]
    chosen = names.index(joint)
    weights = shared_out(weights_of(joints, len(surface.points)))
    rows = sorted(points)
    others = weights[rows]
    others[:, chosen] = 0.0
    rest = others.sum(axis=1)
    if weight < 1.0 and weight > 0.0 and np.any(rest <= 0.0):
        name = f"point {rows[int(np.argmax(rest <= 0.0))]}"
        text = "no other joint holds it, so that this one holds it wholly. "
        text += "Give it to another joint first, or smooth the weights."
        raise Refusal(text, code="choice", place=name)
    with np.errstate(invalid="ignore", divide="ignore"):
        shares = np.where(rest[:, None] > 0.0, others / rest[:, None], 0.0)
    weights[rows] = shares * (1.0 - weight)
    weights[rows, chosen] = weight
    return joint_weights(names, weights)


def joint_weights(joints: Sequence[str], weights: Array) -> tuple[JointWeights, ...]:
    """Weights as they are kept: nothing of what is less than a millionth."""
    made = []
    for n, joint in enumerate(joints):
        held = np.flatnonzero(weights[:, n] > 1e-6).tolist()
        made.append(JointWeights(joint, tuple((p, round(float(weights[p, n]), 9)) for p in held)))
    return tuple(made)


def _resting(scene: Scene, surface: Surface) -> Array:
    """Where the cage's points rest in the world, shape (P, 3)."""
    rest = rest_world(scene, surface.part)
    return np.asarray(np.array(surface.points) @ rest[:, :3].T + rest[:, 3])


def _from_bone(scene: Scene, joint: str, joints: Sequence[str], points: Array) -> Array:
    """How far points are from a joint's bone, shape (P,)."""
    start = rest_world(scene, joint)[:, 3]
    found = [float("inf") * np.ones(len(points))]
    below = [one for one in joints if scene.parts[one].parent == joint]
    for end in [rest_world(scene, one)[:, 3] for one in below] or [start]:
        way = end - start
        size = float(way @ way)
        share = np.clip((points - start) @ way / size, 0.0, 1.0) if size > 0.0 else 0.0
        nearest = start + np.multiply.outer(np.broadcast_to(share, len(points)), way)
        found.append(np.linalg.norm(points - nearest, axis=1))
    return np.asarray(np.min(found, axis=0))
