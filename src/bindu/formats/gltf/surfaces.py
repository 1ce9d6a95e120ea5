"""A scene's surfaces as glTF can hold them: which of their steps fit, how far off the rest is."""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np

from bindu.core.clips.motion import MotionClip
from bindu.core.counted import counted
from bindu.core.curves.model import Array
from bindu.core.evaluation import Evaluation
from bindu.core.geometry.places import seen_from
from bindu.core.placing.place import rest_world
from bindu.core.scene.surfaces import BendByJoints, BlendShapes, Displace, Subdivide, Surface
from bindu.core.surface.bend import shared_out, weights_of
from bindu.core.surface.blend import offsets_of
from bindu.core.surface.deforming import Seen, deformed, in_world
from bindu.core.surface.mesh import Mesh, Sparse, mesh_of, sparse
from bindu.core.surface.subdivision import divided
from bindu.formats.gltf.skins import MOST_HOLDERS, SkinOut
from bindu.formats.report import Report

LOOKED_AT = 12
"""On how many frames it is measured how far off a surface is."""


def skins_of(evaluation: Evaluation, clips: Sequence[MotionClip], report: Report) -> list[SkinOut]:
    """The surfaces whose part and joints leave in the clips."""
    leaving = {part.name for clip in clips for part in clip.parts}
    made = []
    for surface in sorted(evaluation.scene.surfaces.values(), key=lambda one: one.name):
        missing = [name for name in _joints(evaluation, surface) if name not in leaving]
        if missing:
            text = f"surface {surface.name}: {', '.join(missing[:5])} would have to leave with it"
            report.lost.append(text)
            continue
        skin = _skin(evaluation, surface, clips)
        made.append(skin)
        _measure(evaluation, surface, skin, report)
    return made


def _bend(surface: Surface) -> BendByJoints | None:
    found = (one for one in surface.steps if isinstance(one, BendByJoints) and one.on)
    return next((one for one in found if one.joints), None)


def _joints(evaluation: Evaluation, surface: Surface) -> list[str]:
    """The names of the part and of the joints, each once."""
    bend, parts = _bend(surface), evaluation.scene.parts
    ids = [surface.part, *(one.joint for one in (bend.joints if bend else ()))]
    return [parts[part].name for part in dict.fromkeys(ids)]


def _skin(evaluation: Evaluation, surface: Surface, clips: Sequence[MotionClip]) -> SkinOut:
    """All subdivision first, then shapes, then one bend: the order that the format has."""
    scene, count = evaluation.scene, len(surface.points)
    mesh, shares = _divided(surface)
    points = np.asarray(shares @ np.array(surface.points))
    blends = [one for one in surface.steps if isinstance(one, BlendShapes) and one.on]
    shapes = tuple(
        (shape.name, np.asarray(shares @ offsets))
        for step in blends
        for shape, offsets in zip(step.shapes, offsets_of(step.shapes, count), strict=True)
    )
    joints = _joints(evaluation, surface)
    names = {scene.parts[part].name: part for part in scene.parts}
    weights = np.zeros((mesh.count, len(joints)))
    bend = _bend(surface)
    if bend is not None:
        held = shared_out(np.asarray(shares @ weights_of(bend.joints, count)))
        for n, one in enumerate(bend.joints):
            weights[:, joints.index(scene.parts[one.joint].name)] += held[:, n]
    weights[weights.sum(axis=1) <= 0.0, 0] = 1.0
    base = rest_world(scene, surface.part)[None]
    binds = [seen_from(rest_world(scene, names[joint])[None], base)[0] for joint in joints]
    return SkinOut(
        surface.name,
        joints[0],
        points,
        mesh.normals(points[None])[0],
        mesh.triangles,
        shapes,
        tuple(joints),
        weights,
        np.stack(binds),
        {
            clip.name: _blend_weights(evaluation, surface, blends, clip.frames.tolist())
            for clip in clips
        },
        surface.colour,
    )


def _divided(surface: Surface) -> tuple[Mesh, Sparse]:
    count = len(surface.points)
    every = np.arange(count)
    mesh, shares = (
        mesh_of(count, surface.faces),
        sparse(np.ones(count), every, every, (count, count)),
    )
    for step in surface.steps:
        for _ in range(step.rounds if isinstance(step, Subdivide) and step.on else 0):
            mesh, smooth, _ = divided(mesh)
            shares = smooth @ shares
    return mesh, shares


def _blend_weights(
    evaluation: Evaluation, surface: Surface, steps: Sequence[BlendShapes], wanted: Sequence[float]
) -> Array:
    """How far each shape is added on frames, shape (F, S)."""
    times = evaluation.times
    frames = [int(min(max(frame, times.first), times.last)) for frame in wanted]
    seen = Seen(evaluation, surface, frames)
    rows = [
        seen.value(step, shape.id) * seen.value(step, "weight")
        for step in steps
        for shape in step.shapes
    ]
    return np.stack(rows, axis=1) if rows else np.zeros((len(frames), 0))


def _measure(evaluation: Evaluation, surface: Surface, skin: SkinOut, report: Report) -> None:
    """Tells what of a surface's steps is not held, and how far off it is by that."""
    scene = evaluation.scene
    names = {part.name: part.id for part in scene.parts.values()}
    first, last = evaluation.times.first, evaluation.times.last
    frames = np.unique(np.linspace(first, last, LOOKED_AT).astype(int)).tolist()
    seen = Seen(evaluation, surface, frames)
    blends = [one for one in surface.steps if isinstance(one, BlendShapes) and one.on]
    weights = _blend_weights(evaluation, surface, blends, frames)
    points = np.broadcast_to(skin.points, (len(frames), *skin.points.shape))
    if skin.shapes:
        offsets = np.stack([one for _, one in skin.shapes])
        points = points + np.einsum("fs,spx->fpx", weights, offsets)
    made = np.zeros_like(points)
    for j, joint in enumerate(skin.joints):
        there, bind = seen.world(names[joint]), skin.binds[j]
        local = points @ bind[:, :3].T + bind[:, 3]
        moved = local @ there[:, :, :3].transpose(0, 2, 1) + there[:, None, :, 3]
        made += skin.weights[:, j, None] * moved
    form = deformed(evaluation, surface, frames)[-1].form
    far = np.linalg.norm(made - in_world(form, evaluation, surface), axis=2)
    lost = [one.name for one in surface.steps if isinstance(one, Displace) and one.on]
    if lost:
        report.lost.append(f"surface {surface.name}: {', '.join(lost)}, which the format has not")
    if np.count_nonzero(skin.weights, axis=1).max() > MOST_HOLDERS:
        text = f"surface {surface.name}: a point is held by its {MOST_HOLDERS} strongest joints"
        report.otherwise.append(text)
    if far.max() > 1e-6:
        text = f"surface {surface.name}: subdivided, then blended, then bent, in this order; "
        text += f"by that it is off by up to {1e3 * far.max():.3g} mm"
        report.otherwise.append(text)
    else:
        report.held.append(
            f"surface {surface.name} with its skin and {counted(len(skin.shapes), 'shape')}"
        )
