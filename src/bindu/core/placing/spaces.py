"""Where a part is in the spaces of a space step, and the offsets that keep its place.

All is counted in the part's parent, as the step itself does.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace

import numpy as np

from bindu.core.curves.model import Array
from bindu.core.evaluation import Evaluation, evaluated_nodes, row_at
from bindu.core.geometry.angles import nearest_angles
from bindu.core.geometry.places import (
    IDENTITY,
    place_of,
    points_inside,
    points_outside,
    rest_place,
    seen_from,
    turned_inside,
    turned_outside,
)
from bindu.core.geometry.rotation import angles_quaternion, inverse, product
from bindu.core.graph.kinds.channel import tap_node
from bindu.core.graph.kinds.group import group_node
from bindu.core.graph.kinds.quaternion import quaternion_node
from bindu.core.nodes.identity import NodeId, Read, at_tap, before
from bindu.core.nodes.operation import Indices
from bindu.core.refusal import Refusal
from bindu.core.scene.channels import ChannelRef, step_channel
from bindu.core.scene.model import Scene
from bindu.core.scene.parts import Step
from bindu.core.scene.settings import WORLD_KEY, Handover, SpaceSettings
from bindu.core.steps.bound.space import active_spaces, space_name
from bindu.core.steps.bound.targets import owner_frame

ONES = np.ones((1, 3))


@dataclass(frozen=True)
class Place:
    """Where a part is in its parent: metres, shape (1, 3), and quaternion, shape (1, 4)."""

    position: Array
    rotation: Array


def space_settings(step: Step) -> SpaceSettings:
    """The settings of a space step.

    Raises:
        Refusal: when it is another kind of step.
    """
    if not isinstance(step.settings, SpaceSettings):
        raise Refusal("it is no list of spaces.", place=step.name)
    return step.settings


def space_ref(step: Step) -> ChannelRef:
    """The channel that says which space is active."""
    return ChannelRef(step.part, step_channel(step.id, "space"))


def evaluated_step(scene: Scene, step: Step) -> Evaluation:
    """Evaluates just what a space step comes from: its spaces, what comes in, which is active."""
    settings = space_settings(step)
    around = {scene.parts[step.part].parent, *settings.spaces} - {None, "", WORLD_KEY}
    wanted = [
        NodeId(part, "world matrix", at_tap(settings.tap)) for part in sorted(filter(None, around))
    ]
    wanted.append(group_node(scene, step.part, "translation", before(step)))
    wanted.append(quaternion_node(scene, step.part, before(step)))
    wanted.append(tap_node(scene, space_ref(step), "final"))
    return evaluated_nodes(scene, wanted)


def active_space(evaluation: Evaluation, step: Step) -> Indices:
    """Which space is active on each frame: places in the list, shape (F,)."""
    count = len(space_settings(step).spaces)
    values = evaluation.channel(space_ref(step), "final")
    return active_spaces(values, count, len(evaluation.times.frames))


def offset_before(settings: SpaceSettings, frame: float) -> Handover:
    """What is kept just before a frame."""
    earlier = [one for one in settings.handovers if one.frame < frame]
    return earlier[-1] if earlier else Handover(-np.inf)


def place_in(evaluation: Evaluation, step: Step, frame: int, space: int, offset: Handover) -> Place:
    """Where the part is on a frame when it moves in a space with an offset."""
    outer = space_place(evaluation, step, frame, space)
    own = own_place(evaluation, step, frame)
    return Place(*moved_inside(outer, [offset], own.position, own.rotation))


def moved_inside(
    spaces: Array, offsets: Sequence[Handover], positions: Array, rotations: Array
) -> tuple[Array, Array]:
    """Where parts are inside spaces, shape (N, 3, 4), moved by offsets: positions and rotations,
    shapes (N, 3) and (N, 4)."""
    turns = angles_quaternion(np.array([one.rotation for one in offsets]), "xyz")
    inner = place_of(np.array([one.translation for one in offsets]), turns, ONES)
    moved = points_outside(spaces, points_outside(inner, positions))
    return moved, turned_outside(spaces, product(turns, rotations))


def kept_handover(
    evaluation: Evaluation, step: Step, frame: int, space: int, place: Place, blend: int = 0
) -> Handover:
    """The handover to a space that keeps a place on a frame.

    Raises:
        Refusal: when the space has no size there.
    """
    outer = space_place(evaluation, step, frame, space)
    own = own_place(evaluation, step, frame)
    turn = product(turned_inside(outer, place.rotation), inverse(own.rotation))
    angles = nearest_angles(turn, "xyz", np.zeros(3))
    turn = angles_quaternion(angles, "xyz")
    moved = points_outside(place_of(np.zeros((1, 3)), turn, ONES), own.position)
    x, y, z = (points_inside(outer, place.position) - moved)[0]
    a, b, c = angles[0]
    made = Handover(
        float(frame), (float(x), float(y), float(z)), (float(a), float(b), float(c)), blend
    )
    if not np.isfinite((*made.translation, *made.rotation)).all():
        name = space_name(evaluation.scene, space_settings(step).spaces[space])
        raise Refusal(
            f"{name} is scaled to nothing there; scale it less.",
            code="choice",
            place=f"frame {frame}",
        )
    return made


def with_places_kept(evaluation: Evaluation, step: Step, frames: set[int]) -> SpaceSettings:
    """The settings with the offsets of these handovers measured again, one after the other, so
    that none of them jumps."""
    settings = space_settings(step)
    active = active_space(evaluation, step)
    for frame in sorted(frames):
        n = evaluation.index(frame)
        if n == 0:
            continue
        before_it = offset_before(settings, frame)
        place = place_in(evaluation, step, frame, int(active[n - 1]), before_it)
        blend = next((one.blend for one in settings.handovers if one.frame == frame), 0)
        made = kept_handover(evaluation, step, frame, int(active[n]), place, blend)
        settings = with_handover(settings, made)
    return settings


def with_handover(settings: SpaceSettings, made: Handover) -> SpaceSettings:
    """The settings with a handover more, or changed."""
    others = [one for one in settings.handovers if one.frame != made.frame]
    return replace(settings, handovers=tuple(sorted((*others, made), key=lambda h: h.frame)))


def space_place(evaluation: Evaluation, step: Step, frame: int, space: int) -> Array:
    """A space on a frame as seen from the part's parent, shape (1, 3, 4)."""
    part, parent = space_settings(step).spaces[space], evaluation.scene.parts[step.part].parent
    if part in ("", parent):
        return IDENTITY
    around = parent_place(evaluation, step, frame)
    return seen_from(around, _world(evaluation, step, None if part == WORLD_KEY else part, frame))


def parent_place(evaluation: Evaluation, step: Step, frame: int) -> Array:
    """The world matrix of a part's parent on a frame, shape (1, 3, 4)."""
    return _world(evaluation, step, evaluation.scene.parts[step.part].parent, frame)


def _world(evaluation: Evaluation, step: Step, part: str | None, frame: int) -> Array:
    """A part's world matrix at the tap at which a step reads its surroundings; without a part, the
    world's own."""
    if part is None:
        return IDENTITY
    places = evaluation.read(Read(part, "world matrix", space_settings(step).tap))
    return row_at(places, evaluation.index(frame))


def own_place(evaluation: Evaluation, step: Step, frame: int) -> Place:
    """Where the part is in its parent on a frame by what comes in to the step."""
    rest, moved, turned = own_rows(evaluation, step, [frame])
    return Place(points_outside(rest, moved), turned_outside(rest, turned))


def own_rows(
    evaluation: Evaluation, step: Step, frames: Sequence[int]
) -> tuple[Array, Array, Array]:
    """A part's rest and what comes in to its step on some frames: a place, metres and
    quaternions, shapes (N, 3, 4), (N, 3) and (N, 4)."""
    rows = [evaluation.index(frame) for frame in frames]
    rest = rest_place(owner_frame(evaluation.scene, step.part))
    moved = _incoming(evaluation, step, "translation")
    turned = _incoming(evaluation, step, "quaternion")
    return (
        np.repeat(rest, len(rows), axis=0),
        moved[rows if len(moved) > 1 else [0] * len(rows)],
        turned[rows if len(turned) > 1 else [0] * len(rows)],
    )


def _incoming(evaluation: Evaluation, step: Step, quantity: str) -> Array:
    scene = evaluation.scene
    if quantity == "translation":
        return _value(evaluation, group_node(scene, step.part, quantity, before(step)))
    node = quaternion_node(scene, step.part, before(step))
    return _value(evaluation, node)


def _value(evaluation: Evaluation, node_id: NodeId) -> Array:
    """A node's values; of one that the space does not carry, and so nothing computes: still."""
    found = evaluation.results.get(node_id)
    if found is not None:
        return found.values
    return (
        np.array([[0.0, 0.0, 0.0, 1.0]]) if node_id.quantity == "quaternion" else np.zeros((1, 3))
    )


def scene_step(scene: Scene, step_id: str) -> Step:
    """The space step with this identity.

    Raises:
        Refusal: when there is none any more.
    """
    step = scene.steps.get(step_id)
    if step is None:
        raise Refusal(f"there is no step with the identity {step_id!r} any more.", code="gone")
    space_settings(step)
    return step
