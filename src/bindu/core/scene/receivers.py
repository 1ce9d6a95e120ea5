"""What a receiver is told beside its clips: which plays when, and what overrides them."""

from __future__ import annotations

import math
from collections.abc import Collection, Mapping
from dataclasses import dataclass, field, fields, replace
from typing import Literal

from bindu.core.refusal import Refusal
from bindu.core.scene.settings import Vector

ANY = "any"
"""Any clip, as the start of a move."""
MOST_MOVES = 500
MOST_OVERRIDES = 100
MOST_NAMES = 5000
LONGEST = 200
LARGEST = 1e9
MovedChannel = Literal[
    "translation.x", "translation.y", "translation.z", "rotation.x", "rotation.y", "rotation.z"
]


@dataclass(frozen=True)
class Move:
    """From a clip to another, when something comes to pass.

    Attributes:
        start, to: names of clips; start may be *any*.
        cause: an input is *over* or *under* a value; the *end* of the clip; a *button*, which is an
            input that passes from 0 to more.
        blend: seconds that the change takes, 0 to 60.
    """

    start: str
    to: str
    cause: Literal["over", "under", "end", "button"]
    input: str | None = None
    value: float = 0.0
    blend: float = 0.25


@dataclass(frozen=True)
class Override:
    """What comes after the clips, in the order of the list.

    Attributes:
        kind: *look at* turns a part's axis to a place; *hold* keeps a part where it was in the
            world when the override came up; *by input* moves parts by their names; *add clip* adds
            what a clip does since its first frame; *author* shows what somebody tries while it
            plays.
        weight: how far it goes, 0 to 1; times the input ``by``, where that is given.
        parts: names of those that it may write; of all kinds but *add clip* and *author* each of
            them. The file need not have them all.
        place: of *look at*, the inputs ``<place>.x``, ``.y`` and ``.z``, metres in the world.
        axis: of *look at*, the part's own axis.
        clip: of *add clip*.
        turn: of *author*, degrees about x, y, z on top of what is there.
        input, channel, factor: of *by input*: the channel goes on by factor, metres or degrees,
            times the input; translations along the axes of the part's rest, rotations about the
            part's own.
    """

    name: str
    kind: Literal["look at", "hold", "by input", "add clip", "author"]
    weight: float = 1.0
    by: str | None = None
    parts: tuple[str, ...] = ()
    place: str | None = None
    axis: Vector = (0.0, 0.0, 1.0)
    clip: str | None = None
    turn: Vector = (0.0, 0.0, 0.0)
    on: bool = True
    input: str | None = None
    channel: MovedChannel = "rotation.x"
    factor: float = 1.0


@dataclass(frozen=True)
class Setup:
    """All that a receiver is told.

    Attributes:
        start: the clip that plays first; the first one when left out.
        once: names of clips that stop at their end; the others begin again.
        inputs: what each is while nobody says otherwise.
    """

    start: str | None = None
    once: tuple[str, ...] = ()
    moves: tuple[Move, ...] = ()
    overrides: tuple[Override, ...] = ()
    inputs: Mapping[str, float] = field(default_factory=dict)


def with_clip_renamed(setup: Setup, old: str, new: str) -> Setup:
    """The setup in which a clip has another name. A move from a clip that is called like *any* is
    one from any clip, and stays so."""

    def now(name: str) -> str:
        return new if name == old else name

    return replace(
        setup,
        start=None if setup.start is None else now(setup.start),
        once=tuple(map(now, setup.once)),
        moves=tuple(
            replace(one, start=one.start if one.start == ANY else now(one.start), to=now(one.to))
            for one in setup.moves
        ),
        overrides=tuple(
            one if one.clip is None else replace(one, clip=now(one.clip)) for one in setup.overrides
        ),
    )


def check_setup(setup: Setup) -> None:
    """Refuses what no receiver could be told, whatever clips it plays.

    Raises:
        Refusal: with the field at fault.
    """
    _few(setup.moves, MOST_MOVES, "moves")
    _few(setup.overrides, MOST_OVERRIDES, "overrides")
    _few(setup.inputs, MOST_MOVES, "inputs")
    _check_one(setup, "")
    for name, value in setup.inputs.items():
        _check_text(name, "inputs")
        _check_number(value, f"inputs.{name[:80]}")
    for n, move in enumerate(setup.moves):
        _check_one(move, f"moves.{n}.")
        if not 0.0 <= move.blend <= 60.0:
            raise Refusal("a blend takes 0 to 60 s.", code="number", place=f"moves.{n}.blend")
        if move.cause != "end" and move.input is None:
            text = f"a move by {move.cause} names an input."
            raise Refusal(text, code="choice", place=f"moves.{n}.input")
    for n, override in enumerate(setup.overrides):
        _check_one(override, f"overrides.{n}.")
        _check_override(override, f"overrides.{n}")


def _check_override(override: Override, place: str) -> None:
    if not 0.0 <= override.weight <= 1.0:
        raise Refusal("a weight is 0 to 1.", code="number", place=f"{place}.weight")
    needed = {
        "look at": ("place", "it names a place: an input with .x, .y and .z."),
        "add clip": ("clip", "it names a clip."),
        "by input": ("input", "it names an input."),
    }
    if override.kind in needed:
        name, text = needed[override.kind]
        if getattr(override, name) is None:
            raise Refusal(text, code="choice", place=f"{place}.{name}")
    if override.kind == "look at" and not any(override.axis):
        raise Refusal("its axis has no direction.", code="number", place=f"{place}.axis")


def _check_one(thing: Setup | Move | Override, place: str) -> None:
    """Looks at all texts and numbers that a thing holds itself."""
    for one in fields(thing):
        value = getattr(thing, one.name)
        many = value if isinstance(value, tuple) else (value,)
        _few(many, MOST_NAMES, f"{place}{one.name}")
        for part in many:
            if isinstance(part, str):
                _check_text(part, f"{place}{one.name}")
            elif isinstance(part, float | int):
                _check_number(part, f"{place}{one.name}")


def _few(things: Collection[object], most: int, place: str) -> None:
    if len(things) > most:
        raise Refusal(f"it holds at most {most:,}.", code="too much", place=place)


def _check_text(text: str, place: str) -> None:
    if not 1 <= len(text) <= LONGEST:
        text = f"a name has 1 to {LONGEST} characters."
        raise Refusal(text, code="text", place=place)


def _check_number(value: float, place: str) -> None:
    if not math.isfinite(value) or abs(value) > LARGEST:
        text = f"it is a number from −{LARGEST:.0e} to {LARGEST:.0e}."
        raise Refusal(text, code="number", place=place)
