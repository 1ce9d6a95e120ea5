"""Surfaces in a glTF file: a mesh with blend shapes, bent by joints."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Any

import numpy as np
import pygltflib as gltf

from bindu.core.clips.motion import MotionClip
from bindu.core.curves.model import Array
from bindu.core.nodes.operation import Indices
from bindu.formats.gltf.numbers import Numbers

MOST_HOLDERS = 4


@dataclass(frozen=True)
class SkinOut:
    """A surface as the format can hold it.

    Attributes:
        part: the name of the part that carries it; the first joint.
        points: at rest, in the part's axes, shape (P, 3).
        normals: shape (P, 3).
        triangles: numbers of points, shape (T, 3).
        shapes: names and offsets of blend shapes, shape (P, 3) each.
        joints: names, of which the first is the part.
        weights: how far each joint holds each point, shape (P, J), rows sum to 1.
        binds: from the part's axes into each joint's own at rest, shape (J, 3, 4).
        blends: the weights of the shapes on the frames of each clip, by its name, shape (F, S).
        colour: #RRGGBB.
    """

    name: str
    part: str
    points: Array
    normals: Array
    triangles: Indices
    shapes: tuple[tuple[str, Array], ...]
    joints: tuple[str, ...]
    weights: Array
    binds: Array
    blends: dict[str, Array]
    colour: str


def add_skin(document: Any, numbers: Numbers, skin: SkinOut, place: dict[str, int]) -> int:
    """Adds a surface to a file; the number of its node."""
    chosen = np.argsort(-skin.weights, axis=1, kind="stable")[:, :MOST_HOLDERS]
    weights = np.take_along_axis(skin.weights, chosen, axis=1)
    weights = weights / weights.sum(axis=1, keepdims=True)
    pad = MOST_HOLDERS - chosen.shape[1]
    chosen, weights = np.pad(chosen, ((0, 0), (0, pad))), np.pad(weights, ((0, 0), (0, pad)))
    # A joint that holds nothing is written as the first one.
    chosen = np.where(weights > 0.0, chosen, 0)
    weights = _summing_to_one(weights)
    points = numbers.add(skin.points, target=gltf.ARRAY_BUFFER, bounds=True)
    primitive = gltf.Primitive(
        attributes=gltf.Attributes(
            POSITION=points,
            NORMAL=numbers.add(skin.normals, target=gltf.ARRAY_BUFFER),
            JOINTS_0=numbers.add(chosen, "<u2", gltf.ARRAY_BUFFER),
            WEIGHTS_0=numbers.add(weights, target=gltf.ARRAY_BUFFER),
        ),
        indices=numbers.add(skin.triangles.reshape(-1), "<u4", gltf.ELEMENT_ARRAY_BUFFER),
        material=len(document.materials),
        mode=4,
    )
    red, green, blue = (int(skin.colour[n : n + 2], 16) / 255.0 for n in (1, 3, 5))
    base = gltf.PbrMetallicRoughness(
        baseColorFactor=[red**2.2, green**2.2, blue**2.2, 1.0], metallicFactor=0.0
    )
    document.materials.append(gltf.Material(name=skin.name, pbrMetallicRoughness=base))
    mesh = gltf.Mesh(name=skin.name, primitives=[primitive])
    if skin.shapes:
        primitive.targets = [
            {"POSITION": numbers.add(offsets, target=gltf.ARRAY_BUFFER, bounds=True)}
            for _, offsets in skin.shapes
        ]
        mesh.weights = [0.0] * len(skin.shapes)
        mesh.extras = {"targetNames": [name for name, _ in skin.shapes]}
    document.meshes.append(mesh)
    binds = np.zeros((len(skin.joints), 4, 4))
    binds[:, :3], binds[:, 3, 3] = skin.binds, 1.0
    # Matrices are written column by column.
    columns = binds.transpose(0, 2, 1).reshape(-1, 16)
    joints = [place[name] for name in skin.joints]
    document.skins.append(
        gltf.Skin(name=skin.name, joints=joints, inverseBindMatrices=numbers.add(columns))
    )
    node = gltf.Node(name=skin.name, children=[])
    node.mesh, node.skin = len(document.meshes) - 1, len(document.skins) - 1
    node.extras = {"surface": True}
    document.nodes.append(node)
    return len(document.nodes) - 1


def _summing_to_one(weights: Array) -> Array:
    """Weights that sum to 1 as they are written, in float32: the largest takes what is missing."""
    made = weights.astype("<f4").astype(np.float64)
    largest = np.argmax(made, axis=1)
    made[np.arange(len(made)), largest] += 1.0 - made.sum(axis=1)
    return made


def add_weights(
    animation: Any, numbers: Numbers, skin: SkinOut, node: int, clip: MotionClip
) -> None:
    """Gives an animation the weights of a surface's blend shapes."""
    if not skin.shapes:
        return
    blends = skin.blends[clip.name]
    times = (clip.frames - clip.frames[0]) / clip.fps
    if np.all(blends == blends[0]):
        blends, times = blends[:1], times[:1]
    source = numbers.add(times, bounds=True)
    output = numbers.add(blends.reshape(-1))
    sampler = gltf.AnimationSampler(input=source, output=output, interpolation="LINEAR")
    animation.samplers.append(sampler)
    target = gltf.AnimationChannelTarget(node=node, path="weights")
    animation.channels.append(
        gltf.AnimationChannel(sampler=len(animation.samplers) - 1, target=target)
    )
