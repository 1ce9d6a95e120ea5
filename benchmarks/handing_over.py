"""Speed of handing over: bakes, files, the receiver.

Run: PYTHONPATH=src:. .venv/bin/python -m benchmarks.handing_over
"""

from __future__ import annotations

import time
from collections.abc import Callable
from typing import TypeVar

from bindu.core.clips.baking import baked_clip
from bindu.core.curves.model import Key
from bindu.core.edits import AnyEdit, applied
from bindu.core.edits.bakes import PutBake
from bindu.core.edits.keys import PutKeys
from bindu.core.edits.parts import AddPart
from bindu.core.edits.scene import ChangeScene
from bindu.core.evaluation import evaluate
from bindu.core.evaluation.asking import answering
from bindu.core.scene.model import Scene
from bindu.core.scene.parts import Rest
from bindu.core.scene.receivers import Move, Override, Setup
from bindu.formats.bvh import read_bvh, write_bvh
from bindu.formats.gltf import read_gltf, write_gltf
from bindu.formats.report import Report
from bindu.formats.table import read_table, write_table
from bindu.formats.usd.layers import read_usd, write_usd
from bindu.receiver.player import play

PARTS, FRAMES = 200, 1000
T = TypeVar("T")


def rig(parts: int, frames: int) -> Scene:
    """Chains of ten parts, each keyed in rotation and translation."""
    edits: list[AnyEdit] = [ChangeScene(first=0, last=frames - 1)]
    for n in range(parts):
        above = f"p{n - 1}" if n % 10 else None
        edits.append(AddPart(f"part {n}", above, "joint", rest=Rest((0.0, 1.0, 0.0)), id=f"p{n}"))
        for k, channel in enumerate(("rotation.x", "rotation.y", "translation.z")):
            size = 0.1 if channel.startswith("t") else 40.0
            keys = (Key(float(f), size * ((f * (n + k + 1)) % 7 - 3)) for f in range(0, frames, 25))
            edits.append(PutKeys(f"p{n}", channel, tuple(keys)))
    return applied(Scene(), edits)


def timed(work: Callable[[], T]) -> tuple[float, T]:
    """How long work took, seconds, and what it came to."""
    start = time.perf_counter()
    made = work()
    return time.perf_counter() - start, made


def main() -> None:
    """Prints each time against its bound."""
    scene = rig(PARTS, FRAMES)
    whole, evaluation = timed(lambda: evaluate(scene))
    print(f"{PARTS} parts, {FRAMES} frames; evaluation {whole:.2f} s")
    clip = None
    for tolerance in (0.0, 0.001):
        put = PutBake("out", 0, FRAMES - 1, tolerance=tolerance)
        with answering(lambda _: evaluation):
            took, made = timed(lambda put=put: applied(scene, [put]))
        (bake,) = made.bakes.values()
        print(
            f"bake, tolerance {tolerance:g}: {took:.2f} s beyond it, {took / 1.0:.2f} of the bound"
        )
        clip = clip or baked_clip(bake)
    assert clip is not None
    plain = PARTS * FRAMES * 10 * 4
    ways = (
        ("glTF", lambda: write_gltf([clip]), read_gltf),
        ("BVH", lambda: write_bvh(clip, Report("")), read_bvh),
        ("CSV", lambda: write_table(clip, Report("")), lambda d, r: read_table(d, 24.0, r)),
        ("USD", lambda: write_usd(clip, Report(""), "usdc"), read_usd),
    )
    for name, write, read in ways:
        out, data = timed(write)
        back, _ = timed(lambda read=read, data=data: read(data, Report("")))
        size = len(data) / plain
        print(f"{name}: written {out:.2f} s, read {back:.2f} s, {size:.2f} of the plain numbers")
    _receiver()


def _receiver() -> None:
    small = rig(60, 240)
    made = applied(small, [PutBake("a", 0, 120), PutBake("b", 120, 239)])
    clips = read_gltf(write_gltf([baked_clip(b) for b in made.bakes.values()]), Report(""))
    setup = Setup(
        moves=[
            Move(start="a", to="b", cause="end", blend=0.3),
            Move(start="b", to="a", cause="end", blend=0.3),
        ],
        overrides=[Override(name="look", kind="look at", parts=["part 9"], place="eye")],
    )
    took, shown = timed(lambda: play(clips, setup, {}, 30.0, 60.0))
    each = 1e3 * took / len(shown.times)
    print(f"receiver of 60 parts: {each:.3f} ms a frame, {each / 4.0:.2f} of the bound")


if __name__ == "__main__":
    main()
