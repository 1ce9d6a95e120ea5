"""What own channels of parts must be so that FK and IK of a limb are one pose.

A pose is matched where it is: what carries a part (spaces, constraints, lead groups, shares of a
parent) stays as it is on the frame, and only the part's own channels make up the difference.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import replace
from typing import NamedTuple

import numpy as np

from bindu.core.curves.model import Array
from bindu.core.evaluation import Evaluation, evaluated_nodes
from bindu.core.geometry.angles import nearest_angles
from bindu.core.geometry.chain import bend_side, middle_of, own_side
from bindu.core.geometry.places import (
    place_of,
    points_inside,
    points_outside,
    rest_place,
    rotation_of,
    seen_from,
    turned_inside,
    within,
)
from bindu.core.geometry.rotation import angles_quaternion, inverse, product
from bindu.core.geometry.turning import turn_about, turned
from bindu.core.geometry.vectors import dot, length, normalized, transformed
from bindu.core.graph.kinds.group import group_node
from bindu.core.graph.kinds.quaternion import quaternion_node
from bindu.core.nodes.identity import QUATERNION, SOLVE, NodeId, Stage, after, at_tap, before
from bindu.core.nodes.operation import Indices
from bindu.core.scene.channels import AXES, ChannelRef
from bindu.core.scene.model import Scene
from bindu.core.scene.things import Limb
from bindu.core.steps.bound.targets import owner_frame
from bindu.core.steps.solved.limb import LimbOperation

Values = dict[ChannelRef, Array]
"""What channels must be by their own keys, each of shape (N,)."""
SAME = 1e-12
HALF = 0.5


class Pose(NamedTuple):
    """Where a chain's parts are, seen from what the base hangs on, each of shape (F, 3, 4)."""

    fk: list[Array]
    ik: list[Array]


def limb_nodes(scene: Scene, limb: Limb) -> list[NodeId]:
    """What must be evaluated to know a limb in both poses."""
    return [NodeId(limb.part, SOLVE, Stage("owner", limb.id))]


def poses(evaluation: Evaluation, limb: Limb) -> Pose:
    """A limb's chain by FK and by IK alone, whatever its blend."""
    node_id = limb_nodes(evaluation.scene, limb)[0]
    node = evaluation.graph.nodes[node_id]
    assert isinstance(node.operation, LimbOperation)
    inputs = [evaluation.results[i].values for i in node.inputs]
    solution = evaluation.results[node_id].values
    return Pose(node.operation.places(inputs), node.operation.places(inputs, solution))


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
        came = _turn(evaluation, part, before(step), rows)
        went = _rows(evaluation.result(NodeId(part, QUATERNION, after(step))).values, rows)
        own = _turn(evaluation, part, at_tap("driven"), rows)
        made |= _angles(evaluation, part, product(own, product(inverse(came), went)), rows)
        if "translation" in step.settings.groups:
            moved = evaluation.result(NodeId(part, "translation", after(step))).values
            way = _rows(moved, rows) - _move(evaluation, part, before(step), rows)
            made |= _shifted(evaluation, part, "translation", way, rows)
    return made


def ik_values(evaluation: Evaluation, limb: Limb, rows: Indices) -> Values:
    """What the own channels of a limb's goal and pole must be so that IK comes to the FK pose.

    Args:
        evaluation: of the scene.
        limb: the limb.
        rows: frames, counted from the range's first one, ascending.
    """
    scene = evaluation.scene
    around = _world(evaluation, scene.parts[limb.chain[0]].parent, rows)
    chain = [_rows(place, rows) for place in poses(evaluation, limb).fk]
    goal = _wanted_goal(evaluation, limb, chain, rows)
    steers = control_of(scene, limb.goal)
    place = within(around, goal)
    if steers != limb.goal:
        # The goal hangs rigidly in what is moved by hand.
        held = seen_from(_world(evaluation, steers, rows), _world(evaluation, limb.goal, rows))
        place = within(place, _inverted(held))
    made = _placed(evaluation, steers, place, rows, turns=True)
    if limb.pole is not None:
        pole = _wanted_pole(evaluation, limb, chain, goal[..., 3], around, rows)
        made |= _placed(evaluation, limb.pole, pole, rows, turns=False)
    return made


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
    found = poses(evaluation, limb)
    return _apart(evaluation, limb, found.fk, found.ik, rows)


def off_pose(
    before: Evaluation, evaluation: Evaluation, limb: Limb, rows: Indices
) -> tuple[Array, Array]:
    """How far the FK of each part of a chain is from where the part was, metres of the world and
    degrees, each of shape (J, N)."""
    around = before.scene.parts[limb.chain[0]].parent
    was = [
        seen_from(_world(before, around, rows), _world(before, part, rows)) for part in limb.chain
    ]
    now = [_rows(place, rows) for place in poses(evaluation, limb).fk]
    return _apart(evaluation, limb, was, now, rows, chosen=True)


def _apart(
    evaluation: Evaluation,
    limb: Limb,
    ones: Sequence[Array],
    others: Sequence[Array],
    rows: Indices,
    chosen: bool = False,
) -> tuple[Array, Array]:
    around = _world(evaluation, evaluation.scene.parts[limb.chain[0]].parent, rows)
    metres, degrees = [], []
    for one, other in zip(ones, others, strict=True):
        here, there = (one, other) if chosen else (_rows(one, rows), _rows(other, rows))
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
    reach = _account(evaluation, limb, rows)
    far = length(end[..., 3] - base)
    out = _hardened(far, reach, soft)
    safe = np.where(far > 0.0, far, 1.0)[..., None]
    point = base + (end[..., 3] - base) * (np.where(far > 0.0, out, 0.0)[..., None] / safe)
    order = evaluation.scene.parts[limb.chain[-1]].rotation_order
    offset = angles_quaternion(np.array([limb.offset]), order)
    turn = product(rotation_of(end), np.broadcast_to(inverse(offset), (len(rows), 4)))
    return place_of(point, turn, np.ones((1, 3)))


def _hardened(gone: Array, reach: Array, soft: Array) -> Array:
    """How far a goal is toward which a chain goes out so far; see ``softened``, which it takes
    back. Beyond what a number can tell the chain is straight whatever the goal."""
    span = np.clip(soft, 0.0, 0.3) * reach
    slows = (span > 0.0) & (gone > reach - span)
    left = np.maximum(reach - gone, 1e-12 * reach)
    safe = np.where(slows, span, 1.0)
    beyond = -safe * np.log(np.where(slows, left, safe) / safe)
    return np.where(slows, reach - span + beyond, gone)


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
    segments = [b[..., 3] - a[..., 3] for a, b in zip(chain[:-1], chain[1:], strict=True)]
    middle = chain[middle_of(len(chain))]
    axis = normalized(np.einsum("nij,j->ni", middle[..., :3], np.array(limb.axis)))
    side = normalized(bend_side(segments, own_side(segments, axis)))
    turn = np.radians(_steered(evaluation, limb, "turn", rows))
    side = turned(turn_about(line, -turn), side)
    now = seen_from(around, _world(evaluation, limb.pole, rows))[..., 3] - base
    along = dot(now, line)
    off = length(now - along[..., None] * line)
    least = length(segments[0])
    off = np.where(off > 1e-6 * least, off, least)
    point = base + along[..., None] * line + off[..., None] * side
    place = np.broadcast_to(np.eye(3, 4), (len(rows), 3, 4)).copy()
    place[..., 3] = points_outside(around, point)
    return place


def _placed(evaluation: Evaluation, part: str, world: Array, rows: Indices, turns: bool) -> Values:
    """What a part's own channels must be so that it is somewhere in the world."""
    scene = evaluation.scene
    above = _world(evaluation, scene.parts[part].parent, rows)
    basis = within(above, rest_place(owner_frame(scene, part)))
    final = at_tap("final")
    way = points_inside(basis, world[..., 3]) - _move(evaluation, part, final, rows)
    made = _shifted(evaluation, part, "translation", _uncarried(evaluation, part, way, rows), rows)
    if turns:
        wanted = turned_inside(basis, rotation_of(world))
        made |= _angles(evaluation, part, _unturned(evaluation, part, wanted, rows), rows)
    return made


MIRRORED = np.array((1.0, -1.0, -1.0, 1.0))
"""Turns a rotation into its mirror image across x, in which what is mirrored carries it."""


def _unturned(evaluation: Evaluation, part: str, wanted: Array, rows: Indices) -> Array:
    """What a part's driven rotation must be for its final one to be this: without what carries it,
    which turns it or, in a mirrored space, its mirror image; which of both is seen by turning it a
    little."""
    scene, driven, final = evaluation.scene, at_tap("driven"), at_tap("final")
    now, own = _turn(evaluation, part, final, rows), _turn(evaluation, part, driven, rows)
    plain = product(inverse(product(now, inverse(own))), wanted)
    if quaternion_node(scene, part, final) == quaternion_node(scene, part, driven):
        return plain
    nodes = [quaternion_node(scene, part, tap) for tap in (final, driven)]
    for axis in AXES:
        scene = _raised(scene, ChannelRef(part, f"rotation.{axis}"))
    found = evaluated_nodes(scene, nodes)
    went, gone = (_rows(found.result(node).values, rows) for node in nodes)
    carried = product(product(now, inverse(own)), gone)
    apart = np.abs(dot(carried, went)) < 1.0 - 1e-9
    way = product(now, inverse(own * MIRRORED))
    mirrored = product(inverse(way), wanted) * MIRRORED
    return np.where(apart[..., None], mirrored, plain)


def _uncarried(evaluation: Evaluation, part: str, way: Array, rows: Indices) -> Array:
    """By how much a part's own translation must change for it to move by a way, shape (N, 3): where
    steps carry it, by looking at what a metre along each of its channels does."""
    scene = evaluation.scene
    node = group_node(scene, part, "translation", at_tap("final"))
    if node == group_node(scene, part, "translation", at_tap("driven")):
        return way
    columns = []
    for axis in AXES:
        moved = _raised(scene, ChannelRef(part, f"translation.{axis}"))
        found = evaluated_nodes(moved, [node]).result(node).values
        columns.append(_rows(found, rows) - _move(evaluation, part, at_tap("final"), rows))
    slopes = np.stack([np.broadcast_to(c, (len(rows), 3)) for c in columns], axis=-1)
    good = np.abs(np.linalg.det(slopes)) > SAME
    slopes[~good] = np.eye(3)
    wanted = np.broadcast_to(way, (len(rows), 3))[..., None]
    return np.asarray(np.linalg.solve(slopes, wanted)[..., 0], dtype=np.float64)


def _raised(scene: Scene, ref: ChannelRef) -> Scene:
    """The scene with a channel's own values higher by 1."""
    curve = scene.curves.get(ref)
    if curve is None:
        part = scene.parts[ref.part]
        values = {**part.values, ref.channel: scene.set_value(ref) + 1.0}
        return replace(scene, parts={**scene.parts, part.id: replace(part, values=values)})
    keys = tuple(replace(key, value=key.value + 1.0) for key in curve.keys)
    return replace(scene, curves={**scene.curves, ref: replace(curve, keys=keys)})


def _angles(evaluation: Evaluation, part: str, driven: Array, rows: Indices) -> Values:
    """What the rotation channels must be so that a part's driven rotation is this, (N, 4)."""
    order = evaluation.scene.parts[part].rotation_order
    tap = at_tap("driven")
    now = np.stack(
        [_channel(evaluation, ChannelRef(part, f"rotation.{a}"), tap, rows) for a in AXES], axis=1
    )
    made = nearest_angles(np.broadcast_to(driven, (len(rows), 4)), order, now[0])
    return _shifted(evaluation, part, "rotation", made - now, rows)


def _shifted(evaluation: Evaluation, part: str, group: str, way: Array, rows: Indices) -> Values:
    """The own values of three channels, moved by what is wanted after Driven, shape (N, 3)."""
    own = Stage("own")
    made = Values()
    for n, axis in enumerate(AXES):
        ref = ChannelRef(part, f"{group}.{axis}")
        made[ref] = _channel(evaluation, ref, own, rows) + np.broadcast_to(way[..., n], len(rows))
    return made


def _channel(evaluation: Evaluation, ref: ChannelRef, stage: Stage, rows: Indices) -> Array:
    if stage.kind == "tap":
        values = evaluation.channel(ref, "driven")
    else:
        values = evaluation.result(NodeId(*ref, stage)).values
    return np.broadcast_to(values, len(evaluation.times.frames))[rows]


def _turn(evaluation: Evaluation, part: str, stage: Stage, rows: Indices) -> Array:
    node = quaternion_node(evaluation.scene, part, stage)
    return _rows(_values(evaluation, node), rows)


def _move(evaluation: Evaluation, part: str, stage: Stage, rows: Indices) -> Array:
    node = group_node(evaluation.scene, part, "translation", stage)
    return _rows(_values(evaluation, node), rows)


def _values(evaluation: Evaluation, node: NodeId) -> Array:
    """A node's values; evaluated by itself where nothing else reads it."""
    found = evaluation.results.get(node)
    if found is None:
        found = evaluated_nodes(evaluation.scene, [node]).result(node)
    return found.values


def _world(evaluation: Evaluation, part: str | None, rows: Indices) -> Array:
    if part is None:
        return np.broadcast_to(np.eye(3, 4), (len(rows), 3, 4))
    return _rows(evaluation.world(part), rows)


def _steered(evaluation: Evaluation, limb: Limb, key: str, rows: Indices) -> Array:
    values = evaluation.channel(ChannelRef(limb.part, f"{limb.id}.{key}"), "final")
    return np.broadcast_to(values, len(evaluation.times.frames))[rows]


def _account(evaluation: Evaluation, limb: Limb, rows: Indices) -> Array:
    """The reach of the chain, seen from what the base hangs on, shape (N,)."""
    node = evaluation.graph.nodes[limb_nodes(evaluation.scene, limb)[0]]
    assert isinstance(node.operation, LimbOperation)
    inputs = [evaluation.results[i].values for i in node.inputs]
    return _rows(node.operation.reach_of(inputs), rows)


def _rows(values: Array, rows: Indices) -> Array:
    if len(values) == 1:
        return np.broadcast_to(values, (len(rows), *values.shape[1:]))
    return values[rows]


def _inverted(place: Array) -> Array:
    return seen_from(place, np.broadcast_to(np.eye(3, 4), place.shape))
