"""A USD layer from plain arrays."""

from __future__ import annotations

from typing import Any

import numpy as np


def write_layer(told: dict[str, Any], arrays: dict[str, Any], target: str) -> None:
    """Writes a layer: each part as a transform of translate, orient and scale, and its numbers.

    Args:
        told: the rate, the parts (name, parent, role, order), and whose each own channel is.
        arrays: frames, shape (F,); rests and values of all parts, shapes (P, n) and (P, F, n), and
            on which frames they are kept, shape (P, F); own channels, shape (F,).
        target: the file; its ending says of which kind.
    """
    from pxr import Usd, UsdGeom

    stage = Usd.Stage.CreateNew(target)
    UsdGeom.SetStageUpAxis(stage, UsdGeom.Tokens.y)
    UsdGeom.SetStageMetersPerUnit(stage, 1.0)
    frames = arrays["frames"]
    stage.SetTimeCodesPerSecond(told["fps"])
    stage.SetFramesPerSecond(told["fps"])
    stage.SetStartTimeCode(float(frames[0]))
    stage.SetEndTimeCode(float(frames[-1]))
    paths = _paths(told["parts"])
    for n, (part, path) in enumerate(zip(told["parts"], paths, strict=True)):
        xform = UsdGeom.Xform.Define(stage, path)
        prim = xform.GetPrim()
        prim.SetDisplayName(part["name"])
        for key in ("name", "role", "order"):
            prim.SetCustomDataByKey(f"bindu:{key}", part[key])
        _move(xform, n, arrays)
        for k, (owner, channel) in enumerate(told["own"]):
            if owner == n:
                _tell(prim, channel, arrays[f"own{k}"], frames)
    if paths:
        stage.SetDefaultPrim(stage.GetPrimAtPath(paths[0]))
    stage.GetRootLayer().Save()


def _paths(parts: list[dict[str, Any]]) -> list[Any]:
    """A path of its own for each part, below its parent's."""
    from pxr import Sdf, Tf

    paths: list[Any] = []
    taken: set[Any] = set()
    for part in parts:
        above = Sdf.Path.absoluteRootPath if part["parent"] is None else paths[part["parent"]]
        name = Tf.MakeValidIdentifier(part["name"])
        path, k = above.AppendChild(name), 2
        while path in taken:
            path, k = above.AppendChild(f"{name}_{k}"), k + 1
        taken.add(path)
        paths.append(path)
    return paths


def _move(xform: Any, part: int, arrays: dict[str, Any]) -> None:
    """Gives a transform its rest and, where it moves, its time samples."""
    from pxr import Gf, UsdGeom

    precise = UsdGeom.XformOp.PrecisionDouble
    for op, key, made in (
        (xform.AddTranslateOp(precise), "translation", lambda v: Gf.Vec3d(*v)),
        (xform.AddOrientOp(precise), "rotation", lambda v: Gf.Quatd(v[3], *v[:3])),
        (xform.AddScaleOp(precise), "scale", lambda v: Gf.Vec3d(*v)),
    ):
        op.Set(made(arrays[f"rest {key}"][part].tolist()))
        rows = arrays[key][part]
        places = np.flatnonzero(arrays[f"kept {key}"][part])
        for n in places[:1] if np.all(rows == rows[0]) else places:
            op.Set(made(rows[n].tolist()), float(arrays["frames"][n]))


def _tell(prim: Any, channel: str, values: Any, frames: Any) -> None:
    """Gives a part a number of its own."""
    from pxr import Sdf, Tf

    name = Sdf.Path.JoinIdentifier(["userProperties", Tf.MakeValidIdentifier(channel)])
    attribute = prim.CreateAttribute(name, Sdf.ValueTypeNames.Double, custom=True)
    attribute.SetDisplayName(channel)
    attribute.Set(float(values[0]))
    for value, frame in zip(values, frames, strict=True):
        attribute.Set(float(value), float(frame))
