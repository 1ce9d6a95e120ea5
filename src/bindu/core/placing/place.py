"""Places of parts as channel values: world and local matrices taken apart, and written back."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import replace

import numpy as np

from bindu.core.curves.keys import with_keys
from bindu.core.curves.model import Array, Curve, Key
from bindu.core.curves.spans import Span, stepped, with_span
from bindu.core.evaluation import Evaluation, evaluated
from bindu.core.geometry.angles import continuous_angles
from bindu.core.geometry.rotation import orthonormal, rotation_matrices
from bindu.core.nodes.operation import Indices
from bindu.core.refusal import Refusal
from bindu.core.scene.changes import with_curve
from bindu.core.scene.channels import DEFAULTS, TRANSFORM_CHANNELS, ChannelRef
from bindu.core.scene.model import Scene
from bindu.core.scene.names import full_name
from bindu.core.scene.parts import Part, Rest, RotationOrder
from bindu.core.scene.settings import Vector

SAME = 1e-11
SHEAR = 1e-9
NOTHING = 1e-60
"""The volume below which a scale leaves nothing to invert."""


def square(matrices: Array) -> Array:
    """Upper three rows, shape (N, 3, 4), as whole matrices, (N, 4, 4)."""
    whole = np.zeros((len(matrices), 4, 4))
    whole[:, :3] = matrices
    whole[:, 3, 3] = 1.0
    return whole


def rest_matrix(part: Part) -> Array:
    """T(rest) · R(rest), shape (4, 4)."""
    matrix = np.eye(4)
    angles = np.array([part.rest.rotation])
    matrix[:3, :3] = rotation_matrices(angles, part.rotation_order)[0]
    matrix[:3, 3] = part.rest.translation
    return matrix


def rest_world(scene: Scene, part: str) -> Array:
    """Where a part is while all channels, its own and those above, are at rest, shape (3, 4)."""
    matrix, at = np.eye(4), scene.parts.get(part)
    while at is not None:
        matrix = rest_matrix(at) @ matrix
        at = scene.parts[at.parent] if at.parent else None
    return np.asarray(matrix[:3])


def rest_of(matrix: Array, part: Part) -> Rest:
    """The rest that has this matrix, shape (4, 4), its angles nearest to the part's own."""
    near = np.array(part.rest.rotation)
    angles = continuous_angles(matrix[None, :3, :3], part.rotation_order, near)[0]
    return Rest(vector(matrix[:3, 3]), vector(angles))


def vector(numbers: Array) -> Vector:
    """Three numbers without the last bits, which are only rounding errors."""
    x, y, z = (round(float(n), 12) + 0.0 for n in numbers)
    return x, y, z


def final_channels(evaluation: Evaluation, part: str) -> Array:
    """The nine transform channels of a part at Final, over all frames, shape (F, 9)."""
    frames = len(evaluation.times.frames)
    columns = [
        np.broadcast_to(evaluation.channel(ChannelRef(part, channel), "final"), frames)
        for channel in TRANSFORM_CHANNELS
    ]
    return np.stack(columns, axis=1)


def local_matrices(part: Part, channels: Array) -> Array:
    """T(rest) · R(rest) · T · R · S from channel values, shape (N, 9), as (N, 4, 4)."""
    moved = np.zeros((len(channels), 4, 4))
    linear = rotation_matrices(channels[:, 3:6], part.rotation_order)
    moved[:, :3, :3] = linear * channels[:, None, 6:9]
    moved[:, :3, 3] = channels[:, :3]
    moved[:, 3, 3] = 1.0
    return np.asarray(rest_matrix(part) @ moved)


def channels_of_local(part: Part, local: Array, near: Array, exact: bool = True) -> Array:
    """The channel values that give a part these local matrices.

    Args:
        part: for its rest and rotation order.
        local: shape (N, 4, 4).
        near: present channel values, shape (N, 9): they give the first angles' turns and the
            signs of the scale; a mirror beyond these is given to x.
        exact: the channels give the very matrix; else a shear is lost, and x keeps its direction
            and y its plane.

    Returns:
        Shape (N, 9).

    Raises:
        Refusal: where a matrix is sheared, so that no channels give it exactly.
    """
    with np.errstate(over="ignore", invalid="ignore"):
        moved = np.linalg.inv(rest_matrix(part)) @ local
    if not np.all(np.isfinite(moved)):
        raise Refusal(
            "it would be too far away for numbers on a frame.", code="too much", place=part.name
        )
    signs = np.where(near[:, 6:9] < 0.0, -1.0, 1.0)
    scale = np.linalg.norm(moved[:, :3, :3], axis=1)
    if np.any(scale == 0.0):
        raise Refusal("it is scaled to nothing on a frame.", code="choice", place=part.name)
    axes = moved[:, :3, :3] / scale[:, None, :]
    if exact and np.any(np.abs(axes.transpose(0, 2, 1) @ axes - np.eye(3)) > SHEAR):
        raise Refusal(
            "an uneven scale above it would shear it, and no channel can hold that; "
            "make that scale even, or let its place change.",
            place=part.name,
        )
    return channels_of_moved(moved[:, :3], part.rotation_order, signs, near[0, 3:6])


def channels_of_moved(moved: Array, order: RotationOrder, signs: Array, near: Array) -> Array:
    """The nine channels of places as seen from their rests; a shear is lost, and x keeps its
    direction and y its plane.

    Args:
        moved: shape (…, N, 3, 4); no axis is without length.
        order: which axis is applied first, second, third.
        signs: -1 for axes that are known to be mirrored, else 1, shape (…, N, 3).
        near: degrees that the first angles are nearest to, shape (…, 3).

    Returns:
        Shape (…, N, 9).
    """
    scale = np.linalg.norm(moved[..., :3], axis=-2)
    turned, mirrored = orthonormal(moved[..., :3] / scale[..., None, :], signs)
    angles = continuous_angles(turned, order, near)
    return np.concatenate([moved[..., 3], angles, scale * mirrored], axis=-1)


def inverted(matrices: Array, name: str) -> Array:
    """Inverses of whole matrices, shape (N, 4, 4).

    Raises:
        Refusal: with the name of the part whose matrices they are, where one has none.
    """
    size = np.abs(np.linalg.det(matrices[:, :3, :3]))
    if not np.all(size > NOTHING):
        text = "it is scaled to nothing on a frame, so that nothing can be placed in it; scale it."
        raise Refusal(text, code="choice", place=name)
    return np.asarray(np.linalg.inv(matrices))


def unscaled(linear: Array) -> Array:
    """The rotation of a linear part, by its columns' directions (Gram-Schmidt), shape (3, 3)."""
    q, r = np.linalg.qr(linear)
    return np.asarray(q * np.sign(np.diag(r)), dtype=np.float64)


def with_stepped(scene: Scene, ref: ChannelRef, frame: int, old: float, new: float) -> Scene:
    """The scene with a channel at one value up to the frame before, and at another from there on
    its way to its next key; see ``stepped``."""
    curve = scene.curves.get(ref)
    if curve is None:
        keys = [Key(float(frame - 1), old, "hold"), Key(float(frame), new, "linear")]
        return with_curve(scene, ref, with_keys(None, keys))
    return with_curve(scene, ref, stepped(curve, frame, old, new, (scene.first, scene.last)))


def parent_inverted(evaluation: Evaluation, part: Part, rows: Sequence[int]) -> Array:
    """The inverse of where a part hangs, on frames counted from the range's first one, shape
    (N, 4, 4); see ``inverted``."""
    name = evaluation.scene.parts[part.parent].name if part.parent else part.name
    return inverted(worlds(evaluation, part.parent)[list(rows)], name)


def with_channels(scene: Scene, part_id: str, old: Array, new: Array) -> Scene:
    """The scene with the transform channels of a part changed on all frames of the range.

    A channel that stays keeps its curve; one that is only shifted keeps the curve's shape; one
    that stands still gets a value; any other gets a key on every frame.

    Args:
        scene: the scene.
        part_id: the part.
        old: the channel values now, shape (F, 9).
        new: what they should be, shape (F, 9).

    Raises:
        Refusal: where a step or a layer writes a channel that would have to change.
    """
    for n, channel in enumerate(TRANSFORM_CHANNELS):
        if np.all(np.abs(new[:, n] - old[:, n]) <= SAME):
            continue
        ref = ChannelRef(part_id, channel)
        refuse_written(scene, ref)
        scene = _with_channel(scene, ref, old[:, n], new[:, n])
    return scene


def refuse_written(scene: Scene, ref: ChannelRef) -> None:
    """Refuses to change by keys what steps write."""
    writers = [step.name for step in scene.writers(ref) if step.on]
    if writers:
        raise Refusal(
            f"it is written by {', '.join(f'“{name}”' for name in writers)}; mute those "
            "steps or merge those layers first, or let things move.",
            code="in use",
            place=full_name(scene, ref),
        )
    refuse_locked(scene, ref)


def refuse_locked(scene: Scene, ref: ChannelRef) -> None:
    """Refuses to change what is locked."""
    if ref.channel in scene.parts[ref.part].locked:
        raise Refusal("it is locked; unlock it first.", code="locked", place=full_name(scene, ref))


def _with_channel(scene: Scene, ref: ChannelRef, old: Array, new: Array) -> Scene:
    part = scene.parts[ref.part]
    curves = {r: c for r, c in scene.curves.items() if r != ref}
    shift = new - old
    curve = scene.curves.get(ref)
    if np.ptp(new) <= SAME:
        value = vector(np.full(3, new[0]))[0]
        part = replace(part, values={**part.values, ref.channel: value})
        return replace(scene, curves=curves, parts={**scene.parts, part.id: part})
    if curve is not None and np.ptp(shift) <= SAME:
        keys = tuple(replace(key, value=key.value + float(shift[0])) for key in curve.keys)
        curves[ref] = replace(curve, keys=keys)
    else:
        frames = range(scene.first, scene.last + 1)
        keys = tuple(
            Key(float(frame), float(value), "linear")
            for frame, value in zip(frames, new, strict=True)
        )
        curves[ref] = with_keys(Curve(()), keys)
    return replace(scene, curves=curves)


def refuse_moved(
    before: Evaluation, after: Evaluation, tolerance: float = 1e-9, rows: Indices | None = None
) -> None:
    """Refuses a change that was to keep every world matrix, where one has moved; with ``rows``
    on these frames, counted from the range's first one."""
    frames = len(before.times.frames)
    for part in before.scene.tree_order:
        moved = np.abs(before.world(part) - after.world(part)).max(axis=(1, 2))
        if rows is not None:
            moved = np.where(np.isin(np.arange(frames), rows), np.broadcast_to(moved, frames), 0.0)
        if np.any(moved > tolerance):
            frame = before.times.first + int(np.argmax(moved > tolerance))
            raise Refusal(
                f"{before.scene.parts[part].name} would move by {moved.max():.3g}, first on "
                f"frame {frame}, since something reads its channels; nothing was changed.",
                code="in use",
                place=before.scene.parts[part].name,
            )


def with_place_kept(before: Scene, moved: Scene, part_id: str) -> Scene:
    """A scene in which a part has been given another parent, with its world place kept on all
    frames of the range.

    Where the new parent stands still as seen from the old one, only the rest changes; else the
    part gets keys on every frame.
    """
    evaluation = evaluated(before)
    part = moved.parts[part_id]
    old_parent = worlds(evaluation, before.parts[part_id].parent)
    new_parent = worlds(evaluation, part.parent)
    name = moved.parts[part.parent].name if part.parent else part.name
    way = inverted(new_parent, name) @ old_parent
    linear = way[0, :3, :3]
    still = np.all(np.abs(way - way[0]) <= 1e-11)
    if still and np.all(np.abs(linear.T @ linear - np.eye(3)) <= 1e-11):
        rest = rest_of(way[0] @ rest_matrix(part), part)
        made = replace(moved, parts={**moved.parts, part_id: replace(part, rest=rest)})
    else:
        old = final_channels(evaluation, part_id)
        local = way @ local_matrices(part, old)
        made = with_channels(moved, part_id, old, channels_of_local(part, local, old))
    refuse_moved(evaluation, evaluated(made))
    return made


def worlds(evaluation: Evaluation, part: str | None) -> Array:
    """A part's world matrices on all frames, shape (F, 4, 4); without a part, the world's own."""
    frames = len(evaluation.times.frames)
    matrices = np.eye(4) if part is None else square(evaluation.world(part))
    return np.broadcast_to(matrices, (frames, 4, 4))


def carried_pose(old: Part, new: Part) -> Mapping[str, float]:
    """The own default pose of a part that has another rest or rotation order now, so that it still
    stands for the same place."""
    if not any(channel in old.pose for channel in TRANSFORM_CHANNELS):
        return old.pose
    values = np.array([[old.pose.get(c, DEFAULTS[c]) for c in TRANSFORM_CHANNELS]])
    turned = values.copy()
    # The scale stays as it is: only where and how the part stands is written anew.
    turned[:, 6:9] = 1.0
    made = channels_of_local(new, local_matrices(old, turned), turned)[0]
    pose = {c: v for c, v in old.pose.items() if c not in TRANSFORM_CHANNELS[:6]}
    for channel, value in zip(TRANSFORM_CHANNELS[:6], made[:6], strict=True):
        if abs(value) > SAME:
            pose[channel] = float(value)
    return pose


def axes_of(evaluation: Evaluation, part_id: str) -> Array:
    """A part's world matrices on all frames with axes of length 1, those turned round along which
    its own scale is negative, shape (F, 4, 4).

    Raises:
        Refusal: when it has no size on some frame.
    """
    made = worlds(evaluation, part_id).copy()
    signs = np.where(final_channels(evaluation, part_id)[:, 6:9] < 0.0, -1.0, 1.0)
    with np.errstate(divide="ignore", invalid="ignore"):
        made[:, :3, :3] *= (signs / np.linalg.norm(made[:, :3, :3], axis=1))[:, None, :]
    if not np.isfinite(made).all():
        name = evaluation.scene.parts[part_id].name
        raise Refusal("it is scaled to nothing on a frame; scale it.", code="choice", place=name)
    return made


def with_worlds(
    scene: Scene,
    evaluation: Evaluation,
    part_id: str,
    rows: Sequence[int],
    target: Array,
    groups: Sequence[str] = ("translation", "rotation"),
    one: bool = False,
    kinds: bool = False,
    exact: bool = True,
) -> Scene:
    """The scene with keys that put a part at places in the world; outside of the frames from the
    first to the last one it stays as it was.

    Args:
        scene: the scene.
        evaluation: of this scene.
        part_id: the part.
        rows: the frames, counted from the range's first one, ascending.
        target: world matrices with axes of length 1, shape (N, 4, 4). Where what lies above the
            part mirrors them, its x axis is turned round.
        groups: what follows: ``translation``, ``rotation``.
        one: it is one frame, and a channel without keys is only set.
        kinds: segments behind keys that are there already keep their kind; else they are linear.
        exact: see ``channels_of_local``.

    Raises:
        Refusal: where a step or a layer writes a channel that would have to change, or the place
            cannot be had.
    """
    part = scene.parts[part_id]
    old = final_channels(evaluation, part_id)[list(rows)]
    unscaled = old.copy()
    unscaled[:, 6:9] = 1.0
    with np.errstate(over="ignore", invalid="ignore"):
        local = parent_inverted(evaluation, part, rows) @ target
    new = channels_of_local(part, local, unscaled, exact)
    first = evaluation.times.first
    for n, channel in enumerate(TRANSFORM_CHANNELS[:6]):
        if channel.split(".")[0] not in groups or np.all(np.abs(new[:, n] - old[:, n]) <= SAME):
            continue
        ref = ChannelRef(part_id, channel)
        refuse_written(scene, ref)
        if one and ref not in scene.curves:
            owner = scene.parts[part_id]
            values = {**owner.values, channel: float(new[0, n])}
            scene = replace(scene, parts={**scene.parts, part_id: replace(owner, values=values)})
        else:
            span = first + rows[0], first + rows[-1]
            frames = np.array(rows) + first
            scene = with_span_keys(scene, ref, span, frames, new[:, n], kinds)
    return scene


def with_span_keys(
    scene: Scene,
    ref: ChannelRef,
    span: Span,
    frames: Indices,
    values: Array,
    kinds: bool = False,
) -> Scene:
    """The scene with keys on frames of a channel's own curve in the place of what it has in a
    span; outside of that, on whole frames of the range, it stays as it was.

    Args:
        scene: the scene.
        ref: the channel.
        span: first and last frame.
        frames: whole frames in the span, ascending.
        values: shape (N,).
        kinds: segments behind keys that are there already keep their kind; else they are linear.
    """
    curve = scene.curves.get(ref)
    old = {key.frame: key.interpolation for key in curve.keys} if curve and kinds else {}
    keys = [
        Key(float(f), float(v), old.get(float(f), "linear"))
        for f, v in zip(frames, values, strict=True)
    ]
    if curve is not None:
        made = with_span(curve, span, keys, (scene.first, scene.last))
    else:
        still = scene.set_value(ref)
        ends = [f for f in (span[0] - 1, span[1] + 1) if scene.first <= f <= scene.last]
        made = with_keys(None, [*keys, *(Key(float(f), still, "linear") for f in ends)])
    return with_curve(scene, ref, made)
