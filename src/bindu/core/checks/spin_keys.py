"""More keys between two, so that a rotation stays near the turn about one axis."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import replace

import numpy as np

from bindu.core.checks.check import Finding, Offer
from bindu.core.checks.keyed_rotations import angles_at, driven_angles, rotation_keys
from bindu.core.checks.motion import ROTATION
from bindu.core.checks.one_axis import about_one_axis, off_axis
from bindu.core.counted import counted
from bindu.core.curves.model import Array, Curve, Key, Tangent
from bindu.core.curves.segments import Places
from bindu.core.edits import AnyEdit
from bindu.core.edits.keys import InsertKey, PutKeys
from bindu.core.evaluation import Evaluation
from bindu.core.geometry.angles import nearest_angles
from bindu.core.geometry.rotation import angles_quaternion, product
from bindu.core.refusal import Refusal
from bindu.core.scene.channels import ChannelRef
from bindu.core.scene.model import Scene
from bindu.core.scene.parts import Part

MANY = (1, 3, 7, 15)
"""How many keys between two are tried."""
SAME = 1e-6
"""Degrees by which angles may differ and still be the same."""


def more_keys(evaluation: Evaluation, finding: Finding) -> Iterator[Offer]:
    """The fewest keys between those it has with which a rotation stays as near to the turn about
    one axis as its check asks. On its new keys it is as far on that turn as it was. None where
    other things than its own keys move it, or keys in question lie between frames or outside the
    range."""
    scene, times = evaluation.scene, evaluation.times
    part, level = scene.parts[finding.part], finding.level or 0.0
    angles, keys = angles_at(scene, part.id, times.frames), rotation_keys(scene, part.id)
    spans = _wide(finding, keys, times.first, times.last)
    if not spans or np.abs(angles - driven_angles(evaluation, part.id)).max() > SAME:
        return
    for many in MANY:
        try:
            made, edits = _keyed(scene, part, angles, times.first, spans, many)
        except Refusal:
            return
        now = angles_at(made, part.id, times.frames)
        off = off_axis(now, part.rotation_order, keys - times.first).max()
        if off <= level:
            count = len(rotation_keys(made, part.id)) - len(keys)
            text = f"{counted(count, 'more key')} between: at most {off:.3g}° off the axis"
            cost = "the pose on every key stays; on a new one it is as far on its turn as it was"
            yield Offer("more keys", text, cost, edits)
            return


def _wide(finding: Finding, keys: Array, first: int, last: int) -> list[tuple[int, int]]:
    """The keys between which the rotation leaves the axis too far; none where one of them lies
    between frames or outside the range."""
    found = []
    for a, b in zip(keys.tolist(), keys.tolist()[1:], strict=False):
        if any(start <= b and end >= a for start, end in finding.spans):
            if not (a.is_integer() and b.is_integer() and first <= a and b <= last):
                return []
            found.append((int(a), int(b)))
    return found


def _keyed(
    scene: Scene, part: Part, angles: Array, first: int, spans: list[tuple[int, int]], many: int
) -> tuple[Scene, tuple[AnyEdit, ...]]:
    """The scene with so many keys between each two, and the edits that make it.

    Raises:
        Refusal: when a channel is locked, or a value is beyond its range.
    """
    edits: list[AnyEdit] = []
    for a, b in spans:
        turns = angles_quaternion(angles[a - first : b - first + 1], part.rotation_order)
        straight = product(turns[:1], about_one_axis(turns))
        wanted = nearest_angles(straight, part.rotation_order, angles[a - first])
        rows = np.unique(np.round(np.linspace(0, b - a, many + 2)).astype(int))
        for n, channel in enumerate(ROTATION):
            ref = ChannelRef(part.id, channel)
            for frame in (a, b):
                curve = scene.curves.get(ref)
                if curve is None or curve.key_at(frame) is None:
                    edits.append(InsertKey(*ref, frame))
                    scene = edits[-1].apply(scene)
            keys = _along(scene.curves[ref], a, wanted[:, n], rows)
            edits.append(PutKeys(*ref, keys))
            scene = edits[-1].apply(scene)
    return scene, tuple(edits)


def _along(curve: Curve, start: int, values: Array, rows: Places) -> tuple[Key, ...]:
    """Keys with the values and slopes of what is wanted, between two keys that keep what is on
    their other sides.

    Args:
        curve: has keys where the values begin and end.
        values: on each frame from ``start`` on, shape (N,).
        rows: which of them get keys, the first and the last one among them.
    """
    slopes = np.gradient(values)
    thirds = np.diff(rows) / 3.0
    right = [Tangent.reaching(h, s * h) for h, s in zip(thirds, slopes[rows[:-1]], strict=True)]
    left = [Tangent.reaching(h, s * h) for h, s in zip(thirds, slopes[rows[1:]], strict=True)]
    begins, ends = curve.key_at(start), curve.key_at(start + int(rows[-1]))
    assert begins is not None and ends is not None
    between = (
        Key(float(start + row), float(values[row]), "smooth", left[n], right[n + 1], "joined")
        for n, row in enumerate(rows[1:-1])
    )
    return (
        replace(begins, interpolation="smooth", right=right[0], mode="broken"),
        *between,
        replace(ends, left=left[-1], mode="broken"),
    )
