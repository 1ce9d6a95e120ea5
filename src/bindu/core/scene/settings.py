"""What a step of each kind is told: plain frozen data, references as identities."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from dataclasses import dataclass, replace
from typing import Literal, Self

from bindu.core.curves.model import Curve
from bindu.core.scene.channels import AXES, GROUPS, ChannelRef, Tap

Vector = tuple[float, float, float]
FormulaMode = Literal["set", "add", "scale"]
LayerMode = Literal["add", "replace"]
ConstraintKind = Literal["position", "rotation", "scale", "full"]
Group = Literal["translation", "rotation", "scale"]
Axis = Literal["x", "y", "z"]
SpaceKind = Literal["world", "parent", "local", "part"]
UpKind = Literal["none", "direction", "part"]
Ends = Literal["stop", "repeat"]
Carries = Literal["full", "position", "rotation"]
Keep = Literal["offset", "keys", "jump"]

LONGEST_BLEND = 10_000
"""Frames over which a handover blends at most."""
WORLD_KEY = "0"
"""Stands for the world where an identity of a part would stand; identities begin with letters."""
ALL_AXES: tuple[Axis, ...] = ("x", "y", "z")
CARRIED: Mapping[str, tuple[Group, ...]] = {
    "full": ("translation", "rotation"),
    "position": ("translation",),
    "rotation": ("rotation",),
}
CONSTRAINED: Mapping[ConstraintKind, tuple[Group, ...]] = {
    "position": ("translation",),
    "rotation": ("rotation",),
    "scale": ("scale",),
    "full": ("translation", "rotation", "scale"),
}


@dataclass(frozen=True)
class StepInput:
    """A channel that a step has of its own beside its weight, ``<step>.<key>``.

    Attributes:
        key: what it is for; ``weight.<part>`` is the weight of a target.
        options: of a choice, the parts that it chooses from: an identity, ``0`` for the world,
            "" for the parent or nobody.
    """

    key: str
    default: float = 1.0
    low: float | None = 0.0
    high: float | None = 1.0
    options: tuple[str, ...] = ()


class ChannelSettings:
    """What the settings of all steps that write one channel share."""

    channel: str

    @property
    def writes(self) -> tuple[str, ...]:
        """The channels that the step writes."""
        return (self.channel,)

    @property
    def groups(self) -> tuple[Group, ...]:
        """The whole groups that the step writes, as vectors."""
        return ()

    @property
    def inputs(self) -> tuple[StepInput, ...]:
        """The channels that the step has of its own."""
        return ()

    def retimed(self, to: Callable[[float], float]) -> Self:
        """The settings with the frames that they carry moved."""
        return self


class GroupSettings:
    """What the settings of all steps that write whole groups share."""

    @property
    def groups(self) -> tuple[Group, ...]:
        """The whole groups that the step writes, as vectors."""
        raise NotImplementedError

    @property
    def writes(self) -> tuple[str, ...]:
        """The channels that the step writes."""
        return tuple(f"{group}.{axis}" for group in self.groups for axis in AXES)

    @property
    def inputs(self) -> tuple[StepInput, ...]:
        """The channels that the step has of its own."""
        return ()

    def retimed(self, to: Callable[[float], float]) -> Self:
        """The settings with the frames that they carry moved."""
        return self


@dataclass(frozen=True)
class FormulaSettings(ChannelSettings):
    """A formula that sets, adds to or scales a channel; references in ``text`` are identities."""

    channel: str
    text: str
    mode: FormulaMode = "set"
    kind: Literal["formula"] = "formula"


@dataclass(frozen=True)
class LimitSettings(ChannelSettings):
    """Keeps a channel between two numbers; None leaves that end open."""

    channel: str
    low: float | None = None
    high: float | None = None
    kind: Literal["limit"] = "limit"


@dataclass(frozen=True)
class LayerSettings(ChannelSettings):
    """A layer's curve over what lies below it; the curve is the channel ``source``."""

    channel: str
    source: ChannelRef
    mode: LayerMode = "add"
    kind: Literal["layer"] = "layer"


@dataclass(frozen=True)
class DrivenSettings(ChannelSettings):
    """A row of driven keys: the driver's value mapped to one for the channel.

    The frames of the mapping's keys are driver values: one key at each stop of the set.
    """

    channel: str
    driven: str
    mapping: Curve
    mode: FormulaMode = "add"
    kind: Literal["driven keys"] = "driven keys"


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


@dataclass(frozen=True)
class ConstraintSettings(GroupSettings):
    """Carries position, rotation, scale or all three of targets over to the owner.

    Attributes:
        axes: which axes of the written space follow.
        offset: metres, degrees in the owner's rotation order, or factors, beyond the targets;
            a full constraint has an offset for each target instead.
        read: the space that targets are read in.
        write: the space that the owner is written in.
        tap: at which tap the owner's surroundings (its parent, parts as spaces) are read.
    """

    targets: tuple[Target, ...]
    axes: tuple[Axis, ...] = ALL_AXES
    offset: Vector = (0.0, 0.0, 0.0)
    read: Space = Space()
    write: Space = Space()
    tap: Tap = "final"
    kind: ConstraintKind = "full"

    @property
    def groups(self) -> tuple[Group, ...]:
        """See ``GroupSettings``."""
        return CONSTRAINED[self.kind]

    @property
    def inputs(self) -> tuple[StepInput, ...]:
        """A weight for each target."""
        return tuple(StepInput(target.weight_key, high=None) for target in self.targets)


@dataclass(frozen=True)
class AimSettings(GroupSettings):
    """Turns an axis of the owner to the weighted middle of targets, and another one up.

    Attributes:
        axis, up_axis: directions in the owner's own axes.
        up: nothing (the least turn), a direction of the world, or toward a part.
        offset: degrees in the owner's rotation order, applied first.
        up_tap: at which tap the up part is read.
    """

    targets: tuple[Target, ...]
    axis: Vector = (1.0, 0.0, 0.0)
    up_axis: Vector = (0.0, 1.0, 0.0)
    up: UpKind = "direction"
    up_direction: Vector = (0.0, 1.0, 0.0)
    up_part: str | None = None
    up_tap: Tap = "final"
    offset: Vector = (0.0, 0.0, 0.0)
    tap: Tap = "final"
    kind: Literal["aim"] = "aim"

    @property
    def groups(self) -> tuple[Group, ...]:
        """See ``GroupSettings``."""
        return ("rotation",)

    @property
    def inputs(self) -> tuple[StepInput, ...]:
        """A weight for each target."""
        return tuple(StepInput(target.weight_key, high=None) for target in self.targets)


@dataclass(frozen=True)
class PathPoint:
    """A point that a path passes through: in a part's own axes, or in the world's."""

    part: str | None = None
    point: Vector = (0.0, 0.0, 0.0)
    tap: Tap = "final"


@dataclass(frozen=True)
class PathSettings(GroupSettings):
    """Puts the owner on a smooth path, as far as its channel ``progress`` says: a share of the
    path's true length, 0 to 1.

    Attributes:
        closed: the path returns to its first point.
        ends: beyond 0 and 1 it stops, or begins again.
        along: the owner's ``axis`` looks along the path, its ``up_axis`` up.
    """

    points: tuple[PathPoint, ...]
    closed: bool = False
    ends: Ends = "stop"
    along: bool = True
    axis: Vector = (1.0, 0.0, 0.0)
    up_axis: Vector = (0.0, 1.0, 0.0)
    up_direction: Vector = (0.0, 1.0, 0.0)
    tap: Tap = "final"
    kind: Literal["path"] = "path"

    @property
    def groups(self) -> tuple[Group, ...]:
        """See ``GroupSettings``."""
        return ("translation", "rotation") if self.along else ("translation",)

    @property
    def inputs(self) -> tuple[StepInput, ...]:
        """How far along the path."""
        return (StepInput("progress", 0.0, None, None),)


@dataclass(frozen=True)
class FollowSettings(GroupSettings):
    """Lets a part take only a share of its parent's position, rotation and scale, 0 to 1 each;
    the rest of it stays as if the parent were at its rest."""

    takes: tuple[Group, ...] = ("rotation",)
    tap: Tap = "final"
    kind: Literal["follow"] = "follow"

    @property
    def groups(self) -> tuple[Group, ...]:
        """See ``GroupSettings``."""
        return tuple(group for group in _ALL_GROUPS if group in self.takes)

    @property
    def inputs(self) -> tuple[StepInput, ...]:
        """A share for each group that is shared."""
        return tuple(StepInput(group) for group in self.groups)


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
class SpaceSettings(GroupSettings):
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
        """See ``GroupSettings``."""
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


@dataclass(frozen=True)
class LeadSettings(GroupSettings):
    """Makes a part a member of a lead group: whoever leads carries it."""

    lead: str
    kind: Literal["lead"] = "lead"

    @property
    def groups(self) -> tuple[Group, ...]:
        """See ``GroupSettings``."""
        return ("translation", "rotation")


_ALL_GROUPS: tuple[Group, ...] = ("translation", "rotation", "scale")
assert _ALL_GROUPS == GROUPS

BindingSettings = (
    ConstraintSettings | AimSettings | PathSettings | FollowSettings | SpaceSettings | LeadSettings
)
"""The settings of steps that work on whole groups."""
GivenSettings = FormulaSettings | LimitSettings | DrivenSettings | BindingSettings
"""The settings of steps that people add one by one."""
StepSettings = GivenSettings | LayerSettings


def read_parts_followed(settings: BindingSettings, ids: Mapping[str, str]) -> BindingSettings:
    """Settings in which parts, and lead groups, stand under other identities."""

    def part(old: str | None) -> str | None:
        return None if old is None else ids.get(old, old)

    if isinstance(settings, FollowSettings):
        return settings
    if isinstance(settings, LeadSettings):
        return replace(settings, lead=ids.get(settings.lead, settings.lead))
    if isinstance(settings, SpaceSettings):
        return replace(settings, spaces=tuple(ids.get(s, s) for s in settings.spaces))
    if isinstance(settings, PathSettings):
        points = tuple(replace(point, part=part(point.part)) for point in settings.points)
        return replace(settings, points=points)
    targets = tuple(replace(target, part=part(target.part)) for target in settings.targets)
    if isinstance(settings, AimSettings):
        return replace(settings, targets=targets, up_part=part(settings.up_part))
    read = replace(settings.read, part=part(settings.read.part))
    write = replace(settings.write, part=part(settings.write.part))
    return replace(settings, targets=targets, read=read, write=write)
