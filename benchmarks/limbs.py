"""Speed of limbs: two segments as a ratio against the same closed form in batched NumPy written by
hand, in the same run; chains of five; one goal key moved; matches.

Run: PYTHONPATH=src:. .venv/bin/python -m benchmarks.limbs
"""

from __future__ import annotations

import numpy as np
from benchmarks.evaluation import paired, seconds
from scipy.spatial.transform import Rotation

from bindu.core.curves.model import Array, Key
from bindu.core.edits import AnyEdit, applied
from bindu.core.edits.keys import PutKeys
from bindu.core.edits.limbs import PutLimb
from bindu.core.edits.matching import MatchLimbs
from bindu.core.edits.parts import AddPart
from bindu.core.edits.scene import ChangeScene
from bindu.core.evaluation import evaluate, evaluate_after
from bindu.core.evaluation.asking import answering
from bindu.core.nodes.identity import SOLVE, NodeId, Stage
from bindu.core.scene.model import Scene
from bindu.core.scene.parts import Rest

LIMBS, LAST = 100, 999


def legs(count: int, segments: int, last: int, extra: int = 0) -> Scene:
    """Limbs of so many segments under one body that turns, with goals that move; and some parts
    more, all keyed."""
    edits: list[AnyEdit] = [ChangeScene(first=0, last=last), AddPart("body", id="body")]
    edits.append(PutKeys("body", "rotation.y", (Key(0.0, 0.0), Key(float(last), 90.0))))
    random = np.random.default_rng(1)
    for n in range(count):
        above, chain = "body", []
        for joint in range(segments + 1):
            part = f"j{n}x{joint}"
            rest = Rest((0.0, -0.5, 0.05 * (-1) ** joint) if joint else (0.1 * n, 1.0, 0.0))
            edits.append(AddPart(part, above, rest=rest, id=part))
            ends = (Key(0.0, float(random.uniform(-20, 20))), Key(float(last), 20.0))
            edits.append(PutKeys(part, "rotation.x", ends))
            above = part
            chain.append(part)
        place = Rest((0.1 * n, 1.0 - 0.4 * segments, 0.1))
        edits.append(AddPart(f"goal {n}", rest=place, id=f"g{n}"))
        edits.append(AddPart(f"pole {n}", rest=Rest((0.1 * n, 0.5, 2.0)), id=f"o{n}"))
        moves = (Key(0.0, 0.0), Key(last / 2, 0.3), Key(float(last), -0.2))
        edits.append(PutKeys(f"g{n}", "translation.y", moves))
        limb = PutLimb(
            f"limb {n}", "body", tuple(chain), f"g{n}", f"o{n}", (1.0, 0.0, 0.0), id=f"b{n}"
        )
        edits.append(limb)
    edits += [AddPart(f"more {n}", "body", id=f"m{n}") for n in range(extra)]
    edits += [
        PutKeys(f"m{n}", c, (Key(0.0, 0.0), Key(float(last), 9.0)))
        for n in range(extra)
        for c in ("translation.x", "rotation.y")
    ]
    return applied(Scene(), edits)


def by_hand(points: list[Array], axis: Array, goal: Array, pole: Array) -> Array:
    """The closed form of two segments, stacked over limbs and frames, shape (B, F, 3) each; how the
    three parts are turned, (3, B, F, 4)."""
    a, b = points[1] - points[0], points[2] - points[1]
    along = np.sum(b * axis, -1, keepdims=True) * axis
    across = b - along
    mean = np.sum(a * a + b * b, -1) + 2 * np.sum(a * along, -1)
    even, odd = 2 * np.sum(a * across, -1), 2 * np.sum(a * np.cross(axis, across), -1)
    swing, straight = np.hypot(even, odd), np.arctan2(odd, even)
    goes = goal - points[0]
    far = np.minimum(np.linalg.norm(goes, axis=-1), np.sqrt(mean + swing))
    cosine = np.clip((far**2 - mean) / swing, -1, 1)
    bend = straight + np.where(straight > 0, -1, 1) * np.arccos(cosine)
    shape = bend.shape
    middle = Rotation.from_rotvec((axis * bend[..., None]).reshape(-1, 3))
    lower = middle.apply(b.reshape(-1, 3)).reshape(*shape, 3)
    out = a + lower
    one = out / np.linalg.norm(out, axis=-1, keepdims=True)
    line = goes / np.linalg.norm(goes, axis=-1, keepdims=True)
    cosine = np.sum(one * line, -1, keepdims=True)
    swing_turn = np.concatenate([np.cross(one, line), 1 + cosine], -1)
    first = Rotation.from_quat(swing_turn.reshape(-1, 4))
    side = first.apply(a.reshape(-1, 3)).reshape(*shape, 3)
    toward = pole - points[0]
    side = side - np.sum(side * line, -1, keepdims=True) * line
    toward = toward - np.sum(toward * line, -1, keepdims=True) * line
    angle = np.arctan2(np.sum(line * np.cross(side, toward), -1), np.sum(side * toward, -1))
    whole = Rotation.from_rotvec((line * angle[..., None]).reshape(-1, 3)) * first
    lowers = whole * middle
    return np.stack([r.as_quat().reshape(*shape, 4) for r in (whole, lowers, lowers)])


def two_segments() -> None:
    """100 limbs over 1,000 frames: all solutions at once, against the same by hand."""
    scene = legs(LIMBS, 2, LAST)
    whole = evaluate(scene)
    nodes = [NodeId("body", SOLVE, Stage("owner", f"b{n}")) for n in range(LIMBS)]
    found = [whole.graph.nodes[node] for node in nodes]
    operation = found[0].operation
    stacks = [
        np.stack(np.broadcast_arrays(*(whole.results[i].values for i in column)))
        for column in zip(*(node.inputs for node in found), strict=True)
    ]
    operations = [node.operation for node in found]
    frames = LAST + 1
    places = [operation.places([whole.results[i].values for i in node.inputs]) for node in found]  # type: ignore[attr-defined]
    points = [
        np.stack([np.broadcast_to(p[j][..., 3], (frames, 3)) for p in places]) for j in range(3)
    ]
    axis = np.broadcast_to((1.0, 0.0, 0.0), points[0].shape)
    back = np.broadcast_to(whole.world("body"), (frames, 3, 4))[..., :3].transpose(0, 2, 1)
    seen = [
        np.stack([(back @ whole.world(f"{p}{n}")[..., 3, None])[..., 0] for n in range(LIMBS)])
        for p in "go"
    ]
    ours, hand, ratio = paired(
        lambda: type(operation).compute_many(operations, stacks, whole.times),  # type: ignore[attr-defined]
        lambda: by_hand(points, axis, seen[0], seen[1]),
    )
    print(
        f"{LIMBS} limbs of two segments x {frames} frames, the solutions: {ours:.3f} s; "
        f"by hand {hand:.3f} s; ratio {ratio:.2f}"
    )


def main() -> None:
    """Prints all of it."""
    two_segments()
    chains = legs(20, 5, 299)
    print(f"20 chains of five x 300 frames, whole scene: {seconds(lambda: evaluate(chains)):.3f} s")
    rig = legs(8, 2, 299, extra=200 - 8 * 5 - 1)
    before = evaluate(rig)
    full = seconds(lambda: evaluate(rig))
    key = PutKeys("g3", "translation.y", (Key(120.0, 0.05),))
    moved = applied(rig, [key])
    again = seconds(lambda: evaluate_after(before, moved))
    share = 100 * again / full
    print(
        f"one goal key on {len(rig.parts)} parts with 8 limbs: {share:.1f} % of a full evaluation"
    )
    print(f"  {again * 1e3:.1f} of {full * 1e3:.0f} ms")
    four = tuple(f"b{n}" for n in range(4))
    for way in ("fk", "ik"):
        edit = MatchLimbs(four, way, 0, 299)  # type: ignore[arg-type]
        with answering(lambda scene: before if scene is rig else evaluate_after(before, scene)):
            took = seconds(lambda edit=edit: applied(rig, [edit]))
        print(f"4 limbs matched over 300 frames, {way}: {took * 1e3:.0f} ms")


if __name__ == "__main__":
    main()
