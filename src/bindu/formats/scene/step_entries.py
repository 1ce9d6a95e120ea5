"""Steps in a scene document. Fields have the names and meanings of the settings in the core."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field

from bindu.core.scene.channels import Tap, Zone
from bindu.core.scene.settings import (
    Axis,
    Carries,
    ConstraintKind,
    Ends,
    FormulaMode,
    Group,
    Keep,
    PlantKind,
    SpaceKind,
    UpKind,
)
from bindu.formats.scene.curve_entries import (
    CurveEntry,
    Flag,
    Listed,
    Number,
    StrictEntry,
    Vector3,
    Whole,
)

ZERO = (0.0, 0.0, 0.0)


class StepEntry(StrictEntry):
    """What every step has."""

    name: str
    id: str | None = Field(None, description="identity; made up when left out")
    zone: Zone
    on: Flag = True


class ChannelStepEntry(StepEntry):
    """A step that writes one channel."""

    channel: str = Field(description="the channel of this part that it writes")


class FormulaEntry(ChannelStepEntry):
    """A formula; references stand in braces, {part.channel} or {part.channel@tap}."""

    kind: Literal["formula"]
    formula: str
    mode: FormulaMode = "set"


class LimitEntry(ChannelStepEntry):
    """Keeps the channel between two numbers."""

    kind: Literal["limit"]
    low: Number | None = None
    high: Number | None = None


class ShaperEntry(ChannelStepEntry):
    """Changes the shape of the channel's curve; its numbers are channels of the step."""

    kind: Literal["wave", "noise", "smooth", "on nths", "shift", "strength"]
    seed: Whole = Field(0, description="of a noise: which one")
    octaves: Whole = Field(1, description="of a noise: of how many it is made")


class RowEntry(ChannelStepEntry):
    """A row of driven keys: its mapping has a key at each stop, whose frame is a driver value."""

    kind: Literal["driven keys"]
    driven: str = Field(description="the name of the set")
    mapping: CurveEntry
    mode: FormulaMode = "add"


class OffsetEntry(StrictEntry):
    """Where the owner is as seen from a target: metres, degrees, factors."""

    translation: Vector3 = ZERO
    rotation: Vector3 = ZERO
    scale: Vector3 = (1.0, 1.0, 1.0)


class TargetEntry(StrictEntry):
    """What a constraint follows; its weight is a channel of the step."""

    part: str | None = Field(description="the part's name; null: the world")
    tap: Tap = "final"
    back: Flag = Field(default=False, description="read as it was one frame back")
    offset: OffsetEntry = OffsetEntry()


class SpaceEntry(StrictEntry):
    """A space: the world, the parent, locally, or a part."""

    kind: SpaceKind = "world"
    part: str | None = None


class ConstraintEntry(StepEntry):
    """A position, rotation, scale or full constraint."""

    kind: ConstraintKind
    targets: Listed[TargetEntry] = Field(min_length=1)
    axes: Listed[Axis] = ["x", "y", "z"]
    offset: Vector3 = Field(ZERO, description="metres, degrees, or factors")
    read: SpaceEntry = Field(SpaceEntry(), description="the space that targets are read in")
    write: SpaceEntry = Field(SpaceEntry(), description="the space that the owner is written in")
    tap: Tap = Field("final", description="at which the owner's surroundings are read")


class AimEntry(StepEntry):
    """An axis that looks at targets."""

    kind: Literal["aim"]
    targets: Listed[TargetEntry] = Field(min_length=1)
    axis: Vector3 = (1.0, 0.0, 0.0)
    up_axis: Vector3 = (0.0, 1.0, 0.0)
    up: UpKind = "direction"
    up_direction: Vector3 = (0.0, 1.0, 0.0)
    up_part: str | None = None
    up_tap: Tap = "final"
    offset: Vector3 = Field(ZERO, description="degrees, applied first")
    tap: Tap = "final"


class PathPointEntry(StrictEntry):
    """A point of a path: in a part's own axes, or in the world."""

    part: str | None = None
    point: Vector3 = ZERO
    tap: Tap = "final"


class PathEntry(StepEntry):
    """A smooth path; how far along it is the step's channel ``progress``, 0 to 1."""

    kind: Literal["path"]
    points: Listed[PathPointEntry] = Field(min_length=2)
    closed: Flag = False
    ends: Ends = "stop"
    along: Flag = True
    axis: Vector3 = (1.0, 0.0, 0.0)
    up_axis: Vector3 = (0.0, 1.0, 0.0)
    up_direction: Vector3 = (0.0, 1.0, 0.0)
    tap: Tap = "final"


class FollowEntry(StepEntry):
    """How far the part takes its parent's position, rotation and scale, by channels of the
    step."""

    kind: Literal["follow"]
    takes: Listed[Group]
    tap: Tap = "final"


class HandoverEntry(StrictEntry):
    """What is kept at a change of spaces: metres and degrees (xyz) in the new space."""

    frame: Number
    translation: Vector3 = ZERO
    rotation: Vector3 = ZERO
    blend: Whole = 0
    keep: Keep = Field("offset", description="by this offset, by keys of the part, or not at all")


class SpacesEntry(StepEntry):
    """A list of spaces; which one is active is the step's channel ``space``, from 0."""

    kind: Literal["space"]
    spaces: Listed[SpaceEntry] = Field(min_length=2)
    carries: Carries = "full"
    handovers: Listed[HandoverEntry] = []
    tap: Tap = "final"


class PlantSpanEntry(StrictEntry):
    """A stretch of frames on which the part stands still; ``keep`` is the frame whose place it
    keeps."""

    first: Whole
    last: Whole
    keep: Whole
    entry: Whole = 3
    exit: Whole = 3


class PlantEntry(StepEntry):
    """The part stands still in the world over spans of frames."""

    kind: Literal["plant"]
    plants: PlantKind = "place"
    spans: Listed[PlantSpanEntry] = []
    tap: Tap = "final"


class MemberEntry(StepEntry):
    """The part is a member of a lead group."""

    kind: Literal["lead"]
    lead: str = Field(description="the name of the lead group")


class ChainEntry(StepEntry):
    """The part is one of the chain of a limb."""

    kind: Literal["limb"]
    limb: str = Field(description="the name of the limb")
    base: Flag = Field(False, description="the first of the chain, which turns and never moves")


class WalkEntry(StepEntry):
    """The part is a foot of a gait."""

    kind: Literal["walk"]
    gait: str = Field(description="the name of the gait")


BindingEntry = (
    ConstraintEntry
    | AimEntry
    | PathEntry
    | FollowEntry
    | SpacesEntry
    | PlantEntry
    | MemberEntry
    | ChainEntry
    | WalkEntry
)
AnyStepEntry = Annotated[
    FormulaEntry | LimitEntry | ShaperEntry | RowEntry | BindingEntry, Field(discriminator="kind")
]
