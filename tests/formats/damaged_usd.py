"""Reads damaged USD layers, many in one process: each in a fork of it, as the application
reads each in a process of its own, but without starting the library anew.

Run: PYTHONPATH=src:. .venv/bin/python -m tests.formats.damaged_usd usda|usdc COUNT [SEED]
"""

from __future__ import annotations

import json
import os
import resource
import signal
import sys
import tempfile
from collections import Counter
from pathlib import Path

import numpy as np

from bindu.core.refusal import Refusal
from bindu.formats.report import Report
from bindu.formats.usd import layers, process
from tests.formats.clips import mutated, random_clip

SECONDS = 2


def outcomes(kind: str, count: int, seed: int) -> Counter[str]:
    """How often damaged layers were read, refused, killed their reader, or took too long."""
    from pxr import Usd, UsdGeom, UsdSkel  # noqa: F401  (each fork has them)

    random = np.random.default_rng(seed)
    clip = random_clip(random, False, 4)
    given = layers.write_usd(clip, Report(""), "usda" if kind == "usda" else "usdc")
    seen: Counter[str] = Counter()
    with tempfile.TemporaryDirectory() as folder:
        for n in range(count):
            # A name of its own for each: the library keeps what it has opened by name.
            source, target = Path(folder) / f"given{n}.{kind}", Path(folder) / "read.npz"
            source.write_bytes(mutated(random, given))
            target.unlink(missing_ok=True)
            seen[_outcome(source, target)] += 1
            source.unlink()
    return seen


def _outcome(source: Path, target: Path) -> str:
    child = os.fork()
    if not child:
        signal.alarm(SECONDS)
        resource.setrlimit(resource.RLIMIT_CORE, (0, 0))
        os.dup2(os.open(os.devnull, os.O_WRONLY), 2)
        try:
            process.read(str(source), str(target))
        except BaseException as error:
            print(f"{source.name}: {error!r}", flush=True)
            os._exit(1)
        os._exit(0)
    _, status = os.waitpid(child, 0)
    if os.WIFSIGNALED(status):
        return "hung" if os.WTERMSIG(status) == signal.SIGALRM else "killed its reader"
    if status or not target.exists():
        return "failed"
    try:
        (clip,) = layers.clips_in(target, Report(""))
    except Refusal as refused:
        assert str(refused)
        return "refused"
    assert np.all(np.isfinite(clip.worlds))
    return "read"


if __name__ == "__main__":
    kind, count, *seed = sys.argv[1:]
    print(json.dumps(outcomes(kind, int(count), int(seed[0]) if seed else 4)))
