"""Two orders of a surface's steps: how far apart they are, and what is typical of that."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from dataclasses import dataclass

import numpy as np

from bindu.core.curves.model import Array
from bindu.core.evaluation import Evaluation
from bindu.core.refusal import Refusal
from bindu.core.scene.surfaces import AnyDeform, DeformKind, Surface
from bindu.core.surface.deforming import Form, deformed, in_world, ordered

Order = Sequence[str]
MOST_AT_ONCE = 12
"""Frames that are computed in one call: more would only take room."""
SAME = 1e-9
"""Metres below which two orders come to the same."""

TYPICAL: dict[tuple[DeformKind, DeformKind], tuple[str, str]] = {
    ("subdivide", "displace"): (
        "Subdivided first, every fine point moves along its own normal: short waves show in full.",
        "Displaced first, only the cage's points move and the division rounds them off: waves "
        "shorter than a face or two are lost.",
    ),
    ("subdivide", "bend by joints"): (
        "Subdivided first, each fine point goes along with the joints by itself: folds stay as "
        "sharp as the weights make them.",
        "Bent first, the cage folds and the division rounds the fold off, which also draws it in.",
    ),
    ("blend shapes", "bend by joints"): (
        "Blended first, the offsets of the shapes turn along with the joints.",
        "Blended after the bend, the offsets keep to the axes of the part, however the joints "
        "turn.",
    ),
    ("displace", "bend by joints"): (
        "Displaced first, the waves bend along with the body.",
        "Displaced after the bend, the waves stand in the part, and the bent body passes through "
        "them.",
    ),
    ("blend shapes", "displace"): (
        "Blended first, the waves go along the normals of the blended form.",
        "Displaced first, the shapes move what the waves have made: the waves keep the normals of "
        "the form at rest.",
    ),
    ("blend shapes", "subdivide"): (
        "Both are sums of the cage's points: neither order differs from the other.",
        "Both are sums of the cage's points: neither order differs from the other.",
    ),
    ("carry", "displace"): (
        "Carried first, the waves stand in the world, and the part goes through them.",
        "Displaced first, the waves go along with the part.",
    ),
    ("carry", "bend by joints"): (
        "Carried first, the joints' motion in the world comes on top of the part's own: what "
        "hangs below the part is moved twice.",
        "Bent first, the joints' motion counts as seen from the part.",
    ),
    ("carry", "blend shapes"): (
        "Carried first, the shapes keep to the axes of the world.",
        "Blended first, the shapes turn along with the part.",
    ),
    ("carry", "subdivide"): (
        "The part moves all points alike: neither order differs from the other.",
        "The part moves all points alike: neither order differs from the other.",
    ),
}
"""What is typical where the first kind comes first, and where the second one does."""


@dataclass(frozen=True)
class Apart:
    """How far apart two orders are over some frames.

    Attributes:
        mean: of all points and frames, metres.
        worst: the farthest, metres.
        point, frame: where that is.
        frames: how many were looked at.
    """

    mean: float
    worst: float
    point: int
    frame: int
    frames: int


def both_orders(
    evaluation: Evaluation, surface: Surface, frames: Sequence[int], one: Order, other: Order
) -> tuple[Form, Array, Form, Array, Array]:
    """A surface by two orders, in the world.

    Returns:
        Each order's finished form with its points in the world, (F, P, 3); and the distance
        between the two, (F, P), metres.

    Raises:
        Refusal: where the two do not have the same points, for only one subdivides them.
    """
    forms = [deformed(evaluation, surface, frames, order)[-1].form for order in (one, other)]
    if forms[0].mesh != forms[1].mesh:
        text = "only one of the orders subdivides the surface, so that their points do not match."
        raise Refusal(text, code="choice", place=surface.name)
    places = [in_world(form, evaluation, surface) for form in forms]
    apart = np.linalg.norm(places[1] - places[0], axis=2)
    return forms[0], places[0], forms[1], places[1], apart


def orders_apart(
    evaluation: Evaluation, surface: Surface, frames: Sequence[int], one: Order, other: Order
) -> Apart:
    """How far apart two orders are over frames: a mean, and the worst point on the worst frame."""
    total, count, worst = 0.0, 0, Apart(0.0, 0.0, 0, frames[0], len(frames))
    for start in range(0, len(frames), MOST_AT_ONCE):
        part = frames[start : start + MOST_AT_ONCE]
        *_, apart = both_orders(evaluation, surface, part, one, other)
        total, count = total + float(apart.sum()), count + apart.size
        frame, point = np.unravel_index(int(np.argmax(apart)), apart.shape)
        if apart[frame, point] > worst.worst:
            far = float(apart[frame, point])
            worst = Apart(0.0, far, int(point), part[int(frame)], len(frames))
    return Apart(total / count, worst.worst, worst.point, worst.frame, worst.frames)


def what_differs(surface: Surface, one: Order, other: Order) -> tuple[str, ...]:
    """What is typical of the difference of two orders, a sentence or two for each pair of steps
    that changes places, and for each step that is only in one of them."""
    return tuple(dict.fromkeys(_sentences(ordered(surface, one), ordered(surface, other))))


def _sentences(one: list[AnyDeform], other: list[AnyDeform]) -> Iterator[str]:
    places = {step.id: n for n, step in enumerate(other)}
    both = [step for step in one if step.id in places]
    for n, first in enumerate(both):
        for second in both[n + 1 :]:
            if places[first.id] > places[second.id]:
                yield _typical(first, second)
    for step in one:
        if step.id not in places:
            yield f"{step.name} is only in the first order."
    known = {step.id for step in one}
    for step in other:
        if step.id not in known:
            yield f"{step.name} is only in the second order."


def _typical(first: AnyDeform, second: AnyDeform) -> str:
    """Of two steps in the one order; in the other the second comes before the first."""
    head = f"{first.name} before or after {second.name}: "
    if (first.kind, second.kind) in TYPICAL:
        here, there = TYPICAL[first.kind, second.kind]
    elif (second.kind, first.kind) in TYPICAL:
        there, here = TYPICAL[second.kind, first.kind]
    else:
        return head + "two of one kind; what the second one gets is what the first one made."
    return head + (here if here == there else f"{here} {there}")
