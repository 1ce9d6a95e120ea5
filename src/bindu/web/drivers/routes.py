"""The routes of drivers: stops sheets, copies of formulas, rules of names, slip."""

from __future__ import annotations

from flask import Response
from flask_openapi3 import APIBlueprint

from bindu.core.drivers.copying import Following
from bindu.core.drivers.sheets import sheet_of
from bindu.core.drivers.slip import fitted, scene_probe, slip_of
from bindu.core.edits.base import found_step
from bindu.core.edits.formulas import CopyFormula
from bindu.core.edits.rows import found_driven
from bindu.core.edits.rules import matches
from bindu.core.refusal import Refusal
from bindu.core.scene.model import Scene
from bindu.core.scene.parts import Step
from bindu.core.steps.registry import kind_of
from bindu.web.desk import Desk, as_json
from bindu.web.drivers.schemas import (
    CopiesView,
    CopiesWish,
    CopyPreview,
    RulesView,
    RulesWish,
    SheetView,
    SheetWish,
    SlipView,
    SlipWish,
)
from bindu.web.drivers.views import sheet_view, slip_view
from bindu.web.problems import REFUSALS
from bindu.web.scene.schemas import ScenePath


def driver_routes(desk: Desk) -> APIBlueprint:
    """What drivers would do, before anything is saved."""
    api = desk.blueprint("drivers", "/api/scenes/<int:scene_id>")

    @api.post("/sheet", responses={200: SheetView, **REFUSALS})
    def sheet(path: ScenePath, body: SheetWish) -> Response:
        _, evaluation = desk.trying(path.scene_id, body.trying)
        driven = found_driven(evaluation.scene, body.driven)
        return as_json(sheet_view(sheet_of(evaluation, driven, body.at)))

    @api.post("/copies", responses={200: CopiesView, **REFUSALS})
    def copies(path: ScenePath, body: CopiesWish) -> Response:
        scene = desk.scenes.load(path.scene_id).scene
        step = found_step(scene, body.step)
        found = [_copy_preview(scene, step, part, body.rule) for part in body.parts]
        return as_json(CopiesView(copies=found))

    @api.post("/rules", responses={200: RulesView, **REFUSALS})
    def rules(path: ScenePath, body: RulesWish) -> Response:
        scene = desk.scenes.load(path.scene_id).scene
        return as_json(RulesView(matches=list(matches(scene, body.rules))))

    @api.post("/slip", responses={200: SlipView, **REFUSALS})
    def slip(path: ScenePath, body: SlipWish) -> Response:
        _, evaluation = desk.trying(path.scene_id, body.trying)
        probe = scene_probe(evaluation.scene, body.probe)
        fit = None
        if body.step is not None:
            step = found_step(evaluation.scene, body.step)
            fit = fitted(evaluation, probe, step, body.first, body.last)
        span = (body.first, body.last)
        return as_json(slip_view(slip_of(evaluation, probe), evaluation.times, span, fit))

    return api


def _copy_preview(scene: Scene, step: Step, part: str, rule: Following) -> CopyPreview:
    try:
        copied = CopyFormula(step.id, (part,), rule).apply(scene)
    except Refusal as refusal:
        return CopyPreview(part=part, text=None, problem=str(refusal))
    made = next(s for s in copied.steps_of[part] if s.name == step.name)
    return CopyPreview(
        part=part, text=kind_of(made.settings).described(copied, made.settings), problem=None
    )
