"""The account of a surface's point: where it came from, and what each step did to it."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from bindu.core.curves.model import Array
from bindu.core.evaluation import Evaluation
from bindu.core.refusal import Refusal
from bindu.core.scene.settings import Vector
from bindu.core.scene.surfaces import AnyDeform, Subdivide, Surface
from bindu.core.surface.deforming import Deformed, deformed
from bindu.core.surface.subdivision import divided


@dataclass(frozen=True)
class PointStep:
    """What a step did to a point.

    Attributes:
        step: None for the cage.
        before, after: metres, in the part's axes or, where the step is carried, in the world.
        moved: how far it moved the point, metres; None of what only takes it into the world.
        world: ``after`` is in the world.
    """

    step: AnyDeform | None
    before: Vector
    after: Vector
    moved: float | None
    world: bool


@dataclass(frozen=True)
class PointAccount:
    """A point on one frame.

    Attributes:
        made_of: the points of the cage that it is made of, with their shares, the largest first.
        steps: the cage first.
    """

    point: int
    made_of: tuple[tuple[int, float], ...]
    steps: tuple[PointStep, ...]


def point_account(evaluation: Evaluation, surface: Surface, point: int, frame: int) -> PointAccount:
    """What became of a point of the finished surface.

    Before a step divides faces, the point is told as the mix of points of which it is made.

    Raises:
        Refusal: when there is no such point or frame.
    """
    made = deformed(evaluation, surface, [frame])
    last = made[-1].form
    if not 0 <= point < last.mesh.count:
        text = f"there is no point {point}: they count from 0 to {last.mesh.count - 1}."
        raise Refusal(text, code="number", place=surface.name)
    rows = _rows_back(made, point)
    places = [np.asarray(row @ one.form.points[0]) for row, one in zip(rows, made, strict=True)]
    steps = []
    for n, one in enumerate(made):
        before, after = places[max(n - 1, 0)], places[n]
        entered = n > 0 and one.form.carried and not made[n - 1].form.carried
        moved = None if entered else float(np.linalg.norm(after - before))
        steps.append(PointStep(one.step, _vector(before), _vector(after), moved, one.form.carried))
    row = np.asarray(last.shares[[point]].toarray())[0]
    shares = sorted(((int(p), float(row[p])) for p in np.flatnonzero(row)), key=lambda s: -s[1])
    return PointAccount(point, tuple(shares), tuple(steps))


def _rows_back(made: Sequence[Deformed], point: int) -> list[Array]:
    """Of which points before and after each step a finished point is made, one row each; where
    faces are divided, as a middle of them, so that rounding shows as what that step did."""
    row = np.zeros(made[-1].form.mesh.count)
    row[point] = 1.0
    rows = [row]
    for before, one in zip(made[-2::-1], made[:0:-1], strict=True):
        if isinstance(one.step, Subdivide):
            mesh, rounds = before.form.mesh, []
            for _ in range(one.step.rounds):
                mesh, _, flat = divided(mesh)
                rounds.append(flat)
            for flat in reversed(rounds):
                row = np.asarray(row @ flat)
        rows.append(row)
    return rows[::-1]


def _vector(numbers: Array) -> Vector:
    x, y, z = (float(one) for one in numbers)
    return x, y, z
