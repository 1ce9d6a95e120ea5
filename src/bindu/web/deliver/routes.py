"""The routes of handing over: bakes, files out, files in."""

from __future__ import annotations

from pathlib import Path
from urllib.parse import quote

from flask import Response, request
from flask_openapi3 import APIBlueprint

from bindu.core.edits import Together
from bindu.core.edits.bakes import found_bake
from bindu.core.edits.lay_out import laid_out
from bindu.core.edits.receivers import RECEIVER
from bindu.core.refusal import Refusal
from bindu.core.scene.bakes import Bake
from bindu.core.scene.model import Scene
from bindu.core.scene.receivers import Setup
from bindu.formats.onto import channel_matches, edits_onto, matches
from bindu.formats.report import Report
from bindu.formats.taking_in import (
    chosen_clip,
    new_scene,
    read_file,
)
from bindu.store.scenes import Check, StoredScene
from bindu.web.deliver.receiving import packed_play
from bindu.web.deliver.schemas import (
    BakePath,
    BakesView,
    MatchView,
    ReceiverView,
    ReceiveWish,
    ReportView,
    SendPath,
    SendQuery,
    TakeInQuery,
    TakeInView,
)
from bindu.web.deliver.views import bakes_view, report_view
from bindu.web.desk import BINARY, Desk, as_json
from bindu.web.problems import REFUSALS
from bindu.web.scene.schemas import Problem, SceneEntry, ScenePath, SceneView


def deliver_routes(desk: Desk) -> APIBlueprint:
    """What leaves a scene."""
    api = desk.blueprint("deliver", "/api/scenes/<int:scene_id>")

    @api.get("/bakes", responses={200: BakesView, **REFUSALS})
    def bakes(path: ScenePath) -> Response:
        kept, evaluation = desk.evaluated(path.scene_id)
        return as_json(bakes_view(evaluation, kept.revision))

    @api.get("/send/<string:format>")
    def send_out(path: SendPath, query: SendQuery) -> Response:
        kept, evaluation = desk.evaluated(path.scene_id)
        bakes = _chosen(kept.scene, query.bakes)
        data, _ = desk.files.sent(path.scene_id, kept.revision, evaluation, bakes, path.format)
        name = quote(f"{kept.scene.name.lower().replace(' ', '-')}.{path.format}")
        headers = {"Content-Disposition": f"attachment; filename*=UTF-8''{name}"}
        return Response(data, mimetype=BINARY, headers=headers)

    @api.get("/report/<string:format>", responses={200: ReportView, **REFUSALS})
    def report(path: SendPath, query: SendQuery) -> Response:
        kept, evaluation = desk.evaluated(path.scene_id)
        bakes = _chosen(kept.scene, query.bakes)
        _, told = desk.files.sent(path.scene_id, kept.revision, evaluation, bakes, path.format)
        return as_json(report_view(told))

    @api.post("/bakes/<string:bake_id>/scene", responses={201: SceneEntry, **REFUSALS})
    def lay_out(path: BakePath) -> Response:
        kept = desk.scenes.load(path.scene_id)
        return desk.added(laid_out(kept.scene, found_bake(kept.scene, path.bake_id)))

    return api


def receiver_routes(desk: Desk) -> APIBlueprint:
    """The receiver of a scene: what it is told, and what it plays."""
    api = desk.blueprint("receiver", "/api/scenes/<int:scene_id>")

    @api.get("/receiver", responses={200: ReceiverView, **REFUSALS})
    def receiver(path: ScenePath) -> Response:
        kept = desk.scenes.load(path.scene_id)
        setup = kept.scene.receivers.get(RECEIVER, Setup())
        return as_json(ReceiverView(revision=kept.revision, setup=setup))

    @api.post("/receive", responses={422: Problem})
    def receive(path: ScenePath, body: ReceiveWish) -> Response:
        kept, evaluation = desk.evaluated(path.scene_id)
        bakes = _chosen(kept.scene, " ".join(body.bakes))
        clips = desk.files.clips(path.scene_id, kept.revision, evaluation, bakes)
        return Response(packed_play(clips, body, kept.revision), mimetype=BINARY)

    return api


def onto_routes(desk: Desk) -> APIBlueprint:
    """Files onto the parts of a scene."""
    api = desk.blueprint("taking in onto", "/api/scenes/<int:scene_id>")

    @api.post("/take-in/look", responses={200: TakeInView, **REFUSALS})
    def look(path: ScenePath, query: TakeInQuery) -> Response:
        told, data = Report(""), request.get_data(cache=False)
        clips = read_file(data, _kind(query), query.fps, told, query.unit)
        clip = chosen_clip(clips, query.clip, told)
        kept, evaluation = desk.evaluated(path.scene_id)
        found, channels = matches(kept.scene, clip), channel_matches(kept.scene, clip)
        if any(match.part for match in found) or any(channels.values()):
            try:
                edits_onto(evaluation, clip, told)
            except Refusal as refused:
                # It can still be looked at, and become a scene of its own.
                told.lost.append(f"it cannot go onto these parts: {refused}")
        names = [clip.name for clip in clips]
        view = TakeInView(
            scene=None,
            clips=names,
            matches=[MatchView(**vars(match)) for match in found],
            channels=[name for name, ref in channels.items() if ref is not None],
            report=report_view(told),
        )
        return as_json(view)

    @api.post("/take-in", responses={200: SceneView, **REFUSALS})
    def take_in(path: ScenePath, query: TakeInQuery) -> Response:
        told, data = Report(""), request.get_data(cache=False)
        clips = read_file(data, _kind(query), query.fps, told, query.unit)
        clip = chosen_clip(clips, query.clip, told)

        def edit(check: Check) -> tuple[StoredScene, str]:
            _, evaluation = desk.evaluated(path.scene_id)
            edits = tuple(edits_onto(evaluation, clip, told))
            one = Together(f"take in {query.file}"[:80], edits)
            return desk.scenes.edit(path.scene_id, query.revision, [one], check)

        return desk.changing(path.scene_id, query.revision, edit, None)

    return api


def take_in_routes(desk: Desk) -> APIBlueprint:
    """Files as new scenes."""
    api = desk.blueprint("taking in", "/api/scenes")

    @api.post("/take-in", responses={201: TakeInView, **REFUSALS})
    def take_in(query: TakeInQuery) -> Response:
        data, stem = request.get_data(cache=False), Path(query.file).stem
        made, names, told = new_scene(data, _kind(query), stem, query.fps, query.clip, query.unit)
        entry = SceneEntry.model_validate_json(desk.added(made).get_data())
        view = TakeInView(
            scene=entry.id, clips=names, matches=[], channels=[], report=report_view(told)
        )
        return as_json(view, 201)

    return api


def _chosen(scene: Scene, text: str) -> list[Bake]:
    """The bakes with these identities, with blanks between; all of them by their beginning."""
    if not text.strip():
        return sorted(scene.bakes.values(), key=lambda one: (one.first, one.name))
    return [found_bake(scene, one) for one in text.split()]


def _kind(query: TakeInQuery) -> str:
    """What a file's name ends in."""
    return Path(query.file).suffix
