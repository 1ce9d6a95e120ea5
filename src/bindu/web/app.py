"""The application: routes over a database's scenes, and the built front end."""

from __future__ import annotations

from pathlib import Path
from typing import Any
from urllib.parse import quote

from flask import Response, request, send_from_directory
from flask_openapi3 import APIBlueprint, Info, OpenAPI
from pydantic import BaseModel
from sqlalchemy import Engine

from bindu.core.edits import applied
from bindu.core.edits.base import found_channel
from bindu.core.edits.patch import patch_between
from bindu.core.edits.scene import ChangeScene
from bindu.core.refusal import Refusal
from bindu.core.scene.model import Scene
from bindu.formats.scene_json import LARGEST_FILE, read_scene, write_scene
from bindu.store.scenes import Kept, Scenes
from bindu.web import problems
from bindu.web.evaluations import Evaluations
from bindu.web.samples import packed_samples
from bindu.web.schemas import (
    Edits,
    Health,
    LedgerQuery,
    LedgerView,
    NewScene,
    Problem,
    Retrace,
    Samples,
    SceneEntry,
    SceneList,
    ScenePath,
    SceneView,
    Shown,
)
from bindu.web.views import changed_parts, ledger_view, scene_view

FRONT_END = Path(__file__).resolve().parents[3] / "frontend" / "dist"
BINARY = "application/octet-stream"
REFUSALS: dict[str | int, type[BaseModel] | dict[Any, Any] | None] = {
    404: Problem,
    409: Problem,
    422: Problem,
}


def create_app(engine: Engine) -> OpenAPI:
    """The application on a database."""
    app = OpenAPI(
        __name__,
        info=Info(title="Bindu", version="0.1.0"),
        doc_ui=False,
        static_folder=None,
        validation_error_callback=problems.invalid,
    )
    app.config["MAX_CONTENT_LENGTH"] = LARGEST_FILE
    problems.register(app)
    app.register_api(scene_routes(Scenes(engine)))
    _serve_front_end(app)
    return app


def scene_routes(scenes: Scenes) -> APIBlueprint:
    """All routes under /api."""
    api = APIBlueprint("scenes", __name__, url_prefix="/api")
    evaluations = Evaluations()

    @api.get("/health", responses={200: Health})
    def health() -> Response:
        return _json(Health())

    @api.get("/scenes", responses={200: SceneList})
    def list_scenes() -> Response:
        entries = [SceneEntry(**vars(entry)) for entry in scenes.entries()]
        return _json(SceneList(scenes=entries))

    @api.post("/scenes", responses={201: SceneEntry, **REFUSALS})
    def add_scene(body: NewScene) -> Response:
        return _added(scenes, applied(Scene(), [ChangeScene(name=body.name)]))

    @api.post("/scenes/import", responses={201: SceneEntry, **REFUSALS})
    def import_scene() -> Response:
        return _added(scenes, read_scene(request.get_data()))

    @api.delete("/scenes/<int:scene_id>", responses={204: None, **REFUSALS})
    def remove_scene(path: ScenePath) -> Response:
        scenes.remove(path.scene_id)
        return Response(status=204)

    @api.get("/scenes/<int:scene_id>", responses={200: SceneView, **REFUSALS})
    def show_scene(path: ScenePath) -> Response:
        kept = scenes.load(path.scene_id)
        evaluation = evaluations.of(path.scene_id, kept.scene)
        history = scenes.history(path.scene_id)
        return _json(scene_view(path.scene_id, kept.revision, evaluation, history))

    @api.get("/scenes/<int:scene_id>/export")
    def export_scene(path: ScenePath) -> Response:
        scene = scenes.load(path.scene_id).scene
        name = quote(f"{scene.name.lower().replace(' ', '-')}.bindu.json")
        headers = {"Content-Disposition": f"attachment; filename*=UTF-8''{name}"}
        return Response(write_scene(scene), mimetype="application/json", headers=headers)

    @api.post("/scenes/<int:scene_id>/edits", responses={200: SceneView, **REFUSALS})
    def edit_scene(path: ScenePath, body: Edits) -> Response:
        before = scenes.load(path.scene_id)
        after, label = scenes.edit(path.scene_id, body.revision, body.edits)
        seen = before if before.revision == body.revision else None
        return _changed(path.scene_id, seen, after, label, body.shown)

    @api.post("/scenes/<int:scene_id>/undo", responses={200: SceneView, **REFUSALS})
    def undo(path: ScenePath, body: Retrace) -> Response:
        before = scenes.load(path.scene_id)
        after, what = scenes.undo(path.scene_id)
        return _changed(path.scene_id, before, after, f"undone: {what}", body.shown)

    @api.post("/scenes/<int:scene_id>/redo", responses={200: SceneView, **REFUSALS})
    def redo(path: ScenePath, body: Retrace) -> Response:
        before = scenes.load(path.scene_id)
        after, what = scenes.redo(path.scene_id)
        return _changed(path.scene_id, before, after, f"redone: {what}", body.shown)

    @api.get("/scenes/<int:scene_id>/ledger", responses={200: LedgerView, **REFUSALS})
    def ledger(path: ScenePath, query: LedgerQuery) -> Response:
        kept = scenes.load(path.scene_id)
        ref = found_channel(kept.scene, query.part, query.channel)
        evaluation = evaluations.of(path.scene_id, kept.scene)
        return _json(ledger_view(evaluation, ref, kept.revision))

    @api.post("/scenes/<int:scene_id>/samples", responses={422: Problem})
    def samples(path: ScenePath, body: Samples) -> Response:
        kept = scenes.load(path.scene_id)
        evaluation = evaluations.of(path.scene_id, kept.scene)
        if body.trying:
            evaluation = evaluations.tried(path.scene_id, applied(kept.scene, body.trying))
        packed = packed_samples(evaluation, body, kept.revision)
        return Response(packed, mimetype=BINARY)

    def _changed(
        scene_id: int, seen: Kept | None, after: Kept, label: str, shown: Shown | None
    ) -> Response:
        """The answer to an edit: what changed since ``seen``; without it, the whole scene."""
        evaluation = evaluations.of(scene_id, after.scene)
        changed = None
        if seen is not None and after.revision <= seen.revision + 1:
            changed = changed_parts(patch_between(seen.scene, after.scene))
        history = scenes.history(scene_id)
        view = scene_view(scene_id, after.revision, evaluation, history, changed, label)
        if shown is None:
            return _json(view)
        packed = packed_samples(evaluation, shown, after.revision, view)
        return Response(packed, mimetype=BINARY)

    return api


def _added(scenes: Scenes, scene: Scene) -> Response:
    number = scenes.add(scene)
    entry = next((entry for entry in scenes.entries() if entry.id == number), None)
    if entry is None:
        raise Refusal("the scene was deleted at once by somebody else.")
    return _json(SceneEntry(**vars(entry)), 201)


def _json(model: BaseModel, status: int = 200) -> Response:
    return Response(model.model_dump_json(), status=status, mimetype="application/json")


def _serve_front_end(app: OpenAPI) -> None:
    """The built pages: plain Flask rules, since they are no part of the API."""

    def asset(name: str) -> Response:
        return send_from_directory(FRONT_END / "assets", name, max_age=31_536_000)

    def page(place: str = "") -> Response:
        return send_from_directory(FRONT_END, "index.html", max_age=0)

    app.add_url_rule("/assets/<path:name>", view_func=asset)
    app.add_url_rule("/", view_func=page)
    app.add_url_rule("/scenes/<path:place>", view_func=page)
