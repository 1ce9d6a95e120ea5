"""Motion to send out and take in: random trees of parts, and damage to their files."""

from __future__ import annotations

import numpy as np
from scipy.spatial.transform import Rotation

from bindu.core.clips.motion import MotionClip, MotionPart, same_signs
from bindu.core.scene.parts import ORDERS

RATES = (24.0, 25.0, 30_000 / 1001, 30.0, 60.0, 120.0)
NAMES = ("a b", "ärmel", "腕", "a-b", "a_b", "left hand 2", "z")


def random_clip(random: np.random.Generator, scaled: bool, frames: int | None = None) -> MotionClip:
    """A tree of parts with odd names in all rotation orders, some of which stand still."""
    count = int(random.integers(2, 8))
    length = frames or int(random.integers(1, 12))
    first = int(random.integers(-20, 20))
    parts = []
    for n in range(count):
        above = int(random.integers(0, n)) if n and random.random() < 0.8 else None
        rest = np.concatenate(
            [Rotation.random(rng=random).as_matrix(), random.normal(size=(3, 1))], 1
        )
        order = ORDERS[int(random.integers(6))]
        parts.append(MotionPart(NAMES[n], above, rest, "joint", order))
    move = random.normal(size=(count, length, 3)) * 10.0 ** random.integers(-2, 3)
    turn = np.stack([same_signs(Rotation.random(length, rng=random).as_quat()) for _ in parts])
    size = np.ones((count, length, 3))
    if scaled:
        size = random.uniform(0.2, 3.0, (count, 1, 3)) * random.choice([-1.0, 1.0], (count, 1, 1))
        size = np.broadcast_to(size, (count, length, 3)).copy()
        # Only a part without children may be scaled unevenly, else what hangs on it is sheared.
        parents = {part.parent for part in parts}
        for n in range(count):
            if n in parents:
                size[n] = np.abs(size[n, :, :1])
    move[-1], turn[-1] = parts[-1].rest[:, 3], Rotation.from_matrix(parts[-1].rest[:, :3]).as_quat()
    rate = RATES[int(random.integers(len(RATES)))]
    every = np.arange(first, first + length, dtype=float)
    channels = {"a b.size": random.normal(size=length)}
    return MotionClip(
        "walk", rate, every, tuple(parts), move, turn, size, channels, ((first, "go"),)
    )


def mutated(random: np.random.Generator, data: bytes) -> bytes:
    """A file with bytes changed, cut out, doubled, or cut off."""
    made = bytearray(data)
    for _ in range(int(random.integers(1, 6))):
        at = int(random.integers(len(made)))
        kind = random.random()
        if kind < 0.5:
            made[at] = int(random.integers(256))
        elif kind < 0.7:
            del made[at : at + int(random.integers(1, 40))]
        elif kind < 0.85:
            made[at:at] = made[at : at + int(random.integers(1, 40))]
        elif kind < 0.95:
            digits = str(int(10 ** random.integers(0, 12))).encode()
            made[at : at + len(digits)] = digits
        else:
            del made[at:]
        if not made:
            made = bytearray(b"x")
    return bytes(made)
