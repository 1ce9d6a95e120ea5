"""2,000 formulas on 500 parts over 500 frames against hand-written NumPy; one number changed; and
formula parsing.

Run: PYTHONPATH=src:. .venv/bin/python -m benchmarks.formulas
"""

from __future__ import annotations

import time

import numpy as np
from benchmarks.evaluation import paired, seconds
from benchmarks.rig import key_frames, stacked_rotations, stacked_within

from bindu.collector import calm_collector
from bindu.core.curves.keys import with_keys
from bindu.core.curves.model import Curve, Key
from bindu.core.edits.formulas import ChangeNumber
from bindu.core.evaluation import Evaluation, evaluate, evaluate_after
from bindu.core.formula.parser import parse
from bindu.core.graph.graph import graph_of
from bindu.core.scene.channels import ChannelRef
from bindu.core.scene.model import Scene
from bindu.core.scene.parts import Part, Rest, Step
from bindu.core.scene.settings import FormulaSettings

PARTS, FRAMES, CHAIN = 500, 500, 10
CHANNELS = ("translation.y", "rotation.x", "rotation.y", "rotation.z")


def keyed(n: int) -> np.ndarray:
    """Key values of part ``n``'s translation.x, shape (8,)."""
    return np.random.default_rng(n).uniform(-2.0, 2.0, 8)


def scene_of() -> Scene:
    """Chains of ten parts, one curve and four formulas each; a formula reads the part before."""
    parts: dict[str, Part] = {}
    curves: dict[ChannelRef, Curve] = {}
    steps: dict[str, Step] = {}
    for n in range(PARTS):
        parent = f"p{n - 1}" if n % CHAIN else None
        parts[f"p{n}"] = Part(f"p{n}", f"part {n}", parent, n, rest=Rest((0.0, 0.5, 0.0)))
        keys = [
            Key(float(f), float(v), "linear")
            for f, v in zip(key_frames(FRAMES), keyed(n), strict=True)
        ]
        curves[ChannelRef(f"p{n}", "translation.x")] = with_keys(None, keys)
        source = n - 1 if n % CHAIN else n
        texts = (
            f"0.1 * sin(3 * frame + {n}) + 0.2 * {{p{source}.translation.x}}",
            f"12 * {{p{source}.translation.x}} + 5 * cos(2 * frame)",
            f"clamp(20 * {{p{source}.translation.x}}, -30, 30)",
            f"0.5 * {{p{n}.rotation.x}} - 0.25 * {{p{n}.rotation.y}}",
        )
        for channel, text in zip(CHANNELS, texts, strict=True):
            step = f"s{len(steps)}"
            settings = FormulaSettings(channel, text)
            steps[step] = Step(step, f"p{n}", f"f {channel[-1]}{len(steps)}", "driven", settings)
    return Scene("formulas", 24.0, 0, FRAMES - 1, parts, {}, curves, steps)


def by_hand() -> np.ndarray:
    """The same as straight NumPy: world matrices, shape (parts, F, 3, 4)."""
    frames = np.arange(FRAMES, dtype=float)
    when = key_frames(FRAMES)
    world = np.empty((PARTS, FRAMES, 3, 4))
    x = [np.interp(frames, when, keyed(n)) for n in range(PARTS)]
    for n in range(PARTS):
        source = x[n - 1] if n % CHAIN else x[n]
        y = 0.1 * np.sin(np.radians(3 * frames + n)) + 0.2 * source
        a = 12 * source + 5 * np.cos(np.radians(2 * frames))
        b = np.clip(20 * source, -30, 30)
        c = 0.5 * a - 0.25 * b
        local = np.empty((FRAMES, 3, 4))
        sx, sy, sz = (np.sin(np.radians(angle)) for angle in (a, b, c))
        cx, cy, cz = (np.cos(np.radians(angle)) for angle in (a, b, c))
        local[:, 0, 0], local[:, 0, 1] = cy * cz, sx * sy * cz - cx * sz
        local[:, 0, 2] = cx * sy * cz + sx * sz
        local[:, 1, 0], local[:, 1, 1] = cy * sz, sx * sy * sz + cx * cz
        local[:, 1, 2] = cx * sy * sz - sx * cz
        local[:, 2, 0], local[:, 2, 1], local[:, 2, 2] = -sy, cy * sx, cy * cx
        local[:, :, 3] = np.stack([x[n], y + 0.5, np.zeros(FRAMES)], axis=1)
        if n % CHAIN:
            parent = world[n - 1]
            world[n, :, :, :3] = parent[:, :, :3] @ local[:, :, :3]
            moved = (parent[:, :, :3] @ local[:, :, 3:])[:, :, 0]
            world[n, :, :, 3] = moved + parent[:, :, 3]
        else:
            world[n] = local
    return world


def stacked_by_hand() -> np.ndarray:
    """The same as one writes it for speed: all parts of one depth in one stack."""
    frames, n = np.arange(FRAMES, dtype=float), np.arange(PARTS)
    x = _straight_curves(key_frames(FRAMES), np.array([keyed(part) for part in n]), frames)
    source = x[np.where(n % CHAIN, n - 1, n)]
    y = 0.1 * np.sin(np.radians(3 * frames + n[:, None])) + 0.2 * source
    a = 12 * source + 5 * np.cos(np.radians(2 * frames))
    b = np.clip(20 * source, -30, 30)
    c = 0.5 * a - 0.25 * b
    world = np.empty((PARTS, FRAMES, 3, 4))
    for depth in range(CHAIN):
        here = np.arange(depth, PARTS, CHAIN)
        local = np.empty((len(here), FRAMES, 3, 4))
        local[..., :3] = stacked_rotations(a[here], b[here], c[here])
        local[..., 0, 3], local[..., 1, 3], local[..., 2, 3] = x[here], y[here] + 0.5, 0.0
        world[here] = stacked_within(world[here - 1], local) if depth else local
    return world


def _straight_curves(when: np.ndarray, values: np.ndarray, grid: np.ndarray) -> np.ndarray:
    i = np.minimum(np.searchsorted(when, grid, side="right") - 1, len(when) - 2)
    share = (grid - when[i]) / np.diff(when)[i]
    return values[:, i] + share * (values[:, i + 1] - values[:, i])


def main() -> None:
    """Prints each figure with what it is held against, the collector set as the server sets it."""
    calm_collector()
    scene = scene_of()
    whole = evaluate(scene)
    hand = by_hand()
    worst = max(float(np.abs(whole.world(f"p{n}") - hand[n]).max()) for n in range(PARTS))
    print(f"{PARTS} parts, {len(scene.steps):,} formulas, {FRAMES} frames; difference {worst:.1e}")
    ours, theirs, ratio = paired(lambda: evaluate(scene), by_hand)
    print(f"full evaluation {ours * 1e3:.0f} ms, part by part by hand: ratio {ratio:.2f}")
    if np.abs(stacked_by_hand() - hand).max() > 1e-9:
        raise AssertionError("the two by hand differ")
    ours, theirs, ratio = paired(lambda: evaluate(scene), stacked_by_hand)
    print(f"  in stacks by hand {theirs * 1e3:.0f} ms: ratio {ratio:.2f} (aim ≤ 2)")
    print(f"  of ours {seconds(lambda: graph_of(scene)) * 1e3:.0f} ms make the graph")
    numbers = iter(np.linspace(0.3, 0.9, 200))

    def one_number() -> Evaluation:
        edit = ChangeNumber("s1996", 0, float(next(numbers)))
        return evaluate_after(whole, edit.apply(scene))

    part, full, ratio = paired(one_number, lambda: evaluate(scene))
    print(f"one number changed {part * 1e3:.1f} ms: ratio to full {ratio:.3f} (aim ≤ 0.05)")
    texts = [
        f"-{n} * sin({{p{n}.rotation.x}} / 4) + clamp({{p1.c1}}, 0, {n}.5)" for n in range(4000)
    ]
    for label in ("first", "kept"):
        start = time.perf_counter()
        for text in texts:
            parse(text)
        rate = len(texts) / (time.perf_counter() - start)
        print(f"parsing, {label} time: {rate:,.0f} formulas a second (aim 10,000, kept)")


if __name__ == "__main__":
    main()
