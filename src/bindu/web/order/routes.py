"""The routes of order and cause: wiring, loops, order, lanes, last words, causes, What ifs."""

from __future__ import annotations

from collections.abc import Sequence

from flask import Response
from flask_openapi3 import APIBlueprint

from bindu.core.account.causes import causes_of, reached_from
from bindu.core.account.gaits import gait_cost
from bindu.core.account.last_word import last_words
from bindu.core.comparing.what_if import differences, differing_channels, variant_edits
from bindu.core.edits import AnyEdit, applied
from bindu.core.edits.base import found_channel, found_part
from bindu.core.edits.gaits import found_gait
from bindu.core.edits.limbs import found_limb
from bindu.core.edits.relations import relation_of
from bindu.core.evaluation import Evaluation
from bindu.core.refusal import Refusal
from bindu.core.scene.model import Scene
from bindu.formats.limb_table import limb_table
from bindu.web.desk import BINARY, Desk, as_json
from bindu.web.order.lanes import lanes_view
from bindu.web.order.schemas import (
    CauseQuery,
    CausesView,
    GaitQuery,
    GaitView,
    LanesView,
    LimbQuery,
    LimbView,
    LoopsView,
    OrderView,
    RelationQuery,
    RelationView,
    SideSamples,
    WhatIfSide,
    WhatIfView,
    WhatIfWish,
    WiringView,
    WordsView,
)
from bindu.web.order.views import (
    difference_view,
    loops_view,
    order_view,
    wiring_view,
)
from bindu.web.problems import REFUSALS
from bindu.web.scene.samples import packed_samples
from bindu.web.scene.schemas import LedgerQuery, Problem, ScenePath


def order_routes(desk: Desk) -> APIBlueprint:
    """In which order things become final, and why."""
    api = desk.blueprint("order", "/api/scenes/<int:scene_id>")

    @api.get("/wiring", responses={200: WiringView, **REFUSALS})
    def wiring(path: ScenePath) -> Response:
        kept, evaluation = desk.evaluated(path.scene_id)
        return as_json(wiring_view(evaluation, kept.revision))

    @api.get("/loops", responses={200: LoopsView, **REFUSALS})
    def loops(path: ScenePath) -> Response:
        kept, evaluation = desk.evaluated(path.scene_id)
        return as_json(loops_view(evaluation, kept.revision))

    @api.get("/order", responses={200: OrderView, **REFUSALS})
    def order(path: ScenePath) -> Response:
        kept, evaluation = desk.evaluated(path.scene_id)
        return as_json(order_view(evaluation, kept.revision))

    @api.get("/lanes", responses={200: LanesView, **REFUSALS})
    def lanes(path: ScenePath) -> Response:
        kept, evaluation = desk.evaluated(path.scene_id)
        return as_json(lanes_view(evaluation, kept.revision))

    @api.get("/limb", responses={200: LimbView, **REFUSALS})
    def limb(path: ScenePath, query: LimbQuery) -> Response:
        kept, evaluation = desk.evaluated(path.scene_id)
        first, last = evaluation.index(query.first), evaluation.index(query.last)
        found = found_limb(evaluation.scene, query.limb)
        table = limb_table(evaluation, found, slice(first, last + 1))
        return as_json(LimbView(revision=kept.revision, table=table))

    @api.get("/gait", responses={200: GaitView, **REFUSALS})
    def gait(path: ScenePath, query: GaitQuery) -> Response:
        kept, evaluation = desk.evaluated(path.scene_id)
        steps, formulas = gait_cost(evaluation, found_gait(kept.scene, query.gait))
        cost = GaitView(revision=kept.revision, steps=1e6 * steps, formulas=1e6 * formulas)
        return as_json(cost)

    return api


def cause_routes(desk: Desk) -> APIBlueprint:
    """Who decided a value, and where it comes from."""
    api = desk.blueprint("causes", "/api/scenes/<int:scene_id>")

    @api.get("/words", responses={200: WordsView, **REFUSALS})
    def words(path: ScenePath, query: LedgerQuery) -> Response:
        kept, evaluation = desk.evaluated(path.scene_id)
        ref = found_channel(kept.scene, query.part, query.channel)
        return as_json(WordsView(words=list(last_words(evaluation, ref))))

    @api.get("/causes", responses={200: CausesView, **REFUSALS})
    def causes(path: ScenePath, query: CauseQuery) -> Response:
        kept, evaluation = desk.evaluated(path.scene_id)
        ref = found_channel(kept.scene, query.part, query.channel)
        causes = list(causes_of(evaluation, ref, query.frame))
        return as_json(CausesView(causes=causes, reaches=list(reached_from(evaluation, ref))))

    @api.get("/relation", responses={200: RelationView, **REFUSALS})
    def relation(path: ScenePath, query: RelationQuery) -> Response:
        _, evaluation = desk.evaluated(path.scene_id)
        for part in (query.part, query.other):
            found_part(evaluation.scene, part)
        found = relation_of(evaluation, query.part, query.other, query.frame)
        return as_json(RelationView(relation=found))

    return api


def what_if_routes(desk: Desk) -> APIBlueprint:
    """What would be if: two sides of a comparison."""
    api = desk.blueprint("what if", "/api/scenes/<int:scene_id>")

    @api.post("/what-if", responses={200: WhatIfView, **REFUSALS})
    def what_if(path: ScenePath, body: WhatIfWish) -> Response:
        one_edits = _edits(desk, path.scene_id, body.one)
        other_edits = _edits(desk, path.scene_id, body.other)
        one = _side(desk, path.scene_id, body.one, one_edits)
        other = _side(desk, path.scene_id, body.other, other_edits)
        chosen = [found_channel(one.scene, *ref) for ref in body.channels]
        refs = chosen or differing_channels(one, other)
        found = [difference_view(one.scene, each) for each in differences(one, other, refs)]
        loops_of = (len(one.graph.loops), len(other.graph.loops))
        view = WhatIfView(
            first=one.times.first,
            differences=found,
            loops=loops_of,
            one_edits=list(one_edits),
            other_edits=list(other_edits),
        )
        return as_json(view)

    @api.post("/what-if/samples", responses={422: Problem})
    def side_samples(path: ScenePath, body: SideSamples) -> Response:
        edits = _edits(desk, path.scene_id, body.side)
        revision = desk.scenes.revision(path.scene_id)
        packed = packed_samples(_side(desk, path.scene_id, body.side, edits), body, revision)
        return Response(packed, mimetype=BINARY)

    return api


def _edits(desk: Desk, scene_id: int, side: WhatIfSide) -> Sequence[AnyEdit]:
    if side.saved is None:
        return side.edits
    scene: Scene = desk.scenes.load(scene_id).scene
    saved = scene.what_ifs.get(side.saved)
    if saved is None:
        raise Refusal("there is no such What if any more.", code="gone", place="saved")
    return variant_edits(scene, saved.one if side.side == "one" else saved.other)


def _side(desk: Desk, scene_id: int, side: WhatIfSide, edits: Sequence[AnyEdit]) -> Evaluation:
    if side.revision is None:
        return desk.trying(scene_id, edits)[1]
    scene = desk.scenes.at(scene_id, side.revision)
    return desk.tried(scene_id, applied(scene, edits))
