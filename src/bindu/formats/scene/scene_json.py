"""Scenes to and from the text of a scene document."""

from __future__ import annotations

import json
from typing import Any

from bindu.core.refusal import Refusal
from bindu.core.scene.model import Scene
from bindu.formats.scene.document import SceneDocument
from bindu.formats.scene.from_document import scene_edits
from bindu.formats.scene.parsing import decoded, document_in
from bindu.formats.scene.to_document import document_of

LARGEST_FILE = 64 * 1024 * 1024


def write_scene(scene: Scene) -> str:
    """The scene document as text; the same scene always gives the same text."""
    data = document_of(scene).model_dump(mode="json", exclude_defaults=True)
    head: dict[str, Any] = {
        "format": "bindu scene",
        "version": 1,
        "name": scene.name,
        "fps": scene.fps,
    }
    head["range"] = [scene.first, scene.last]
    return json.dumps({**head, **data}, indent=1, ensure_ascii=False) + "\n"


def read_scene(text: str | bytes) -> Scene:
    """The scene of a document, checked as if a person had made it edit by edit.

    Raises:
        Refusal: naming the line, or the part and field, at fault.
    """
    if len(text) > LARGEST_FILE:
        raise Refusal(
            f"a scene file has at most {LARGEST_FILE >> 20} MiB.", code="too much", place="file"
        )
    # Its bytes are let go before anything is made of its text.
    text = decoded(text)
    document = document_in(text)
    del text
    scene = Scene()
    for place, edit in scene_edits(document):
        try:
            scene = edit.apply(scene)
        except Refusal as refusal:
            inner = f" · {refusal.place}" if refusal.place else ""
            raise refusal.at(place + inner) from None
    return scene


def schema_text() -> str:
    """The JSON Schema of scene documents."""
    schema = SceneDocument.model_json_schema()
    schema["$schema"] = "https://json-schema.org/draft/2020-12/schema"
    return json.dumps(schema, indent=2) + "\n"
