"""A surface on some frames: its cage goes through its steps, in their order.

Up to the step *carry* points are in the axes of the surface's part, after it in the world. So a
bend counts the joints' motion as seen from the part before it is carried, and as seen from the
world after it; waves lie in the part, or stand in the world.
"""

from __future__ import annotations

from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass, replace
from time import perf_counter
from typing import Any

import numpy as np

from bindu.core.curves.model import Array
from bindu.core.evaluation import Evaluation
from bindu.core.geometry.places import seen_from, within
from bindu.core.placing.place import rest_world
from bindu.core.refusal import Refusal
from bindu.core.scene.channels import ChannelRef, step_channel
from bindu.core.scene.surfaces import (
    AnyDeform,
    BendByJoints,
    BlendShapes,
    Carry,
    Displace,
    Subdivide,
    Surface,
)
from bindu.core.surface.bend import bent
from bindu.core.surface.blend import blended
from bindu.core.surface.displace import displaced
from bindu.core.surface.mesh import Mesh, Sparse, mesh_of, mixed, sparse
from bindu.core.surface.subdivision import divided


@dataclass(frozen=True)
class Form:
    """A surface between two steps.

    Attributes:
        mesh: how its points hang together.
        points: shape (F, P, 3), metres.
        shares: of which of the cage's points each is made, shape (P, C).
        carried: the points are in the world, else in the axes of the part.
    """

    mesh: Mesh
    points: Array
    shares: Sparse
    carried: bool = False


@dataclass(frozen=True)
class Deformed:
    """What a step did.

    Attributes:
        step: None for the cage that came in.
        form: the surface after it.
        seconds: how long it took.
    """

    step: AnyDeform | None
    form: Form
    seconds: float = 0.0


class Seen:
    """What steps read of an evaluated scene on some frames."""

    def __init__(self, evaluation: Evaluation, surface: Surface, frames: Sequence[int]) -> None:
        self._evaluation, self.surface = evaluation, surface
        self._rows = [evaluation.index(frame) for frame in frames]

    @property
    def count(self) -> int:
        """How many frames."""
        return len(self._rows)

    def value(self, step: AnyDeform, key: str) -> Array:
        """What a channel of a step is at Final, shape (F,)."""
        channel = step_channel(self.surface.id, f"{step.id}.{key}")
        ref = ChannelRef(self.surface.part, channel)
        return self._on(self._evaluation.channel(ref, "final"))

    def world(self, part: str) -> Array:
        """Where a part is, shape (F, 3, 4)."""
        return self._on(self._evaluation.world(part))

    def rest(self, part: str) -> Array:
        """Where a part is with all channels at rest, its own and those above, shape (3, 4)."""
        return rest_world(self._evaluation.scene, part)

    def _on(self, values: Array) -> Array:
        if len(values) == 1:
            return np.broadcast_to(values, (self.count, *values.shape[1:]))
        return np.asarray(values[self._rows])


def deformed(
    evaluation: Evaluation,
    surface: Surface,
    frames: Sequence[int],
    order: Sequence[str] | None = None,
) -> tuple[Deformed, ...]:
    """The surface as it comes in, and after each of its steps that is on.

    Args:
        evaluation: of the scene.
        surface: one of its surfaces.
        frames: F whole frames of the scene's range.
        order: the steps in another order; what is not in it is left out. None: as they are.

    Raises:
        Refusal: when a frame is none of the range's, or the order names what is not there.
    """
    seen = Seen(evaluation, surface, frames)
    count = len(surface.points)
    every = np.arange(count)
    form = Form(
        mesh_of(count, surface.faces),
        np.broadcast_to(np.array(surface.points), (seen.count, count, 3)),
        sparse(np.ones(count), every, every, (count, count)),
    )
    made = [Deformed(None, form)]
    for step in ordered(surface, order):
        began = perf_counter()
        form = DEFORMERS[step.kind](step, form, seen)
        made.append(Deformed(step, form, perf_counter() - began))
    return tuple(made)


def ordered(surface: Surface, order: Sequence[str] | None) -> list[AnyDeform]:
    """The steps that are on, or those of an order.

    Raises:
        Refusal: when the order names a step twice, or one that is not there.
    """
    if order is None:
        return [step for step in surface.steps if step.on]
    known = {step.id: step for step in surface.steps}
    for step in order:
        if step not in known:
            raise Refusal(
                f"{surface.name} has no step with the identity {step!r} any more.", code="gone"
            )
    if len(set(order)) < len(order):
        raise Refusal("an order names each step once.", code="choice", place=surface.name)
    return [known[step] for step in order]


def in_world(form: Form, evaluation: Evaluation, surface: Surface) -> Array:
    """The points in the world; a surface that nothing carries stays where its part rests, shape
    (F, P, 3)."""
    if form.carried:
        return form.points
    return _moved(form.points, rest_world(evaluation.scene, surface.part)[None])


def _moved(points: Array, motions: Array) -> Array:
    """Points taken along, shape (F, P, 3), by motions (F, 3, 4) or (1, 3, 4)."""
    turned = points @ motions[:, :, :3].transpose(0, 2, 1)
    return np.asarray(turned + motions[:, None, :, 3])


def _weighed(before: Array, after: Array, weight: Array) -> Array:
    """As far towards what comes after as the weight says, shape (F, P, 3)."""
    if np.all(weight == 1.0):
        return after
    return np.asarray(before + weight[:, None, None] * (after - before))


def _blend(step: BlendShapes, form: Form, seen: Seen) -> Form:
    weights = np.array([seen.value(step, one.id) for one in step.shapes])
    weights = weights.reshape(len(step.shapes), seen.count) * seen.value(step, "weight")
    return replace(form, points=blended(form.points, step.shapes, weights, form.shares))


def _bend(step: BendByJoints, form: Form, seen: Seen) -> Form:
    if not step.joints:
        return form
    home, base = seen.world(seen.surface.part), seen.rest(seen.surface.part)[None]
    motions = []
    for one in step.joints:
        here, rest = seen.world(one.joint), seen.rest(one.joint)[None]
        if form.carried:
            still = seen_from(rest, np.eye(3, 4)[None])
            motions.append(within(here, still))
        else:
            motions.append(within(seen_from(home, here), seen_from(rest, base)))
    points = bent(form.points, step.joints, np.stack(motions), form.shares)
    return replace(form, points=_weighed(form.points, points, seen.value(step, "weight")))


def _displace(step: Displace, form: Form, seen: Seen) -> Form:
    points = displaced(
        form.points,
        form.mesh.normals(form.points),
        step.form,
        step.axis,
        step.seed,
        seen.value(step, "amplitude") * seen.value(step, "weight"),
        seen.value(step, "length"),
        seen.value(step, "shift"),
    )
    return replace(form, points=points)


def _subdivide(step: Subdivide, form: Form, seen: Seen) -> Form:
    weight = seen.value(step, "weight")
    for _ in range(step.rounds):
        mesh, smooth, flat = divided(form.mesh)
        points = mixed(smooth, form.points)
        if not np.all(weight == 1.0):
            points = _weighed(mixed(flat, form.points), points, weight)
        # What belongs to the cage's points is spread as evenly as the points are.
        form = Form(mesh, points, smooth @ form.shares, form.carried)
    return form


def _carry(step: Carry, form: Form, seen: Seen) -> Form:
    if form.carried:
        return form
    rest = _moved(form.points, seen.rest(seen.surface.part)[None])
    points = _moved(form.points, seen.world(seen.surface.part))
    weight = seen.value(step, "weight")
    return replace(form, points=_weighed(rest, points, weight), carried=True)


DEFORMERS: Mapping[str, Callable[[Any, Form, Seen], Form]] = {
    "blend shapes": _blend,
    "bend by joints": _bend,
    "displace": _displace,
    "subdivide": _subdivide,
    "carry": _carry,
}
"""What each kind of step does with a surface."""
