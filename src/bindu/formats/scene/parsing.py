"""The text of a scene document read piece by piece: one part after the other, and nothing built
that could not be part of one, so that a file needs memory in proportion to its size."""

from __future__ import annotations

import json
import re
from collections import Counter
from collections.abc import Iterator, Mapping
from typing import Any, NoReturn

from pydantic import ValidationError

from bindu.core.refusal import Refusal
from bindu.formats.scene.document import PartEntry, SceneDocument

MOST_PARTS = 5_000
MOST_IN_PART: Mapping[str, int] = {
    "channels": 500,
    "steps": 20_000,
    "curves": 20_000,
    "values": 20_000,
    "pose": 20_000,
    "locked": 20_000,
    "layers": 100,
}
"""How many entries a field of a part has at most."""
MOST_LISTED = 20_000
"""How many entries any other list of a document has at most."""
MOST_MEMORY = 9
"""Bytes that the plain data of a text needs at most for each of its characters, roughly counted."""
FREE = 1_000_000
"""Bytes that are never too many."""
HALF_CHARACTER = re.compile(r"\\u[dD][89a-fA-F]")
SPACE = re.compile(r"[ \t\n\r]*")


def document_in(plain: str) -> SceneDocument:
    """The document in a text.

    Raises:
        Refusal: naming the line, or the part and field, at fault; at the first one.
    """
    if _memory(plain) > MOST_MEMORY * len(plain) + FREE:
        raise Refusal("it is no Bindu scene: it holds little but brackets.", place="file")
    try:
        data, parts = _read(plain)
        return SceneDocument.model_validate({**data, "parts": parts})
    except ValidationError as error:
        first = error.errors(include_url=False)[0]
        raise Refusal(_said(first), place=_place(data, first["loc"])) from None
    except json.JSONDecodeError as error:
        raise Refusal(
            f"it is not JSON: {error.msg}.",
            code="text",
            place=f"line {error.lineno}",
            column=error.colno,
        ) from None
    except RecursionError:
        raise Refusal("it is nested too deep.", code="too much", place="file") from None


def _memory(text: str) -> int:
    """Roughly how many bytes the plain data of a text would need, counted before anything is built:
    objects, lists, fields beyond those that a scene's objects have, and elements of lists."""
    objects, lists, fields = text.count("{"), text.count("["), text.count('":')
    elements = max(text.count(",") - fields, 0)
    others = max(fields - 6 * objects, 0)
    return 190 * objects + 80 * lists + 100 * others + 40 * elements + 60 * text.count('","')


def decoded(text: str | bytes) -> str:
    """The text of a file.

    Raises:
        Refusal: where it is not UTF-8.
    """
    try:
        return text.decode("utf-8-sig") if isinstance(text, bytes) else text
    except UnicodeDecodeError as error:
        raise Refusal(f"it is not UTF-8 text (byte {error.start}).", place="file") from None


def _read(text: str) -> tuple[dict[str, Any], list[PartEntry]]:
    """All of a document but its parts as plain data, and its parts."""
    data: dict[str, Any] = {}
    parts: list[PartEntry] = []
    decoder = _Decoder(text)
    for name in decoder.members():
        if name in data or (name == "parts" and parts):
            raise Refusal(f"the field {name!r} stands twice in one object.", place="file")
        if name == "parts" and decoder.at("["):
            for raw in decoder.elements():
                parts.append(_part(raw, len(parts)))
        else:
            data[name] = decoder.value()
            if isinstance(data[name], list) and len(data[name]) > MOST_LISTED:
                raise Refusal(f"has more than {MOST_LISTED:,} entries.", place=name)
    if data.get("format") != "bindu scene":
        raise Refusal(
            'it is no Bindu scene: it must begin {"format": "bindu scene", …}.',
            code="text",
            place="file",
        )
    return data, parts


def _part(raw: Any, number: int) -> PartEntry:
    place = f"parts[{number}]"
    if number >= MOST_PARTS:
        raise Refusal(
            f"a scene holds at most {MOST_PARTS:,} parts.", code="too much", place="parts"
        )
    if isinstance(raw, dict):
        name = raw.get("name")
        place += f" ({name[:40]})" if isinstance(name, str) else ""
        for field, most in MOST_IN_PART.items():
            if isinstance(raw.get(field), list | dict) and len(raw[field]) > most:
                raise Refusal(f"has more than {most:,} entries.", place=f"{place}.{field}")
    try:
        return PartEntry.model_validate(raw)
    except ValidationError as error:
        first = error.errors(include_url=False)[0]
        inner = _place(raw, first["loc"])
        where = f"{place}.{inner}" if inner else place
        raise Refusal(_said(first), place=where) from None


def _said(error: Any) -> str:
    return f"{str(error['msg']).removeprefix('Value error, ')}."


class _Decoder:
    """Goes along the text of one JSON object, value by value."""

    def __init__(self, text: str) -> None:
        self._text, self._at = text, 0
        self._json = json.JSONDecoder(parse_constant=_no_number, object_pairs_hook=_no_twins)

    def members(self) -> Iterator[str]:
        """The names in the object; after each, its value must be taken."""
        if not self.at("{"):
            # What is no object, or no JSON at all, is said by the decoder itself.
            self.value()
            raise Refusal(
                'it is no Bindu scene: it must begin {"format": "bindu scene", …}.',
                code="text",
                place="file",
            )
        self._at += 1
        more = not self.at("}")
        while more:
            name = self.value() if self.at('"') else self._expected("a field's name in quotes")
            self._take(":")
            yield name
            more = self._more("}")
        self._take("}")
        self._skip()
        if self._at < len(self._text):
            raise json.JSONDecodeError("Extra data", self._text, self._at)

    def elements(self) -> Iterator[Any]:
        """The elements of the list that begins here."""
        self._take("[")
        more = not self.at("]")
        while more:
            yield self.value()
            more = self._more("]")
        self._take("]")

    def value(self) -> Any:
        """The value that begins here."""
        self._skip()
        try:
            found, end = self._json.raw_decode(self._text, self._at)
        except ValueError as error:
            if isinstance(error, json.JSONDecodeError):
                raise
            text = f"it holds a number that cannot be read: {error}."
            raise Refusal(text, code="text", place="file") from None
        if HALF_CHARACTER.search(self._text, self._at, end):
            _refuse_half_characters(found)
        self._at = end
        return found

    def at(self, sign: str) -> bool:
        """Whether a sign comes next."""
        self._skip()
        return self._text.startswith(sign, self._at)

    def _more(self, end: str) -> bool:
        if self.at(end):
            return False
        self._take(",")
        return True

    def _take(self, sign: str) -> None:
        if not self.at(sign):
            self._expected(f"{sign!r}")
        self._at += 1

    def _skip(self) -> None:
        found = SPACE.match(self._text, self._at)
        self._at = found.end() if found else self._at

    def _expected(self, what: str) -> NoReturn:
        raise json.JSONDecodeError(f"Expecting {what}", self._text, self._at)


def _no_number(word: str) -> NoReturn:
    raise Refusal(f"{word} is no JSON number.", code="text", place="file")


def _no_twins(pairs: list[tuple[str, Any]]) -> dict[str, Any]:
    found = dict(pairs)
    if len(found) < len(pairs):
        twice, _ = Counter(name for name, _ in pairs).most_common(1)[0]
        raise Refusal(f"the field {twice!r} stands twice in one object.", place="file")
    return found


def _refuse_half_characters(data: Any) -> None:
    try:
        json.dumps(data, ensure_ascii=False).encode()
    except UnicodeEncodeError:
        raise Refusal("it holds half of a character (\\ud800 … \\udfff).", place="file") from None


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
