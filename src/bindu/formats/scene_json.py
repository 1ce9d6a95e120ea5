"""Scenes to and from the text of a scene document."""

from __future__ import annotations

import json
from collections import Counter
from typing import Any, NoReturn

from pydantic import ValidationError

from bindu.core.refusal import Refusal
from bindu.core.scene.model import Scene
from bindu.formats.document import SceneDocument
from bindu.formats.from_document import scene_edits
from bindu.formats.to_document import document_of

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
        raise Refusal(f"a scene file has at most {LARGEST_FILE >> 20} MiB.", place="file")
    document = _checked(_parsed(text))
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


def _parsed(text: str | bytes) -> Any:
    def no_number(word: str) -> NoReturn:
        raise Refusal(f"{word} is no JSON number.", place="file")

    def no_twins(pairs: list[tuple[str, Any]]) -> dict[str, Any]:
        found = dict(pairs)
        if len(found) < len(pairs):
            twice, _ = Counter(name for name, _ in pairs).most_common(1)[0]
            raise Refusal(f"the field {twice!r} stands twice in one object.", place="file")
        return found

    try:
        plain = text.decode("utf-8-sig") if isinstance(text, bytes) else text
        return json.loads(plain, parse_constant=no_number, object_pairs_hook=no_twins)
    except UnicodeDecodeError as error:
        raise Refusal(f"it is not UTF-8 text (byte {error.start}).", place="file") from None
    except json.JSONDecodeError as error:
        raise Refusal(
            f"it is not JSON: {error.msg}.", place=f"line {error.lineno}", column=error.colno
        ) from None
    except RecursionError:
        raise Refusal("it is nested too deep.", place="file") from None
    except ValueError as error:
        raise Refusal(f"it holds a number that cannot be read: {error}.", place="file") from None


def _checked(data: Any) -> SceneDocument:
    if not isinstance(data, dict) or data.get("format") != "bindu scene":
        raise Refusal(
            'it is no Bindu scene: it must begin {"format": "bindu scene", …}.', place="file"
        )
    try:
        return SceneDocument.model_validate(data)
    except ValidationError as error:
        first = error.errors(include_url=False)[0]
        raise Refusal(f"{first['msg']}.", place=_place(data, first["loc"])) from None


def _place(data: Any, loc: tuple[str | int, ...]) -> str:
    """Where in the document, with the names of parts, steps and channels passed on the way."""
    words = ""
    here: Any = data
    for step in loc:
        try:
            here = here[step]
        except (KeyError, IndexError, TypeError):
            here = None
        words += f"[{step}]" if isinstance(step, int) else f".{step}"
        if isinstance(here, dict) and isinstance(step, int) and isinstance(here.get("name"), str):
            words += f" ({here['name'][:40]})"
    return words.lstrip(".")
