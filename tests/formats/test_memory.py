"""How much memory a file takes: at most twelve times its size, whatever is in it."""

from __future__ import annotations

import json
import subprocess
import sys
from pathlib import Path

import pytest

from tests.conftest import ROOT

MOST = 12.0
SIZE = 6_000_000
HEAD = '{"format":"bindu scene","version":1,"name":"x","fps":24,"range":[0,10],'
READ = """
import sys
from bindu.core.refusal import Refusal
from bindu.formats.scene.scene_json import read_scene
def memory(kind):
    with open("/proc/self/status") as lines:
        return 1024 * next(int(line.split()[1]) for line in lines if line.startswith(kind))
read_scene(open(sys.argv[1], "rb").read())
before = memory("VmRSS")
try:
    read_scene(open(sys.argv[2], "rb").read())
    told = "read"
except Refusal as refusal:
    told = "refused"
print(told, memory("VmHWM") - before)
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
    "lists in a part": lambda: _one('"steps":[' + "[]," * (SIZE // 3) + "[]]"),
    "objects": lambda: _one('"steps":[' + "{}," * (SIZE // 3) + "{}]"),
    "numbers": lambda: HEAD + '"sets":[' + "1," * (SIZE // 2) + "1]}",
    "texts": lambda: _one('"locked":[' + '"ab",' * (SIZE // 5) + '"a"]'),
    "fields": lambda: _one(
        '"curves":{' + ",".join(f'"{n}":[]' for n in range(SIZE // 12)) + "}"
    ),
    "keys": _keyed,
}  # fmt: skip


@pytest.mark.parametrize("kind", FILES)
def test_a_file_takes_at_most_twelve_times_its_size(kind: str, tmp_path: Path) -> None:
    path = tmp_path / "file.json"
    path.write_text(FILES[kind]())
    first = ROOT / "examples" / "ferry-crossing.bindu.json"
    done = subprocess.run(
        [sys.executable, "-c", READ, str(first), str(path)],
        capture_output=True,
        text=True,
        check=True,
        env={"PYTHONPATH": str(ROOT / "src")},
    )
    told, taken = done.stdout.split()
    assert told == ("read" if kind == "keys" else "refused")
    assert int(taken) <= MOST * path.stat().st_size
