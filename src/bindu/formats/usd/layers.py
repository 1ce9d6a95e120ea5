"""Clips to and from USD layers, which a process of its own reads and writes.

Source: Pixar, Universal Scene Description, UsdGeom schema documentation.
"""

from __future__ import annotations

import json
import os
import subprocess
import sys
import tempfile
from collections.abc import Sequence
from pathlib import Path
from typing import Any, Literal

import numpy as np

from bindu.core.clips.motion import MotionClip, MotionPart, locals_of, taken_apart, worlds_of
from bindu.core.clips.thinning import sparse
from bindu.core.counted import counted
from bindu.core.curves.model import Array
from bindu.core.nodes.operation import Indices
from bindu.core.refusal import Refusal
from bindu.core.scene.parts import ORDERS
from bindu.formats.report import Report, unique_names

Kind = Literal["usda", "usdc"]
LARGEST_FILE = 64 * 2**20
SECONDS = 60.0
"""What reading or writing may take."""
ROLES = ("control", "joint", "helper", "prop")
PLAIN_TYPES = ("Xform", "Scope", "SkelRoot", "Skeleton")
"""Types of prims of which nothing is left out."""
Z_UP = np.array([[1.0, 0.0, 0.0], [0.0, 0.0, 1.0], [0.0, -1.0, 0.0]])
"""From axes with z up into axes with y up."""


def write_usd(clip: MotionClip, report: Report, kind: Kind = "usda") -> bytes:
    """A clip as a layer: translate, orient (a quaternion) and scale of each part, in doubles, on
    every frame; of translate and scale as few as the clip's tolerance allows. Time codes are
    frames, a unit is a metre, y is up.

    Raises:
        Refusal: when it takes too long.
    """
    place = {part.name: n for n, part in enumerate(clip.parts)}
    rest = taken_apart(np.stack([part.rest for part in clip.parts])[:, None])
    kept = sparse(clip)
    arrays: dict[str, Any] = {
        "frames": clip.frames,
        "translation": clip.translation,
        "rotation": clip.rotation,
        "scale": clip.scale,
        "kept translation": _masks(kept.translation, len(clip.frames)),
        # Between rotations less than half a degree apart the library's own way is none of ours:
        # it mixes straight, and takes the angle from the real part. So all of them are written.
        "kept rotation": np.ones((len(clip.parts), len(clip.frames)), dtype=bool),
        "kept scale": _masks(kept.scale, len(clip.frames)),
        "rest translation": rest[0][:, 0],
        "rest rotation": rest[1][:, 0],
        "rest scale": rest[2][:, 0],
    }
    own = []
    for n, (name, values) in enumerate(clip.channels.items()):
        part, _, channel = name.partition(".")
        own.append((place[part], channel))
        arrays[f"own{n}"] = values
    told = {
        "fps": clip.fps,
        "own": own,
        "parts": [
            {"name": p.name, "parent": p.parent, "role": p.role, "order": p.rotation_order}
            for p in clip.parts
        ],
    }
    if clip.events:
        report.lost.append(counted(len(clip.events), "marker"))
    with tempfile.TemporaryDirectory() as folder:
        source, target = Path(folder) / "given.npz", Path(folder) / f"made.{kind}"
        np.savez(source, told=np.array(json.dumps(told)), **arrays)
        if not _run("write", source, target):
            raise Refusal("it could not be written as USD.", code="impossible", place=clip.name)
        return target.read_bytes()


def _masks(kept: Sequence[Indices], frames: int) -> Array:
    """Which frames stay, shape (P, F)."""
    return np.stack([np.isin(np.arange(frames), places) for places in kept])


def read_usd(data: bytes, report: Report) -> list[MotionClip]:
    """The clip of a layer: all its transforms, in metres, y up.

    Raises:
        Refusal: with why it is not read.
    """
    if len(data) > LARGEST_FILE:
        raise Refusal(f"it is larger than {LARGEST_FILE // 2**20} MiB.", code="too much")
    if data[:2] == b"PK":
        text = "it is a package (.usdz); give the layer in it (.usdc or .usda)."
        raise Refusal(text, code="choice", place="file")
    kind = "usdc" if data[:8] == b"PXR-USDC" else "usda"
    if kind == "usda" and not data.startswith(b"#usda"):
        begin = data[:40].split(b"\n")[0].decode(errors="replace").strip()
        text = f"line 1: USD text begins with “#usda 1.0”, this with “{begin}”."
        raise Refusal(text, code="text", place="file")
    report.size = len(data)
    with tempfile.TemporaryDirectory() as folder:
        source, target = Path(folder) / f"given.{kind}", Path(folder) / "read.npz"
        source.write_bytes(data)
        if not _run("read", source, target):
            text = "it cannot be read: it is damaged, or takes too long or too much room."
            raise Refusal(text, code="text", place="file")
        return clips_in(target, report)


def clips_in(target: Path, report: Report) -> list[MotionClip]:
    """What the process that reads has left.

    Raises:
        Refusal: with why the layer is not read.
    """
    with np.load(target) as found:
        told = json.loads(str(found["told"]))
        arrays = {name: found[name] for name in found.files if name != "told"}
    if "refused" in told:
        raise Refusal(told["refused"], code="text", place="file")
    return [_clip(told, arrays, report)]


def _clip(told: dict[str, Any], arrays: dict[str, Array], report: Report) -> MotionClip:
    parents = [part["parent"] for part in told["parts"]]
    local, rests = arrays["local"], arrays["rests"][:, None]
    if not np.all(np.isfinite(local)) or np.abs(local).max() > 1e9:
        raise Refusal("it holds numbers that are none, or too large.", code="number", place="file")
    for n, part in enumerate(told["parts"]):
        if part["reset"] and parents[n] is not None:
            local[n] = locals_of([None, 0], np.stack([_above(parents, local, n), local[n]]))[1]
            report.otherwise.append(f"{part['name']} is taken out of its parent's motion")
    worlds = [_turned(worlds_of(parents, one), told, report if n == 0 else None)
              for n, one in enumerate((local, rests))]  # fmt: skip
    local, rests = (locals_of(parents, one) for one in worlds)
    names = unique_names([part["name"] for part in told["parts"]], report)
    kinds = sorted({p["type"] for p in told["parts"]} - {*PLAIN_TYPES, ""})
    if kinds:
        report.lost.append(f"what {', '.join(kinds[:6])} hold beside their transform")
    if told["off"]:
        text = f"{told['off']} time samples lie between frames; it is sampled on whole frames"
        report.otherwise.append(text)
    translation, rotation, scale = taken_apart(local)
    parts = tuple(
        MotionPart(
            names[n],
            parents[n],
            rests[n, 0],
            part["role"] if part["role"] in ROLES else "joint",
            part["order"] if part["order"] in ORDERS else "xyz",
        )
        for n, part in enumerate(told["parts"])
    )
    own = {f"{names[n]}.{name}": arrays[f"own{k}"] for k, (n, name) in enumerate(told["own"])}
    report.parts, report.clips = len(parts), 1
    fps = told["fps"] if 0.01 <= told["fps"] <= 10_000.0 else 24.0
    return MotionClip("motion", fps, arrays["frames"], parts, translation, rotation, scale, own)


def _above(parents: list[int | None], local: Array, part: int) -> Array:
    """Where a part's parent is in the world, shape (F, 3, 4)."""
    chain: list[int] = []
    at = parents[part]
    while at is not None:
        chain.insert(0, at)
        at = parents[at]
    line: list[int | None] = [None, *range(len(chain) - 1)]
    return np.asarray(worlds_of(line, local[chain])[-1])


def _turned(worlds: Array, told: dict[str, Any], report: Report | None) -> Array:
    """Places in metres with y up."""
    meters = told["meters"]
    if not 1e-6 <= meters <= 1e6:
        meters = 1.0
    made = worlds.copy()
    made[..., 3] *= meters
    if report is not None and meters != 1.0:
        report.otherwise.append(f"a unit of {meters:g} m is turned into metres")
    if told["up"].upper() == "Z":
        made = Z_UP @ made
        made[..., :3] = made[..., :3] @ Z_UP.T
        if report is not None:
            report.otherwise.append("z up is turned into y up")
    return made


def _run(way: str, source: Path, target: Path) -> bool:
    """Lets the library work in a process of its own; whether it did."""
    command = [sys.executable, "-m", "bindu.formats.usd.process", way, str(source), str(target)]
    here = str(Path(__file__).resolve().parents[3])
    environment = {
        **os.environ,
        "PYTHONPATH": here,
        # What it leaves when it dies goes with the folder.
        "TMPDIR": str(target.parent),
        # So that the room it takes does not depend on how many cores there are.
        "PXR_WORK_THREAD_LIMIT": "1",
        "MALLOC_ARENA_MAX": "2",
    }
    try:
        done = subprocess.run(
            command, capture_output=True, timeout=SECONDS, check=False, env=environment
        )
    except subprocess.TimeoutExpired:
        return False
    return done.returncode == 0 and target.exists()
