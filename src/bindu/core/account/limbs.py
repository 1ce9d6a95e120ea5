"""What there is to say of a limb: how it meets its goal, how far FK and IK are apart, and when it
goes from one to the other."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass

import numpy as np

from bindu.core.curves.model import Array
from bindu.core.evaluation import Evaluation
from bindu.core.geometry.chain import BRANCHES
from bindu.core.placing.handovers import JUMP_DEGREES, JUMP_METRES
from bindu.core.placing.matching import apart, poses, solve_node
from bindu.core.scene.channels import ChannelRef, step_channel
from bindu.core.scene.things import Limb
from bindu.core.steps.solved.solution import ACCOUNT

SUDDEN = 0.5
"""From which change of the blend between two frames on a limb switches at once."""


@dataclass(frozen=True)
class LimbAccount:
    """A limb over all frames, each of shape (F,): the blend; then as in ``ACCOUNT``, metres of the
    world and degrees."""

    blend: Array
    missed: Array
    distance: Array
    reach: Array
    bend: Array
    branch: Array
    factor: Array
    off_the_line: Array

    def branch_name(self, row: int) -> str:
        """Which way the solution came about on a frame, counted from the first one."""
        return BRANCHES[int(self.branch[row])]


@dataclass(frozen=True)
class Switch:
    """A frame on which a limb changes between its two ways at once.

    Attributes:
        before, after: the blend on the frame before and on this one.
        metres, degrees: by how much the pose jumps there, at the worst part of the chain.
    """

    frame: int
    before: float
    after: float
    metres: float
    degrees: float

    @property
    def jumps(self) -> bool:
        """Whether that is seen."""
        return self.metres > JUMP_METRES or self.degrees > JUMP_DEGREES


def limb_account(evaluation: Evaluation, limb: Limb) -> LimbAccount:
    """The account of a limb."""
    frames = len(evaluation.times.frames)
    values = evaluation.results[solve_node(limb)].values
    said = np.broadcast_to(values[:, -1], (frames, len(ACCOUNT)))
    missed, distance, reach, bend, branch, factor, off = said.T
    return LimbAccount(
        _blend(evaluation, limb),
        missed,
        distance,
        reach,
        bend,
        branch,
        factor,
        off,
    )


def both_ways(evaluation: Evaluation, limb: Limb) -> Array:
    """Where the parts of a chain are by FK alone, and by IK alone, metres of the world, shape
    (F, 2, J, 3) or (1, 2, J, 3)."""
    above = evaluation.scene.parts[limb.chain[0]].parent
    places = [np.stack(np.broadcast_arrays(*way)) for way in poses(evaluation, limb)]
    points = np.stack(np.broadcast_arrays(*places))[..., 3]
    if above is not None:
        world = evaluation.world(above)
        points = np.einsum("fij,wnfj->wnfi", world[:, :, :3], np.asarray(points)) + world[..., 3]
    return np.ascontiguousarray(points.transpose(2, 0, 1, 3))


def switches(evaluation: Evaluation, limb: Limb) -> Iterator[Switch]:
    """All frames on which a limb switches at once, and how far it jumps there."""
    blend = _blend(evaluation, limb)
    change = np.diff(blend)
    rows = np.flatnonzero(np.abs(change) > SUDDEN) + 1
    if not len(rows):
        return
    metres, degrees = apart(evaluation, limb, rows)
    for n, row in enumerate(rows):
        share = abs(float(change[row - 1]))
        yield Switch(
            evaluation.times.first + int(row),
            float(blend[row - 1]),
            float(blend[row]),
            share * float(metres[:, n].max()),
            share * float(degrees[:, n].max()),
        )


def _blend(evaluation: Evaluation, limb: Limb) -> Array:
    ref = ChannelRef(limb.part, step_channel(limb.id, "blend"))
    values = np.clip(evaluation.channel(ref, "final"), 0.0, 1.0)
    return np.broadcast_to(values, len(evaluation.times.frames))
