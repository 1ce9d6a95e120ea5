"""A USD layer as plain arrays: its transforms, its skeletons' joints, its own numbers."""

from __future__ import annotations

from collections.abc import Iterator
from typing import Any

import numpy as np

from bindu.formats.usd.found import Refused, UsdParts, rows_of
from bindu.formats.usd.skeletons import joint_count, read_joints, skeletons_in

MOST_PRIMS = 20_000
MOST_NUMBERS = 40_000_000


def layer_arrays(source: str) -> tuple[dict[str, Any], dict[str, Any]]:
    """What a layer holds, and its numbers. Nothing that it names elsewhere is followed.

    Raises:
        Refused: with why it is not read.
    """
    from pxr import Usd, UsdGeom

    stage = _stage(source)
    prims = [prim for prim in stage.Traverse() if prim.IsA(UsdGeom.Xformable)]
    if not prims:
        raise Refused("it has no transforms.")
    skeletons = skeletons_in(stage)
    count = len(prims) + joint_count(skeletons)
    if count > MOST_PRIMS:
        raise Refused(f"it has {count:,} prims and joints, of at most {MOST_PRIMS:,}.")
    samples = {t for prim in prims for t in UsdGeom.Xformable(prim).GetTimeSamples()}
    samples |= {t for one in skeletons for t in one.samples()}
    frames = _frames(stage, sorted(samples))
    if count * len(frames) * 12 > MOST_NUMBERS:
        raise Refused(f"it holds over {MOST_NUMBERS:,} numbers.")
    found = UsdParts()
    place = {prim.GetPath(): n for n, prim in enumerate(prims)}
    for prim in prims:
        _read_transform(found, prim, place, frames)
    read_joints(found, skeletons, place, frames)
    own = list(_own_numbers(prims))
    if len(own) * len(frames) > MOST_NUMBERS:
        raise Refused(f"it holds over {MOST_NUMBERS:,} numbers.")
    told = {
        "fps": float(stage.GetTimeCodesPerSecond()),
        "meters": float(UsdGeom.GetStageMetersPerUnit(stage)),
        "up": str(UsdGeom.GetStageUpAxis(stage)),
        "parts": found.parts,
        "off": int(sum(abs(t - round(t)) > 1e-6 for t in samples)),
        "own": [(n, name) for n, name, _ in own],
    }
    arrays = {"frames": frames, "local": np.stack(found.local), "rests": np.stack(found.rests)}
    for k, (_, _, attribute) in enumerate(own):
        code = Usd.TimeCode
        arrays[f"own{k}"] = np.array([float(attribute.Get(code(float(f)))) for f in frames])
    return told, arrays


def _stage(source: str) -> Any:
    """The stage of a layer that needs no other."""
    from pxr import Sdf, Usd

    layer = Sdf.Layer.FindOrOpen(source)
    if layer is None:
        raise Refused("it is no USD layer.")
    named = layer.GetCompositionAssetDependencies()
    if named or layer.subLayerPaths:
        raise Refused(
            f"it needs another file, {str(next(iter(named), ''))[:80]!r}; none is opened."
        )
    return Usd.Stage.Open(layer, Usd.Stage.LoadNone)


def _frames(stage: Any, samples: list[float]) -> Any:
    """The whole frames from the first time code or sample to the last, shape (F,)."""
    start, end = stage.GetStartTimeCode(), stage.GetEndTimeCode()
    if samples:
        start = min(start, samples[0]) if stage.HasAuthoredTimeCodeRange() else samples[0]
        end = max(end, samples[-1]) if stage.HasAuthoredTimeCodeRange() else samples[-1]
    if not (np.isfinite([start, end]).all() and 0.0 <= end - start <= 100_000):
        raise Refused("its time codes are no span of at most 100,000 frames.")
    return np.arange(np.floor(start), np.ceil(end) + 1.0)


def _read_transform(found: UsdParts, prim: Any, place: dict[Any, int], frames: Any) -> None:
    from pxr import Usd, UsdGeom

    xform = UsdGeom.Xformable(prim)
    moving = xform.TransformMightBeTimeVarying()
    rows = [
        rows_of(xform.GetLocalTransformation(Usd.TimeCode(float(frame))))
        for frame in (frames if moving else frames[:1])
    ]
    local = np.broadcast_to(np.stack(rows), (len(frames), 3, 4))
    rest = rows_of(xform.GetLocalTransformation(Usd.TimeCode.Default()))
    above = prim.GetParent()
    while above and above.GetPath() not in place:
        above = above.GetParent()
    found.local.append(local)
    found.rests.append(rest if np.all(np.isfinite(rest)) else local[0])
    found.parts.append({
        "name": str(prim.GetCustomDataByKey("bindu:name") or prim.GetName()),
        "parent": place[above.GetPath()] if above else None,
        "role": str(prim.GetCustomDataByKey("bindu:role") or ""),
        "order": str(prim.GetCustomDataByKey("bindu:order") or ""),
        "type": str(prim.GetTypeName()),
        "reset": bool(xform.GetResetXformStack()),
    })  # fmt: skip


def _own_numbers(prims: list[Any]) -> Iterator[tuple[int, str, Any]]:
    """Whose it is, its name, and the attribute."""
    for n, prim in enumerate(prims):
        for attribute in prim.GetAttributes():
            kind = str(attribute.GetTypeName())
            given = attribute.GetName().startswith("userProperties:")
            if given and kind in ("double", "float") and attribute.Get() is not None:
                yield n, str(attribute.GetDisplayName() or attribute.GetBaseName()), attribute
