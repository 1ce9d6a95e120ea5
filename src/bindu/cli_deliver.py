"""The command line of handing over: bake, export, import."""

from __future__ import annotations

import argparse
import json
import tempfile
from collections.abc import Callable
from dataclasses import asdict
from pathlib import Path
from typing import TextIO, get_args

import numpy as np

from bindu.core.clips.motion import taken_apart
from bindu.core.counted import counted
from bindu.core.curves.model import Array
from bindu.core.edits import applied
from bindu.core.edits.bakes import PutBake, TakeOver
from bindu.core.edits.base import Edit
from bindu.core.edits.receivers import RECEIVER
from bindu.core.evaluation import Evaluation, evaluate
from bindu.core.refusal import Refusal, nearest_names
from bindu.core.scene.bakes import Bake, By
from bindu.core.scene.model import Scene
from bindu.core.scene.receivers import Setup
from bindu.formats.onto import edits_onto
from bindu.formats.report import Report
from bindu.formats.scene.scene_json import LARGEST_FILE, read_scene, write_scene
from bindu.formats.sending import FORMATS, Format, send
from bindu.formats.table import read_columns, write_columns
from bindu.formats.taking_in import (
    check_parts,
    chosen_clip,
    new_scene,
    read_file,
)
from bindu.receiver.player import play
from bindu.receiver.setup import read_setup

WRITTEN = "the scene file that is written"
Command = Callable[..., argparse.ArgumentParser]


def add_commands(command: Command) -> None:
    """Adds these commands to a parser."""
    bake = command("bake", "writes curves out for what leaves, into the scene", _bake)
    bake.add_argument("--name", default="out", help="of the bake; one of this name is taken over")
    bake.add_argument("--by", choices=get_args(By)[:2], help="which parts leave")
    bake.add_argument("--span", metavar="A:B", help="the whole range when left out")
    bake.add_argument("--step", type=int, default=1, help="every so many frames")
    text = "metres, degrees; 0: every frame"
    bake.add_argument("--tolerance", type=float, default=0.0, help=text)
    bake.add_argument("--agreed", action="store_true", help="other parts or frames are meant")
    bake.add_argument("--to", required=True, metavar="FILE", help=WRITTEN)
    out = command("export", "a scene's bakes as a file of another program, and its report", _export)
    out.add_argument("--bake", action="append", metavar="NAME", help="all when left out")
    out.add_argument("--to", required=True, metavar="FILE", help=f"ends in {', '.join(FORMATS)}")


def add_import(parser: argparse.ArgumentParser) -> None:
    """The arguments of import, which reads no scene but one that it may work on."""
    parser.add_argument("file", metavar="FILE", help="ends in glb, gltf, usd, usda, usdc, bvh, csv")
    parser.add_argument("--clip", metavar="NAME", help="the first one when left out")
    parser.add_argument("--fps", type=float, default=24.0, help="of a CSV file")
    parser.add_argument(
        "--unit", type=float, default=1.0, metavar="METRES", help="of a BVH or CSV file: 0.01 …"
    )
    parser.add_argument(
        "--onto", dest="scene", metavar="SCENE.json", help="a scene whose parts move"
    )
    parser.add_argument("--to", required=True, metavar="FILE", help=WRITTEN)
    parser.add_argument("--json", action="store_true", help="print JSON")
    parser.set_defaults(work=_import)


def add_receive(parser: argparse.ArgumentParser) -> None:
    """The arguments of receive, which reads a file that was exported."""
    text = "what was exported; or a scene, whose bakes leave first"
    parser.add_argument("file", metavar="FILE.glb", help=text)
    text = "clips, moves, overrides, inputs; the scene's own where left out"
    parser.add_argument("--setup", metavar="SETUP.json", help=text)
    parser.add_argument("--script", metavar="INPUTS.csv", help="a column seconds, one an input")
    parser.add_argument("--seconds", type=float, default=10.0)
    parser.add_argument("--rate", type=float, default=60.0, help="frames a second")
    parser.add_argument("--json", action="store_true", help="print who had the last word, as JSON")
    parser.set_defaults(work=_receive, scene=None)


def _bake(evaluation: Evaluation, options: argparse.Namespace, out: TextIO) -> None:
    scene = evaluation.scene
    old = next((one for one in scene.bakes.values() if one.name == options.name), None)
    first, last = _span(options.span, old, scene)
    by = options.by or (old.by if old else _usual(scene))
    put = PutBake(
        options.name, first, last, by, old.set if old else None, old.parts if old else (),
        step=options.step, tolerance=options.tolerance, id=old.id if old else None,
    )  # fmt: skip
    edits: list[Edit] = [put]
    if old is not None:
        edits.append(TakeOver(old.id, options.agreed))
    made = applied(scene, edits)
    (bake,) = (one for one in made.bakes.values() if one.name == options.name)
    _write(options.to, write_scene(made).encode())
    assert bake.made is not None
    keys = sum(len(c.unpacked()[0]) for part in bake.made.parts for c in part.curves)
    told = {
        "bake": bake.name,
        "parts": len(bake.made.parts),
        "first": first,
        "last": last,
        "keys": keys,
    }
    _say(
        told,
        options,
        out,
        f"{bake.name}: {counted(len(bake.made.parts), 'part')}, {first} … {last}, {keys} keys",
    )


def _span(text: str | None, old: Bake | None, scene: Scene) -> tuple[int, int]:
    if text is None:
        return (old.first, old.last) if old else (scene.first, scene.last)
    try:
        first, last = (int(frame) for frame in text.split(":"))
    except ValueError:
        raise Refusal(f"write frames as 0:120, not {text!r}.", place="--span") from None
    return first, last


def _usual(scene: Scene) -> By:
    """Joints and props, or all parts where nothing is a joint."""
    some = any(part.role == "joint" for part in scene.parts.values())
    return "joints and props" if some else "all parts"


def _export(evaluation: Evaluation, options: argparse.Namespace, out: TextIO) -> None:
    to = Path(options.to).suffix.lstrip(".").lower()
    if to not in FORMATS:
        raise Refusal(f"write a file that ends in {', '.join(FORMATS)}.", place="--to")
    kind: Format = next(one for one in FORMATS if one == to)
    data, report = _sent(evaluation, kind, options.bake)
    _write(options.to, data)
    _tell(report, options, out)


def _sent(evaluation: Evaluation, kind: Format, names: list[str] | None) -> tuple[bytes, Report]:
    """The file of bakes; a scene without any leaves as it is."""
    scene = evaluation.scene
    bakes = _bakes(scene, names)
    if not bakes:
        made = applied(scene, [PutBake("out", scene.first, scene.last, _usual(scene))])
        evaluation, bakes = evaluate(made), list(made.bakes.values())
    return send(evaluation, bakes, kind)


def _bakes(scene: Scene, names: list[str] | None) -> list[Bake]:
    known = {one.name: one for one in scene.bakes.values()}
    if names is None:
        return [known[name] for name in sorted(known)]
    for name in names:
        if name not in known:
            near = nearest_names(name, known)
            text = f"there is no bake {name!r}."
            raise Refusal(text, code="unknown", place="--bake", nearest=near)
    return [known[name] for name in names]


def _import(evaluation: Evaluation | None, options: argparse.Namespace, out: TextIO) -> None:
    path, report = Path(options.file), Report("")
    data = _bytes(options.file)
    if evaluation is None:
        made, _, report = new_scene(
            data, path.suffix, path.stem, options.fps, options.clip, options.unit
        )
    else:
        clips = read_file(data, path.suffix, options.fps, report, options.unit)
        clip = chosen_clip(clips, options.clip, report)
        made = applied(evaluation.scene, edits_onto(evaluation, clip, report))
    evaluate(made)
    _write(options.to, write_scene(made).encode())
    _tell(report, options, out)


def _receive(_: None, options: argparse.Namespace, out: TextIO) -> None:
    data, suffix, setup = _bytes(options.file), Path(options.file).suffix, Setup()
    if suffix.lower() == ".json":
        scene = read_scene(data)
        setup = scene.receivers.get(RECEIVER, setup)
        data, suffix = _sent(evaluate(scene), "glb", None)[0], ".glb"
    clips = read_file(data, suffix, 24.0, Report(""))
    for clip in clips:
        check_parts(clip)
    if options.setup:
        setup = read_setup(_bytes(options.setup))
    said = {}
    if options.script:
        times, columns = read_columns(_bytes(options.script), "seconds")
        said = {name: (times, values) for name, values in columns.items()}
    played = play(clips, setup, said, options.seconds, options.rate)
    if options.json:
        words = {
            name: _runs(played.last_words(n), [w.name for w in played.writers], options.rate)
            for n, name in enumerate(played.names)
        }
        chases = [list(one.clips) for one in played.chases]
        told = {"last word": words, "chases": chases, "missing": list(played.missing)}
        out.write(json.dumps(told, ensure_ascii=False) + "\n")
        return
    translation, rotation, scale = taken_apart(played.worlds)
    columns_out = [
        (f"{name}.{group}.{axis}", values[n, :, k])
        for n, name in enumerate(played.names)
        for group, values, axes in (
            ("translation", translation, "xyz"),
            ("quaternion", rotation, "xyzw"),
            ("scale", scale, "xyz"),
        )
        for k, axis in enumerate(axes)
    ]
    out.write(write_columns(played.times, columns_out, "seconds").decode())


def _runs(words: Array, names: list[str], rate: float) -> list[tuple[float, str]]:
    """From when on who has the last word."""
    turns = np.flatnonzero(np.diff(words, prepend=words[0] - 1))
    return [
        (round(n / rate, 9), names[int(words[n])] if words[n] >= 0 else "nobody") for n in turns
    ]


def _bytes(name: str) -> bytes:
    try:
        with Path(name).open("rb") as file:
            return file.read(LARGEST_FILE + 1)
    except OSError as error:
        raise Refusal(f"{error.strerror}.", place=name) from None


def _tell(report: Report, options: argparse.Namespace, out: TextIO) -> None:
    counts = f"{counted(report.parts, 'part')}, {counted(report.clips, 'clip')}"
    lines = [f"{report.format}: {report.size:,} bytes, {counts}"]
    if report.places is not None and report.worst is not None:
        part, frame = report.worst
        lines.append(
            f"read back: {1e3 * report.places:.3g} mm and {report.turns or 0.0:.3g}° apart at most "
            f"({part} on frame {frame:g})"
        )
    for word, told in (
        ("held", report.held),
        ("otherwise", report.otherwise),
        ("lost", report.lost),
    ):
        lines += [f"{word}: {text}" for text in told]
    _say(asdict(report), options, out, "\n".join(lines))


def _say(told: object, options: argparse.Namespace, out: TextIO, text: str) -> None:
    out.write((json.dumps(told, ensure_ascii=False) if options.json else text) + "\n")


def _write(name: str, data: bytes) -> None:
    """Writes a file wholly or not at all."""
    path = Path(name)
    try:
        with tempfile.NamedTemporaryFile(dir=path.parent, delete=False) as file:
            file.write(data)
        Path(file.name).chmod(0o644)
        Path(file.name).replace(path)
    except OSError as error:
        raise Refusal(f"cannot be written: {error.strerror}.", place=name) from None
