"""The routes of scenes' pictures: the view makes one when a scene is looked at."""

from __future__ import annotations

from flask import Response, request
from flask_openapi3 import APIBlueprint

from bindu.core.refusal import Refusal
from bindu.core.scene.references import media_type
from bindu.web.desk import BINARY, Desk
from bindu.web.problems import REFUSALS
from bindu.web.scene.schemas import PictureOf, ScenePath

LARGEST_PICTURE = 200_000
"""Bytes."""


def picture_routes(desk: Desk) -> APIBlueprint:
    """A scene's picture, in and out."""
    api = desk.blueprint("pictures", "/api/scenes")

    @api.put("/<int:scene_id>/picture", responses={204: None, **REFUSALS})
    def put_picture(path: ScenePath, query: PictureOf) -> Response:
        image = request.get_data(cache=False)
        if len(image) > LARGEST_PICTURE:
            text = f"a picture has at most {LARGEST_PICTURE:,} bytes, not {len(image):,}."
            raise Refusal(text, code="too much", place="picture")
        type_of(image)
        desk.pictures.put(path.scene_id, image, query.revision)
        return Response(status=204)

    @api.get(
        "/<int:scene_id>/picture",
        responses={200: {"content": {BINARY: {"schema": {"format": "binary"}}}}, **REFUSALS},
    )
    def picture(path: ScenePath) -> Response:
        image = desk.pictures.of(path.scene_id)
        if image is None:
            raise Refusal("there is no picture of it yet.", code="gone", place="picture")
        # The address names the revision that it shows.
        headers = {"Cache-Control": "private, max-age=31536000, immutable"}
        return Response(image, mimetype=type_of(image), headers=headers)

    return api


def type_of(image: bytes) -> str:
    """The type of a picture, by how its bytes begin.

    Raises:
        Refusal: for any other than PNG, JPEG and WebP.
    """
    kind = media_type(image)
    if not kind.startswith("image/"):
        raise Refusal("send a PNG, JPEG or WebP.", code="text", place="picture")
    return kind
