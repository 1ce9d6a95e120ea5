"""Key operations on 50,000 keys, against writing each key anew once.

Run: PYTHONPATH=src:. .venv/bin/python -m benchmarks.key_operations
"""

from __future__ import annotations

import statistics
import time
from collections.abc import Callable
from dataclasses import replace

import numpy as np

from bindu.core.curves.keys import with_keys
from bindu.core.curves.model import Curve, Key
from bindu.core.edits import AnyEdit
from bindu.core.edits.keying import KeyChannels
from bindu.core.edits.retime import (
    DeleteKeys,
    KeyPick,
    MoveKeys,
    ScaleTime,
    ScaleValues,
    SetInterpolation,
    SetTangents,
)
from bindu.core.scene.channels import ChannelRef
from bindu.core.scene.model import Scene
from bindu.core.scene.parts import Part

KEYS, ROUNDS = 50_000, 5


def scene_of(curves: int) -> Scene:
    """A scene whose 50,000 keys lie on so many curves, one for each part."""
    each = KEYS // curves
    values = np.random.default_rng(3).normal(size=(curves, each))
    parts = {f"p{n}": Part(f"p{n}", f"part {n}", None, n) for n in range(curves)}
    made: dict[ChannelRef, Curve] = {}
    for n in range(curves):
        keys = [Key(2.0 * k, float(v)) for k, v in enumerate(values[n])]
        made[ChannelRef(f"p{n}", "translation.x")] = with_keys(None, keys)
    return Scene(name="keys", first=0, last=2 * each, parts=parts, curves=made)


def operations(scene: Scene) -> dict[str, AnyEdit]:
    """An edit of each family, on all keys of the scene."""
    picks = tuple(KeyPick(ref.part, ref.channel, None) for ref in scene.curves)
    return {
        "move": MoveKeys(picks, frames=10.0),
        "scale in time": ScaleTime(picks, about=0.0, factor=1.5),
        "scale values": ScaleValues(picks, factor=0.5, about="average"),
        "to holds": SetInterpolation(picks, "hold"),
        "flat tangents": SetTangents(picks, "flat"),
        "insert one in each curve": KeyChannels(101.0, tuple(scene.curves)),
        "delete": DeleteKeys(picks),
    }


def median(work: Callable[[], object]) -> float:
    """The median time of some runs after a warm-up, in seconds."""
    work()
    times = []
    for _ in range(ROUNDS):
        start = time.perf_counter()
        work()
        times.append(time.perf_counter() - start)
    return statistics.median(times)


def main() -> None:
    """Prints each operation's time and its ratio to the baseline."""
    for curves in (200, 1):
        scene = scene_of(curves)
        base = median(
            lambda: [replace(k, value=0.0) for c in scene.curves.values() for k in c.keys]  # noqa: B023
        )
        print(f"{KEYS:,} keys on {curves} curves; each key written anew {base * 1e3:.0f} ms")
        for name, edit in operations(scene).items():
            took = median(lambda: edit.apply(scene))  # noqa: B023
            print(f"  {name}: {took * 1e3:.0f} ms, ratio {took / base:.2f}")


if __name__ == "__main__":
    main()
