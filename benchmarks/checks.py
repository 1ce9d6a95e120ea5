"""Speed of checks: all of them on a rig of 500 parts, and after an edit that reaches two.

Run: PYTHONPATH=src:. .venv/bin/python -m benchmarks.checks
"""

from __future__ import annotations

import time

import numpy as np

from bindu.core.checks.check import Looked
from bindu.core.checks.registry import CHECKS, findings
from bindu.core.curves.model import Key
from bindu.core.edits import AnyEdit, applied
from bindu.core.edits.keys import PutKeys
from bindu.core.edits.parts import AddPart
from bindu.core.edits.scene import ChangeScene
from bindu.core.evaluation import evaluate, evaluate_after
from bindu.core.scene.model import Scene

PARTS, LAST = 500, 299


def rig() -> Scene:
    """Parts of which each turns and moves by keys on six channels."""
    random = np.random.default_rng(1)
    edits: list[AnyEdit] = [ChangeScene(first=0, last=LAST)]
    for n in range(PARTS):
        edits.append(AddPart(f"part {n}", f"p{n - 1}" if n % 10 else None, id=f"p{n}"))
        for channel in ("translation", "rotation"):
            for axis in "xyz":
                size = 1.0 if channel == "translation" else 60.0
                values = random.uniform(-size, size, 25)
                keys = tuple(Key(12.0 * k, float(v)) for k, v in enumerate(values))
                edits.append(PutKeys(f"p{n}", f"{channel}.{axis}", keys))
    return applied(Scene(), edits)


def main() -> None:
    """Prints all of it."""
    scene = rig()
    start = time.perf_counter()
    before = evaluate(scene)
    print(f"evaluation of {PARTS} parts x {LAST + 1} frames: {time.perf_counter() - start:.3f} s")
    looked = Looked()
    start = time.perf_counter()
    found = findings(before, looked=looked)
    print(f"all checks: {time.perf_counter() - start:.3f} s, {len(found)} findings")
    for check in CHECKS:
        start = time.perf_counter()
        findings(before, only={check.name})
        took = time.perf_counter() - start
        if took > 0.01:
            print(f"  {check.name}: {took * 1e3:.0f} ms")
    moved = applied(scene, [PutKeys("p9", "rotation.x", (Key(120.0, 5.0),))])
    after = evaluate_after(before, moved)
    start = time.perf_counter()
    findings(after, looked=looked)
    print(f"after an edit that reaches one part: {(time.perf_counter() - start) * 1e3:.0f} ms")


if __name__ == "__main__":
    main()
