"""USD layers to and from plain arrays, in a process of its own.

The library's own reader of binary layers is not made for damaged files: what it is given to read,
it reads in a process that is bounded in time and memory and may die without harm. This module is
that process: it takes a file and leaves a file, and never follows what a layer names elsewhere.
"""

from __future__ import annotations

import json
import resource
import sys
from pathlib import Path
from typing import Any

import numpy as np

MOST_PRIMS = 20_000
MOST_NUMBERS = 40_000_000
MEMORY = 4 * 2**30
"""Bytes that reading may take."""


def read(source: str, target: str) -> None:
    """Reads a layer, and leaves its transforms as arrays; or what is wrong with it."""
    resource.setrlimit(resource.RLIMIT_AS, (MEMORY, MEMORY))
    try:
        told, arrays = _read(source)
    except Refused as refused:
        told, arrays = {"refused": str(refused)}, {}
    except Exception as error:
        # The library's errors are of its own kinds; all of them mean that it cannot be read.
        told, arrays = {"refused": f"it cannot be read: {str(error).strip()[:200]}"}, {}
    np.savez(target, told=np.array(json.dumps(told)), **arrays)


class Refused(Exception):
    """Why a layer is not read."""


def _read(source: str) -> tuple[dict[str, Any], dict[str, Any]]:
    from pxr import Sdf, Usd, UsdGeom

    layer = Sdf.Layer.FindOrOpen(source)
    if layer is None:
        raise Refused("it is no USD layer.")
    named = layer.GetCompositionAssetDependencies()
    if named or layer.subLayerPaths:
        raise Refused(
            f"it needs another file, {str(next(iter(named), ''))[:80]!r}; none is opened."
        )
    stage = Usd.Stage.Open(layer, Usd.Stage.LoadNone)
    prims = [prim for prim in stage.Traverse() if prim.IsA(UsdGeom.Xformable)]
    if not prims:
        raise Refused("it has no transforms.")
    if len(prims) > MOST_PRIMS:
        raise Refused(f"it has {len(prims):,} prims, of at most {MOST_PRIMS:,}.")
    start, end = stage.GetStartTimeCode(), stage.GetEndTimeCode()
    samples = sorted({t for prim in prims for t in UsdGeom.Xformable(prim).GetTimeSamples()})
    if samples:
        start = min(start, samples[0]) if stage.HasAuthoredTimeCodeRange() else samples[0]
        end = max(end, samples[-1]) if stage.HasAuthoredTimeCodeRange() else samples[-1]
    if not (np.isfinite([start, end]).all() and 0.0 <= end - start <= 100_000):
        raise Refused("its time codes are no span of at most 100,000 frames.")
    frames = np.arange(np.floor(start), np.ceil(end) + 1.0)
    if len(prims) * len(frames) * 12 > MOST_NUMBERS:
        raise Refused(f"it holds over {MOST_NUMBERS:,} numbers.")
    place = {prim.GetPath(): n for n, prim in enumerate(prims)}
    local = np.empty((len(prims), len(frames), 3, 4))
    rests, parts = np.empty((len(prims), 3, 4)), []
    meters = UsdGeom.GetStageMetersPerUnit(stage)
    for n, prim in enumerate(prims):
        xform = UsdGeom.Xformable(prim)
        moving = xform.TransformMightBeTimeVarying()
        for f, frame in enumerate(frames if moving else frames[:1]):
            local[n, f] = _matrix(xform.GetLocalTransformation(Usd.TimeCode(float(frame))))
        if not moving:
            local[n, 1:] = local[n, 0]
        rests[n] = _matrix(xform.GetLocalTransformation(Usd.TimeCode.Default()))
        rests[n] = rests[n] if _plain(rests[n]) else local[n, 0]
        above = prim.GetParent()
        while above and above.GetPath() not in place:
            above = above.GetParent()
        parts.append({
            "name": str(prim.GetCustomDataByKey("bindu:name") or prim.GetName()),
            "parent": place[above.GetPath()] if above else None,
            "role": str(prim.GetCustomDataByKey("bindu:role") or ""),
            "order": str(prim.GetCustomDataByKey("bindu:order") or ""),
            "type": str(prim.GetTypeName()),
            "reset": bool(xform.GetResetXformStack()),
        })  # fmt: skip
    own = [
        (n, str(attribute.GetDisplayName() or attribute.GetBaseName()), attribute)
        for n, prim in enumerate(prims)
        for attribute in prim.GetAttributes()
        if attribute.GetName().startswith("userProperties:") and _is_number(attribute)
    ]
    if len(own) * len(frames) > MOST_NUMBERS:
        raise Refused(f"it holds over {MOST_NUMBERS:,} numbers.")
    told = {
        "fps": float(stage.GetTimeCodesPerSecond()),
        "meters": float(meters),
        "up": str(UsdGeom.GetStageUpAxis(stage)),
        "parts": parts,
        "off": int(sum(abs(t - round(t)) > 1e-6 for t in samples)),
        "own": [(n, name) for n, name, _ in own],
    }
    arrays = {"frames": frames, "local": local, "rests": rests}
    for k, (_, _, attribute) in enumerate(own):
        arrays[f"own{k}"] = np.array([float(attribute.Get(float(f))) for f in frames])
    return told, arrays


def _is_number(attribute: Any) -> bool:
    return str(attribute.GetTypeName()) in ("double", "float") and attribute.Get() is not None


def _matrix(matrix: Any) -> Any:
    """A matrix of the library, whose vectors are rows, as three rows for columns, shape (3, 4)."""
    return np.array(matrix, dtype=np.float64).T[:3]


def _plain(matrix: Any) -> bool:
    return bool(np.all(np.isfinite(matrix)))


def write(source: str, target: str) -> None:
    """Writes a layer from arrays."""
    from pxr import Gf, Sdf, Tf, Usd, UsdGeom

    with np.load(source) as given:
        told = json.loads(str(given["told"]))
        arrays = {name: given[name] for name in given.files if name != "told"}
    stage = Usd.Stage.CreateNew(target)
    UsdGeom.SetStageUpAxis(stage, UsdGeom.Tokens.y)
    UsdGeom.SetStageMetersPerUnit(stage, 1.0)
    frames = arrays["frames"]
    stage.SetTimeCodesPerSecond(told["fps"])
    stage.SetFramesPerSecond(told["fps"])
    stage.SetStartTimeCode(float(frames[0]))
    stage.SetEndTimeCode(float(frames[-1]))
    paths: list[Any] = []
    taken: set[Any] = set()
    for n, part in enumerate(told["parts"]):
        above = Sdf.Path.absoluteRootPath if part["parent"] is None else paths[part["parent"]]
        name = Tf.MakeValidIdentifier(part["name"])
        path, k = above.AppendChild(name), 2
        while path in taken:
            path, k = above.AppendChild(f"{name}_{k}"), k + 1
        taken.add(path)
        paths.append(path)
        xform = UsdGeom.Xform.Define(stage, path)
        prim = xform.GetPrim()
        prim.SetDisplayName(part["name"])
        for key in ("name", "role", "order"):
            prim.SetCustomDataByKey(f"bindu:{key}", part[key])
        move = xform.AddTranslateOp(UsdGeom.XformOp.PrecisionDouble)
        turn = xform.AddOrientOp(UsdGeom.XformOp.PrecisionDouble)
        size = xform.AddScaleOp(UsdGeom.XformOp.PrecisionDouble)
        for op, rest, values, made in (
            (move, "rest translation", "translation", lambda v: Gf.Vec3d(*v)),
            (turn, "rest rotation", "rotation", lambda v: Gf.Quatd(v[3], *v[:3])),
            (size, "rest scale", "scale", lambda v: Gf.Vec3d(*v)),
        ):
            op.Set(made(arrays[rest][n].tolist()))
            rows = arrays[values][n]
            for row, frame in zip(
                rows[: 1 if np.all(rows == rows[0]) else None], frames, strict=False
            ):
                op.Set(made(row.tolist()), float(frame))
        for k, (owner, channel) in enumerate(told["own"]):
            if owner == n:
                name = Sdf.Path.JoinIdentifier(["userProperties", Tf.MakeValidIdentifier(channel)])
                attribute = prim.CreateAttribute(name, Sdf.ValueTypeNames.Double, custom=True)
                attribute.SetDisplayName(channel)
                attribute.Set(float(arrays[f"own{k}"][0]))
                for value, frame in zip(arrays[f"own{k}"], frames, strict=True):
                    attribute.Set(float(value), float(frame))
    if told["parts"]:
        stage.SetDefaultPrim(stage.GetPrimAtPath(paths[0]))
    stage.GetRootLayer().Save()


if __name__ == "__main__":
    way, source, target = sys.argv[1:4]
    assert Path(source).exists()
    {"read": read, "write": write}[way](source, target)
