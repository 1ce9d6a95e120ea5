"""Edits of references: pictures and sounds that are pinned to frames."""

from __future__ import annotations

from dataclasses import dataclass, replace
from typing import Literal

from bindu.core.edits.base import finite, new_id, within
from bindu.core.refusal import Refusal
from bindu.core.scene.model import Scene
from bindu.core.scene.names import check_name
from bindu.core.scene.references import LARGEST_TOGETHER, Beside, Medium, PinnedReference

MOST_REFERENCES = 200


@dataclass(frozen=True)
class PutReference:
    """Pins a picture or a sound to frames, or changes the reference ``id``.

    Attributes:
        data: the bytes of a PNG, JPEG, WebP, WAV or Ogg file, base64; None: those that it has.
    """

    name: str
    data: str | None = None
    first: float = 0.0
    last: float | None = None
    opacity: float = 1.0
    place: Beside = "beside"
    id: str | None = None
    do: Literal["put reference"] = "put reference"

    def label(self, scene: Scene) -> str:
        """See ``Edit``."""
        return f"{'change' if self.id in scene.references else 'pin'} {self.name}"

    def apply(self, scene: Scene) -> Scene:
        """See ``Edit``."""
        check_name(self.name, "reference")
        others = {i: one for i, one in scene.references.items() if i != self.id}
        if any(one.name == self.name for one in others.values()):
            raise Refusal("there is a reference of this name.", code="taken", place=self.name)
        if len(others) >= MOST_REFERENCES:
            text = f"a scene holds at most {MOST_REFERENCES} references."
            raise Refusal(text, code="too much")
        finite(self.first, "first")
        if self.last is not None and finite(self.last, "last") < self.first:
            raise Refusal("its last frame lies before its first.", code="number", place="last")
        if not 0.0 <= finite(self.opacity, "opacity") <= 1.0:
            raise Refusal("it is between 0 and 1.", code="number", place="opacity")
        old = scene.references.get(self.id or "")
        media = dict(scene.media)
        if self.data is not None:
            made = Medium.of(self.data)
            media[made.id] = made
            medium = made.id
        elif old is not None:
            medium = old.medium
        else:
            raise Refusal("give it a picture or a sound.", code="choice", place=self.name)
        key = old.id if old else new_id("r", scene.references, self.id)
        pinned = PinnedReference(
            key, self.name, medium, self.first, self.last, self.opacity, self.place
        )
        return _tidy(replace(scene, references=within(others, key, pinned), media=media))


@dataclass(frozen=True)
class RemoveReference:
    """Takes a reference away, and its bytes with the last one that shows them."""

    id: str
    do: Literal["remove reference"] = "remove reference"

    def label(self, scene: Scene) -> str:
        """See ``Edit``."""
        one = scene.references.get(self.id)
        return f"delete {one.name if one else self.id}"

    def apply(self, scene: Scene) -> Scene:
        """See ``Edit``."""
        if self.id not in scene.references:
            raise Refusal("there is no such reference any more.", code="gone", place=self.id)
        left = {i: one for i, one in scene.references.items() if i != self.id}
        return _tidy(replace(scene, references=left))


ReferenceEdit = PutReference | RemoveReference


def _tidy(scene: Scene) -> Scene:
    """The scene without bytes that nothing shows, and not with too many of them."""
    shown = {one.medium for one in scene.references.values()}
    media = {i: one for i, one in scene.media.items() if i in shown}
    size = sum(one.size for one in media.values())
    if size > LARGEST_TOGETHER:
        text = f"pictures and sounds of a scene have at most {LARGEST_TOGETHER // 2**20} MiB."
        raise Refusal(text, code="too much", place="data")
    return replace(scene, media=media)
