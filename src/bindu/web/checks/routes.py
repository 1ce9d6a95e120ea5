"""The routes of checks: what they find, one finding, and what a remedy would make of it."""

from __future__ import annotations

from flask import Response
from flask_openapi3 import APIBlueprint

from bindu.web.checks.schemas import (
    ChecksView,
    FindingDetails,
    FindingQuery,
    TriedView,
    TriedWish,
)
from bindu.web.checks.views import checks_view, finding_details, found_finding, tried_view
from bindu.web.desk import Desk, as_json
from bindu.web.problems import REFUSALS
from bindu.web.scene.schemas import ScenePath


def check_routes(desk: Desk) -> APIBlueprint:
    """What is wrong, where, how much, and what would mend it."""
    api = desk.blueprint("checks", "/api/scenes/<int:scene_id>/checks")

    @api.get("", responses={200: ChecksView, **REFUSALS})
    def checks(path: ScenePath) -> Response:
        kept, evaluation = desk.evaluated(path.scene_id)
        view = checks_view(evaluation, desk.findings.of(path.scene_id, evaluation), kept.revision)
        left = sum(one.accepted is None for one in view.findings)
        desk.scenes.note_findings(path.scene_id, kept.revision, left)
        return as_json(view)

    @api.get("/finding", responses={200: FindingDetails, **REFUSALS})
    def finding(path: ScenePath, query: FindingQuery) -> Response:
        kept, evaluation = desk.evaluated(path.scene_id)
        found = found_finding(desk.findings.of(path.scene_id, evaluation), query.id)
        with desk.answering(path.scene_id):
            return as_json(finding_details(evaluation, found, kept.revision))

    @api.post("/tried", responses={200: TriedView, **REFUSALS})
    def tried(path: ScenePath, body: TriedWish) -> Response:
        _, evaluation = desk.evaluated(path.scene_id)
        before = desk.findings.of(path.scene_id, evaluation)
        one = found_finding(before, body.id)
        _, made = desk.trying(path.scene_id, body.edits)
        after = desk.findings.tried(path.scene_id, made)
        return as_json(tried_view(one, (evaluation, before), (made, after)))

    return api
