"""The identity of a value of the graph: of what, which quantity, at which stage."""

from __future__ import annotations

from functools import lru_cache
from typing import Literal, NamedTuple

from bindu.core.scene.channels import AXES, TAPS, Tap
from bindu.core.scene.parts import Step

SIGNED_WAYS = tuple(f"travelled {axis}" for axis in AXES)
PHASE = "phase"
WORLD_QUANTITIES = ("world position", "world matrix", "travelled", "speed", *SIGNED_WAYS, PHASE)
QUATERNION = "quaternion"
SOLVE = "solve"


class Stage(NamedTuple):
    """How far on its way from Keyed to Final a value is. Two stages are the same only when both
    kind and name are, so no identity can be taken for another kind of stage.

    Kinds: ``own``, a channel's own curve or value; ``default``, the rest pose; ``tap``, right
    after the zone ``name``; ``step``, right after the step ``name``; ``before``, what comes in to
    that step; ``back``, the tap ``name`` one frame back; ``owner``, what the thing ``name`` solves
    for all its members.
    """

    kind: Literal["own", "default", "tap", "step", "before", "back", "owner"]
    name: str = ""

    def __str__(self) -> str:
        """As one text: a tap by its name alone; see ``stage_of``."""
        if self.kind == "tap":
            return self.name
        return f"{self.kind} {self.name}" if self.name else self.kind


OWN = Stage("own")
DEFAULT = Stage("default")


class Read(NamedTuple):
    """What something reads: a channel, a group, or a part's world position and the like, at a
    tap or another stage; ``back``: as it was one frame back."""

    part: str
    quantity: str
    tap: Tap | Stage
    back: bool = False


class NodeId(NamedTuple):
    """A value of the graph: of which part, which quantity, and at which stage of it.

    The quantity is a channel's id; a group (translation, scale, rotation as angles, and
    ``quaternion`` for the rotation as it is held from Bound on); ``world position``,
    ``world matrix``, ``travelled``, ``speed``; or ``solve`` for what is
    solved once for several parts. Channels have the
    stages ``own``, ``default`` and those of their steps, groups and world values those of taps
    too.
    """

    part: str
    quantity: str
    stage: Stage


_TAPS: dict[str, Tap] = {tap: tap for tap in TAPS}
_STAGES = {tap: Stage("tap", tap) for tap in TAPS}


def at_tap(tap: Tap) -> Stage:
    """The stage right after a zone."""
    return _STAGES[tap]


def after(step: Step) -> Stage:
    """The stage right after a step."""
    return _at_step("step", step.id)


def before(step: Step) -> Stage:
    """The stage of what comes in to a step that writes groups."""
    return _at_step("before", step.id)


@lru_cache(maxsize=1 << 16)
def _at_step(kind: Literal["step", "before"], step: str) -> Stage:
    """Stages of steps are asked for over and over."""
    return Stage(kind, step)


def stage_of(text: str) -> Stage | None:
    """The stage that ``str`` of it gives; None where there is none."""
    if text in _STAGES:
        return _STAGES[text]
    kind, _, name = text.partition(" ")
    if kind in ("own", "default") and not name:
        return OWN if kind == "own" else Stage("default")
    if kind in ("step", "before") and name:
        return Stage("step" if kind == "step" else "before", name)
    if kind == "back" and name in _STAGES:
        return Stage("back", name)
    return Stage("owner", name) if kind == "owner" and name else None


def tap_of(stage: Tap | Stage) -> Tap | None:
    """The tap that a stage is, or is one frame back from; None where it is none."""
    if not isinstance(stage, Stage):
        return stage
    return _TAPS[stage.name] if stage.kind in ("tap", "back") else None
