"""Bakes on their way out: as a file of a format, with a report that is measured on the file."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import replace
from typing import Literal, get_args

from bindu.core.clips.baking import baked, baked_clip
from bindu.core.clips.motion import MotionClip
from bindu.core.clips.standing import standing
from bindu.core.counted import counted
from bindu.core.edits.bakes import what_changes
from bindu.core.evaluation import Evaluation
from bindu.core.refusal import Refusal
from bindu.core.scene.bakes import Bake
from bindu.core.scene.model import Scene
from bindu.formats.bvh import write_bvh
from bindu.formats.gltf import write_gltf
from bindu.formats.gltf.surfaces import skins_of
from bindu.formats.report import Report
from bindu.formats.table import write_table
from bindu.formats.taking_in import read_file
from bindu.formats.usd.layers import write_usd

Format = Literal["glb", "gltf", "usda", "usdc", "bvh", "csv"]
FORMATS: tuple[Format, ...] = get_args(Format)
SEVERAL: tuple[Format, ...] = ("glb", "gltf")
"""The formats that hold several bakes."""
NAMES = {
    "glb": "glTF 2.0",
    "gltf": "glTF 2.0 as text",
    "usda": "USD as text",
    "usdc": "USD",
    "bvh": "BVH",
    "csv": "CSV",
}


def send(evaluation: Evaluation, bakes: Sequence[Bake], to: Format) -> tuple[bytes, Report]:
    """A file of bakes, and what became of them in it: it is read back and compared.

    A bake that follows its source leaves as that is now.

    Raises:
        Refusal: when there is nothing to send, the format holds one bake alone, or a bake that
            follows would change its length or its parts.
    """
    if not bakes:
        raise Refusal("there is nothing to send: bake something first.", code="choice")
    if len(bakes) > 1 and to not in SEVERAL:
        text = f"{NAMES[to]} holds one bake; choose one."
        raise Refusal(text, code="choice", place="bakes")
    clips = [sent_clip(evaluation, bake) for bake in bakes]
    report = Report(
        NAMES[to], parts=len({p.name for c in clips for p in c.parts}), clips=len(clips)
    )
    data = _written(evaluation, clips, to, report)
    report.size = len(data)
    back = read_file(data, to, clips[0].fps, Report(""))
    by_name = {clip.name: clip for clip in back}
    for clip in clips:
        one = by_name.get(clip.name, back[0] if len(back) == 1 else None)
        if one is not None:
            report.compare(clip, one)
    _tell(evaluation.scene, bakes, report)
    return data, report


def sent_clip(evaluation: Evaluation, bake: Bake) -> MotionClip:
    """What of a bake leaves.

    Raises:
        Refusal: when it follows its source and cannot any more.
    """
    if bake.follows:
        stands = standing(evaluation, bake)
        if stands.state == "asks":
            raise Refusal(what_changes(stands), code="choice", place=bake.name)
        if stands.state == "stale":
            bake = replace(bake, made=baked(evaluation, bake))
    return baked_clip(bake)


def _written(
    evaluation: Evaluation, clips: Sequence[MotionClip], to: Format, report: Report
) -> bytes:
    if to in ("glb", "gltf"):
        skins = skins_of(evaluation, clips, report)
        report.otherwise.append("turning is in quaternions, seconds in place of frames")
        return write_gltf(clips, skins, report, to == "glb")
    if evaluation.scene.surfaces:
        report.lost.append(counted(len(evaluation.scene.surfaces), "surface"))
    if to == "bvh":
        return write_bvh(clips[0], report)
    if to == "csv":
        return write_table(clips[0], report)
    return write_usd(clips[0], report, "usdc" if to == "usdc" else "usda")


def _tell(scene: Scene, bakes: Sequence[Bake], report: Report) -> None:
    """What no format holds of a scene."""
    exact = (report.places or 0.0) < 1e-9
    as_file = "" if exact else ", as exact as the file's numbers"
    report.held.insert(0, f"{report.parts} parts on every frame{as_file}")
    counts: dict[str, int] = {}
    for step in scene.steps.values():
        if step.on:
            counts[step.settings.kind] = counts.get(step.settings.kind, 0) + 1
    if counts:
        named = ", ".join(
            f"{n} {kind}" for kind, n in sorted(counts.items(), key=lambda c: -c[1])[:6]
        )
        report.lost.append(f"steps ({named}): only what they came to")
    gone = {part.part for bake in bakes if bake.made for part in bake.made.parts}
    hidden = [p for p, part in scene.parts.items() if p in gone and "visible" in part.values]
    hidden += [ref.part for ref in scene.curves if ref.channel == "visible" and ref.part in gone]
    if hidden:
        names = [scene.parts[part].name for part in dict.fromkeys(hidden)]
        verb = "is" if len(names) == 1 else "are"
        report.lost.append(f"whether {', '.join(names)} {verb} seen")
    if any(part.locked for part in scene.parts.values()):
        report.lost.append("limits and locks")
