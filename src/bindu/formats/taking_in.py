"""Files of other formats on their way in, and scenes that are made of them."""

from __future__ import annotations

import math
from collections.abc import Iterator, Sequence
from dataclasses import replace

import numpy as np

from bindu.core.clips.motion import MotionClip
from bindu.core.counted import counted, some_of
from bindu.core.curves.model import Array
from bindu.core.edits import applied
from bindu.core.edits.base import Edit
from bindu.core.edits.channels import AddChannel, SetValue
from bindu.core.edits.keys import PutCurves
from bindu.core.edits.parts import AddPart
from bindu.core.edits.scene import ChangeScene
from bindu.core.edits.sets import PutMarker
from bindu.core.edits.surfaces import PutSurface
from bindu.core.placing.place import rest_of, square
from bindu.core.refusal import Refusal
from bindu.core.scene.channels import TRANSFORM_CHANNELS
from bindu.core.scene.model import Scene
from bindu.core.scene.names import LONGEST_NAME
from bindu.core.scene.parts import Part, Rest, Shape
from bindu.core.scene.settings import Vector
from bindu.core.scene.surfaces import AnyDeform, BendByJoints, BlendShape, BlendShapes, Carry
from bindu.core.surface.weights import joint_weights
from bindu.formats.bvh import read_bvh
from bindu.formats.gltf import GltfFile, read_gltf, read_gltf_file
from bindu.formats.keying import DEFAULT_ROW, SAME, channel_rows, keys_on
from bindu.formats.report import Report, unique_names
from bindu.formats.table import read_table
from bindu.formats.usd.layers import read_usd

UNITLESS = ("bvh", "csv")
"""Formats that do not say in which unit their lengths are."""
LARGE = 20.0
"""Metres, from which on a file that says no unit seems to be in another one."""


def read_file(
    data: bytes, kind: str, fps: float, report: Report, unit: float = 1.0
) -> list[MotionClip]:
    """The clips of a file.

    Args:
        kind: what the file's name ends in.
        fps: frames a second where the format does not say.
        unit: metres that a unit is, where the format does not say.

    Raises:
        Refusal: with the place in the file.
    """
    kind = kind.lower().lstrip(".")
    _check_unit(kind, unit)
    if kind in ("glb", "gltf"):
        report.format = "glTF 2.0"
        return read_gltf(data, report)
    if kind in ("usd", "usda", "usdc"):
        report.format = "USD"
        return read_usd(data, report)
    if kind == "bvh":
        report.format = "BVH"
        clips = [in_metres(clip, unit) for clip in read_bvh(data, report)]
        _tell_unit(clips, unit, report)
        return clips
    if kind == "csv":
        report.format = "CSV"
        return [in_metres(clip, unit) for clip in read_table(data, fps, report)]
    text = "take in files that end in glb, gltf, usd, usda, usdc, bvh or csv."
    raise Refusal(text, code="choice", place=f"file ending in {kind[:20]!r}")


def _check_unit(kind: str, unit: float) -> None:
    """Refuses a unit that is no length, or that the format says itself.

    Raises:
        Refusal: with the reason.
    """
    if not 1e-6 <= unit <= 1e6:
        text = "a number of metres is wanted, such as 0.01."
        raise Refusal(text, code="number", place="unit")
    if unit != 1.0 and kind not in UNITLESS:
        text = f"only files that end in {' or '.join(UNITLESS)} leave it open; this says it itself."
        raise Refusal(text, code="choice", place="unit")


def in_metres(clip: MotionClip, unit: float) -> MotionClip:
    """A clip whose lengths are in units of so many metres."""
    size = np.array([1.0, 1.0, 1.0, unit])
    parts = tuple(replace(part, rest=part.rest * size) for part in clip.parts)
    return replace(clip, parts=parts, translation=clip.translation * unit)


def _tell_unit(clips: Sequence[MotionClip], unit: float, report: Report) -> None:
    """A file that says no unit is often one of centimetres."""
    text = f"a unit is taken as {unit:g} m"
    places = [clip.worlds[:, 0, :, 3] for clip in clips]
    # The ground counts too: of a figure whose joints are few, the height.
    large = max(float(np.ptp(np.append(one, one * [1, 0, 1], 0), 0).max()) for one in places)
    if unit == 1.0 and large > LARGE:
        text += f", so that it is {large:.0f} m large: say its unit if that is too much"
    report.otherwise.append(text)


def new_scene(
    data: bytes, kind: str, name: str, fps: float, clip: str | None, unit: float = 1.0
) -> tuple[Scene, list[str], Report]:
    """A file as a scene of its own, with its surfaces; the names of its clips; what became of it.

    Args: see ``read_file``.

    Raises:
        Refusal: with the place in the file.
    """
    report, surfaces = Report(""), None
    if kind.lower().lstrip(".") in ("glb", "gltf"):
        _check_unit(kind, unit)
        report.format = "glTF 2.0"
        surfaces = read_gltf_file(data, report)
    clips = surfaces.clips if surfaces is not None else read_file(data, kind, fps, report, unit)
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


def check_parts(clip: MotionClip) -> None:
    """Refuses a clip that moves nothing by itself.

    Raises:
        Refusal: when it has no parts, but channels of some alone.
    """
    if not clip.parts:
        text = "no part has all its columns, from translation.x to scale.z; "
        raise Refusal(text + "single channels go onto a scene that has them.", code="text")


def scene_edits_of(clip: MotionClip, name: str, report: Report) -> Iterator[Edit]:
    """The edits that make a scene of a clip: parts at rest, and keys on every frame that moves.

    Raises:
        Refusal: when it has no parts, but channels of some alone.
    """
    check_parts(clip)
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
        rows = channel_rows(rested, local[n], clip.scale[n])
        yield from _keyed(data.id, clip.frames, rows, DEFAULT_ROW)
    ids = {part.name: f"p{n + 1}" for n, part in enumerate(clip.parts)}
    left = [name_ for name_ in clip.channels if name_.partition(".")[0] not in ids]
    if left:
        report.lost.append(f"channels of no whole place: {some_of(left)}")
    for n, (name_, values) in enumerate(clip.channels.items()):
        part_name, _, channel = name_.partition(".")
        if part_name in ids:
            yield AddChannel(ids[part_name], channel, default=float(values[0]), id=f"c{n + 1}")
            if np.ptp(values) > 0.0:
                curve = keys_on(clip.frames, values)
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
                yield PutCurves(part, ((channel, keys_on(clip.frames, values[:, h])),))
            elif abs(values[0, h]) > SAME:
                yield SetValue(part, channel, float(values[0, h]))
    if file.meshes:
        report.held.append(f"{counted(len(file.meshes), 'mesh', 'meshes')} as surfaces")


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


def _keyed(part: str, frames: Array, rows: Array, still: Array) -> Iterator[Edit]:
    """Keys for what moves, values for what stands elsewhere than where it stood."""
    curves = []
    for c, channel in enumerate(TRANSFORM_CHANNELS):
        values = rows[:, c]
        if np.ptp(values) > SAME:
            curves.append((channel, keys_on(frames, values)))
        elif abs(values[0] - still[c]) > SAME:
            yield SetValue(part, channel, float(values[0]))
    if curves:
        yield PutCurves(part, tuple(curves))
