"""Speed of constraints and spaces, as ratios against hand-written NumPy in the same run; and how
long the order of a big scene takes to list.

Run: PYTHONPATH=src:. .venv/bin/python -m benchmarks.binding
"""

from __future__ import annotations

from dataclasses import replace

import numpy as np
from benchmarks.evaluation import paired, seconds
from benchmarks.rig import smooth_curves, stacked_within
from scipy.spatial.transform import Rotation

from bindu.collector import calm_collector
from bindu.core.account.labels import node_label
from bindu.core.curves.evaluate import curve_values
from bindu.core.curves.model import Array, Key
from bindu.core.edits import AnyEdit, applied
from bindu.core.edits.keys import PutKeys
from bindu.core.edits.parts import AddPart
from bindu.core.edits.scene import ChangeScene
from bindu.core.edits.spaces import MoveHandover
from bindu.core.edits.steps import AddStep
from bindu.core.evaluation import evaluate, evaluate_after
from bindu.core.geometry.angles import continuous_angles
from bindu.core.graph.graph import graph_of
from bindu.core.scene.channels import ChannelRef
from bindu.core.scene.model import Scene
from bindu.core.scene.parts import Rest
from bindu.core.scene.settings import (
    AimSettings,
    ConstraintSettings,
    Handover,
    SpaceSettings,
    Target,
)

PARTS, BOUND, SPACED, LAST = 500, 300, 50, 499
FREE = PARTS - BOUND - SPACED
"""The first parts are free and keyed; then come those with a constraint, then with spaces."""
PLACE = (23.3, 5.0, 37.7)
"""Where bound parts begin, so that an aim has somewhere to look."""
ORDER = "xyz"
HANDOVERS = (100, 200, 300, 400)


def rig() -> Scene:
    """Free parts in chains of three, and parts bound to them by the four usual kinds."""
    edits: list[AnyEdit] = [ChangeScene(first=0, last=LAST)]
    for n in range(FREE):
        parent = f"p{n - 1}" if n % 3 else None
        edits.append(AddPart(f"part {n}", parent, id=f"p{n}"))
        for m, channel in enumerate(("translation.x", "rotation.y")):
            values = [(n % 7 - 3) * 1.0 + m, (n % 5) * 1.0, (n % 3 - 1) * 2.0]
            keys = tuple(
                Key(f, v * (20.0 if m else 1.0))
                for f, v in zip((0.0, 250.0, 499.0), values, strict=True)
            )
            edits.append(PutKeys(f"p{n}", channel, keys))
    for n in range(FREE, PARTS):
        edits.append(AddPart(f"part {n}", rest=Rest(PLACE), id=f"p{n}"))
        edits.append(AddStep(f"p{n}", "bound", _settings(n), id=f"s{n}"))
    scene = applied(Scene(), edits)
    curves = dict(scene.curves)
    for n in range(FREE + BOUND, PARTS):
        keys = tuple(Key(float(f), float(k % 3), "hold") for k, f in enumerate((0, *HANDOVERS)))
        curves[ChannelRef(f"p{n}", f"s{n}.space")] = replace(
            next(iter(scene.curves.values())), keys=keys
        )
    return replace(scene, curves=curves)


def _targets(n: int) -> tuple[int, int]:
    return n * 7 % FREE, (n * 11 + 3) % FREE


def _settings(n: int) -> ConstraintSettings | AimSettings | SpaceSettings:
    a, b = _targets(n)
    if n >= FREE + BOUND:
        handovers = tuple(Handover(float(f), (0.5, 0.0, 0.1), (0.0, 10.0, 0.0)) for f in HANDOVERS)
        return SpaceSettings(
            ("0", f"p{a}", f"p{b}") if a != b else ("0", f"p{a}"), "full", handovers
        )
    two = (Target(f"p{a}"), Target(f"p{b}")) if a != b else (Target(f"p{a}"),)
    kind = n % 4
    if kind == 0:
        return ConstraintSettings(two, offset=(0.0, 0.5, 0.0), kind="position")
    if kind == 1:
        return ConstraintSettings(two, kind="rotation")
    if kind == 2:
        return AimSettings(two[:1])
    return ConstraintSettings(two[:1], kind="full")


def by_hand(scene: Scene) -> list[Array]:
    """The same rig as straight NumPy and SciPy: world matrices of all parts, and the angles that
    bound rotations are shown as."""
    frames = np.arange(LAST + 1.0)
    worlds: list[Array] = []
    for n in range(FREE):
        matrix = np.zeros((LAST + 1, 3, 4))
        angle = np.radians(curve_values(scene.curves[ChannelRef(f"p{n}", "rotation.y")], frames))
        matrix[:, 0, 0] = matrix[:, 2, 2] = np.cos(angle)
        matrix[:, 0, 2], matrix[:, 2, 0] = np.sin(angle), -np.sin(angle)
        matrix[:, 1, 1] = 1.0
        matrix[:, 0, 3] = curve_values(scene.curves[ChannelRef(f"p{n}", "translation.x")], frames)
        if n % 3:
            above = worlds[n - 1]
            place = np.matmul(above[:, :, :3], matrix)
            place[:, :, 3] += above[:, :, 3]
            matrix = place
        worlds.append(matrix)
    for n in range(FREE, PARTS):
        worlds.append(_bound_by_hand(n, worlds, frames))
    return worlds


def _bound_by_hand(n: int, worlds: list[Array], frames: Array) -> Array:
    a, b = (worlds[t] for t in _targets(n))
    same = _targets(n)[0] == _targets(n)[1]
    made = np.zeros((LAST + 1, 3, 4))
    made[:, :, :3] = np.eye(3)
    made[:, :, 3] = PLACE
    if n >= FREE + BOUND:
        return _spaced_by_hand(a, b, same, frames)
    kind = n % 4
    if kind == 0:
        made[:, :, 3] = a[:, :, 3] if same else (a[:, :, 3] + b[:, :, 3]) / 2.0
        made[:, 1, 3] += 0.5
        return made
    if kind == 1:
        p = Rotation.from_matrix(a[:, :, :3]).as_quat()
        if not same:
            q = Rotation.from_matrix(b[:, :, :3]).as_quat()
            q = np.where((p * q).sum(axis=1)[:, None] < 0.0, -q, q)
            p = (p + q) / np.linalg.norm(p + q, axis=1)[:, None]
        made[:, :, :3] = Rotation.from_quat(p).as_matrix()
    elif kind == 2:
        x = a[:, :, 3] - PLACE
        x /= np.linalg.norm(x, axis=1)[:, None]
        z = np.cross(x, (0.0, 1.0, 0.0))
        z /= np.linalg.norm(z, axis=1)[:, None]
        made[:, :, :3] = np.stack([x, np.cross(z, x), z], axis=2)
    else:
        made = a.copy()
    continuous_angles(made[:, :, :3], "xyz", np.zeros(3))
    return made


def _spaced_by_hand(a: Array, b: Array, same: bool, frames: Array) -> Array:
    stint = np.searchsorted(HANDOVERS, frames, side="right")
    choice = np.array([0, 1, 2, 0, 1])[stint]
    still = np.broadcast_to(np.eye(3, 4), a.shape)
    space = np.where((choice == 1)[:, None, None], a, still)
    space = np.where((choice == 2)[:, None, None], a if same else b, space)
    offset = np.eye(3, 4)
    offset[:, :3] = Rotation.from_euler("y", 10.0, degrees=True).as_matrix()
    offset[:, 3] = offset[:, :3] @ PLACE + (0.5, 0.0, 0.1)
    start = np.eye(3, 4)
    start[:, 3] = PLACE
    inner = np.where((stint > 0)[:, None, None], offset, start)
    made = np.matmul(space[:, :, :3], inner)
    made[:, :, 3] += space[:, :, 3]
    continuous_angles(made[:, :, :3], "xyz", np.zeros(3))
    return np.asarray(made)


def stacked_by_hand(scene: Scene) -> Array:
    """The same as one writes it for speed: free parts of one depth in one stack, then all parts
    bound by one kind in one stack. World matrices, shape (parts, F, 3, 4)."""
    frames = np.arange(LAST + 1.0)
    curves = [
        np.array(
            [
                [key.value for key in scene.curves[ChannelRef(f"p{n}", name)].keys]
                for n in range(FREE)
            ]
        )
        for name in ("translation.x", "rotation.y")
    ]
    when = np.array((0.0, 250.0, 499.0))
    x, angle = (smooth_curves(when, values, frames) for values in curves)
    local = np.zeros((FREE, LAST + 1, 3, 4))
    angle = np.radians(angle)
    local[..., 0, 0] = local[..., 2, 2] = np.cos(angle)
    local[..., 0, 2], local[..., 2, 0] = np.sin(angle), -np.sin(angle)
    local[..., 1, 1], local[..., 0, 3] = 1.0, x
    world = np.empty((PARTS, LAST + 1, 3, 4))
    for depth in range(3):
        here = np.arange(depth, FREE, 3)
        world[here] = stacked_within(world[here - 1], local[here]) if depth else local[here]
    n = np.arange(FREE, PARTS)
    one, two = n * 7 % FREE, (n * 11 + 3) % FREE
    for kind in range(4):
        here = (n % 4 == kind) & (n < FREE + BOUND)
        world[n[here]] = _stack_bound(kind, world[one[here]], world[two[here]])
    here = n >= FREE + BOUND
    world[n[here]] = _stack_spaced(world[one[here]], world[two[here]], frames)
    return world


def _stack_bound(kind: int, a: Array, b: Array) -> Array:
    made = np.zeros(a.shape)
    made[..., :3], made[..., 3] = np.eye(3), PLACE
    if kind == 0:
        made[..., 3] = (a[..., 3] + b[..., 3]) / 2.0
        made[..., 1, 3] += 0.5
        return made
    if kind == 1:
        p, q = (Rotation.from_matrix(m[..., :3].reshape(-1, 3, 3)).as_quat() for m in (a, b))
        q = np.where((p * q).sum(axis=1)[:, None] < 0.0, -q, q)
        p = (p + q) / np.linalg.norm(p + q, axis=1)[:, None]
        made[..., :3] = Rotation.from_quat(p).as_matrix().reshape(*a.shape[:2], 3, 3)
    elif kind == 2:
        x = a[..., 3] - PLACE
        x /= np.linalg.norm(x, axis=-1)[..., None]
        z = np.cross(x, (0.0, 1.0, 0.0))
        z /= np.linalg.norm(z, axis=-1)[..., None]
        made[..., :3] = np.stack([x, np.cross(z, x), z], axis=-1)
    else:
        made = a
    _stack_angles(made)
    return made


def _stack_spaced(a: Array, b: Array, frames: Array) -> Array:
    stint = np.searchsorted(HANDOVERS, frames, side="right")
    choice = np.array([0, 1, 2, 0, 1])[stint]
    space = np.where((choice == 1)[:, None, None], a, np.eye(3, 4))
    space = np.where((choice == 2)[:, None, None], b, space)
    offset, start = np.eye(3, 4), np.eye(3, 4)
    offset[:, :3] = Rotation.from_euler("y", 10.0, degrees=True).as_matrix()
    offset[:, 3] = offset[:, :3] @ PLACE + (0.5, 0.0, 0.1)
    start[:, 3] = PLACE
    inner = np.where((stint > 0)[:, None, None], offset, start)
    made = stacked_within(space, np.broadcast_to(inner, space.shape))
    _stack_angles(made)
    return made


def _stack_angles(places: Array) -> Array:
    """What the rotations are shown as, degrees, shape (parts, F, 3)."""
    turns = Rotation.from_matrix(places[..., :3].reshape(-1, 3, 3))
    angles = turns.as_euler(ORDER).reshape(*places.shape[:2], 3)
    other = angles * (1.0, -1.0, 1.0) + np.pi
    whole = 2.0 * np.pi
    stay, change = (_apart(way[:, 1:] - angles[:, :-1], whole) for way in (angles, other))
    changed = np.cumsum(change < stay, axis=1) % 2 == 1
    angles[:, 1:] = np.where(changed[..., None], other[:, 1:], angles[:, 1:])
    return np.degrees(np.unwrap(angles, axis=1))


def _apart(differences: Array, whole: float) -> Array:
    within = differences - whole * np.round(differences / whole)
    return np.asarray((within**2).sum(axis=-1))


def main() -> None:
    """Prints each figure with what it is held against, the collector set as the server sets it."""
    calm_collector()
    scene = rig()
    whole, hand = evaluate(scene), by_hand(scene)
    apart = [np.abs(whole.world(f"p{n}") - hand[n]) for n in range(PARTS)]
    kinds = [a.max() for a in apart]
    print(f"{len(scene.parts)} parts, {BOUND} constraints, {SPACED} spaces, {LAST + 1} frames")
    print(f"largest difference from the hand-written code: {max(kinds):.1e}")
    ours, by, ratio = paired(lambda: evaluate(scene), lambda: by_hand(scene))
    print(f"full evaluation {ours * 1e3:.0f} ms, part by part by hand: ratio {ratio:.2f}")
    stacks = stacked_by_hand(scene)
    # Parts with one target twice are made otherwise part by part; they are no more than a few.
    ours, by, ratio = paired(lambda: evaluate(scene), lambda: stacked_by_hand(scene))
    print(f"  in stacks by hand {by * 1e3:.0f} ms: ratio {ratio:.2f} (aim ≤ 2)")
    print(f"  of ours {seconds(lambda: graph_of(scene)) * 1e3:.0f} ms make the graph")
    difference = max(float(np.abs(stacks[n] - hand[n]).max()) for n in range(PARTS))
    print(f"  largest difference of the two by hand {difference:.1e}")
    places = iter(range(101, 199))
    step = f"s{PARTS - 1}"

    def moved() -> object:
        to = next(places)
        return evaluate_after(whole, MoveHandoverQuick(step, to).apply(scene))

    part, full, ratio = paired(moved, lambda: evaluate(scene))
    print(f"one handover moved {part * 1e3:.1f} ms: ratio to full {ratio:.3f} (aim ≤ 0.1)")
    edit = seconds(lambda: MoveHandover(step, 100, 150).apply(scene))
    print(f"the edit that moves it and keeps all later places: {edit * 1e3:.0f} ms")
    big = _big(20_000)
    graph = graph_of(big)
    took = seconds(lambda: [node_label(big, node) for node in graph.order])
    print(f"the order of {len(graph.order)} nodes listed in {took * 1e3:.0f} ms (aim ≤ 500)")


class MoveHandoverQuick:
    """Moves a handover without measuring anything: what evaluation alone costs."""

    def __init__(self, step: str, to: int) -> None:
        self._step, self._to = step, to

    def apply(self, scene: Scene) -> Scene:
        """The scene with the first handover on another frame."""
        step = scene.steps[self._step]
        assert isinstance(step.settings, SpaceSettings)
        first, *rest = step.settings.handovers
        settings = replace(step.settings, handovers=(replace(first, frame=float(self._to)), *rest))
        ref = ChannelRef(step.part, f"{step.id}.space")
        start, key, *keys = scene.curves[ref].keys
        curve = replace(scene.curves[ref], keys=(start, replace(key, frame=float(self._to)), *keys))
        return replace(
            scene,
            steps={**scene.steps, step.id: replace(step, settings=settings)},
            curves={**scene.curves, ref: curve},
        )


def _big(nodes: int) -> Scene:
    """Parts in chains, five nodes each."""
    edits: list[AnyEdit] = [ChangeScene(first=0, last=1)]
    for n in range(nodes // 5):
        edits.append(AddPart(f"part {n}", f"p{n - 1}" if n % 20 else None, id=f"p{n}"))
        edits.append(PutKeys(f"p{n}", "translation.x", (Key(0.0, 0.0), Key(1.0, 1.0))))
    return applied(Scene(), edits)


if __name__ == "__main__":
    main()
