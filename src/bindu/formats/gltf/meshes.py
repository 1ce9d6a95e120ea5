"""Meshes of a glTF file that is being read, as cages of surfaces."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from bindu.core.clips.motion import MotionClip, worlds_of
from bindu.core.curves.model import Array
from bindu.core.geometry.places import seen_from
from bindu.core.nodes.operation import Indices
from bindu.core.refusal import Refusal
from bindu.core.surface.mesh import MOST_POINTS, checked_cage
from bindu.formats.gltf.arrays import Arrays
from bindu.formats.gltf.document import Document, NodeEntry, Primitive
from bindu.formats.report import Report

TRIANGLES = 4
SAME = 1e-6
"""Metres within which two points of a mesh are one."""


@dataclass(frozen=True)
class MeshIn:
    """A mesh as a surface can hold it.

    Attributes:
        name: as the file has it.
        node: its node.
        part: the place of the part that carries it.
        points: in the part's axes, shape (P, 3).
        faces: triangles, shape (T, 3).
        shapes: names and offsets of blend shapes, shape (P, 3) each.
        joints: places of parts, and how far each holds each point, shape (P, J).
        weights: see joints.
    """

    name: str
    node: int
    part: int
    points: Array
    faces: Indices
    shapes: tuple[tuple[str, Array], ...]
    joints: tuple[int, ...]
    weights: Array


def meshes_of(
    document: Document, arrays: Arrays, place: dict[int, int], clip: MotionClip, report: Report
) -> list[MeshIn]:
    """The meshes that can be surfaces; why another one cannot be is told.

    Args:
        place: the places of parts by their nodes.
        clip: for where the parts rest.
    """
    made = []
    for number, node in enumerate(document.nodes):
        if node.mesh is None:
            continue
        try:
            made.append(_mesh(document, arrays, number, node, place, clip))
        except Refusal as refusal:
            report.lost.append(f"the mesh of node {number}: {refusal}")
    return made


def _mesh(
    document: Document,
    arrays: Arrays,
    number: int,
    node: NodeEntry,
    place: dict[int, int],
    clip: MotionClip,
) -> MeshIn:
    if node.mesh is None or node.mesh >= len(document.meshes):
        raise Refusal(f"there is no mesh {node.mesh}.", code="unknown")
    mesh = document.meshes[node.mesh]
    if len(mesh.primitives) != 1 or mesh.primitives[0].mode != TRIANGLES:
        raise Refusal("it is not of triangles in one piece.", code="choice")
    primitive = mesh.primitives[0]
    where = f"meshes.{node.mesh}"
    given = _rows(arrays, primitive, "POSITION", 3, where)
    if len(given) > 20 * MOST_POINTS:
        raise Refusal(f"it has {len(given):,} points, of at most {MOST_POINTS:,}.", code="too much")
    # Other programs give a point once for each of its normals.
    _, kept, to = np.unique(np.round(given / SAME), axis=0, return_index=True, return_inverse=True)
    to = to.reshape(-1)
    faces = _triangles(arrays, primitive, len(given), to, where)
    points, part = given[kept], place.get(number)
    joints: tuple[int, ...] = ()
    weights = np.zeros((len(kept), 0))
    linear = np.eye(3)
    if node.skin is not None:
        part, joints, weights, bind = _skin(document, arrays, node.skin, primitive, place, clip)
        weights, linear = weights[kept], bind[:, :3]
        points = points @ linear.T + bind[:, 3]
    if part is None:
        raise Refusal("no part carries it.", code="choice")
    names = mesh.names()
    shapes = []
    for n, target in enumerate(primitive.targets):
        if "POSITION" in target:
            offsets = arrays.values(target["POSITION"], where)
            if offsets.shape != given.shape:
                raise Refusal("a shape has other points than it.", code="number")
            name = names[n] if n < len(names) else f"shape {n + 1}"
            shapes.append((name, offsets[kept] @ linear.T))
    checked_cage([tuple(p) for p in points.tolist()], faces.tolist())
    name = mesh.name or node.name or f"mesh {node.mesh}"
    return MeshIn(name, number, part, points, faces, tuple(shapes), joints, weights)


def _rows(arrays: Arrays, primitive: Primitive, name: str, width: int, where: str) -> Array:
    if name not in primitive.attributes:
        raise Refusal(f"it has no {name}.", code="unknown")
    values = arrays.values(primitive.attributes[name], where)
    if values.shape[1] != width:
        raise Refusal(f"its {name} are not of {width} numbers each.", code="number")
    return values


def _triangles(
    arrays: Arrays, primitive: Primitive, count: int, to: Indices, where: str
) -> Indices:
    """Triangles by merged points, without those that have no area by that."""
    flat = (
        np.arange(count)
        if primitive.indices is None
        else arrays.values(primitive.indices, where)[:, 0].astype(np.int64)
    )
    if len(flat) % 3 or len(flat) == 0 or flat.max() >= count:
        raise Refusal("its triangles name points that are not there.", code="number")
    faces = to[flat].reshape(-1, 3)
    a, b, c = faces.T
    return np.asarray(faces[(a != b) & (b != c) & (c != a)])


def _skin(
    document: Document,
    arrays: Arrays,
    number: int,
    primitive: Primitive,
    place: dict[int, int],
    clip: MotionClip,
) -> tuple[int, tuple[int, ...], Array, Array]:
    """The part that carries it, joints, weights of all given points, and how its points come into
    the part's axes, shape (3, 4)."""
    if number >= len(document.skins):
        raise Refusal(f"there is no skin {number}.", code="unknown")
    skin, where = document.skins[number], f"skins.{number}"
    if any(joint not in place for joint in skin.joints):
        raise Refusal("a joint of it is no part.", code="unknown")
    joints = tuple(place[joint] for joint in skin.joints)
    slots = _rows(arrays, primitive, "JOINTS_0", 4, where).astype(np.int64)
    held = _rows(arrays, primitive, "WEIGHTS_0", 4, where)
    if slots.max(initial=0) >= len(joints) or np.any(held < 0.0):
        raise Refusal("its weights name joints that are not there.", code="number")
    weights = np.zeros((len(slots), len(joints)))
    for k in range(4):
        np.add.at(weights, (np.arange(len(slots)), slots[:, k]), held[:, k])
    rests = worlds_of(
        [part.parent for part in clip.parts], np.stack([part.rest for part in clip.parts])[:, None]
    )[:, 0]
    if np.any(np.abs(np.linalg.norm(rests[list(joints), :, :3], axis=1) - 1.0) > 1e-4):
        raise Refusal("its joints are scaled at rest.", code="choice")
    binds = np.broadcast_to(np.eye(3, 4), (len(joints), 3, 4))
    if skin.inverseBindMatrices is not None:
        binds = arrays.matrices(skin.inverseBindMatrices, where)[: len(joints), :3]
    if len(binds) < len(joints):
        raise Refusal("it has fewer bind places than joints.", code="number")
    rest = rests[list(joints)]
    bound = np.concatenate(
        [
            rest[:, :, :3] @ binds[:, :, :3],
            rest[:, :, :3] @ binds[:, :, 3:] + rest[:, :, 3:],
        ],
        axis=2,
    )
    if np.abs(bound - bound[:1]).max() > 1e-3:
        raise Refusal("it is bound elsewhere than where its joints rest.", code="choice")
    home = seen_from(rests[joints[0]][None], bound[:1])[0]
    return joints[0], joints, weights, home


def blend_weights(meshes: Sequence[MeshIn], values: dict[int, Array]) -> dict[int, Array]:
    """The weights of each mesh's shapes on a clip's frames, by its node, shape (F, S).

    Args:
        values: those that an animation gives, by node.
    """
    return {
        mesh.node: values[mesh.node]
        for mesh in meshes
        if mesh.node in values and values[mesh.node].shape[1] == len(mesh.shapes)
    }
