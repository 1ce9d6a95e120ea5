"""What the settings of a step of any kind share, and the words that they use."""

from __future__ import annotations

from collections.abc import Callable, Set
from dataclasses import dataclass, replace
from typing import Literal, Protocol, Self

from bindu.core.scene.channels import AXES, Tap

Vector = tuple[float, float, float]
FormulaMode = Literal["set", "add", "scale"]
Group = Literal["translation", "rotation", "scale"]
Axis = Literal["x", "y", "z"]
SpaceKind = Literal["world", "parent", "local", "part"]

WORLD_KEY = "0"
"""Stands for the world where an identity of a part would stand; identities begin with letters."""
ALL_AXES: tuple[Axis, ...] = ("x", "y", "z")
ALL_GROUPS: tuple[Group, ...] = ("translation", "rotation", "scale")


@dataclass(frozen=True)
class StepInput:
    """A channel that a step has of its own beside its weight, ``<step>.<key>``.

    Attributes:
        key: what it is for; ``weight.<part>`` is the weight of a target.
        unit: ``°`` of angles.
        options: of a choice, the parts that it chooses from: an identity, ``0`` for the world,
            "" for the parent or nobody.
        in_frames: it counts frames, so that it goes along with the frame rate.
    """

    key: str
    default: float = 1.0
    low: float | None = 0.0
    high: float | None = 1.0
    options: tuple[str, ...] = ()
    unit: str = ""
    in_frames: bool = False


class Followed(Protocol):
    """Other identities, or names, in place of those that settings hold; what does not change stays
    as it is."""

    def part(self, old: str) -> str:
        """In place of a part's identity."""

    def channel(self, old: str) -> str:
        """In place of the identity of a channel of the step's own part."""

    def thing(self, old: str) -> str:
        """In place of the identity of a thing that steps are members of."""

    def text(self, old: str) -> str:
        """In place of a formula."""


class Settings:
    """What the settings of all kinds of steps offer."""

    kind: str

    @property
    def groups(self) -> tuple[Group, ...]:
        """The whole groups that the step writes, as vectors."""
        return ()

    @property
    def writes(self) -> tuple[str, ...]:
        """The channels that the step writes."""
        return tuple(f"{group}.{axis}" for group in self.groups for axis in AXES)

    @property
    def inputs(self) -> tuple[StepInput, ...]:
        """The channels that the step has of its own."""
        return ()

    @property
    def member_of(self) -> str | None:
        """The identity of the thing that the step belongs to: a set of driven keys, a lead
        group."""
        return None

    def retimed(self, to: Callable[[float], float]) -> Self:
        """The settings with the frames that they carry moved."""
        return self

    def followed(self, to: Followed) -> Self:
        """The settings with other identities in place of their own."""
        return self

    def without(self, gone: Set[str]) -> Self | None:
        """The settings without parts that go away; None where nothing would be left."""
        return self

    def in_order(self, turned: Callable[[Vector], Vector]) -> Self:
        """The settings with the angles that count in the owner's rotation order written
        otherwise."""
        return self


class ChannelSettings(Settings):
    """What the settings of all steps that write one channel share."""

    channel: str

    @property
    def writes(self) -> tuple[str, ...]:
        """The channels that the step writes."""
        return (self.channel,)


@dataclass(frozen=True)
class Offset:
    """A place as seen from another: metres, degrees in the owner's rotation order, factors."""

    translation: Vector = (0.0, 0.0, 0.0)
    rotation: Vector = (0.0, 0.0, 0.0)
    scale: Vector = (1.0, 1.0, 1.0)


@dataclass(frozen=True)
class Target:
    """What a constraint follows.

    Attributes:
        part: None for the world itself.
        tap: at which tap its place is read.
        back: it is read as it was one frame back.
        offset: of a full constraint, where the owner is as seen from this target.
    """

    part: str | None
    tap: Tap = "final"
    back: bool = False
    offset: Offset = Offset()

    def followed(self, to: Followed) -> Target:
        """The target as another part."""
        return self if self.part is None else replace(self, part=to.part(self.part))

    @property
    def weight_key(self) -> str:
        """The step's channel that weighs this target."""
        return f"weight.{self.part or WORLD_KEY}"


@dataclass(frozen=True)
class Space:
    """Where a place is counted: in the world, in the thing's own parent (from the parent's
    origin), locally (from its own rest), or in a part."""

    kind: SpaceKind = "world"
    part: str | None = None

    def followed(self, to: Followed) -> Space:
        """The space of another part."""
        return self if self.part is None else replace(self, part=to.part(self.part))
