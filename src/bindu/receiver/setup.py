"""The setup of a receiver: read, held against the clips that it has, and its inputs over time."""

from __future__ import annotations

import json
from collections.abc import Sequence
from typing import Any

import numpy as np
from pydantic import BaseModel, ConfigDict, ValidationError

from bindu.core.clips.motion import MotionClip
from bindu.core.curves.model import Array
from bindu.core.refusal import Refusal, nearest_names
from bindu.core.scene.receivers import ANY, Setup, check_setup

LONGEST = 3600.0
MOST_FRAMES = 100_000


class _Told(BaseModel):
    """Strict: unknown fields are refused."""

    model_config = ConfigDict(extra="forbid", allow_inf_nan=False)
    setup: Setup


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
        return _Told.model_validate({"setup": raw}).setup
    except ValidationError as error:
        first = error.errors()[0]
        place = ".".join(str(step) for step in first["loc"])
        raise Refusal(f"{first['msg'].lower()}.", code="text", place=place) from None


def checked_setup(setup: Setup, clips: Sequence[MotionClip]) -> None:
    """Refuses a setup that cannot be, or names clips that are not there.

    Raises:
        Refusal: with the place.
    """
    check_setup(setup)
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
    for n, override in enumerate(setup.overrides):
        clip(override.clip, f"overrides.{n}.clip")


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
