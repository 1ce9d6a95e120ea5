"""The route of the bytes of references; they come in by edits, and never from elsewhere."""

from __future__ import annotations

from flask import Response
from flask_openapi3 import APIBlueprint

from bindu.core.refusal import Refusal
from bindu.web.desk import BINARY, Desk
from bindu.web.problems import REFUSALS
from bindu.web.scene.schemas import MediumPath


def reference_routes(desk: Desk) -> APIBlueprint:
    """Pictures and sounds that are pinned to frames."""
    api = desk.blueprint("references", "/api/scenes")

    @api.get(
        "/<int:scene_id>/media/<medium>",
        responses={200: {"content": {BINARY: {"schema": {"format": "binary"}}}}, **REFUSALS},
    )
    def medium(path: MediumPath) -> Response:
        found = desk.scenes.load(path.scene_id).scene.media.get(path.medium)
        if found is None:
            raise Refusal("this picture or sound is not in the scene.", code="gone", place="medium")
        # It is named by what it holds.
        headers = {"Cache-Control": "private, max-age=31536000, immutable"}
        return Response(found.plain, mimetype=found.type, headers=headers)

    return api
