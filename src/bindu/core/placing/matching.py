"""What own channels of parts must be so that FK and IK of a limb are one pose.

A pose is matched where it is: what carries a part (spaces, constraints, lead groups, shares of a
parent) stays as it is on the frame, and only the part's own channels make up the difference.
"""

from __future__ import annotations

from collections.abc import Sequence
from typing import NamedTuple

import numpy as np

from bindu.core.curves.model import Array
from bindu.core.evaluation import Evaluation
from bindu.core.geometry.chain import bend_side, middle_of, own_side
from bindu.core.geometry.places import (
    place_of,
    points_outside,
    rest_place,
    rotation_of,
    seen_from,
    turned_outside,
    within,
)
from bindu.core.geometry.reach import hardened
from bindu.core.geometry.rotation import angles_quaternion, inverse, product
from bindu.core.geometry.turning import shortest_turn, turn_about, turned
from bindu.core.geometry.vectors import dot, length, normalized, transformed
from bindu.core.nodes.identity import QUATERNION, SOLVE, NodeId, Stage, after, at_tap, before
from bindu.core.nodes.operation import Indices
from bindu.core.placing.own_channels import (
    Values,
    driven_rotation,
    move_of,
    moved_to,
    placed,
    rows_of,
    shifted,
    turn_of,
    turned_to,
    world_above,
    world_of,
)
from bindu.core.scene.channels import ChannelRef
from bindu.core.scene.model import Scene
from bindu.core.scene.settings import ConstraintSettings
from bindu.core.scene.things import Limb
from bindu.core.steps.bound.targets import owner_frame
from bindu.core.steps.solved.solution import LimbOperation


class Pose(NamedTuple):
    """Where a chain's parts are, seen from what the base hangs on, each of shape (F, 3, 4)."""

    fk: list[Array]
    ik: list[Array]


def solve_node(limb: Limb) -> NodeId:
    """The node that holds what a limb solves for its chain."""
    return NodeId(limb.part, SOLVE, Stage("owner", limb.id))


def poses(evaluation: Evaluation, limb: Limb) -> Pose:
    """A limb's chain by FK and by IK alone, whatever its blend."""
    operation, inputs = _solving(evaluation, limb)
    solution = evaluation.results[solve_node(limb)].values
    return Pose(operation.places(inputs), operation.places(inputs, solution))


def _solving(evaluation: Evaluation, limb: Limb) -> tuple[LimbOperation, list[Array]]:
    """How a limb is solved, and from what."""
    node = evaluation.graph.nodes[solve_node(limb)]
    assert isinstance(node.operation, LimbOperation)
    return node.operation, [evaluation.results[i].values for i in node.inputs]


def fk_values(evaluation: Evaluation, limb: Limb, rows: Indices) -> Values:
    """What the own channels of a chain's parts must be so that FK comes to the pose right after the
    limb.

    Args:
        evaluation: of the scene.
        limb: the limb.
        rows: frames, counted from the range's first one, ascending.
    """
    scene, made = evaluation.scene, Values()
    for part in limb.chain:
        step = scene.members_of[limb.id][part]
        if not step.on:
            continue
        came = turn_of(evaluation, part, before(step), rows)
        went = rows_of(evaluation.result(NodeId(part, QUATERNION, after(step))).values, rows)
        own = turn_of(evaluation, part, at_tap("driven"), rows)
        made |= driven_rotation(evaluation, part, product(own, product(inverse(came), went)), rows)
        if "translation" in step.settings.groups:
            moved = evaluation.result(NodeId(part, "translation", after(step))).values
            way = rows_of(moved, rows) - move_of(evaluation, part, before(step), rows)
            made |= shifted(evaluation, part, "translation", way, rows)
    for toe, _ in limb.toes:
        made |= driven_rotation(
            evaluation, toe, turn_of(evaluation, toe, at_tap("final"), rows), rows
        )
    return made


def ik_values(evaluation: Evaluation, limb: Limb, rows: Indices) -> Values:
    """What the own channels of a limb's goal and pole must be so that IK comes to the FK pose.

    Args:
        evaluation: of the scene.
        limb: the limb.
        rows: frames, counted from the range's first one, ascending.
    """
    scene = evaluation.scene
    around = world_of(evaluation, scene.parts[limb.chain[0]].parent, rows)
    chain = [rows_of(place, rows) for place in poses(evaluation, limb).fk]
    goal = _wanted_goal(evaluation, limb, chain, rows)
    steers = control_of(scene, limb.goal)
    place = within(around, goal)
    if steers != limb.goal:
        # The goal hangs rigidly in what is moved by hand.
        held = seen_from(world_of(evaluation, steers, rows), world_of(evaluation, limb.goal, rows))
        place = within(place, _inverted(held))
    made = placed(evaluation, steers, place, rows)
    if limb.pole is not None:
        pole = _wanted_pole(evaluation, limb, chain, goal[..., 3], around, rows)
        made |= moved_to(
            evaluation, limb.pole, world_above(evaluation, limb.pole, rows), pole, rows
        )
    for toe, helper in limb.toes:
        turn = _wanted_toe(evaluation, limb, toe, within(around, chain[-1]), rows)
        above = _carried(evaluation, steers, place, scene.parts[helper].parent, rows)
        made |= turned_to(evaluation, helper, above, turn, rows)
    return made


def clear_pole(evaluation: Evaluation, limb: Limb, row: int) -> Array:
    """Where a limb's pole says clearly to which side FK bends: half the reach off the line from
    base to goal, as far along it as it is. In the world, metres, shape (3,).

    Args:
        evaluation: of the scene.
        limb: one with a pole.
        row: the frame, counted from the range's first one.
    """
    assert limb.pole is not None
    rows = np.array([row])
    around = world_of(evaluation, evaluation.scene.parts[limb.chain[0]].parent, rows)
    chain = [rows_of(place, rows) for place in poses(evaluation, limb).fk]
    base = chain[0][..., 3]
    goal, pole = (
        seen_from(around, world_of(evaluation, part, rows))[..., 3] - base
        for part in (limb.goal, limb.pole)
    )
    line = normalized(goal)
    operation, inputs = _solving(evaluation, limb)
    off = 0.5 * rows_of(operation.reach_of(inputs), rows)[:, None]
    side = _bent_to(evaluation, limb, chain, line, rows)
    return np.asarray(
        points_outside(around, base + dot(pole, line)[:, None] * line + off * side)[0]
    )


def control_of(scene: Scene, part: str) -> str:
    """The part that is moved by hand when one is to move: itself, or the nearest control above a
    helper."""
    one: str | None = part
    while one is not None:
        if scene.parts[one].role == "control":
            return one
        one = scene.parts[one].parent
    return part


def apart(evaluation: Evaluation, limb: Limb, rows: Indices) -> tuple[Array, Array]:
    """How far FK and IK of each part of a chain are apart, metres of the world and degrees, each of
    shape (J, N)."""
    fk, ik = ([rows_of(place, rows) for place in one] for one in poses(evaluation, limb))
    return _apart(evaluation, limb, fk, ik, rows)


def off_pose(
    before: Evaluation, evaluation: Evaluation, limb: Limb, rows: Indices
) -> tuple[Array, Array]:
    """How far the FK of each part of a chain is from where the part was, metres of the world and
    degrees, each of shape (J, N)."""
    around = before.scene.parts[limb.chain[0]].parent
    was = [
        seen_from(world_of(before, around, rows), world_of(before, part, rows))
        for part in limb.chain
    ]
    now = [rows_of(place, rows) for place in poses(evaluation, limb).fk]
    return _apart(evaluation, limb, was, now, rows)


def _apart(
    evaluation: Evaluation,
    limb: Limb,
    ones: Sequence[Array],
    others: Sequence[Array],
    rows: Indices,
) -> tuple[Array, Array]:
    around = world_of(evaluation, evaluation.scene.parts[limb.chain[0]].parent, rows)
    metres, degrees = [], []
    for here, there in zip(ones, others, strict=True):
        way = np.broadcast_to(here[..., 3] - there[..., 3], (len(rows), 3))
        metres.append(length(transformed(around[..., :3], way)))
        turn = product(inverse(rotation_of(here)), rotation_of(there))
        half = np.arctan2(length(turn[..., :3]), np.abs(turn[..., 3]))
        degrees.append(np.broadcast_to(np.degrees(2.0 * half), len(rows)))
    return np.stack(metres), np.stack(degrees)


def _wanted_goal(
    evaluation: Evaluation, limb: Limb, chain: Sequence[Array], rows: Indices
) -> Array:
    """Where the goal must be for the chain to be as it is, seen from what the base hangs on, shape
    (N, 3, 4)."""
    end, base = chain[-1], chain[0][..., 3]
    soft = _steered(evaluation, limb, "soft", rows)
    operation, inputs = _solving(evaluation, limb)
    reach = rows_of(operation.reach_of(inputs), rows)
    far = length(end[..., 3] - base)
    out = hardened(far, reach, soft)
    safe = np.where(far > 0.0, far, 1.0)[..., None]
    point = base + (end[..., 3] - base) * (np.where(far > 0.0, out, 0.0)[..., None] / safe)
    order = evaluation.scene.parts[limb.chain[-1]].rotation_order
    offset = angles_quaternion(np.array([limb.offset]), order)
    turn = product(rotation_of(end), np.broadcast_to(inverse(offset), (len(rows), 4)))
    return place_of(point, turn, np.ones((1, 3)))


def _wanted_pole(
    evaluation: Evaluation,
    limb: Limb,
    chain: Sequence[Array],
    goal: Array,
    around: Array,
    rows: Indices,
) -> Array:
    """Where the pole must be, in the world, shape (N, 3, 4): as far along and off the line to the
    goal as it is, on the side to which the chain is bent."""
    assert limb.pole is not None
    base = chain[0][..., 3]
    line = normalized(goal - base)
    side = _bent_to(evaluation, limb, chain, line, rows)
    now = seen_from(around, world_of(evaluation, limb.pole, rows))[..., 3] - base
    along = dot(now, line)
    off = length(now - along[..., None] * line)
    least = length(chain[1][..., 3] - base)
    off = np.where(off > 1e-6 * least, off, least)
    point = base + along[..., None] * line + off[..., None] * side
    place = np.broadcast_to(np.eye(3, 4), (len(rows), 3, 4)).copy()
    place[..., 3] = points_outside(around, point)
    return place


def _bent_to(
    evaluation: Evaluation, limb: Limb, chain: Sequence[Array], line: Array, rows: Indices
) -> Array:
    """To which side of a line from its base a chain is bent that is turned onto it, by the shortest
    turn; what the limb's *turn* adds is taken off. Of length 1, shape (N, 3)."""
    segments = [b[..., 3] - a[..., 3] for a, b in zip(chain[:-1], chain[1:], strict=True)]
    middle = chain[middle_of(len(chain))]
    axis = normalized(np.einsum("nij,j->ni", middle[..., :3], np.array(limb.axis)))
    side = normalized(bend_side(segments, own_side(segments, axis)))
    onto = shortest_turn(sum(segments[1:], segments[0]), line, axis)
    turn = np.radians(_steered(evaluation, limb, "turn", rows))
    return turned(turn_about(line, -turn), turned(onto, side))


def _steered(evaluation: Evaluation, limb: Limb, key: str, rows: Indices) -> Array:
    values = evaluation.channel(ChannelRef(limb.part, f"{limb.id}.{key}"), "final")
    return np.broadcast_to(values, len(evaluation.times.frames))[rows]


def _wanted_toe(evaluation: Evaluation, limb: Limb, toe: str, end: Array, rows: Indices) -> Array:
    """How the helper of a toe must be turned in the world for the toe to be as it is by FK, behind
    the end as it is by FK, shape (N, 4)."""
    scene = evaluation.scene
    held = seen_from(world_of(evaluation, limb.chain[-1], rows), world_above(evaluation, toe, rows))
    basis = within(within(end, held), rest_place(owner_frame(scene, toe)))
    own = turn_of(evaluation, toe, at_tap("driven"), rows)
    offsets = (
        step.settings.offset
        for step in scene.steps_of.get(toe, ())
        if isinstance(step.settings, ConstraintSettings) and step.settings.kind == "rotation"
    )
    degrees = np.array([next(offsets, (0.0, 0.0, 0.0))])
    offset = angles_quaternion(degrees, scene.parts[toe].rotation_order)
    return turned_outside(basis, product(own, np.broadcast_to(inverse(offset), own.shape)))


def _carried(
    evaluation: Evaluation, steers: str, place: Array, part: str | None, rows: Indices
) -> Array:
    """Where a part comes to be that hangs rigidly in what is moved to a place."""
    held = seen_from(world_of(evaluation, steers, rows), world_of(evaluation, part, rows))
    return within(place, held)


def _inverted(place: Array) -> Array:
    return seen_from(place, np.broadcast_to(np.eye(3, 4), place.shape))
