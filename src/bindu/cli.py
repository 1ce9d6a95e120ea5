"""The command line: what is asked of scene files and done with them, without a server."""

from __future__ import annotations

import argparse
import csv
import errno
import json
import os
import sys
from collections.abc import Callable, Sequence
from pathlib import Path
from typing import Any, TextIO

import numpy as np

from bindu.cli_deliver import add_commands, add_import, add_receive
from bindu.collector import calm_collector
from bindu.core.account.labels import loop_lines, node_label
from bindu.core.account.ledger import Bead, ReadSeen, effect, ledger_of, values_at
from bindu.core.checks.check import said_frames
from bindu.core.checks.registry import check_named, findings
from bindu.core.evaluation import Evaluation, evaluate
from bindu.core.nodes.identity import NodeId
from bindu.core.refusal import Refusal
from bindu.core.scene.channels import TAPS, Tap
from bindu.core.scene.names import channel_named, full_name
from bindu.formats.findings_table import finding_row
from bindu.formats.limb_table import limb_named, limb_table
from bindu.formats.scene.scene_json import LARGEST_FILE, read_scene

WRONG, BAD_INPUT = 1, 2
Work = Callable[[Any, argparse.Namespace, TextIO], int | None]
"""Writes about a scene, evaluated; gives back an exit status where that is not 0."""


def main(arguments: Sequence[str] | None = None) -> int:
    """Runs a command. Returns the exit status: 0; 1 where ``check`` finds something wrong that
    nobody accepted; 2 with one line on bad input."""
    options = _parser().parse_args(arguments)
    work: Work = options.work
    try:
        return _print(options, work)
    except Refusal as refusal:
        print(f"bindu: {' '.join(str(refusal).split())}", file=sys.stderr)
        return BAD_INPUT


def _print(options: argparse.Namespace, work: Work) -> int:
    """Does the work, and sees to it that all of it is written; the exit status.

    Raises:
        Refusal: when the input is bad, or the output takes nothing.
    """
    evaluation = None if options.scene is None else _evaluation(options.scene)
    out: TextIO | None = sys.stdout
    try:
        if out is None:
            raise OSError(errno.EBADF, "it is closed")
        status = work(evaluation, options, out)
        out.flush()
    except OSError as error:
        if out is not None:
            # Python would try again to write what is left when it ends.
            os.dup2(os.open(os.devnull, os.O_WRONLY), out.fileno())
        raise Refusal(f"cannot be written: {error.strerror}.", place="output") from None
    return status or 0


def _parser() -> argparse.ArgumentParser:
    parser = argparse.ArgumentParser(prog="bindu", description=__doc__)
    commands = parser.add_subparsers(required=True, metavar="COMMAND")

    def command(name: str, text: str, work: Work) -> argparse.ArgumentParser:
        made = commands.add_parser(name, help=text, description=text)
        made.add_argument("scene", metavar="SCENE.json", help="a scene file, *.bindu.json")
        made.add_argument("--json", action="store_true", help="print JSON")
        made.set_defaults(work=work)
        return made

    curves = command("curves", "values of channels, as CSV", _curves)
    curves.add_argument("--channel", action="append", required=True, metavar="PART.CHANNEL")
    curves.add_argument("--tap", choices=TAPS, default="final")
    curves.add_argument("--frames", metavar="A:B", help="from A to B, both included")
    command("order", "the order of evaluation, with ranks and loops", _order)
    ledger = command("ledger", "the account of one channel on one frame", _ledger)
    ledger.add_argument("--channel", required=True, metavar="PART.CHANNEL")
    ledger.add_argument("--frame", required=True, type=float)
    limb = command("limb", "how a limb meets its goal, and how far FK and IK are apart", _limb)
    limb.add_argument("--limb", required=True, metavar="NAME")
    limb.add_argument("--frame", metavar="FRAME or A:B", help="all frames when left out")
    check = command("check", "what is wrong, where and how much", _check)
    check.add_argument("--only", metavar="CHECK,CHECK", help="look with these checks alone")
    add_commands(command)
    text = "a file of another program as a scene, or onto the parts of one, and its report"
    add_import(commands.add_parser("import", help=text, description=text))
    text = "plays an exported file as a program that knows nothing of the scene; prints CSV"
    add_receive(commands.add_parser("receive", help=text, description=text))
    return parser


def _evaluation(name: str) -> Evaluation:
    path = Path(name)
    try:
        with path.open("rb") as file:
            text = file.read(LARGEST_FILE + 1)
    except OSError as error:
        raise Refusal(f"{error.strerror}.", place=name) from None
    return evaluate(read_scene(text))


def _frames(evaluation: Evaluation, text: str | None, option: str = "--frames") -> slice:
    times = evaluation.times
    if text is None:
        return slice(0, len(times.frames))
    try:
        first, last = (int(frame) for frame in text.split(":") if frame.isascii())
    except ValueError:
        raise Refusal(f"write frames as 0:120, not {text!r}.", place=option) from None
    if last < first:
        raise Refusal(f"{first} lies behind {last}.", place=option)
    return slice(evaluation.index(first), evaluation.index(last) + 1)


def _curves(evaluation: Evaluation, options: argparse.Namespace, out: TextIO) -> None:
    tap: Tap = options.tap
    chosen = _frames(evaluation, options.frames)
    frames = [int(frame) for frame in evaluation.times.frames[chosen]]
    columns: dict[str, list[float]] = {}
    for name in options.channel:
        values = evaluation.channel(channel_named(evaluation.scene, name), tap)
        spread = np.broadcast_to(values, len(evaluation.times.frames))
        columns[name] = [float(value) for value in spread[chosen]]
    if options.json:
        _print_json({"tap": tap, "frames": frames, "values": columns}, out)
        return
    rows = csv.writer(out, lineterminator="\n")
    rows.writerow(["frame", *(["value"] if len(columns) == 1 else columns)])
    for row in zip(frames, *columns.values(), strict=True):
        rows.writerow([row[0], *(repr(value) for value in row[1:])])


def _limb(evaluation: Evaluation, options: argparse.Namespace, out: TextIO) -> None:
    text = options.frame
    if text is not None and ":" not in text:
        text = f"{text}:{text}"
    limb = limb_named(evaluation.scene, options.limb)
    table = limb_table(evaluation, limb, _frames(evaluation, text, "--frame"))
    if options.json:
        _print_json(table, out)
        return
    pole = f", pole {table['pole']}" if table["pole"] else ""
    out.write(f"{table['limb']}: {' › '.join(table['chain'])} → {table['goal']}{pole}\n")
    for row in table["frames"]:
        out.write(f"frame {row['frame']}  blend {row['blend']:g}  {row['solution']}\n")
        out.write(f"  reach {row['reach']:.6f} m  distance {row['distance']:.6f} m")
        out.write(f"  bend {row['bend']:.4f}°  goal error {row['goal error']:.3e} m")
        out.write(f"  stretched {row['stretched']:.6f}\n")
        for name, one in row["apart"].items():
            out.write(f"  {name}: FK and IK {one['metres']:.6f} m, {one['degrees']:.4f}° apart\n")


def _check(evaluation: Evaluation, options: argparse.Namespace, out: TextIO) -> int:
    only = None
    if options.only is not None:
        only = {check_named(name.strip()).name for name in options.only.split(",")}
    found = findings(evaluation, only)
    rows = [finding_row(evaluation.scene, finding) for finding in found]
    wrong = any(row["severity"] == "wrong" and row["accepted"] is None for row in rows)
    if options.json:
        _print_json({"findings": rows}, out)
        return WRONG if wrong else 0
    for row, finding in zip(rows, found, strict=True):
        out.write(f"{row['severity']:<8}  {row['check']}: {row['text']}\n")
        out.write(f"          {said_frames(finding.spans)}\n")
        if row["accepted"] is not None:
            out.write(f"          accepted: {' '.join(row['accepted'].split())}\n")
    if not rows:
        out.write("nothing found\n")
    return WRONG if wrong else 0


def _order(evaluation: Evaluation, options: argparse.Namespace, out: TextIO) -> None:
    graph, scene = evaluation.graph, evaluation.scene
    rows = [(graph.ranks[i], node_label(scene, i), i in graph.held) for i in graph.order]
    loops = [loop_lines(scene, loop) for loop in graph.loops]
    if options.json:
        order = [{"rank": r, "node": label, "held": held} for r, label, held in rows]
        _print_json({"order": order, "loops": loops}, out)
        return
    for rank, label, held in rows:
        out.write(f"{rank:>5}  {label}{'  held' if held else ''}\n")
    for loop in loops:
        out.write(f"loop: {' → '.join(loop['chain'])}\n")
        out.write(f"      {loop['reader']} takes {loop['held']} instead\n")


def _ledger(evaluation: Evaluation, options: argparse.Namespace, out: TextIO) -> None:
    ref = channel_named(evaluation.scene, options.channel)
    ledger = ledger_of(evaluation, ref)
    place, frame = evaluation.index(options.frame), options.frame

    def value(node_id: NodeId | None) -> float | None:
        return None if node_id is None else values_at(evaluation, node_id, frame)

    beads: list[dict[str, Any]] = [
        {
            "zone": bead.zone,
            "name": bead.name,
            "kind": bead.kind,
            "is": bead.description,
            "in": value(bead.incoming),
            "out": value(bead.outgoing),
            "state": _state(evaluation, bead, place),
            "reads": [_read(evaluation, seen, frame) for seen in bead.reads],
        }
        for bead in ledger.beads
    ]
    taps = {tap: value(node_id) for tap, node_id in ledger.taps}
    account: dict[str, Any] = {
        "channel": full_name(evaluation.scene, ref),
        "frame": frame,
        "beads": beads,
        "taps": taps,
    }
    if options.json:
        _print_json(account, out)
        return
    out.write(f"{account['channel']} at frame {frame:g}\n")
    for bead in beads:
        flow = f"{_number(bead['in'])} → {_number(bead['out'])}"
        out.write(f"{bead['zone']:<7} {bead['name']} ({bead['kind']}): {bead['is']}\n")
        out.write(f"        {flow}  {bead['state']}\n")
        for read in bead["reads"]:
            out.write(f"        reads {read['what']} @{read['tap']} = {read['value']}\n")
    out.write("taps    " + "  ".join(f"{tap} {_number(v)}" for tap, v in taps.items()) + "\n")


def _state(evaluation: Evaluation, bead: Bead, place: int) -> str:
    if bead.step and not bead.step.on:
        return "muted"
    if bead.broken_from is not None:
        return f"no finite number from frame {bead.broken_from} on, held at its input there"
    changes = effect(evaluation, bead)
    words = []
    if changes is not None:
        at = changes[place if len(changes) > 1 else 0]
        words.append("changes the value" if at else "no effect here")
    if bead.held:
        words.append("held")
    return ", ".join(words)


def _read(evaluation: Evaluation, seen: ReadSeen, frame: float) -> dict[str, Any]:
    values = evaluation.result(seen.node).values
    row = values[evaluation.index(frame) if len(values) > 1 else 0]
    return {"what": seen.label, "tap": str(seen.read.tap), "value": np.asarray(row).tolist()}


def _number(value: Any) -> str:
    return "—" if value is None else repr(value)


def _print_json(data: Any, out: TextIO) -> None:
    out.write(json.dumps(data, ensure_ascii=False) + "\n")


if __name__ == "__main__":
    calm_collector()
    sys.exit(main())
