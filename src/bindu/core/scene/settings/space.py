"""A list of spaces."""

from __future__ import annotations

from collections.abc import Callable, Mapping, Set
from dataclasses import dataclass, replace
from typing import Literal, Self

from bindu.core.scene.channels import Tap
from bindu.core.scene.settings.base import WORLD_KEY, Followed, Group, Settings, StepInput, Vector

Carries = Literal["full", "position", "rotation"]
Keep = Literal["offset", "keys", "jump"]

LONGEST_BLEND = 10_000
"""Frames over which a handover blends at most."""


CARRIED: Mapping[str, tuple[Group, ...]] = {
    "full": ("translation", "rotation"),
    "position": ("translation",),
    "rotation": ("rotation",),
}


@dataclass(frozen=True)
class Handover:
    """What a space step keeps at a change of spaces.

    Attributes:
        frame: from which frame on.
        translation, rotation: metres and degrees (xyz) in the new space, by which the part is
            moved so that it does not jump.
        blend: over how many frames the old place goes over to the new one.
        keep: how the place is kept: by this offset, by keys on the part's own channels on this
            frame and the one before, or not at all.
    """

    frame: float
    translation: Vector = (0.0, 0.0, 0.0)
    rotation: Vector = (0.0, 0.0, 0.0)
    blend: int = 0
    keep: Keep = "offset"


@dataclass(frozen=True)
class SpaceSettings(Settings):
    """Lets a part move in one of several spaces at a time; the channel ``space`` says which.

    Attributes:
        spaces: identities of parts; "" for the own parent, ``0`` for the world.
        carries: whether position, rotation or both move with the space.
        handovers: by frame, ascending.
    """

    spaces: tuple[str, ...] = ("", WORLD_KEY)
    carries: Carries = "full"
    handovers: tuple[Handover, ...] = ()
    tap: Tap = "final"
    kind: Literal["space"] = "space"

    @property
    def groups(self) -> tuple[Group, ...]:
        """See ``Settings``."""
        return CARRIED[self.carries]

    @property
    def inputs(self) -> tuple[StepInput, ...]:
        """Which space is active."""
        return (StepInput("space", 0.0, 0.0, len(self.spaces) - 1.0, self.spaces),)

    def retimed(self, to: Callable[[float], float]) -> Self:
        """The settings with handovers on other frames, their blends as much longer or shorter; of
        two that meet the later one stays."""
        moved = {}
        for one in self.handovers:
            frame = to(one.frame)
            blend = min(max(round(to(one.frame + one.blend) - frame), 0), LONGEST_BLEND)
            moved[frame] = replace(one, frame=frame, blend=blend)
        return replace(self, handovers=tuple(moved[frame] for frame in sorted(moved)))

    def followed(self, to: Followed) -> Self:
        """See ``Settings``."""
        named = ("", WORLD_KEY)
        return replace(self, spaces=tuple(s if s in named else to.part(s) for s in self.spaces))

    def without(self, gone: Set[str]) -> Self | None:
        """See ``Settings``: without spaces."""
        left = tuple(space for space in self.spaces if space not in gone)
        return replace(self, spaces=left) if len(left) > 1 else None
