"""The routes under /api: each validates, calls core and store, and answers."""

from __future__ import annotations

from urllib.parse import quote

from flask import Response, request
from flask_openapi3 import APIBlueprint

from bindu.core.clips.clip import animation_clip, pose_clip
from bindu.core.edits import applied
from bindu.core.edits.base import found_channel
from bindu.core.edits.scene import ChangeScene
from bindu.core.refusal import Refusal, nearest_names
from bindu.core.scene.channels import GROUPS
from bindu.core.scene.model import Scene
from bindu.demo.starts import STARTS
from bindu.formats.scene.scene_json import read_scene, write_scene
from bindu.store.scenes import Check, StoredScene
from bindu.web.desk import BINARY, Desk, as_json
from bindu.web.problems import REFUSALS
from bindu.web.scene.samples import packed_samples
from bindu.web.scene.schemas import (
    ChangedQuery,
    ChangedView,
    Checked,
    ClipView,
    CompareView,
    CompareWish,
    CopyWish,
    Edits,
    Health,
    LedgerQuery,
    LedgerView,
    NewScene,
    Problem,
    Restore,
    Retrace,
    Revision,
    Samples,
    SceneEntry,
    SceneList,
    ScenePath,
    SceneView,
)
from bindu.web.scene.views import changed_view, group_ledger_view, ledger_view, scene_view


def file_routes(desk: Desk) -> APIBlueprint:
    """Scenes as a whole: list, new, import, export."""
    api = desk.blueprint("files", "/api")

    @api.get("/health", responses={200: Health, 503: Health})
    def health() -> Response:
        if desk.scenes.reachable():
            return as_json(Health())
        return as_json(Health(status="waiting for the database"), 503)

    @api.get("/scenes", responses={200: SceneList})
    def list_scenes() -> Response:
        entries = [SceneEntry(**vars(entry)) for entry in desk.scenes.entries()]
        return as_json(SceneList(scenes=entries))

    @api.post("/scenes", responses={201: SceneEntry, **REFUSALS})
    def add_scene(body: NewScene) -> Response:
        if body.start is not None and body.start not in STARTS:
            near = nearest_names(body.start, STARTS)
            text = f"no scene begins with {body.start!r}."
            raise Refusal(text, code="unknown", place="start", nearest=near)
        edits = STARTS[body.start] if body.start is not None else ()
        return desk.added(applied(Scene(), [ChangeScene(name=body.name)]), edits)

    @api.post("/scenes/import", responses={201: SceneEntry, **REFUSALS})
    def import_scene() -> Response:
        return desk.added(read_scene(request.get_data(cache=False)))

    @api.get("/scenes/<int:scene_id>/export")
    def export_scene(path: ScenePath) -> Response:
        scene = desk.scenes.load(path.scene_id).scene
        name = quote(f"{scene.name.lower().replace(' ', '-')}.bindu.json")
        headers = {"Content-Disposition": f"attachment; filename*=UTF-8''{name}"}
        return Response(write_scene(scene), mimetype="application/json", headers=headers)

    return api


def edit_routes(desk: Desk) -> APIBlueprint:
    """A scene shown, changed and deleted: edits, undo, redo."""
    api = desk.blueprint("edits", "/api/scenes/<int:scene_id>")

    @api.get("", responses={200: SceneView, **REFUSALS})
    def show_scene(path: ScenePath) -> Response:
        kept, evaluation = desk.evaluated(path.scene_id)
        history = desk.scenes.history(path.scene_id)
        return as_json(scene_view(path.scene_id, kept.revision, evaluation, history))

    @api.delete("", responses={204: None, **REFUSALS})
    def remove_scene(path: ScenePath) -> Response:
        desk.removed(path.scene_id)
        return Response(status=204)

    @api.post("/edits", responses={200: SceneView, **REFUSALS})
    def edit_scene(path: ScenePath, body: Edits) -> Response:
        def edit(check: Check) -> tuple[StoredScene, str]:
            return desk.scenes.edit(path.scene_id, body.revision, body.edits, check)

        return desk.changing(path.scene_id, body.revision, edit, body.shown)

    @api.post("/check", responses={204: None, **REFUSALS})
    def check(path: ScenePath, body: Checked) -> Response:
        applied(desk.scenes.load(path.scene_id).scene, body.edits)
        return Response(status=204)

    @api.post("/undo", responses={200: SceneView, **REFUSALS})
    def undo(path: ScenePath, body: Retrace) -> Response:
        def back(check: Check) -> tuple[StoredScene, str]:
            after, what = desk.scenes.undo(path.scene_id, body.revision, check)
            return after, f"undone: {what}"

        return desk.changing(path.scene_id, body.revision, back, body.shown)

    @api.post("/redo", responses={200: SceneView, **REFUSALS})
    def redo(path: ScenePath, body: Retrace) -> Response:
        def forth(check: Check) -> tuple[StoredScene, str]:
            after, what = desk.scenes.redo(path.scene_id, body.revision, check)
            return after, f"redone: {what}"

        return desk.changing(path.scene_id, body.revision, forth, body.shown)

    @api.post("/restore", responses={200: SceneView, **REFUSALS})
    def restore(path: ScenePath, body: Restore) -> Response:
        def restored(check: Check) -> tuple[StoredScene, str]:
            return desk.scenes.restore(path.scene_id, body.revision, body.to, check)

        return desk.changing(path.scene_id, body.revision, restored, body.shown)

    return api


def number_routes(desk: Desk) -> APIBlueprint:
    """What a scene comes to: sampled numbers, and the ledger of a channel."""
    api = desk.blueprint("numbers", "/api/scenes/<int:scene_id>")

    @api.get("/ledger", responses={200: LedgerView, **REFUSALS})
    def ledger(path: ScenePath, query: LedgerQuery) -> Response:
        kept, evaluation = desk.evaluated(path.scene_id)
        if query.channel in GROUPS and query.part in kept.scene.parts:
            view = group_ledger_view(evaluation, query.part, query.channel, kept.revision)
            return as_json(view)
        ref = found_channel(kept.scene, query.part, query.channel)
        return as_json(ledger_view(evaluation, ref, kept.revision))

    @api.post("/copy", responses={200: ClipView, **REFUSALS})
    def copy(path: ScenePath, body: CopyWish) -> Response:
        scene = desk.scenes.load(path.scene_id).scene
        refs = [found_channel(scene, *ref) for ref in body.channels]
        if body.last is None:
            return as_json(ClipView(clip=pose_clip(scene, refs, body.first)))
        span = (body.first, body.last)
        return as_json(ClipView(clip=animation_clip(scene, refs, span, body.layer)))

    @api.post("/compare", responses={200: CompareView, **REFUSALS})
    def compare(path: ScenePath, body: CompareWish) -> Response:
        return as_json(desk.compared(path.scene_id, body))

    @api.get("/changed", responses={200: ChangedView, **REFUSALS})
    def changed(path: ScenePath, query: ChangedQuery) -> Response:
        kept = desk.scenes.load(path.scene_id)
        before = desk.scenes.at(path.scene_id, query.since)
        return as_json(changed_view(before, kept.scene, query.frame, kept.revision))

    @api.get("/revision", responses={200: Revision, **REFUSALS})
    def revision(path: ScenePath) -> Response:
        return as_json(Revision(revision=desk.scenes.revision(path.scene_id)))

    @api.post("/samples", responses={422: Problem})
    def samples(path: ScenePath, body: Samples) -> Response:
        revision, evaluation = desk.trying(path.scene_id, body.trying)
        packed = packed_samples(evaluation, body, revision)
        return Response(packed, mimetype=BINARY)

    return api
