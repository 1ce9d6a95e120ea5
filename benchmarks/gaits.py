"""Speed of gaits: one of six legs, and many figures.

Run: PYTHONPATH=src:. .venv/bin/python -m benchmarks.gaits
"""

from __future__ import annotations

import time
from dataclasses import replace

import numpy as np

from bindu.collector import calm_collector
from bindu.core.curves.model import Array, Key
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


def by_hand(count: int, last: int, below: int) -> float:
    """The seconds that the same takes in NumPy written by hand for these figures alone: their keys
    as cubics, the phases, the prints and swings of all feet, and all matrices of one depth, stacked
    over all figures. It knows nothing of names, orders, mutes, roots that turn back or stand."""
    frames = np.arange(last + 1.0)
    keys = np.arange(0.0, last + 1, 10.0)
    values = np.array([0.05, 0.01, 0.5])[None, :, None] * keys * np.ones((count, 1, 1))
    phases = np.array([0.5 * ((k + k // 2) % 2) for k in range(FEET)])
    offsets = np.array([(0.1 if k % 2 else -0.1, 0.02, 0.2 * (k // 2)) for k in range(FEET)])
    start = time.perf_counter()
    z, x, turn = np.moveaxis(_cubics(keys, values, frames), 1, 0)
    angle = np.radians(turn)
    roots = np.zeros((count, last + 1, 3, 4))
    roots[..., :3] = _about_y(angle)
    roots[..., 0, 3], roots[..., 2, 3] = x, z
    steps = np.hypot(np.diff(x, axis=1), np.diff(z, axis=1))
    stride, stance, lift = 1.0, 0.6, 0.1
    phase = np.concatenate([np.zeros((count, 1)), np.cumsum(steps, axis=1)], axis=1) / stride
    cycles = phase[:, None] - phases[:, None]
    whole = np.floor(cycles)
    prints = [
        _prints(phase, x, z, angle, whole + ahead + phases[:, None] + stance / 2.0, offsets)
        for ahead in (0.0, 1.0)
    ]
    air = np.clip((cycles - whole - stance) / (1.0 - stance), 0.0, 1.0)
    share = air**3 * (10.0 - 15.0 * air + 6.0 * air * air)
    feet = prints[0] + share[..., None] * (prints[1] - prints[0])
    feet[..., 1] += lift * 16.0 * air**2 * (1.0 - air) ** 2
    worlds = np.zeros((count, FEET, last + 1, 3, 4))
    worlds[..., :3], worlds[..., 3] = _about_y(feet[..., 3]), feet[..., :3]
    still = np.broadcast_to(np.eye(3, 4), (count * (below // 6 + 1), 1, 3, 4))
    above = np.repeat(roots, below // 6 + 1, axis=0)
    for _ in range(6):
        made = above[..., :3] @ still
        made[..., 3] += above[..., 3]
        above = made
    return time.perf_counter() - start


def _cubics(keys: Array, values: Array, frames: Array) -> Array:
    """Smooth curves through keys, stacked, shape (…, F)."""
    at = np.clip(np.searchsorted(keys, frames, "right") - 1, 0, len(keys) - 2)
    span = np.diff(keys)
    share = (frames - keys[at]) / span[at]
    slopes = np.gradient(values, keys, axis=-1)
    a, d = values[..., at], values[..., at + 1]
    b = a + slopes[..., at] * span[at] / 3.0
    c = d - slopes[..., at + 1] * span[at] / 3.0
    rest = 1.0 - share
    inner = 3 * rest * share * (rest * b + share * c)
    return np.asarray(rest**3 * a + inner + share**3 * d)


def _about_y(angles: Array) -> Array:
    """Turns about y, shape (…, 3, 3)."""
    made = np.zeros((*angles.shape, 3, 3))
    made[..., 0, 0] = made[..., 2, 2] = np.cos(angles)
    made[..., 0, 2] = np.sin(angles)
    made[..., 2, 0], made[..., 1, 1] = -made[..., 0, 2], 1.0
    return made


def _prints(phase: Array, x: Array, z: Array, angle: Array, wanted: Array, offsets: Array) -> Array:
    """Where feet stand when the phase passes a value, shape (N, feet, F, 4)."""
    made = np.empty((*wanted.shape, 4))
    rows = np.arange(phase.shape[1])
    for n in range(len(phase)):
        at = np.interp(wanted[n].ravel(), phase[n], rows).reshape(wanted[n].shape)
        turn = np.interp(at, rows, angle[n])
        beyond = wanted[n] - np.clip(wanted[n], phase[n, 0], phase[n, -1])
        ahead, aside = beyond + offsets[:, 2, None], offsets[:, 0, None]
        made[n, ..., 0] = np.interp(at, rows, x[n]) + ahead * np.sin(turn) + aside * np.cos(turn)
        made[n, ..., 1] = offsets[:, 1, None]
        made[n, ..., 2] = np.interp(at, rows, z[n]) + ahead * np.cos(turn) - aside * np.sin(turn)
        made[n, ..., 3] = turn
    return made


def main() -> None:
    """Prints all of it."""
    calm_collector()
    scene = figures(1, 999)
    evaluation = evaluate(scene)
    took = [
        seconds for node_id, seconds in evaluation.seconds.items() if node_id.quantity == "solve"
    ]
    print(f"gait of {FEET} legs x 1,000 frames: {1e3 * sum(took):.1f} ms (bar 60)")
    many = figures(20, 299, 30 - FEET - 1)
    pairs = []
    for _ in range(5):
        fresh = replace(many)
        start = time.perf_counter()
        made = evaluate(fresh)
        full = time.perf_counter() - start
        pairs.append((full, by_hand(20, 299, 30 - FEET - 1)))
        del made
    full, hand = (float(np.median([pair[n] for pair in pairs])) for n in (0, 1))
    print(
        f"20 figures of 30 parts x 300 frames: {1e3 * full:.0f} ms, by hand {1e3 * hand:.0f} ms: "
        f"{full / hand:.1f} times (bar 3)"
    )


if __name__ == "__main__":
    main()
