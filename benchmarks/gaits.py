"""Speed of gaits: one of six legs, and many figures.

Run: PYTHONPATH=src:. .venv/bin/python -m benchmarks.gaits
"""

from __future__ import annotations

import time

import numpy as np

from bindu.core.curves.model import Key
from bindu.core.edits import AnyEdit, applied
from bindu.core.edits.gaits import PutGait
from bindu.core.edits.keys import PutKeys
from bindu.core.edits.parts import AddPart
from bindu.core.edits.scene import ChangeScene
from bindu.core.evaluation import evaluate
from bindu.core.scene.model import Scene
from bindu.core.scene.things import GaitFoot

FEET = 6


def figures(count: int, last: int, below: int = 0) -> Scene:
    """Figures of six feet along bent paths, with so many parts below each root."""
    edits: list[AnyEdit] = [ChangeScene(first=0, last=last)]
    for n in range(count):
        root = f"root {n}"
        edits.append(AddPart(root, id=f"r{n}"))
        for channel, size in (
            ("translation.z", 0.05),
            ("translation.x", 0.01),
            ("rotation.y", 0.5),
        ):
            keys = (Key(float(f), size * f) for f in range(0, last + 1, 10))
            edits.append(PutKeys(f"r{n}", channel, tuple(keys)))
        feet = []
        for k in range(FEET):
            edits.append(AddPart(f"foot {n} {k}", id=f"f{n}x{k}"))
            offset = (0.1 if k % 2 else -0.1, 0.02, 0.2 * (k // 2))
            feet.append(GaitFoot(f"f{n}x{k}", 0.5 * ((k + k // 2) % 2), offset))
        for k in range(below):
            above = f"r{n}" if k % 6 == 0 else f"b{n}x{k - 1}"
            edits.append(AddPart(f"part {n} {k}", above, id=f"b{n}x{k}"))
        edits.append(PutGait(f"walk {n}", f"r{n}", tuple(feet), width=0.2, id=f"w{n + 1}"))
    return applied(Scene(), edits)


def by_hand(count: int, frames: int, parts: int) -> float:
    """The seconds that the same number of matrices takes, stacked, in NumPy written by hand."""
    local = np.broadcast_to(np.eye(3, 4), (count, frames, 3, 4)).copy()
    start = time.perf_counter()
    for _ in range(parts):
        made = np.einsum("cfij,cfjk->cfik", local[..., :3], local)
        made[..., 3] += local[..., 3]
    return time.perf_counter() - start


def main() -> None:
    """Prints all of it."""
    scene = figures(1, 999)
    evaluation = evaluate(scene)
    took = [
        seconds for node_id, seconds in evaluation.seconds.items() if node_id.quantity == "solve"
    ]
    print(f"gait of {FEET} legs x 1,000 frames: {1e3 * sum(took):.1f} ms (bar 60)")
    many = figures(20, 299, 30 - FEET - 1)
    start = time.perf_counter()
    evaluate(many)
    full = time.perf_counter() - start
    hand = by_hand(20, 300, 30)
    print(f"20 figures of 30 parts x 300 frames: {1e3 * full:.0f} ms, by hand {1e3 * hand:.0f} ms")


if __name__ == "__main__":
    main()
