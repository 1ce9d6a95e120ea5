"""How much memory a file takes: at most twelve times its size, whatever is in it."""

from __future__ import annotations

import json
import subprocess
import sys
from pathlib import Path

from tests.conftest import ROOT

MOST = 12.0
SIZE = 1_500_000
HEAD = '{"format":"bindu scene","version":1,"name":"x","fps":24,"range":[0,10],'
READ = """
import os, sys
from bindu.core.refusal import Refusal
from bindu.formats.scene.scene_json import read_scene
def memory(kind):
    with open("/proc/self/status") as lines:
        return 1024 * next(int(line.split()[1]) for line in lines if line.startswith(kind))
first, *others = sys.argv[1:]
read_scene(open(first, "rb").read())
for path in others:
    # Each in a fork, so that none has what another has left; without loading all anew.
    if os.fork():
        os.wait()
        continue
    # A fork begins without the pages of the code itself: they are not the file's.
    read_scene(open(first, "rb").read())
    before = memory("VmRSS")
    try:
        read_scene(open(path, "rb").read())
        told = "read"
    except Refusal as refusal:
        told = "refused"
    print(path, told, memory("VmHWM") - before, flush=True)
    os._exit(0)
"""


def _parts(of: str) -> str:
    return HEAD + '"parts":' + of + "}"


def _one(field: str) -> str:
    return _parts('[{"name":"a",' + field + "}]")


def _keyed() -> str:
    """As compact as keys can be: what is asked for and no blank."""
    keys = [{"frame": n, "value": n % 7} for n in range(900)]
    curves = {f"{g}.{a}": {"keys": keys} for g in ("translation", "rotation") for a in "xyz"}
    count = SIZE // len(json.dumps(curves, separators=(",", ":")))
    parts = [{"name": f"p {n}", "curves": curves} for n in range(count)]
    return _parts(json.dumps(parts, separators=(",", ":")))


FILES = {
    "lists": lambda: _parts("[" + "[]," * (SIZE // 3) + "[]]"),
    "lists-in-a-part": lambda: _one('"steps":[' + "[]," * (SIZE // 3) + "[]]"),
    "objects": lambda: _one('"steps":[' + "{}," * (SIZE // 3) + "{}]"),
    "numbers": lambda: HEAD + '"sets":[' + "1," * (SIZE // 2) + "1]}",
    "texts": lambda: _one('"locked":[' + '"ab",' * (SIZE // 5) + '"a"]'),
    "fields": lambda: _one(
        '"curves":{' + ",".join(f'"{n}":[]' for n in range(SIZE // 12)) + "}"
    ),
    "keys": _keyed,
}  # fmt: skip


def test_a_file_takes_at_most_twelve_times_its_size(tmp_path: Path) -> None:
    paths = {tmp_path / kind: kind for kind in FILES}
    for path, kind in paths.items():
        path.write_text(FILES[kind]())
    first = ROOT / "examples" / "ferry-crossing.bindu.json"
    done = subprocess.run(
        [sys.executable, "-c", READ, str(first), *map(str, paths)],
        capture_output=True,
        text=True,
        check=True,
        cwd=tmp_path,
        env={"PYTHONPATH": str(ROOT / "src")},
    )
    told, taken = {}, {}
    for line in done.stdout.splitlines():
        path, word, number = line.split()
        kind = paths[Path(path)]
        told[kind], taken[kind] = word, int(number) / Path(path).stat().st_size
    assert told == {kind: "read" if kind == "keys" else "refused" for kind in FILES}
    assert max(taken.values()) <= MOST and min(taken.values()) > 0.5, taken
