"""The routes of scenes as things on a shelf: copies, the bin, examples."""

from __future__ import annotations

from collections.abc import Sequence

from flask import Response
from flask_openapi3 import APIBlueprint

from bindu.core.edits import applied
from bindu.core.edits.scene import ChangeScene
from bindu.core.refusal import Refusal, nearest_names
from bindu.core.scene.model import Scene
from bindu.core.scene.names import LONGEST_NAME
from bindu.demo import DEMO, portrait_file, scene_file
from bindu.demo.starts import STARTS
from bindu.formats.scene.scene_json import read_scene
from bindu.web.desk import Desk, as_json
from bindu.web.problems import REFUSALS
from bindu.web.scene.schemas import ExampleList, ExampleName, SceneEntry, SceneList, ScenePath, Tags

COPY = " copy"
LONGEST_TAG = 40


def shelf_routes(desk: Desk) -> APIBlueprint:
    """Copies of scenes, scenes in the bin, and the demo's scenes as new ones."""
    api = desk.blueprint("shelf", "/api")

    @api.post("/scenes/<int:scene_id>/duplicate", responses={201: SceneEntry, **REFUSALS})
    def duplicate(path: ScenePath) -> Response:
        copy = _copied(desk.scenes.load(path.scene_id).scene)
        return desk.added(copy, picture=desk.pictures.of(path.scene_id))

    @api.put("/scenes/<int:scene_id>/tags", responses={200: SceneEntry, **REFUSALS})
    def tag(path: ScenePath, body: Tags) -> Response:
        desk.scenes.tag(path.scene_id, _checked_tags(body.tags))
        return desk.entry(path.scene_id)

    @api.get("/bin", responses={200: SceneList})
    def list_bin() -> Response:
        entries = [SceneEntry(**vars(entry)) for entry in desk.scenes.entries(binned=True)]
        return as_json(SceneList(scenes=entries))

    @api.post("/bin/<int:scene_id>/back", responses={200: SceneEntry, **REFUSALS})
    def bring_back(path: ScenePath) -> Response:
        desk.scenes.bring_back(path.scene_id)
        return desk.entry(path.scene_id)

    @api.delete("/bin/<int:scene_id>", responses={204: None, **REFUSALS})
    def remove_for_good(path: ScenePath) -> Response:
        desk.scenes.remove_for_good(path.scene_id)
        return Response(status=204)

    @api.get("/examples", responses={200: ExampleList})
    def list_examples() -> Response:
        return as_json(ExampleList(names=list(DEMO), starts=list(STARTS)))

    @api.post("/examples", responses={201: SceneEntry, **REFUSALS})
    def open_example(body: ExampleName) -> Response:
        if body.name not in DEMO:
            near = nearest_names(body.name, DEMO)
            text = f"there is no example {body.name!r}."
            raise Refusal(text, code="unknown", place="name", nearest=near)
        scene = read_scene(scene_file(body.name).read_bytes())
        return desk.added(scene, picture=portrait_file(body.name).read_bytes())

    return api


def _checked_tags(tags: Sequence[str]) -> list[str]:
    """Tags without blanks around them and without doubles, whatever their case, in their order.

    Raises:
        Refusal: for one that is empty, too long, or more than a line.
    """
    found: dict[str, str] = {}
    for tag in (tag.strip() for tag in tags):
        if not tag or len(tag) > LONGEST_TAG or not tag.isprintable():
            text = f"a tag is a line of 1 to {LONGEST_TAG} characters."
            raise Refusal(text, code="text", place="tags")
        found.setdefault(tag.casefold(), tag)
    return list(found.values())


def _copied(scene: Scene) -> Scene:
    """The scene under a name that says that it is a copy."""
    name = scene.name[: LONGEST_NAME - len(COPY)] + COPY
    return applied(scene, [ChangeScene(name=name)])
