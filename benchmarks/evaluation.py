"""Speed and memory of the core, as ratios in one run.

Run: PYTHONPATH=src .venv/bin/python -m benchmarks.evaluation
"""

from __future__ import annotations

import resource
import statistics
import time
from collections.abc import Callable

import numpy as np
from benchmarks.rig import by_hand, rig_scene, stacked_by_hand, with_factor

from bindu.collector import calm_collector
from bindu.core.edits import AnyEdit, applied
from bindu.core.edits.parts import AddPart
from bindu.core.edits.scene import ChangeScene
from bindu.core.edits.steps import AddStep
from bindu.core.evaluation import Evaluation, evaluate, evaluate_after
from bindu.core.graph.graph import graph_of
from bindu.core.scene.model import Scene
from bindu.core.scene.settings import FormulaSettings

PARTS, FRAMES, ROUNDS = 200, 1000, 7


def seconds(work: Callable[[], object]) -> float:
    """How long something takes once."""
    start = time.perf_counter()
    work()
    return time.perf_counter() - start


def paired(a: Callable[[], object], b: Callable[[], object]) -> tuple[float, float, float]:
    """Medians of both and of their ratio a/b, run in turn after one warm-up."""
    a(), b()
    pairs = [(seconds(a), seconds(b)) for _ in range(ROUNDS)]
    middle = statistics.median
    return (
        middle(p[0] for p in pairs),
        middle(p[1] for p in pairs),
        middle(p[0] / p[1] for p in pairs),
    )


def same(evaluation: Evaluation, parts: int, frames: int) -> float:
    """The largest difference between the evaluation and the hand-written code."""
    expected = by_hand(parts, frames)[:, :, :3]
    apart = float(np.abs(stacked_by_hand(parts, frames) - expected).max())
    if apart > 1e-9:
        raise AssertionError(f"the two by hand differ by {apart}")
    found = (evaluation.world(f"p{n}") - expected[n] for n in range(parts))
    return max(float(np.abs(difference).max()) for difference in found)


def stepwise_scene(frames: int) -> Scene:
    """Two parts that each go on from where the other was one frame before."""
    edits: list[AnyEdit] = [ChangeScene(first=0, last=frames - 1)]
    edits += [AddPart(name, id=part) for part, name in (("p1", "one"), ("p2", "two"))]
    for part, other in (("p1", "two"), ("p2", "one")):
        text = f"0.9 * {{{other}.translation.x@final back}} + sin(frame / 9)"
        edits.append(AddStep(part, "goes on", FormulaSettings("translation.x", text)))
    return applied(Scene(), edits)


def main() -> None:
    """Prints each figure with what it is held against, the collector set as the server sets it."""
    calm_collector()
    scene = rig_scene(PARTS, FRAMES)
    print(
        f"rig: {PARTS} parts, {FRAMES} frames, "
        f"{len(scene.curves)} curves, {len(scene.steps)} formulas"
    )
    whole = evaluate(scene)
    print(f"largest difference from the hand-written code: {same(whole, PARTS, FRAMES):.1e}")

    ours, hand, ratio = paired(lambda: evaluate(scene), lambda: by_hand(PARTS, FRAMES))
    print(f"full evaluation {ours * 1e3:.0f} ms, part by part by hand: ratio {ratio:.2f}")
    ours, hand, ratio = paired(lambda: evaluate(scene), lambda: stacked_by_hand(PARTS, FRAMES))
    print(f"  in stacks by hand {hand * 1e3:.0f} ms: ratio {ratio:.2f} (aim ≤ 1.5)")
    print(f"  of ours {seconds(lambda: graph_of(scene)) * 1e3:.0f} ms make the graph")

    factors = iter(np.linspace(0.6, 0.9, 100))

    def edit() -> Evaluation:
        return evaluate_after(whole, with_factor(scene, "s98", float(next(factors))))

    print(f"a changed factor computes {len(edit().seconds)} nodes of {len(whole.results)}")
    part, full, ratio = paired(edit, lambda: evaluate(scene))
    print(f"after a changed factor {part * 1e3:.2f} ms: ratio to full {ratio:.3f} (aim ≤ 0.1)")

    for label, parts, frames in (("parts", 2 * PARTS, FRAMES), ("frames", PARTS, 2 * FRAMES)):
        big = rig_scene(parts, frames)
        _, _, ratio = paired(lambda: evaluate(big), lambda: evaluate(scene))  # noqa: B023
        print(f"twice the {label}: {ratio:.2f} times the time (aim ≤ 2.2)")
    once, twice = stepwise_scene(FRAMES), stepwise_scene(2 * FRAMES)
    _, _, ratio = paired(lambda: evaluate(twice), lambda: evaluate(once))
    print(f"frame by frame, twice the frames: {ratio:.2f} times the time (aim ≤ 2.2)")
    peak = resource.getrusage(resource.RUSAGE_SELF).ru_maxrss / 1024
    kept = sum(r.values.nbytes for r in whole.results.values()) / 2**20
    print(f"results of the rig {kept:.0f} MiB; peak memory of this process {peak:.0f} MiB")


if __name__ == "__main__":
    main()
