"""What own channels of parts must be for the parts to be somewhere on some frames.

What carries a part (spaces, constraints, lead groups, shares of a parent) stays as it is on the
frame, and only the part's own channels make up the difference. Frames are given as rows, counted
from the range's first one, ascending; N of them.
"""

from __future__ import annotations

from dataclasses import replace

import numpy as np

from bindu.core.curves.model import Array
from bindu.core.evaluation import Evaluation, evaluated_nodes
from bindu.core.geometry.angles import nearest_angles
from bindu.core.geometry.places import (
    points_inside,
    rest_place,
    rotation_of,
    turned_inside,
    within,
)
from bindu.core.geometry.rotation import inverse, product
from bindu.core.geometry.vectors import dot
from bindu.core.graph.kinds.group import group_node
from bindu.core.graph.kinds.quaternion import quaternion_node
from bindu.core.nodes.identity import NodeId, Stage, at_tap
from bindu.core.nodes.operation import Indices
from bindu.core.scene.channels import AXES, ChannelRef, layer_and_channel
from bindu.core.scene.model import Scene
from bindu.core.scene.settings import Group, LayerSettings
from bindu.core.scene.things import Layer
from bindu.core.steps.bound.targets import owner_frame

MIRRORED = np.array((1.0, -1.0, -1.0, 1.0))
"""Turns a rotation into its mirror image across x, in which what is mirrored carries it."""
SAME = 1e-12
Values = dict[ChannelRef, Array]
"""What channels must be by their own keys, each of shape (N,)."""


def placed(evaluation: Evaluation, part: str, world: Array, rows: Indices) -> Values:
    """What a part's own channels must be so that it is somewhere in the world."""
    above = world_above(evaluation, part, rows)
    moved = moved_to(evaluation, part, above, world, rows)
    return moved | turned_to(evaluation, part, above, rotation_of(world), rows)


def moved_to(
    evaluation: Evaluation, part: str, above: Array, world: Array, rows: Indices
) -> Values:
    """What a part's translation must be for its origin to be at a place, under what is above."""
    basis = within(above, rest_place(owner_frame(evaluation.scene, part)))
    way = points_inside(basis, world[..., 3]) - move_of(evaluation, part, at_tap("final"), rows)
    return shifted(evaluation, part, "translation", _uncarried(evaluation, part, way, rows), rows)


def turned_to(
    evaluation: Evaluation, part: str, above: Array, turn: Array, rows: Indices
) -> Values:
    """What a part's rotation must be for it to be turned so in the world, under what is above."""
    basis = within(above, rest_place(owner_frame(evaluation.scene, part)))
    wanted = _unturned(evaluation, part, turned_inside(basis, turn), rows)
    return driven_rotation(evaluation, part, wanted, rows)


def world_above(evaluation: Evaluation, part: str, rows: Indices) -> Array:
    """Where what a part hangs on is, shape (N, 3, 4)."""
    return world_of(evaluation, evaluation.scene.parts[part].parent, rows)


def _uncarried(evaluation: Evaluation, part: str, way: Array, rows: Indices) -> Array:
    """By how much a part's own translation must change for it to move by a way, shape (N, 3): where
    steps carry it, by looking at what a metre along each of its channels does."""
    scene = evaluation.scene
    node = group_node(scene, part, "translation", at_tap("final"))
    if not _is_carried(scene, part, "translation"):
        return way
    driven = group_node(scene, part, "translation", at_tap("driven"))
    now = [move_of(evaluation, part, at_tap(tap), rows) for tap in ("final", "driven")]
    columns = []
    for n, axis in enumerate(AXES):
        raised = _raised(scene, ChannelRef(part, f"translation.{axis}"))
        found = evaluated_nodes(raised, [node, driven])
        went = [rows_of(found.result(one).values, rows) for one in (node, driven)]
        rise = went[1][..., n] - now[1][..., n]
        safe = np.where(np.abs(rise) > SAME, rise, 1.0)[..., None]
        columns.append((went[0] - now[0]) / safe)
    slopes = np.stack([np.broadcast_to(c, (len(rows), 3)) for c in columns], axis=-1)
    good = np.abs(np.linalg.det(slopes)) > SAME
    slopes[~good] = np.eye(3)
    wanted = np.broadcast_to(way, (len(rows), 3))[..., None]
    return np.asarray(np.linalg.solve(slopes, wanted)[..., 0], dtype=np.float64)


def _unturned(evaluation: Evaluation, part: str, wanted: Array, rows: Indices) -> Array:
    """What a part's driven rotation must be for its final one to be this: without what carries it,
    which turns it or, in a mirrored space, its mirror image; which of both is seen by turning it a
    little."""
    scene, driven, final = evaluation.scene, at_tap("driven"), at_tap("final")
    now, own = turn_of(evaluation, part, final, rows), turn_of(evaluation, part, driven, rows)
    plain = product(inverse(product(now, inverse(own))), wanted)
    if not _is_carried(scene, part, "rotation"):
        return plain
    nodes = [quaternion_node(scene, part, tap) for tap in (final, driven)]
    for axis in AXES:
        scene = _raised(scene, ChannelRef(part, f"rotation.{axis}"))
    found = evaluated_nodes(scene, nodes)
    went, gone = (rows_of(found.result(node).values, rows) for node in nodes)
    carried = product(product(now, inverse(own)), gone)
    apart = np.abs(dot(carried, went)) < 1.0 - 1e-9
    way = product(now, inverse(own * MIRRORED))
    mirrored = product(inverse(way), wanted) * MIRRORED
    return np.where(apart[..., None], mirrored, plain)


def _is_carried(scene: Scene, part: str, group: Group) -> bool:
    """Whether a step works on a whole group of a part after its driven values."""
    return any(step.on and group in step.settings.groups for step in scene.steps_of.get(part, ()))


def heard_curve(scene: Scene, ref: ChannelRef) -> tuple[ChannelRef, Layer | None]:
    """Where keys of a channel are heard: on its own curve, or, where layers replace that, on the
    highest of these."""
    for step in reversed(scene.writers(ref)):
        settings = step.settings
        if step.on and isinstance(settings, LayerSettings) and settings.mode == "replace":
            return settings.source, scene.layers[
                layer_and_channel(settings.source.channel)[0] or ""
            ]
    return ref, None


def _raised(scene: Scene, ref: ChannelRef) -> Scene:
    """The scene with a channel's own values, where they are heard, higher by 1."""
    ref, _ = heard_curve(scene, ref)
    curve = scene.curves.get(ref)
    if curve is None:
        part = scene.parts[ref.part]
        values = {**part.values, ref.channel: scene.set_value(ref) + 1.0}
        return replace(scene, parts={**scene.parts, part.id: replace(part, values=values)})
    keys = tuple(replace(key, value=key.value + 1.0) for key in curve.keys)
    return replace(scene, curves={**scene.curves, ref: replace(curve, keys=keys)})


def driven_rotation(evaluation: Evaluation, part: str, driven: Array, rows: Indices) -> Values:
    """What the rotation channels must be so that a part's driven rotation is this, (N, 4)."""
    order = evaluation.scene.parts[part].rotation_order
    tap = at_tap("driven")
    now = np.stack(
        [_channel(evaluation, ChannelRef(part, f"rotation.{a}"), tap, rows) for a in AXES], axis=1
    )
    made = nearest_angles(np.broadcast_to(driven, (len(rows), 4)), order, now[0])
    return shifted(evaluation, part, "rotation", made - now, rows)


def shifted(evaluation: Evaluation, part: str, group: str, way: Array, rows: Indices) -> Values:
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


def turn_of(evaluation: Evaluation, part: str, stage: Stage, rows: Indices) -> Array:
    """A part's rotation at a stage, quaternions, shape (N, 4)."""
    node = quaternion_node(evaluation.scene, part, stage)
    return rows_of(_values(evaluation, node), rows)


def move_of(evaluation: Evaluation, part: str, stage: Stage, rows: Indices) -> Array:
    """A part's translation at a stage, shape (N, 3)."""
    node = group_node(evaluation.scene, part, "translation", stage)
    return rows_of(_values(evaluation, node), rows)


def _values(evaluation: Evaluation, node: NodeId) -> Array:
    """A node's values; evaluated by itself where nothing else reads it."""
    found = evaluation.results.get(node)
    if found is None:
        found = evaluated_nodes(evaluation.scene, [node]).result(node)
    return found.values


def world_of(evaluation: Evaluation, part: str | None, rows: Indices) -> Array:
    """A part's world matrix, or the world's own, shape (N, 3, 4)."""
    if part is None:
        return np.broadcast_to(np.eye(3, 4), (len(rows), 3, 4))
    return rows_of(evaluation.world(part), rows)


def rows_of(values: Array, rows: Indices) -> Array:
    """Values on some frames, shape (N, …), of one row for all or a row for each frame."""
    if len(values) == 1:
        return np.broadcast_to(values, (len(rows), *values.shape[1:]))
    return values[rows]
