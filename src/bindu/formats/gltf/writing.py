"""Clips as a glTF 2.0 file: nodes at rest, an animation for each clip.

Source: Khronos Group, glTF 2.0 Specification (2021).
"""

from __future__ import annotations

import base64
from collections.abc import Sequence
from typing import Any

import numpy as np
import pygltflib as gltf

from bindu.core.clips.motion import MotionClip, MotionPart, taken_apart
from bindu.core.clips.thinning import sparse
from bindu.core.curves.model import Array
from bindu.core.refusal import Refusal
from bindu.formats.gltf.numbers import Numbers
from bindu.formats.gltf.skins import SkinOut, add_skin, add_weights
from bindu.formats.report import Report

MADE_BY = "Bindu"


def write_gltf(
    clips: Sequence[MotionClip],
    skins: Sequence[SkinOut] = (),
    report: Report | None = None,
    binary: bool = True,
) -> bytes:
    """A .glb file, or a .gltf one that holds its numbers itself.

    Rotations are quaternions that turn evenly from one to the next (slerp); the other channels are
    linear. Every frame is written, of a clip with a tolerance as few as that allows. What does not
    move is written once. Times count from each clip's first frame; frames,
    rate, own channels and events stand in ``extras``.

    Raises:
        Refusal: when there is no clip.
    """
    if not clips:
        raise Refusal("there is nothing to send: bake something first.", code="choice")
    numbers = Numbers()
    parts = all_parts(clips, report)
    place = {part.name: n for n, part in enumerate(parts)}
    document = gltf.GLTF2(asset=gltf.Asset(generator=MADE_BY, version="2.0"))
    document.nodes = [_node(part) for part in parts]
    for n, part in enumerate(parts):
        if part.parent is not None:
            document.nodes[part.parent].children.append(n)
    roots = [n for n, part in enumerate(parts) if part.parent is None]
    meshes = [(skin, add_skin(document, numbers, skin, place)) for skin in skins]
    roots += [node for _, node in meshes]
    document.scenes, document.scene = [gltf.Scene(nodes=roots, name=clips[0].name)], 0
    for clip in clips:
        animation = _animation(clip, place, parts, numbers)
        for skin, node in meshes:
            add_weights(animation, numbers, skin, node, clip)
        if not animation.channels:
            _hold(animation, clip, place, numbers)
        document.animations.append(animation)
    document.accessors, document.bufferViews = numbers.accessors, numbers.views
    blob = numbers.blob
    if blob:
        document.buffers = [gltf.Buffer(byteLength=len(blob))]
    return _file(document, blob, binary)


def all_parts(clips: Sequence[MotionClip], report: Report | None) -> list[MotionPart]:
    """The parts of all clips by their names, as the first clip that has them says."""
    made: list[MotionPart] = []
    place: dict[str, int] = {}
    for clip in clips:
        for part in clip.parts:
            above = None if part.parent is None else clip.parts[part.parent].name
            known = place.get(part.name)
            if known is None:
                place[part.name] = len(made)
                parent = None if above is None else place[above]
                made.append(
                    MotionPart(part.name, parent, part.rest, part.role, part.rotation_order)
                )
                continue
            parent = made[known].parent
            if report is not None and (None if parent is None else made[parent].name) != above:
                text = f"{part.name} hangs elsewhere in {clip.name} than in the clips before; "
                report.lost.append(text + "it moves as seen from its first parent")
    return made


def _node(part: MotionPart) -> Any:
    translation, rotation, scale = taken_apart(part.rest[None])
    node = gltf.Node(name=part.name, children=[])
    node.translation = _floats(translation[0])
    node.rotation = _floats(_unit(rotation)[0])
    node.scale = _floats(scale[0])
    node.extras = {"role": part.role, "rotation order": part.rotation_order}
    return node


def _animation(
    clip: MotionClip, place: dict[str, int], parts: Sequence[MotionPart], numbers: Numbers
) -> Any:
    animation = gltf.Animation(name=clip.name, samplers=[], channels=[])
    first = float(clip.frames[0])
    animation.extras = {"fps": clip.fps, "first": first, "frames": len(clip.frames)}
    if clip.channels:
        animation.extras["channels"] = {k: v.tolist() for k, v in clip.channels.items()}
    if clip.events:
        animation.extras["events"] = [[frame, label] for frame, label in clip.events]
    times, kept = (clip.frames - first) / clip.fps, sparse(clip)
    for n, part in enumerate(clip.parts):
        node = place[part.name]
        rests = taken_apart(parts[node].rest[None])
        for path, values, rest, frames in (
            ("translation", clip.translation[n], rests[0][0], kept.translation[n]),
            ("rotation", _unit(clip.rotation[n]), _unit(rests[1])[0], kept.rotation[n]),
            ("scale", clip.scale[n], rests[2][0], kept.scale[n]),
        ):
            still = np.all(values == values[0])
            if still and np.allclose(values[0], rest, 0.0, 1e-12):
                continue
            some = frames[:1] if still else frames
            at, shown = times[some], values[some]
            if len(np.unique(at.astype("<f4"))) < len(at):
                text = f"its rate of {clip.fps:g} frames a second is too high for the format."
                raise Refusal(text, code="number", place=clip.name)
            add_channel(animation, numbers, node, path, at, shown)
    return animation


def _hold(animation: Any, clip: MotionClip, place: dict[str, int], numbers: Numbers) -> None:
    """An animation has a channel at least: where nothing moves, a part that stays where it is, so
    that the clip keeps its name, its length and its own channels."""
    ends = [0, -1] if len(clip.frames) > 1 else [0]
    times = (clip.frames[ends] - clip.frames[0]) / clip.fps
    node = place[clip.parts[0].name]
    add_channel(animation, numbers, node, "translation", times, clip.translation[0, ends])


def add_channel(
    animation: Any, numbers: Numbers, node: int, path: str, times: Array, values: Array
) -> None:
    """Gives an animation values of a node, shape (F, …), at times in seconds."""
    source = numbers.add(times, bounds=True)
    sampler = gltf.AnimationSampler(
        input=source, output=numbers.add(values), interpolation="LINEAR"
    )
    animation.samplers.append(sampler)
    target = gltf.AnimationChannelTarget(node=node, path=path)
    animation.channels.append(
        gltf.AnimationChannel(sampler=len(animation.samplers) - 1, target=target)
    )


def _unit(quaternions: Array) -> Array:
    """Quaternions whose length is 1 as they are written, shape (F, 4)."""
    rounded = quaternions.astype("<f4").astype(np.float64)
    return np.asarray(rounded / np.linalg.norm(rounded, axis=-1, keepdims=True))


def _floats(values: Array) -> list[float]:
    """Numbers as the format holds them."""
    return [float(n) for n in values.astype("<f4")]


def _file(document: Any, blob: bytes, binary: bool) -> bytes:
    if not binary:
        if blob:
            data = base64.b64encode(blob).decode()
            document.buffers[0].uri = f"data:application/octet-stream;base64,{data}"
        return str(document.gltf_to_json()).encode()
    document.set_binary_blob(blob)
    return b"".join(document.save_to_bytes())
