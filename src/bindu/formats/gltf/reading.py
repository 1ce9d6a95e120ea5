"""glTF 2.0 files as clips.

What comes in is not trusted: the container and its JSON are checked field by field before any
number is taken, and nothing that a file names is ever fetched.
"""

from __future__ import annotations

import json
import math
import struct
from dataclasses import dataclass
from typing import Any

import numpy as np
from pydantic import ValidationError

from bindu.core.clips.motion import MotionClip, MotionPart, taken_apart
from bindu.core.counted import counted
from bindu.core.curves.model import Array
from bindu.core.geometry.rotation import matrices_of
from bindu.core.refusal import Refusal
from bindu.core.scene.parts import ORDERS
from bindu.formats.gltf.arrays import Arrays
from bindu.formats.gltf.document import AnimationEntry, Document, NodeEntry
from bindu.formats.gltf.meshes import MeshIn, blend_weights, meshes_of
from bindu.formats.gltf.sampling import sampled
from bindu.formats.report import Report, unique_names

LARGEST_FILE = 64 * 2**20
MOST_NODES = 5_000
MOST_FRAMES = 100_000
RATES = (24.0, 25.0, 30.0, 30_000.0 / 1001.0, 48.0, 50.0, 60.0, 120.0, 24_000.0 / 1001.0)
DEFAULT_RATE = 30.0
ROLES = ("control", "joint", "helper", "prop")


@dataclass(frozen=True)
class GltfFile:
    """A file as it was read.

    Attributes:
        clips: at least one.
        meshes: those that can be surfaces.
        blends: for each clip the weights of the meshes' blend shapes, by node, shape (F, S).
    """

    clips: list[MotionClip]
    meshes: list[MeshIn]
    blends: list[dict[int, Array]]


def read_gltf(data: bytes, report: Report) -> list[MotionClip]:
    """The clips of a .glb or .gltf file: one for each animation, or one pose where there is none;
    see ``read_gltf_file``. Meshes are left out."""
    found = read_gltf_file(data, report, meshes=False)
    return found.clips


def read_gltf_file(data: bytes, report: Report, meshes: bool = True) -> GltfFile:
    """A .glb or .gltf file.

    Args:
        data: the file.
        report: is told what had to change, and what was left out.
        meshes: they are read as well.

    Raises:
        Refusal: with the field at fault.
    """
    document, blob = _document(data)
    report.size = len(data)
    arrays = Arrays(document, blob)
    order = _in_order(document)
    nodes = [document.nodes[n] for n in order]
    place = {node: n for n, node in enumerate(order)}
    parents = _parents(document)
    names = unique_names(
        [node.name or f"node {n}" for n, node in zip(order, nodes, strict=True)], report
    )
    rests = np.stack([_rest(node, order[n]) for n, node in enumerate(nodes)])
    parts = tuple(
        MotionPart(names[n], _place_of(parents.get(order[n]), place), rests[n], *_said(node))
        for n, node in enumerate(nodes)
    )
    _left_out(document, report, meshes)
    clips, blends = [], []
    for n, animation in enumerate(document.animations):
        values: dict[int, Array] = {}
        clips.append(_clip(n, animation, parts, place, arrays, report, values))
        blends.append(values)
    if not clips:
        clips, blends = [_still(document, parts)], [{}]
    report.parts, report.clips = len(parts), len(clips)
    found = meshes_of(document, arrays, place, clips[0], report) if meshes else []
    return GltfFile(clips, found, [blend_weights(found, values) for values in blends])


def _place_of(node: int | None, place: dict[int, int]) -> int | None:
    return None if node is None else place[node]


def _document(data: bytes) -> tuple[Document, bytes]:
    """The JSON of a file as checked fields, and its binary chunk."""
    if len(data) > LARGEST_FILE:
        said = f"it is larger than {LARGEST_FILE // 2**20} MiB."
        raise Refusal(said, code="too much", place="file")
    text, blob = _chunks(data) if data[:4] == b"glTF" else (data, b"")
    try:
        raw = json.loads(text.decode("utf-8"))
    except (UnicodeDecodeError, json.JSONDecodeError) as error:
        where = f"line {error.lineno}" if isinstance(error, json.JSONDecodeError) else "file"
        said = "it is no glTF file: its JSON cannot be read."
        raise Refusal(said, code="text", place=where) from None
    except RecursionError:
        raise Refusal("its JSON is nested too deeply.", code="too much", place="file") from None
    try:
        document = Document.model_validate(raw)
    except ValidationError as error:
        first = error.errors()[0]
        where = ".".join(str(step) for step in first["loc"]) or "file"
        raise Refusal(f"{first['msg'].lower()}.", code="text", place=where) from None
    if not document.asset.version.startswith("2."):
        said = f"it is glTF {document.asset.version[:10]}; only version 2 is read."
        raise Refusal(said, code="text", place="asset.version")
    if document.extensionsRequired:
        named = ", ".join(one[:40] for one in document.extensionsRequired[:3])
        said = f"it cannot be read without the extension {named}."
        raise Refusal(said, code="impossible", place="extensionsRequired")
    return document, blob


def _chunks(data: bytes) -> tuple[bytes, bytes]:
    """The JSON and the binary chunk of a .glb file."""
    if len(data) < 20:
        raise Refusal("it ends within its head.", code="text", place="byte 0")
    version, length = struct.unpack_from("<II", data, 4)
    if version != 2 or length > len(data):
        text = f"its head says version {version} and {length:,} bytes; the file has {len(data):,}."
        raise Refusal(text, code="text", place="byte 4")
    found: dict[bytes, bytes] = {}
    at = 12
    while at + 8 <= length:
        size, kind = struct.unpack_from("<I4s", data, at)
        if at + 8 + size > length:
            raise Refusal("a chunk ends behind the file.", code="text", place=f"byte {at}")
        found.setdefault(kind, data[at + 8 : at + 8 + size])
        at += 8 + size
    if b"JSON" not in found:
        raise Refusal("it has no JSON chunk.", code="text", place="byte 12")
    return found[b"JSON"], found.get(b"BIN\0", b"")


def _parents(document: Document) -> dict[int, int]:
    found: dict[int, int] = {}
    count = len(document.nodes)
    for n, node in enumerate(document.nodes):
        for child in node.children:
            if child >= count:
                text = f"there is no node {child}."
                raise Refusal(text, code="unknown", place=f"nodes.{n}.children")
            if child in found:
                text = f"node {child} has two parents."
                raise Refusal(text, code="choice", place=f"nodes.{n}.children")
            found[child] = n
    return found


def _in_order(document: Document) -> list[int]:
    """The nodes that stand for parts, parents before their children: all but those that hold a
    surface or another mesh alone."""
    if not document.nodes:
        raise Refusal("it has no nodes.", code="choice", place="nodes")
    if len(document.nodes) > MOST_NODES:
        text = f"it has {len(document.nodes):,} nodes, of at most {MOST_NODES:,}."
        raise Refusal(text, code="too much", place="nodes")
    parents = _parents(document)
    order: list[int] = []
    pending = [n for n in range(len(document.nodes) - 1, -1, -1) if n not in parents]
    while pending:
        node = pending.pop()
        order.append(node)
        pending.extend(reversed(document.nodes[node].children))
    if len(order) < len(document.nodes):
        lost = min(set(range(len(document.nodes))) - set(order))
        raise Refusal("it is its own ancestor.", code="choice", place=f"nodes.{lost}")
    kept = [n for n in order if not _is_surface(document.nodes[n])]
    if not kept:
        raise Refusal("it has no nodes beside meshes.", code="choice", place="nodes")
    return kept


def _is_surface(node: NodeEntry) -> bool:
    return node.skin is not None and node.mesh is not None and not node.children


def _rest(node: NodeEntry, number: int) -> Array:
    """A node's own place, shape (3, 4)."""
    if node.matrix is not None:
        matrix = np.array(node.matrix).reshape(4, 4).T
        if not np.allclose(matrix[3], [0.0, 0.0, 0.0, 1.0], 0.0, 1e-6):
            text = "its matrix is no place: the last row is not 0 0 0 1."
            raise Refusal(text, code="number", place=f"nodes.{number}.matrix")
        return np.asarray(matrix[:3])
    made = np.zeros((3, 4))
    rotation = np.array(node.rotation)
    size = float(np.linalg.norm(rotation))
    if size < 1e-6:
        text = "a rotation of length 0 is none."
        raise Refusal(text, code="number", place=f"nodes.{number}.rotation")
    made[:, :3] = matrices_of((rotation / size)[None])[0] * np.array(node.scale)
    made[:, 3] = node.translation
    return made


def _said(node: NodeEntry) -> tuple[Any, Any]:
    """Role and rotation order where Bindu wrote them."""
    extras = node.extras if isinstance(node.extras, dict) else {}
    role, order = extras.get("role"), extras.get("rotation order")
    return role if role in ROLES else "joint", order if order in ORDERS else "xyz"


def _left_out(document: Document, report: Report, meshes: bool) -> None:
    count = sum(node.mesh is not None for node in document.nodes)
    if count and not meshes:
        report.lost.append(f"{count} meshes: surfaces come with a new scene alone")
    if document.cameras:
        report.lost.append(counted(len(document.cameras), "camera"))
    if document.extensionsUsed:
        named = ", ".join(one[:40] for one in document.extensionsUsed[:5])
        report.lost.append(f"what the extensions {named} say")
    if len(document.scenes) > 1:
        report.otherwise.append(f"{len(document.scenes)} scenes are taken as one")


def _still(document: Document, parts: tuple[MotionPart, ...]) -> MotionClip:
    local = np.stack([part.rest for part in parts])[:, None]
    translation, rotation, scale = taken_apart(local)
    return MotionClip("pose", DEFAULT_RATE, np.zeros(1), parts, translation, rotation, scale)


def _clip(
    number: int,
    animation: AnimationEntry,
    parts: tuple[MotionPart, ...],
    place: dict[int, int],
    arrays: Arrays,
    report: Report,
    blends: dict[int, Array],
) -> MotionClip:
    """An animation on whole frames; the weights of blend shapes are put into ``blends``."""
    where = f"animations.{number}"
    name = animation.name or f"clip {number + 1}"
    keyed = []
    for c, channel in enumerate(animation.channels):
        if channel.sampler >= len(animation.samplers):
            text = f"there is no sampler {channel.sampler}."
            raise Refusal(text, code="unknown", place=f"{where}.channels.{c}.sampler")
        keyed.append((c, channel, animation.samplers[channel.sampler]))
    times = {s.input: arrays.times(s.input, f"{where}.samplers") for _, _, s in keyed}
    fps, first, count, extras = _timing(animation, list(times.values()), report, name)
    frames = first + np.arange(count, dtype=np.float64)
    at = (frames - first) / fps
    local = np.stack([part.rest for part in parts])
    translation, rotation, scale = (
        np.repeat(one[:, None], count, axis=1) for one in taken_apart(local)
    )
    targets = {"translation": translation, "rotation": rotation, "scale": scale}
    for c, channel, sampler in keyed:
        node, path = channel.target.node, channel.target.path
        if node is None or (path != "weights" and (node not in place or path not in targets)):
            continue
        there, seconds = f"{where}.channels.{c}", times[sampler.input]
        values, width = arrays.values(sampler.output, there), 4 if path == "rotation" else 3
        if path == "weights":
            keys = len(seconds) * (3 if sampler.interpolation == "CUBICSPLINE" else 1)
            if values.size % keys:
                raise Refusal("its weights are not as many for each key.", place=there)
            values, width = values.reshape(keys, -1), values.size // keys
        made = sampled(seconds, values, sampler.interpolation, at, path, there, width)
        if path == "weights":
            blends[node] = made
        else:
            targets[path][place[node]] = made
    events = tuple((f, label) for f, label in extras.events)
    channels = {key: np.array(v) for key, v in extras.channels.items() if len(v) == count}
    return MotionClip(name, fps, frames, parts, translation, rotation, scale, channels, events)


def _timing(
    animation: AnimationEntry, times: list[Array], report: Report, name: str
) -> tuple[float, float, int, Any]:
    """Rate, first frame, how many frames, and what else Bindu wrote about a clip."""
    extras = animation.bindu
    last = max((float(one[-1]) for one in times), default=0.0)
    if extras.fps is not None:
        fps, first = extras.fps, extras.first
        count = max(extras.frames, math.floor(last * fps + 1e-4) + 1)
    else:
        every = np.unique(np.concatenate(times)) if times else np.zeros(1)
        fps, first = _rate_of(every), 0.0
        count = math.ceil(last * fps - 1e-4) + 1
        off = np.abs(every * fps - np.round(every * fps)) > 1e-3
        if np.any(off):
            text = f"{name}: {int(off.sum())} of {len(every)} key times lie between frames at "
            report.otherwise.append(text + f"{fps:g} a second; it is sampled on whole frames")
    if count > MOST_FRAMES:
        text = f"it has {count:,} frames, of at most {MOST_FRAMES:,}."
        raise Refusal(text, code="too much", place=name[:80])
    return fps, first, count, extras


def _rate_of(times: Array) -> float:
    """The usual rate on whose frames all times lie, or most of them."""
    for rate in RATES:
        if np.all(np.abs(times * rate - np.round(times * rate)) < 1e-3):
            return rate
    return DEFAULT_RATE
