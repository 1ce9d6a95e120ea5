"""Reads damaged USD layers: the application reads each in a process of its own, this as many in
one as it survives, without starting the library anew.

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
    random = np.random.default_rng(seed)
    clip = random_clip(random, False, 4)
    given = layers.write_usd(clip, Report(""), "usda" if kind == "usda" else "usdc")
    with tempfile.TemporaryDirectory() as folder:
        # A name of its own for each: the library keeps what it has opened by name.
        sources = [Path(folder) / f"given{n}.{kind}" for n in range(count)]
        for source in sources:
            source.write_bytes(mutated(random, given))
        seen: Counter[str] = Counter()
        while (done := seen.total()) < count:
            ended = _read_in_a_fork(sources[done:])
            for source in sources[done:]:
                target = source.with_suffix(".npz")
                if not target.exists():
                    seen[ended] += 1
                    break
                seen[_outcome(target)] += 1
    return seen


def _read_in_a_fork(sources: list[Path]) -> str:
    """Reads layers one after the other until one ends its reader. Returns what that one did."""
    child = os.fork()
    if not child:
        resource.setrlimit(resource.RLIMIT_CORE, (0, 0))
        os.dup2(os.open(os.devnull, os.O_WRONLY), 2)
        for source in sources:
            signal.alarm(SECONDS)
            try:
                process.read(str(source), str(source.with_suffix(".npz")))
            except BaseException as error:
                print(f"{source.name}: {error!r}", flush=True)
                os._exit(1)
        os._exit(0)
    _, status = os.waitpid(child, 0)
    if os.WIFSIGNALED(status):
        return "hung" if os.WTERMSIG(status) == signal.SIGALRM else "killed its reader"
    return "failed"


def _outcome(target: Path) -> str:
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
