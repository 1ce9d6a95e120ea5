"""Random rigs for tests of binding, and their places computed independently
with SciPy's Rotation."""

from __future__ import annotations

from dataclasses import replace
from functools import lru_cache
from typing import Any

import numpy as np
from scipy.spatial.transform import Rotation, Slerp

from bindu.core.curves.model import Key
from bindu.core.edits import AnyEdit, applied
from bindu.core.edits.keys import PutKeys
from bindu.core.edits.parts import AddPart
from bindu.core.edits.scene import ChangeScene
from bindu.core.edits.steps import AddStep
from bindu.core.evaluation import Evaluation
from bindu.core.scene.channels import AXES, ChannelRef
from bindu.core.scene.model import Scene
from bindu.core.scene.parts import Rest
from bindu.core.scene.settings import GivenSettings
from tests.evaluated import known

LAST = 6
FRAMES = range(LAST + 1)
ORDERS = ("xyz", "xzy", "yxz", "yzx", "zxy", "zyx")
Matrix = np.ndarray[Any, np.dtype[np.float64]]


def random_rig(random: np.random.Generator, parts: int = 5, scaled: bool = False) -> Scene:
    """Parts p1, p2, … with random parents, rests, rotation orders and curves. Scales are even,
    so that nothing is sheared."""
    edits: list[AnyEdit] = [ChangeScene(first=0, last=LAST)]
    for n in range(1, parts + 1):
        parent = f"p{random.integers(1, n)}" if n > 1 and random.random() < 0.6 else None
        rest = Rest(_three(random, 2.0), _three(random, 180.0))
        order = str(random.choice(ORDERS))
        edits.append(AddPart(f"part {n}", parent, rest=rest, rotation_order=order, id=f"p{n}"))  # type: ignore[arg-type]
        for group, size in (("translation", 3.0), ("rotation", 150.0)):
            for axis in AXES:
                edits.append(keyed(f"p{n}", f"{group}.{axis}", random, size))
        if scaled and random.random() < 0.5:
            even = float(random.uniform(0.5, 2.0))
            keys = (Key(0.0, even, "linear"), Key(float(LAST), even * 1.5, "linear"))
            edits += [PutKeys(f"p{n}", f"scale.{axis}", keys) for axis in AXES]
    return applied(Scene(), edits)


def keyed(part: str, channel: str, random: np.random.Generator, size: float) -> PutKeys:
    """Three keys with random values within ±size."""
    frames = (0.0, LAST / 2, float(LAST))
    values = random.uniform(-size, size, 3)
    return PutKeys(
        part,
        channel,
        tuple(Key(f, float(v), "linear") for f, v in zip(frames, values, strict=True)),
    )


def bound(scene: Scene, part: str, settings: GivenSettings, step: str = "s1") -> Scene:
    """The scene with one binding step more."""
    return AddStep(part, f"step {step}", settings, id=step).apply(scene)


def channel(evaluation: Evaluation, part: str, name: str, frame: int, tap: str = "driven") -> float:
    """A channel's value on a frame."""
    values = evaluation.channel(ChannelRef(part, name), tap)  # type: ignore[arg-type]
    return float(values[frame] if len(values) > 1 else values[0])


def group(evaluation: Evaluation, part: str, name: str, frame: int, tap: str = "driven") -> Matrix:
    """Three channels on a frame, shape (3,)."""
    return np.array([channel(evaluation, part, f"{name}.{axis}", frame, tap) for axis in AXES])


def rotation(evaluation: Evaluation, part: str, frame: int, tap: str = "driven") -> Rotation:
    """What a part's rotation channels turn."""
    data = evaluation.scene.parts[part]
    return turned(group(evaluation, part, "rotation", frame, tap), data.rotation_order)


def turned(angles: Matrix, order: str) -> Rotation:
    """The rotation of angles about x, y, z; SciPy's lower case letters are fixed axes."""
    return Rotation.from_euler(order, [angles["xyz".index(a)] for a in order], degrees=True)


class _Same:
    """An evaluation as a key: it is the same one only where it is the very same."""

    def __init__(self, evaluation: Evaluation) -> None:
        self.evaluation = evaluation

    def __hash__(self) -> int:
        return id(self.evaluation)

    def __eq__(self, other: object) -> bool:
        return isinstance(other, _Same) and other.evaluation is self.evaluation


def own_matrix(evaluation: Evaluation, part: str, frame: int, tap: str = "driven") -> Matrix:
    """A part's channels as one matrix, (4, 4)."""
    made = _own_matrices(_Same(evaluation), part, tap)
    return made[frame if len(made) > 1 else 0].copy()


@lru_cache(maxsize=256)
def _own_matrices(same: _Same, part: str, tap: str) -> Matrix:
    """A part's channels as matrices over all frames, (F, 4, 4) or (1, 4, 4)."""
    groups = {}
    for name in ("translation", "rotation", "scale"):
        refs = [ChannelRef(part, f"{name}.{axis}") for axis in AXES]
        values = [same.evaluation.channel(ref, tap) for ref in refs]  # type: ignore[arg-type]
        groups[name] = np.stack(np.broadcast_arrays(*values), axis=1)
    count = max(len(values) for values in groups.values())
    made = np.broadcast_to(np.eye(4), (count, 4, 4)).copy()
    order = same.evaluation.scene.parts[part].rotation_order
    angles = groups["rotation"][:, ["xyz".index(axis) for axis in order]]
    turns = Rotation.from_euler(order, angles, degrees=True).as_matrix()
    made[:, :3, :3] = turns * groups["scale"][:, None, :]
    made[:, :3, 3] = groups["translation"]
    return made


@lru_cache(maxsize=256)
def _rest(place: Rest, order: str) -> Matrix:
    made = np.eye(4)
    made[:3, :3] = turned(np.array(place.rotation), order).as_matrix()
    made[:3, 3] = place.translation
    return made


def rest(scene: Scene, part: str) -> Matrix:
    """A part's rest, (4, 4)."""
    data = scene.parts[part]
    return _rest(data.rest, data.rotation_order).copy()


def world(evaluation: Evaluation, part: str, frame: int, tap: str = "final") -> Matrix:
    """A part's world matrix, (4, 4), from its channels at a tap and those of all above it."""
    made = _worlds(_Same(evaluation), part, tap)
    return made[frame if len(made) > 1 else 0].copy()


@lru_cache(maxsize=256)
def _worlds(same: _Same, part: str, tap: str) -> Matrix:
    scene = same.evaluation.scene
    made = rest(scene, part) @ _own_matrices(same, part, tap)
    parent = scene.parts[part].parent
    return made if parent is None else _worlds(same, parent, tap) @ made


def unscaled(matrix: Matrix) -> Rotation:
    """The rotation of a matrix with scale but no shear."""
    linear = matrix[:3, :3]
    return Rotation.from_matrix(linear / np.linalg.norm(linear, axis=0))


def slerp(start: Rotation, end: Rotation, share: float) -> Rotation:
    """SciPy's way from one rotation to another."""
    return Slerp([0.0, 1.0], Rotation.concatenate([start, end]))(share)


def mean(rotations: list[Rotation], weights: list[float]) -> Rotation:
    """The rotation from which the weighted turns cancel, by plain iteration with SciPy."""
    every = Rotation.concatenate(rotations)
    found = every.mean(weights)
    for _ in range(2000):
        turns = (found.inv() * every).as_rotvec()
        step = np.average(turns, axis=0, weights=weights)
        found = found * Rotation.from_rotvec(step)
        if np.linalg.norm(step) < 1e-14:
            break
    return found


def apart(one: Rotation, other: Rotation) -> float:
    """The angle between two rotations, radians."""
    return float((one.inv() * other).magnitude())


def free_of(scene: Scene, owner: str) -> list[str]:
    """The parts that do not hang on the owner, and that it does not hang on."""
    return [p for p in scene.parts if not _above(scene, owner, p) and p != owner]


def _above(scene: Scene, top: str, part: str) -> bool:
    above: str | None = part
    while above is not None:
        if above == top:
            return True
        above = scene.parts[above].parent
    return False


def _three(random: np.random.Generator, size: float) -> tuple[float, float, float]:
    x, y, z = (float(v) for v in random.uniform(-size, size, 3))
    return x, y, z


def evaluated(scene: Scene) -> Evaluation:
    """The scene, evaluated, without a loop."""
    made = known(scene)
    assert not made.graph.loops
    return made


def replace_curves(scene: Scene, curves: Any) -> Scene:
    """The scene with other curves."""
    return replace(scene, curves=curves)


def near(found: Any, expected: Any, within: float = 1e-9) -> None:
    """Asserts that numbers are the same within an absolute amount, however large they are."""
    np.testing.assert_allclose(found, expected, rtol=0.0, atol=within)
