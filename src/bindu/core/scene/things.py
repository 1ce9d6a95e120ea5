"""What a scene holds beside parts, steps and curves."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal

from bindu.core.scene.channels import ChannelRef, Tap, Zone
from bindu.core.scene.settings import LayerMode, StepInput, Vector


@dataclass(frozen=True)
class Layer:
    """Curves on top of others, adding to them or replacing them.

    Its weight is a channel of the part ``part``, where an animator finds it. A layer holds the
    channels that have a curve on it. When any layer is solo, the others are silent.
    """

    id: str
    name: str
    part: str
    position: int = 0
    mode: LayerMode = "add"
    on: bool = True
    solo: bool = False


@dataclass(frozen=True)
class PartSet:
    """A named choice: whole parts, and single channels as a key scope."""

    id: str
    name: str
    colour: str = "#C9A66B"
    parts: tuple[str, ...] = ()
    channels: tuple[ChannelRef, ...] = ()


@dataclass(frozen=True)
class DrivenKeys:
    """A set of driven keys: a driver moves many channels; its rows are steps that name it.

    Attributes:
        driver: a formula, with identities in its braces; often just one channel.
        low, high: between which values of the driver it is tried.
        stops: the driver values of the columns, ascending.
    """

    id: str
    name: str
    driver: str = "0"
    low: float = 0.0
    high: float = 1.0
    stops: tuple[float, ...] = (0.0, 1.0)


@dataclass(frozen=True)
class Probe:
    """A slip probe: a point that should stick to its ground.

    Attributes:
        point: metres; of a fixed point in the part's own axes, of a rolling one from the part's
            origin to the place of contact, in the ground's axes.
        rolling: the part rolls, and the point of contact stays where it is below its origin.
        ground: the part that it should stick to; None for the world.
        stands: of a fixed point, first and last frames between which it is said to stand,
            ascending, beside those where it is seen to.
    """

    id: str
    name: str
    part: str
    point: Vector = (0.0, 0.0, 0.0)
    rolling: bool = False
    ground: str | None = None
    stands: tuple[tuple[int, int], ...] = ()


@dataclass(frozen=True)
class LeadGroup:
    """Parts of which any one can carry the others; its members are steps that name it.

    Attributes:
        part: whose channels ``<group>.position`` and ``<group>.rotation`` say who leads: 0 for
            nobody, 1 for the first member, and so on.
        members: parts, in the order of the choice.
    """

    id: str
    name: str
    part: str
    members: tuple[str, ...] = ()

    @property
    def inputs(self) -> tuple[StepInput, ...]:
        """Who leads the position, and who the rotation."""
        options = ("", *self.members)
        high = float(len(self.members))
        return tuple(StepInput(key, 0.0, 0.0, high, options) for key in ("position", "rotation"))


@dataclass(frozen=True)
class Limb:
    """A chain of parts that reaches for a goal, by IK on top of FK; the parts of its chain have
    steps that name it.

    Attributes:
        part: whose channels ``<limb>.blend`` and so on steer it.
        chain: base, middle and end, or more; each below the one before.
        goal: what its end reaches for.
        pole: to where its middle points; None: nowhere.
        axis: about which the middle bends, in its own axes, of length 1; a positive turn bends to
            the limb's own side.
        limits: the least and the largest bend, degrees from straight; None: it bends freely.
        offset: the end's rotation as seen from the goal's, degrees in the end's rotation order.
        goal_tap, goal_back, pole_tap, pole_back: how goal and pole are read.
        toes: parts behind the end that a foot turns while IK is on, each with the helper that it
            goes with; they are matched with the chain.
    """

    id: str
    name: str
    part: str
    chain: tuple[str, ...] = ()
    goal: str = ""
    pole: str | None = None
    axis: Vector = (0.0, 0.0, 1.0)
    limits: tuple[float, float] | None = None
    offset: Vector = (0.0, 0.0, 0.0)
    goal_tap: Tap = "final"
    goal_back: bool = False
    pole_tap: Tap = "final"
    pole_back: bool = False
    toes: tuple[tuple[str, str], ...] = ()

    @property
    def members(self) -> tuple[str, ...]:
        """The parts whose steps name it."""
        return self.chain

    @property
    def inputs(self) -> tuple[StepInput, ...]:
        """What steers it."""
        return (
            StepInput("blend", 1.0),
            StepInput("stretch", 0.0),
            StepInput("soft", 0.0, 0.0, 0.3),
            StepInput("turn", 0.0, None, None, unit="°"),
            StepInput("end follows", 1.0),
        )


@dataclass(frozen=True)
class GaitFoot:
    """A foot of a gait.

    Attributes:
        part: what walks: the goal of a limb, or any part.
        phase: at which share of a cycle it lands, 0 to 1.
        offset: from the root's place on the ground to the foot as it stands: to the side, up and
            ahead, metres.
        turn: its rotation as seen from the root's heading, degrees, in the order xyz.
    """

    part: str
    phase: float = 0.0
    offset: Vector = (0.0, 0.0, 0.0)
    turn: Vector = (0.0, 0.0, 0.0)


@dataclass(frozen=True)
class Gait:
    """Walking by rule: feet that go along with a root's path on a ground; they have steps that name
    it.

    Attributes:
        part: the root, whose channels ``<gait>.step length`` and so on are its numbers.
        feet: in the order in which they were chosen.
        ground: the part whose plane y = 0 they walk on; None: the world's.
        forward: the root's own axis that looks ahead.
        width: between the feet of both sides as they stand, metres.
    """

    id: str
    name: str
    part: str
    feet: tuple[GaitFoot, ...] = ()
    ground: str | None = None
    forward: Vector = (0.0, 0.0, 1.0)
    width: float = 0.0

    @property
    def members(self) -> tuple[str, ...]:
        """The parts whose steps name it."""
        return tuple(foot.part for foot in self.feet)

    @property
    def inputs(self) -> tuple[StepInput, ...]:
        """Its numbers: metres, shares, degrees."""
        return (
            StepInput("step length", 0.5, 0.0, None),
            StepInput("stance", 0.6, 0.05, 0.95),
            StepInput("lift", 0.08, 0.0, None),
            StepInput("heel roll", 15.0, None, None, unit="°"),
            StepInput("toe roll", 25.0, None, None, unit="°"),
            StepInput("width", self.width, 0.0, None),
            StepInput("hip rise", 0.02, None, None),
            StepInput("hip sway", 0.02, None, None),
            StepInput("hip turn", 6.0, None, None, unit="°"),
            StepInput("arm swing", 20.0, None, None, unit="°"),
            StepInput("lean", 0.0, None, None, unit="°"),
            StepInput("size", 1.0, 0.001, None),
            StepInput("turn out", 0.0, None, None, unit="°"),
            StepInput("weight", 1.0),
        )


@dataclass(frozen=True)
class StepVariant:
    """Another place of a step in the order, or on or off; what is None stays as it is."""

    step: str
    zone: Zone | None = None
    position: int = 0
    on: bool | None = None


@dataclass(frozen=True)
class WhatIf:
    """Two states of some steps that are worth comparing."""

    id: str
    name: str
    one: tuple[StepVariant, ...] = ()
    other: tuple[StepVariant, ...] = ()


@dataclass(frozen=True)
class CheckSetting:
    """How a check looks at the scene, where that differs from its own defaults.

    Attributes:
        id: the check's name.
        on: whether it looks.
        limits: its thresholds by their keys.
    """

    id: str
    on: bool = True
    limits: tuple[tuple[str, float], ...] = ()


Length = Literal["m", "cm", "mm"]
Angle = Literal["degrees", "turns"]


@dataclass(frozen=True)
class Units:
    """The units in which people look at a scene's numbers; the numbers themselves are in metres and
    degrees."""

    id: str = "units"
    length: Length = "m"
    angle: Angle = "degrees"


@dataclass(frozen=True)
class Accepted:
    """A finding that stays as it is, with a reason.

    Attributes:
        check: the check's name.
        part: where.
        what: what of the part, by name, for people.
        span: first and last frame; None where it concerns all.
        amount: how much it was when it was accepted.
        cause: what it comes from, by identities, so that it stays accepted when something gets
            another name (see ``Finding.cause``); empty: told by ``what``.
    """

    id: str
    check: str
    part: str
    what: str
    reason: str
    amount: float = 0.0
    span: tuple[int, int] | None = None
    cause: str = ""

    def is_of(self, check: str, part: str, what: str, cause: str) -> bool:
        """Whether a finding with these is the one that was accepted, on whatever frames."""
        if (self.check, self.part) != (check, part):
            return False
        return self.cause == cause if self.cause and cause else self.what == what


@dataclass(frozen=True)
class Marker:
    """A label on a frame."""

    id: str
    frame: float
    label: str
