"""Writing curves out for what leaves, and telling how far they are from what they came from."""

from __future__ import annotations

import hashlib
from collections.abc import Iterable, Iterator, Sequence
from dataclasses import replace
from itertools import islice

import numpy as np

from bindu.core.clips.motion import (
    MotionClip,
    MotionPart,
    locals_of,
    taken_apart,
)
from bindu.core.clips.thinning import within_tolerance
from bindu.core.curves.model import Array
from bindu.core.curves.thin import thinned_rows
from bindu.core.evaluation import Evaluation
from bindu.core.geometry.places import seen_from
from bindu.core.graph.kinds.channel import tap_node
from bindu.core.graph.kinds.world import world_node
from bindu.core.nodes.operation import Indices
from bindu.core.placing.place import (
    channels_of_local,
    channels_of_moved,
    local_matrices,
    rest_matrix,
    rest_of,
    rest_world,
    square,
)
from bindu.core.refusal import Refusal
from bindu.core.scene.bakes import Bake, Baked, BakedCurve, BakedPart
from bindu.core.scene.channels import DEFAULTS, TRANSFORM_CHANNELS, ChannelRef
from bindu.core.scene.model import Scene
from bindu.core.scene.names import channel_name
from bindu.core.scene.parts import Part, Rest, RotationOrder

MOST_NUMBERS = 4_000_000
"""Values that a bake holds at most: what can be kept and undone in a moment."""
DEFAULT_ROW = np.array([DEFAULTS[channel] for channel in TRANSFORM_CHANNELS])


def leaving(scene: Scene, bake: Bake) -> tuple[str, ...]:
    """The parts that leave, in the order of the tree.

    Raises:
        Refusal: when there are none, or the set is gone.
    """
    if bake.by == "a set":
        if bake.set is None or bake.set not in scene.sets:
            text = "its set is gone; choose another, or other parts."
            raise Refusal(text, code="gone", place=bake.name)
        chosen = set(scene.sets[bake.set].parts)
    elif bake.by == "by hand":
        chosen = set(bake.parts)
    elif bake.by == "all parts":
        chosen = set(scene.parts)
    else:
        chosen = {p for p, part in scene.parts.items() if part.role in ("joint", "prop")}
    found = tuple(part for part in scene.tree_order if part in chosen)
    if not found:
        text = "no parts leave: the scene has no joints and props. Give parts one of these roles, "
        text += "or choose all parts, a set, or parts by hand."
        raise Refusal(text, code="choice", place=bake.name)
    return found


def baked_frames(first: int, last: int, step: int) -> Indices:
    """The frames that are written, the last one always, shape (F,)."""
    return np.unique(np.append(np.arange(first, last + 1, step), last)).astype(np.int64)


def parents_among(scene: Scene, parts: Sequence[str]) -> list[int | None]:
    """For each part the place of its nearest ancestor that leaves too."""
    place = {part: n for n, part in enumerate(parts)}
    found: list[int | None] = []
    for part in parts:
        above = scene.parts[part].parent
        while above is not None and above not in place:
            above = scene.parts[above].parent
        found.append(place.get(above) if above is not None else None)
    return found


def worlds_on(evaluation: Evaluation, parts: Sequence[str], frames: Indices) -> Array:
    """Final places of parts on frames, shape (P, F, 3, 4)."""
    rows = [evaluation.index(int(frame)) for frame in frames]
    count = len(evaluation.times.frames)
    return np.stack(
        [np.broadcast_to(evaluation.world(part), (count, 3, 4))[rows] for part in parts]
    )


def source_clip(evaluation: Evaluation, bake: Bake) -> MotionClip:
    """What a bake comes from, as it is now.

    Raises:
        Refusal: when nothing leaves, or a frame is none of the scene's range.
    """
    scene, parts = evaluation.scene, leaving(evaluation.scene, bake)
    frames = baked_frames(bake.first, bake.last, bake.step)
    parents = parents_among(scene, parts)
    worlds = worlds_on(evaluation, parts, frames)
    translation, rotation, scale = taken_apart(locals_of(parents, worlds))
    rests = [rest_world(scene, part)[None] for part in parts]
    rested = [
        rest if above is None else seen_from(rests[above], rest)
        for rest, above in zip(rests, parents, strict=True)
    ]
    rows = [evaluation.index(int(frame)) for frame in frames]
    channels = {}
    for part in parts if bake.own_channels else ():
        for own in scene.channels_of.get(part, ()):
            ref = ChannelRef(part, own.id)
            values = np.broadcast_to(evaluation.channel(ref, "final"), len(evaluation.times.frames))
            channels[f"{scene.parts[part].name}.{channel_name(scene, ref)}"] = values[rows]
    return MotionClip(
        bake.name,
        scene.fps,
        frames.astype(np.float64),
        tuple(
            MotionPart(
                scene.parts[part].name,
                above,
                rest[0],
                scene.parts[part].role,
                scene.parts[part].rotation_order,
            )
            for part, above, rest in zip(parts, parents, rested, strict=True)
        ),
        translation,
        rotation,
        scale,
        channels,
        tuple(
            (marker.frame, marker.label)
            for marker in sorted(scene.markers.values(), key=lambda one: (one.frame, one.id))
            if bake.first <= marker.frame <= bake.last
        ),
    )


def source_digest(evaluation: Evaluation, bake: Bake) -> str:
    """By which it shows that something a bake comes from has changed."""
    scene, parts = evaluation.scene, leaving(evaluation.scene, bake)
    made = hashlib.blake2b(digest_size=16)
    made.update(repr((scene.fps, bake.first, bake.last, bake.step, bake.tolerance)).encode())
    made.update(repr(bake.own_channels).encode())
    for part, above in zip(parts, parents_among(scene, parts), strict=True):
        one = scene.parts[part]
        rest = rest_world(scene, part).tobytes()
        made.update(repr((part, one.name, above, one.role, one.rotation_order)).encode() + rest)
        made.update(evaluation.result(world_node(part)).key.encode())
        for own in scene.channels_of.get(part, ()) if bake.own_channels else ():
            node = tap_node(scene, ChannelRef(part, own.id), "final")
            made.update(repr(own.name).encode() + evaluation.result(node).key.encode())
    for marker in sorted(scene.markers.values(), key=lambda one: one.id):
        made.update(repr((marker.frame, marker.label)).encode())
    return made.hexdigest()


def baked(evaluation: Evaluation, bake: Bake) -> Baked:
    """A bake's curves, written out anew.

    With a tolerance as few keys stay as keep each channel within it, and each place in the world;
    where the latter needs more, the part and all that carry it get a finer one.

    Raises:
        Refusal: when it would hold too many numbers, or a part has no place.
    """
    scene, clip = evaluation.scene, source_clip(evaluation, bake)
    ids = leaving(scene, bake)
    if len(ids) * len(clip.frames) * 9 > MOST_NUMBERS:
        text = f"it would hold {len(ids) * len(clip.frames) * 9:,} numbers, of at most "
        text += f"{MOST_NUMBERS:,}. Let fewer parts or frames leave, or make several bakes."
        raise Refusal(text, code="too much", place=bake.name)
    rests = [_rest(scene.parts[p], one.rest) for p, one in zip(ids, clip.parts, strict=True)]
    rows = _channel_rows(scene, ids, clip, rests)
    kept = _kept(bake, clip, rests, rows)
    parts = []
    for n, (part, one) in enumerate(zip(ids, clip.parts, strict=True)):
        curves = [
            BakedCurve.of(channel, clip.frames[kept[n][c]], rows[n, kept[n][c], c])
            for c, channel in enumerate(TRANSFORM_CHANNELS)
        ]
        curves += _own_curves(bake, clip, one.name)
        parts.append(
            BakedPart(
                part, one.name, one.parent, one.role, rests[n], one.rotation_order, tuple(curves)
            )
        )
    return Baked(
        source_digest(evaluation, bake),
        scene.fps,
        bake.first,
        bake.last,
        tuple(parts),
        clip.events,
    )


def check_baked(made: Baked) -> None:
    """Refuses what no bake can have written out.

    Raises:
        Refusal: that names the part or curve at fault.
    """
    if not (made.parts and 0.01 <= made.fps <= 10_000.0):
        text = "it has no parts, or a rate that is none."
        raise Refusal(text, code="number", place="made")
    span = made.last - made.first
    if not 0 <= span <= 100_000 or len(made.parts) * (span + 1) * 9 > MOST_NUMBERS:
        raise Refusal("its span is none, or it holds too much.", code="too much", place="made")
    for n, part in enumerate(made.parts):
        numbers = (*part.rest.translation, *part.rest.rotation)
        if not np.all(np.abs(numbers) <= 1e9):
            text = "its rest must be numbers within ±1e9."
            raise Refusal(text, code="number", place=part.name)
        if part.parent is not None and not 0 <= part.parent < n:
            text = "what carries it must stand before it."
            raise Refusal(text, code="choice", place=part.name)
        for curve in part.curves:
            _, values = curve.unpacked()
            if np.abs(values).max() > 1e12:
                text = "a number of it is not within ±1e12."
                place = f"{part.name}.{curve.channel}"
                raise Refusal(text, code="number", place=place)


def _own_curves(bake: Bake, clip: MotionClip, name: str) -> Iterator[BakedCurve]:
    for key, values in clip.channels.items():
        part, _, channel = key.partition(".")
        if part == name:
            (places,) = _places(values[None], np.array([bake.tolerance]))
            yield BakedCurve.of(channel, clip.frames[places], values[places])


def _rest(part: Part, rest: Array) -> Rest:
    return rest_of(square(rest[None])[0], part)


def _channel_rows(
    scene: Scene, ids: Sequence[str], clip: MotionClip, rests: Sequence[Rest]
) -> Array:
    """The nine channels of each part as seen from its rest, shape (P, F, 9)."""
    made = np.empty((len(ids), len(clip.frames), 9))
    rested = [replace(scene.parts[part], rest=rests[n]) for n, part in enumerate(ids)]
    back = np.linalg.inv(np.stack([rest_matrix(part) for part in rested]))[:, None, :3]
    with np.errstate(over="ignore", invalid="ignore"):
        moved = back[..., :3] @ clip.local
        moved[..., 3] += back[..., 3]
    far = ~np.isfinite(moved).all(axis=(1, 2, 3))
    if far.any():
        text = "it would be too far away for numbers on a frame."
        raise Refusal(text, code="too much", place=rested[int(far.argmax())].name)
    signs, nothing = np.where(clip.scale < 0.0, -1.0, 1.0), np.any(clip.scale == 0.0, axis=(1, 2))
    for order in sorted({part.rotation_order for part in rested}):
        rows = [n for n, p in enumerate(rested) if p.rotation_order == order and not nothing[n]]
        near = np.zeros((len(rows), 3))
        made[rows] = channels_of_moved(moved[rows], order, signs[rows], near)
    for n in np.flatnonzero(nothing):
        made[n] = _of_nothing(rested[n], clip, int(n))
    return made


def _of_nothing(part: Part, clip: MotionClip, n: int) -> Array:
    """Channels of a part that is scaled to nothing on some frames: its rotation is that of the
    frame before."""
    whole = MotionClip(
        "", clip.fps, clip.frames, (), clip.translation[n : n + 1], clip.rotation[n : n + 1],
        np.ones_like(clip.scale[n : n + 1]),
    )  # fmt: skip
    near = np.broadcast_to(DEFAULT_ROW, (len(clip.frames), 9)).copy()
    made = channels_of_local(part, square(whole.local[0]), near, exact=False)
    made[:, 6:9] = clip.scale[n]
    return made


def _kept(bake: Bake, clip: MotionClip, rests: Sequence[Rest], rows: Array) -> list[list[Indices]]:
    """Which frames of each channel stay, by part."""
    kept: list[list[Indices]] = [[] for _ in rows]

    def choose(parts: Sequence[int], tolerances: Array) -> None:
        curves = np.moveaxis(rows[parts], 1, 2)
        places = iter(_places(curves.reshape(-1, rows.shape[1]), np.repeat(tolerances, 9)))
        for part in parts:
            kept[part] = list(islice(places, 9))

    def thin(parts: Sequence[int], tolerances: Array) -> Array:
        choose(parts, tolerances)
        drawn = np.stack([_drawn(rows[part], kept[part]) for part in parts])
        some = [(rests[part], clip.parts[part].rotation_order) for part in parts]
        return _local_of(some, drawn)

    if bake.tolerance == 0.0:
        choose(range(len(rows)), np.zeros(len(rows)))
    else:
        parents = [part.parent for part in clip.parts]
        within_tolerance(parents, clip.worlds, bake.tolerance, thin)
    return kept


def _places(rows: Array, tolerances: Array) -> list[Indices]:
    """Which values of each row must stay: as few as its tolerance allows, and one where nothing
    changes."""
    moves = np.ptp(rows, axis=1) > 0.0
    thinned = iter(thinned_rows(rows[moves], tolerances[moves]))
    return [next(thinned) if moving else np.zeros(1, dtype=np.int64) for moving in moves]


def _drawn(row: Array, places: Sequence[Indices]) -> Array:
    """A part's channels with straight lines between the frames that stay, shape (F, 9)."""
    every = np.arange(len(row))
    return np.stack([np.interp(every, at, row[at, c]) for c, at in enumerate(places)], axis=1)


def _local_of(parts: Iterable[tuple[Rest, RotationOrder]], rows: Array) -> Array:
    """Places as seen from parents, of channels as seen from rests, shape (P, F, 3, 4)."""
    made = []
    for (rest, order), channels in zip(parts, rows, strict=True):
        part = Part("", "", rest=rest, rotation_order=order)
        made.append(local_matrices(part, channels)[:, :3])
    return np.stack(made)


def written(bake: Bake) -> Baked:
    """What a bake wrote out.

    Raises:
        Refusal: when that is nothing yet.
    """
    if bake.made is None:
        raise Refusal("it has not been baked yet.", code="choice", place=bake.name)
    return bake.made


def baked_clip(bake: Bake) -> MotionClip:
    """What a bake wrote out, on every frame of its span.

    Raises:
        Refusal: when it wrote nothing yet, or is spoiled.
    """
    made = written(bake)
    frames = baked_frames(made.first, made.last, 1)
    rows, channels = [], {}
    for part in made.parts:
        curves = {curve.channel: curve.unpacked() for curve in part.curves}
        columns = []
        for c, channel in enumerate(TRANSFORM_CHANNELS):
            at, values = curves.pop(channel, (np.zeros(1, np.int32), DEFAULT_ROW[c : c + 1]))
            columns.append(np.interp(frames, at, values))
        rows.append(np.stack(columns, axis=1))
        for channel, (at, values) in curves.items():
            channels[f"{part.name}.{channel}"] = np.interp(frames, at, values)
    rested = [(part.rest, part.rotation_order) for part in made.parts]
    local = _local_of(rested, np.stack(rows))
    translation, rotation, scale = taken_apart(local)
    rest = _local_of(rested, np.broadcast_to(DEFAULT_ROW, (len(made.parts), 1, 9)))
    return MotionClip(
        bake.name,
        made.fps,
        frames.astype(np.float64),
        tuple(
            MotionPart(part.name, part.parent, rest[n, 0], part.role, part.rotation_order)
            for n, part in enumerate(made.parts)
        ),
        translation,
        rotation,
        scale,
        channels,
        made.markers,
        bake.tolerance,
    )
