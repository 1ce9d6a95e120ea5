"""A change of where a part is on one frame, carried to other frames in the world."""

from __future__ import annotations

import numpy as np

from bindu.core.curves.model import Array
from bindu.core.evaluation import Evaluation, evaluated
from bindu.core.geometry.places import rotation_of
from bindu.core.geometry.rotation import between, inverse, product
from bindu.core.placing.own_channels import (
    Values,
    moved_to,
    rows_of,
    shifted,
    turned_to,
    world_above,
    world_of,
)
from bindu.core.scene.model import Scene
from bindu.core.scene.settings import Group

UNTURNED = np.array([[0.0, 0.0, 0.0, 1.0]])


def carried_in_world(
    base: Scene,
    before: Evaluation,
    after: Evaluation,
    part: str,
    row: int,
    share: Array,
    groups: set[Group],
) -> Values:
    """By how much the own translation and rotation of a part must change on each frame so that it
    moves there by as far, and turns about its origin by the turn, that it did on one frame, both
    counted in the world.

    Args:
        base: the scene that is changed, what carries the part included.
        before, after: the scene without and with the change on the one frame.
        part: the part.
        row: that frame, counted from the range's first one.
        share: by which share of the change it moves on each frame, shape (F,).
        groups: translation, rotation or both.

    Returns:
        The differences, each of shape (F,).
    """
    rows = np.arange(len(share))
    now = evaluated(base)
    old = world_of(before, part, rows)
    was, came = (rows_of(one.world(part), np.array([row])) for one in (before, after))
    above = world_above(now, part, rows)
    wanted = Values()
    if "translation" in groups:
        target = np.array(old)
        target[:, :, 3] += share[:, None] * (came - was)[..., 3]
        wanted |= moved_to(now, part, above, target, rows)
    if "rotation" in groups:
        turn = product(rotation_of(came), inverse(rotation_of(was)))
        some = between(UNTURNED, np.broadcast_to(turn, (len(share), 4)), share)
        wanted |= turned_to(now, part, above, product(some, rotation_of(old)), rows)
    still = np.zeros((len(rows), 3))
    own = Values()
    for group in groups:
        own |= shifted(now, part, group, still, rows)
    return {ref: np.asarray(values - own[ref]) for ref, values in wanted.items()}
