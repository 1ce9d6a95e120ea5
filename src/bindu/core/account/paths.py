"""The way of a point on a part through the world or another part."""

from __future__ import annotations

import numpy as np

from bindu.core.curves.model import Array
from bindu.core.curves.spacing import uneven
from bindu.core.evaluation import Evaluation
from bindu.core.placing.place import inverted, square
from bindu.core.scene.settings import Vector

STANDS_OUT = 0.25
"""From which share of the usual way on a frame's way stands out."""


def part_path(evaluation: Evaluation, part: str, point: Vector, space: str | None) -> Array:
    """Where a point is on every frame, and where its way stands out.

    Args:
        evaluation: of the scene.
        part: the part that the point goes along with.
        point: in the part's own axes, metres.
        space: the part in whose axes the way is counted; None: the world.

    Returns:
        Shape (F, 4) or (1, 4): metres along x, y, z; and by which share of the usual way the way
        to this frame stands out of an even motion, 0 where it does not.

    Raises:
        Refusal: where the other part is scaled to nothing.
    """
    world = evaluation.world(part)
    points = world[:, :, :3] @ np.array(point) + world[:, :, 3]
    if space is not None:
        back = inverted(square(evaluation.world(space)), evaluation.scene.parts[space].name)
        points = np.einsum("fij,fj->fi", back[:, :3, :3], points) + back[:, :3, 3]
    out = uneven(np.linalg.norm(np.diff(points, axis=0), axis=1), STANDS_OUT)
    return np.column_stack([points, np.concatenate([np.zeros(1), out])])
