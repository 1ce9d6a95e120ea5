"""Files of other formats on their way in: as a new scene, or onto parts of one that is there."""

from __future__ import annotations

import math
from collections.abc import Iterator, Sequence
from dataclasses import dataclass

import numpy as np

from bindu.core.clips.motion import MotionClip
from bindu.core.curves.keys import with_keys
from bindu.core.curves.model import Array, Curve, Key
from bindu.core.edits import applied
from bindu.core.edits.base import Edit
from bindu.core.edits.channels import AddChannel, SetValue
from bindu.core.edits.keys import PutCurves
from bindu.core.edits.parts import AddPart
from bindu.core.edits.scene import ChangeScene
from bindu.core.edits.sets import PutMarker
from bindu.core.edits.surfaces import PutSurface
from bindu.core.placing.place import channels_of_local, rest_of, square
from bindu.core.refusal import Refusal
from bindu.core.scene.channels import DEFAULTS, TRANSFORM_CHANNELS, ChannelRef
from bindu.core.scene.model import Scene
from bindu.core.scene.names import LONGEST_NAME
from bindu.core.scene.parts import Part, Rest, Shape
from bindu.core.scene.settings import Vector
from bindu.core.scene.surfaces import AnyDeform, BendByJoints, BlendShape, BlendShapes, Carry
from bindu.core.surface.weights import joint_weights
from bindu.formats.bvh import read_bvh
from bindu.formats.gltf import GltfFile, read_gltf, read_gltf_file
from bindu.formats.report import Report, unique_names
from bindu.formats.table import read_table
from bindu.formats.usd.layers import read_usd

SAME = 1e-9
DEFAULT_ROW = np.array([DEFAULTS[channel] for channel in TRANSFORM_CHANNELS])


def read_file(data: bytes, kind: str, fps: float, report: Report) -> list[MotionClip]:
    """The clips of a file.

    Args:
        kind: what the file's name ends in.
        fps: frames a second where the format does not say.

    Raises:
        Refusal: with the place in the file.
    """
    kind = kind.lower().lstrip(".")
    if kind in ("glb", "gltf"):
        report.format = "glTF 2.0"
        return read_gltf(data, report)
    if kind in ("usd", "usda", "usdc"):
        report.format = "USD"
        return read_usd(data, report)
    if kind == "bvh":
        report.format = "BVH"
        return read_bvh(data, report)
    if kind == "csv":
        report.format = "CSV"
        return read_table(data, fps, report)
    text = "take in files that end in glb, gltf, usd, usda, usdc, bvh or csv."
    raise Refusal(text, code="choice", place=f"file ending in {kind[:20]!r}")


def new_scene(
    data: bytes, kind: str, name: str, fps: float, clip: str | None
) -> tuple[Scene, list[str], Report]:
    """A file as a scene of its own, with its surfaces; the names of its clips; what became of it.

    Raises:
        Refusal: with the place in the file.
    """
    report, surfaces = Report(""), None
    if kind.lower().lstrip(".") in ("glb", "gltf"):
        report.format = "glTF 2.0"
        surfaces = read_gltf_file(data, report)
    clips = surfaces.clips if surfaces is not None else read_file(data, kind, fps, report)
    chosen = chosen_clip(clips, clip, report)
    edits = list(scene_edits_of(chosen, name, report))
    if surfaces is not None:
        edits += surface_edits_of(surfaces, chosen, report)
    return applied(Scene(), edits), [one.name for one in clips], report


def chosen_clip(clips: Sequence[MotionClip], name: str | None, report: Report) -> MotionClip:
    """The clip of a name, or the first one; the others are told to be left out.

    Raises:
        Refusal: when there is none of this name.
    """
    found = next((clip for clip in clips if name is None or clip.name == name), None)
    if found is None:
        raise Refusal(f"the file has no clip {str(name)[:80]!r}.", code="unknown", place="clip")
    others = [clip.name for clip in clips if clip is not found]
    if others:
        report.lost.append(f"the clips {', '.join(others[:8])}: take them in by themselves")
    return found


def scene_edits_of(clip: MotionClip, name: str, report: Report) -> Iterator[Edit]:
    """The edits that make a scene of a clip: parts at rest, and keys on every frame that moves."""
    first, last = math.floor(clip.frames[0]), math.ceil(clip.frames[-1])
    title = "".join(c for c in name if c.isprintable()).strip()[:LONGEST_NAME] or "scene"
    yield ChangeScene(name=title, fps=clip.fps, first=first, last=max(last, first + 1))
    local = clip.local
    size = _usual_size(clip)
    for n, part in enumerate(clip.parts):
        data = Part(f"p{n + 1}", part.name, rotation_order=part.rotation_order)
        rest = _rest(part.rest, data)
        shape = Shape("axes", (size, size, size))
        parent = None if part.parent is None else f"p{part.parent + 1}"
        yield AddPart(
            part.name, parent, part.role, rest=rest, rotation_order=part.rotation_order,
            shape=shape, id=data.id,
        )  # fmt: skip
        rested = Part(data.id, data.name, rest=rest, rotation_order=part.rotation_order)
        rows = _channel_rows(rested, local[n], clip.scale[n])
        yield from _keyed(data.id, clip.frames, rows, DEFAULT_ROW)
    ids = {part.name: f"p{n + 1}" for n, part in enumerate(clip.parts)}
    for n, (name_, values) in enumerate(clip.channels.items()):
        part_name, _, channel = name_.partition(".")
        if part_name in ids:
            yield AddChannel(ids[part_name], channel, default=float(values[0]), id=f"c{n + 1}")
            if np.ptp(values) > 0.0:
                curve = _curve(clip.frames, values)
                yield PutCurves(ids[part_name], ((f"c{n + 1}", curve),))
    for frame, label in clip.events:
        yield PutMarker(frame, label[:LONGEST_NAME])


def surface_edits_of(file: GltfFile, clip: MotionClip, report: Report) -> Iterator[Edit]:
    """The edits that give a scene of a clip the surfaces of its file; see ``scene_edits_of``."""
    n = next(k for k, one in enumerate(file.clips) if one is clip)
    names = unique_names([mesh.name for mesh in file.meshes])
    for k, (mesh, name) in enumerate(zip(file.meshes, names, strict=True)):
        part = f"p{mesh.part + 1}"
        steps: list[AnyDeform] = []
        titles = unique_names([title for title, _ in mesh.shapes])
        if mesh.shapes:
            shapes = tuple(
                BlendShape(f"h{h + 1}", title, _offsets(offsets))
                for h, (title, (_, offsets)) in enumerate(zip(titles, mesh.shapes, strict=True))
            )
            steps.append(BlendShapes("d1", "shapes", shapes=shapes))
        if mesh.joints:
            ids = [f"p{joint + 1}" for joint in mesh.joints]
            joints = tuple(one for one in joint_weights(ids, mesh.weights) if one.weights)
            steps.append(BendByJoints("d2", "bend", joints=joints))
        steps.append(Carry("d3", "carry"))
        points = tuple((x, y, z) for x, y, z in mesh.points.tolist())
        faces = tuple((a, b, c) for a, b, c in mesh.faces.tolist())
        surface = f"f{k + 1}"
        yield PutSurface(name, part, points, faces, tuple(steps), id=surface)
        values = file.blends[n].get(mesh.node)
        for h in range(len(mesh.shapes) if values is not None else 0):
            channel = f"{surface}.d1.h{h + 1}"
            assert values is not None
            if np.ptp(values[:, h]) > SAME:
                yield PutCurves(part, ((channel, _curve(clip.frames, values[:, h])),))
            elif abs(values[0, h]) > SAME:
                yield SetValue(part, channel, float(values[0, h]))
    if file.meshes:
        report.held.append(f"{len(file.meshes)} meshes as surfaces")


def _offsets(offsets: Array) -> tuple[tuple[int, Vector], ...]:
    """The offsets of a shape that are not nothing."""
    moved = np.flatnonzero(np.abs(offsets).max(axis=1) > 0.0)
    rows = zip(moved.tolist(), offsets[moved].tolist(), strict=True)
    return tuple((point, (x, y, z)) for point, (x, y, z) in rows)


def _usual_size(clip: MotionClip) -> float:
    """A size for the axes that are drawn for parts: a part of what the whole takes up."""
    places = clip.worlds[:, 0, :, 3]
    return float(np.clip(np.ptp(places, axis=0).max() / 15.0, 0.01, 1000.0))


def _rest(place: Array, part: Part) -> Rest:
    """The rest of a place without its scale."""
    linear = place[:, :3]
    size = np.linalg.norm(linear, axis=0)
    axes = linear / np.where(size > 0.0, size, 1.0)
    if np.linalg.det(axes) < 0.0:
        axes = axes * [-1.0, 1.0, 1.0]
    if abs(np.linalg.det(axes) - 1.0) > 1e-6:
        axes = np.eye(3)
    return rest_of(square(np.concatenate([axes, place[:, 3:]], axis=1)[None])[0], part)


def _channel_rows(part: Part, local: Array, scale: Array) -> Array:
    """The nine channels that give a part these places, shape (F, 9)."""
    near = np.broadcast_to(DEFAULT_ROW, (len(local), 9)).copy()
    near[:, 6:9] = np.where(scale < 0.0, -1.0, 1.0)
    nothing = scale == 0.0
    if np.any(nothing):
        # What is scaled to nothing keeps its axes for the turning.
        local = local.copy()
        flat = np.where(nothing[:, None, :], np.eye(3), local[..., :3])
        local[..., :3] = np.where(np.any(nothing, axis=1)[:, None, None], flat, local[..., :3])
    rows = channels_of_local(part, square(local), near, exact=False)
    rows[:, 6:9] = np.where(nothing, 0.0, rows[:, 6:9])
    return rows


def _keyed(part: str, frames: Array, rows: Array, still: Array) -> Iterator[Edit]:
    """Keys for what moves, values for what stands elsewhere than where it stood."""
    curves = []
    for c, channel in enumerate(TRANSFORM_CHANNELS):
        values = rows[:, c]
        if np.ptp(values) > SAME:
            curves.append((channel, _curve(frames, values)))
        elif abs(values[0] - still[c]) > SAME:
            yield SetValue(part, channel, float(values[0]))
    if curves:
        yield PutCurves(part, tuple(curves))


def _curve(frames: Array, values: Array) -> Curve:
    keys = [Key(float(f), float(v), "linear") for f, v in zip(frames, values, strict=True)]
    return with_keys(None, keys)


@dataclass(frozen=True)
class Match:
    """A part of a file, and the scene's part that it moves; None where none has its name."""

    name: str
    part: str | None


def matches(scene: Scene, clip: MotionClip) -> list[Match]:
    """The parts of a clip by the scene's parts of the same name."""
    return [Match(part.name, scene.part_ids.get(part.name)) for part in clip.parts]


def edits_onto(scene: Scene, clip: MotionClip, report: Report) -> list[Edit]:
    """The edits that give a scene's parts the motion of a clip's parts of the same name, as seen
    from their parents; keys that are there on these frames are replaced, others stay.

    Raises:
        Refusal: when no name matches.
    """
    found = matches(scene, clip)
    if all(match.part is None for match in found):
        text = "no part of the file has the name of a part of this scene; take it in as a new one."
        raise Refusal(text, code="unknown", place="parts")
    frames = clip.frames * scene.fps / clip.fps
    if abs(scene.fps - clip.fps) > 1e-6:
        text = f"{clip.fps:g} frames a second are {scene.fps:g} here: its keys keep their seconds"
        report.otherwise.append(text)
    edits: list[Edit] = []
    elsewhere = []
    for n, match in enumerate(found):
        if match.part is None:
            continue
        part, above = scene.parts[match.part], clip.parts[n].parent
        hangs = None if part.parent is None else scene.parts[part.parent].name
        if hangs != (None if above is None else clip.parts[above].name):
            elsewhere.append(part.name)
        rows = _channel_rows(part, clip.local[n], clip.scale[n])
        refs = [ChannelRef(part.id, channel) for channel in TRANSFORM_CHANNELS]
        still = np.array([scene.set_value(ref) for ref in refs])
        curves = []
        for c, ref in enumerate(refs):
            old = scene.curves.get(ref)
            if old is not None or np.ptp(rows[:, c]) > SAME:
                curves.append((ref.channel, _over(old, frames, rows[:, c])))
            elif abs(rows[0, c] - still[c]) > SAME:
                edits.append(SetValue(part.id, ref.channel, float(rows[0, c])))
        if curves:
            edits.append(PutCurves(part.id, tuple(curves)))
    left = [match.name for match in found if match.part is None]
    if left:
        more = f" and {len(left) - 8} more" if len(left) > 8 else ""
        report.lost.append(f"parts without one of their name here: {', '.join(left[:8])}{more}")
    if elsewhere:
        text = f"{', '.join(elsewhere[:8])} hang elsewhere here: their places count as seen from "
        report.otherwise.append(text + "their parents here")
    return edits


def _over(old: Curve | None, frames: Array, values: Array) -> Curve:
    """A curve with keys on frames in the place of what it has between them."""
    if np.ptp(values) <= SAME:
        frames, values = frames[[0, -1]], values[[0, -1]]
        frames, at = np.unique(frames, return_index=True)
        values = values[at]
    keys = [Key(float(f), float(v), "linear") for f, v in zip(frames, values, strict=True)]
    kept = [key for key in (old.keys if old else ()) if not frames[0] <= key.frame <= frames[-1]]
    return with_keys(None, [*kept, *keys])
