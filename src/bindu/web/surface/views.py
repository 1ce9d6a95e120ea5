"""Surfaces in the form that the browser takes."""

from __future__ import annotations

import hashlib
from collections.abc import Iterator

import numpy as np

from bindu.core.account.surface_points import PointAccount, point_account
from bindu.core.comparing.surface_orders import both_orders, orders_apart, what_differs
from bindu.core.curves.model import Array
from bindu.core.edits.deforms import found_bend
from bindu.core.evaluation import Evaluation
from bindu.core.refusal import Refusal
from bindu.core.scene.surfaces import Surface
from bindu.core.surface.bend import weights_of
from bindu.core.surface.deforming import deformed, in_world
from bindu.core.surface.mesh import Mesh
from bindu.web.scene.samples import packed
from bindu.web.surface.schemas import (
    OrdersView,
    OrdersWish,
    PointQuery,
    PointStepView,
    PointsWish,
    PointView,
    WeightsView,
)

Blocks = Iterator[tuple[str, str, Array]]


def packed_points(
    evaluation: Evaluation, surface: Surface, wish: PointsWish, revision: int
) -> bytes:
    """A surface's points in the world on some frames, its triangles and edges, and what each step
    took; with a second order its points too, and how far both are apart."""
    made = deformed(evaluation, surface, wish.frames, wish.order)
    form = made[-1].form
    costs = {
        one.step.id: one.seconds * 1e3 / len(wish.frames) for one in made if one.step is not None
    }

    def blocks() -> Blocks:
        points = in_world(form, evaluation, surface)
        yield "points", f"points {_digest(points)}", points
        if wish.other is not None:
            order = [one.step.id for one in made if one.step is not None]
            *_, places, apart = both_orders(evaluation, surface, wish.frames, order, wish.other)
            yield "other points", f"points {_digest(places)}", places
            yield "apart", f"apart {_digest(apart)}", apart
        yield from _mesh_blocks(form.mesh)

    head = {"revision": revision, "frames": wish.frames, "costs": costs}
    return packed(head, blocks(), wish.have)


def _mesh_blocks(mesh: Mesh) -> Blocks:
    triangles = mesh.triangles.astype(np.float64)
    edges, _ = mesh.edges
    key = _digest(triangles)
    yield "triangles", f"triangles {key}", triangles.reshape(1, -1)
    yield "edges", f"edges {key}", edges.reshape(1, -1).astype(np.float64)


def _digest(values: Array) -> str:
    return hashlib.blake2b(np.ascontiguousarray(values).tobytes(), digest_size=16).hexdigest()


def point_view(
    evaluation: Evaluation, surface: Surface, query: PointQuery, revision: int
) -> PointView:
    """What became of a point."""
    account: PointAccount = point_account(evaluation, surface, query.point, query.frame)
    steps = [
        PointStepView(
            step=one.step.id if one.step else None,
            before=one.before,
            after=one.after,
            moved=one.moved,
            world=one.world,
        )
        for one in account.steps
    ]
    return PointView(
        revision=revision,
        point=query.point,
        frame=query.frame,
        made_of=list(account.made_of),
        steps=steps,
    )


def orders_view(
    evaluation: Evaluation, surface: Surface, wish: OrdersWish, revision: int
) -> OrdersView:
    """How far apart two orders are over a span.

    Raises:
        Refusal: where the span holds no frame.
    """
    if wish.last < wish.first:
        raise Refusal("the span ends before it begins.", code="number", place="last")
    for frame in (wish.first, wish.last):
        evaluation.index(frame)
    frames = range(wish.first, wish.last + 1)
    apart = orders_apart(evaluation, surface, frames, wish.one, wish.other)
    words = what_differs(surface, wish.one, wish.other)
    return OrdersView(revision=revision, words=list(words), **vars(apart))


def weights_view(surface: Surface, step: str, revision: int) -> WeightsView:
    """The weights of a bend."""
    joints = found_bend(surface, step).joints
    weights = np.round(weights_of(joints, len(surface.points)), 6).tolist()
    return WeightsView(revision=revision, joints=[one.joint for one in joints], weights=weights)
