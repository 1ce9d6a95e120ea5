"""The routes of surfaces: their points on frames, a point's account, orders, weights."""

from __future__ import annotations

from flask import Response
from flask_openapi3 import APIBlueprint

from bindu.core.edits.surfaces import found_surface
from bindu.web.desk import BINARY, Desk, as_json
from bindu.web.problems import REFUSALS
from bindu.web.scene.schemas import Problem
from bindu.web.surface.schemas import (
    OrdersView,
    OrdersWish,
    PointQuery,
    PointsWish,
    PointView,
    SurfacePath,
    WeightsQuery,
    WeightsView,
)
from bindu.web.surface.views import orders_view, packed_points, point_view, weights_view


def surface_routes(desk: Desk) -> APIBlueprint:
    """Surfaces are computed for the frames that are asked for, and for no others."""
    place = "/api/scenes/<int:scene_id>/surfaces/<string:surface_id>"
    api = desk.blueprint("surfaces", place)

    @api.post("/points", responses={422: Problem})
    def points(path: SurfacePath, body: PointsWish) -> Response:
        revision, evaluation = desk.trying(path.scene_id, body.trying)
        surface = found_surface(evaluation.scene, path.surface_id)
        packed = packed_points(evaluation, surface, body, revision)
        return Response(packed, mimetype=BINARY)

    @api.get("/point", responses={200: PointView, **REFUSALS})
    def point(path: SurfacePath, query: PointQuery) -> Response:
        kept, evaluation = desk.evaluated(path.scene_id)
        surface = found_surface(kept.scene, path.surface_id)
        return as_json(point_view(evaluation, surface, query, kept.revision))

    @api.post("/orders", responses={200: OrdersView, **REFUSALS})
    def orders(path: SurfacePath, body: OrdersWish) -> Response:
        kept, evaluation = desk.evaluated(path.scene_id)
        surface = found_surface(kept.scene, path.surface_id)
        return as_json(orders_view(evaluation, surface, body, kept.revision))

    @api.get("/weights", responses={200: WeightsView, **REFUSALS})
    def weights(path: SurfacePath, query: WeightsQuery) -> Response:
        kept = desk.scenes.load(path.scene_id)
        surface = found_surface(kept.scene, path.surface_id)
        return as_json(weights_view(surface, query.step, kept.revision))

    return api
