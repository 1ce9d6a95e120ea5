"""What a receiver is told beside its clips: which plays when, and what overrides them."""

from __future__ import annotations

import json
from collections.abc import Sequence
from typing import Annotated, Any, Literal

import numpy as np
from pydantic import BaseModel, ConfigDict, Field, ValidationError

from bindu.core.clips.motion import MotionClip
from bindu.core.curves.model import Array
from bindu.core.refusal import Refusal, nearest_names

Name = Annotated[str, Field(min_length=1, max_length=200)]
Number = Annotated[float, Field(allow_inf_nan=False, ge=-1e9, le=1e9)]
ANY = "any"
LONGEST = 3600.0
MOST_FRAMES = 100_000


class Entry(BaseModel):
    """Strict: unknown fields are refused."""

    model_config = ConfigDict(extra="forbid", allow_inf_nan=False, frozen=True)


class Move(Entry):
    """From a clip to another, when something comes to pass.

    Attributes:
        start, to: names of clips; start may be *any*.
        cause: an input is *over* or *under* a value; the *end* of the clip; a *button*, which is an
            input that passes from 0 to more.
        blend: seconds that the change takes.
    """

    start: Name
    to: Name
    cause: Literal["over", "under", "end", "button"]
    input: Name | None = None
    value: Number = 0.0
    blend: Annotated[float, Field(ge=0.0, le=60.0)] = 0.25


class Override(Entry):
    """What comes after the clips, in the order of the list.

    Attributes:
        kind: *look at* turns a part's axis to a place; *hold* keeps a part where it was in the
            world when the override came up; *add clip* adds what a clip does since its first
            frame; *author* shows what somebody tries while it plays.
        weight: how far it goes, 0 to 1; times the input ``by``, where that is given.
        parts: which it may write; of *look at* and *hold*, each of them.
        place: of *look at*, the inputs ``<place>.x``, ``.y`` and ``.z``, metres in the world.
        axis: of *look at*, the part's own axis.
        clip: of *add clip*.
        turn: of *author*, degrees about x, y, z on top of what is there.
    """

    name: Name
    kind: Literal["look at", "hold", "add clip", "author"]
    weight: Annotated[float, Field(ge=0.0, le=1.0)] = 1.0
    by: Name | None = None
    parts: list[Name] = []
    place: Name | None = None
    axis: tuple[Number, Number, Number] = (0.0, 0.0, 1.0)
    clip: Name | None = None
    turn: tuple[Number, Number, Number] = (0.0, 0.0, 0.0)
    on: bool = True


class Setup(Entry):
    """All that a receiver is told.

    Attributes:
        start: the clip that plays first; the first one when left out.
        once: names of clips that stop at their end; the others begin again.
        inputs: what each is while nobody says otherwise.
    """

    start: Name | None = None
    once: list[Name] = []
    moves: Annotated[list[Move], Field(max_length=500)] = []
    overrides: Annotated[list[Override], Field(max_length=100)] = []
    inputs: Annotated[dict[Name, Number], Field(max_length=500)] = {}


def read_setup(text: bytes | str) -> Setup:
    """The setup of a JSON text.

    Raises:
        Refusal: with the field at fault.
    """
    try:
        raw: Any = json.loads(text)
    except (ValueError, RecursionError):
        raise Refusal("it is no JSON.", code="text", place="setup") from None
    try:
        return Setup.model_validate(raw)
    except ValidationError as error:
        first = error.errors()[0]
        place = ".".join(str(step) for step in ("setup", *first["loc"]))
        raise Refusal(f"{first['msg'].lower()}.", code="text", place=place) from None


def checked_setup(setup: Setup, clips: Sequence[MotionClip]) -> None:
    """Refuses a setup that names clips that are not there.

    Raises:
        Refusal: with the place.
    """
    known = [clip.name for clip in clips]

    def clip(name: str | None, place: str) -> None:
        if name is not None and name not in known:
            near = nearest_names(name, known)
            text = f"the file has no clip {name!r}."
            raise Refusal(text, code="unknown", place=place, nearest=near)

    clip(setup.start, "start")
    for name in setup.once:
        clip(name, "once")
    for n, move in enumerate(setup.moves):
        clip(None if move.start == ANY else move.start, f"moves.{n}.start")
        clip(move.to, f"moves.{n}.to")
        if move.cause != "end" and move.input is None:
            text = f"a move by {move.cause} names an input."
            raise Refusal(text, code="choice", place=f"moves.{n}.input")
    for n, override in enumerate(setup.overrides):
        place = f"overrides.{n}"
        clip(override.clip, f"{place}.clip")
        if override.kind == "add clip" and override.clip is None:
            raise Refusal("it names a clip.", code="choice", place=f"{place}.clip")
        if override.kind == "look at" and override.place is None:
            text = "it names a place: an input with .x, .y and .z."
            raise Refusal(text, code="choice", place=f"{place}.place")
        if override.kind == "look at" and not any(override.axis):
            raise Refusal("its axis has no direction.", code="number", place=f"{place}.axis")


def missing_parts(setup: Setup, clips: Sequence[MotionClip]) -> list[str]:
    """The parts that overrides name and the file has not."""
    known = {part.name for clip in clips for part in clip.parts}
    named = (part for override in setup.overrides for part in override.parts)
    return list(dict.fromkeys(part for part in named if part not in known))


class Inputs:
    """What inputs are over time: each keeps a value until the next one comes.

    Attributes:
        said: times in seconds, ascending, and values, by name; a name's own numbers before the
            first time are the setup's.
    """

    def __init__(self, setup: Setup, said: dict[str, tuple[Array, Array]]) -> None:
        self._setup, self.said = setup, said

    def at(self, name: str, times: Array) -> Array:
        """An input at times, shape (F,)."""
        before = self._setup.inputs.get(name, 0.0)
        if name not in self.said or not len(self.said[name][0]):
            return np.full(len(times), before)
        when, values = self.said[name]
        rows = np.searchsorted(when, times + 1e-9, "right") - 1
        return np.asarray(np.where(rows >= 0, values[np.maximum(rows, 0)], before))
