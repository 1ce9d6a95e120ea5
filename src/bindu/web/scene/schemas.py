"""What travels between browser and server. The browser's types are made from these."""

from __future__ import annotations

from datetime import datetime
from typing import TYPE_CHECKING, Annotated, Literal

from pydantic import BaseModel, ConfigDict, Field, TypeAdapter
from pydantic_core import CoreSchema

from bindu.core.clips.clip import Clip
from bindu.core.curves.model import Curve
from bindu.core.edits import MOST_EDITS_AT_ONCE, AnyEdit
from bindu.core.refusal import Code
from bindu.core.scene.channels import ChannelRef, Tap, Zone
from bindu.core.scene.parts import ChannelKind, ChannelShow, Rest, Role, RotationOrder, Shape
from bindu.core.scene.parts import Side as PartSide
from bindu.core.scene.references import Beside, Kind
from bindu.core.scene.settings import StepSettings, Vector
from bindu.core.scene.surfaces import DeformKind
from bindu.core.scene.things import (
    Gait,
    Layer,
    LeadGroup,
    Limb,
    Marker,
    PartSet,
    Probe,
    Units,
    WhatIf,
)

Revised = Annotated[int, Field(strict=True, ge=0, le=2**31 - 1)]
"""Which revision of a scene."""
STRICT = ConfigDict(extra="forbid", allow_inf_nan=False, strict=True)
"""Unknown fields, numbers that are not finite, and texts in the place of numbers are refused."""

if TYPE_CHECKING:
    OneEdit = AnyEdit
else:
    _EDITS = TypeAdapter(Annotated[AnyEdit, Field(discriminator="do")], config=STRICT)

    class OneEdit:
        """Any edit. What checks it is made once for all that hold edits: it is by far the largest
        part of what a server makes when it starts."""

        @classmethod
        def __get_pydantic_core_schema__(cls, *_: object) -> CoreSchema:
            return _EDITS.core_schema


class Incoming(BaseModel):
    """Strict; see ``STRICT``."""

    model_config = STRICT


class Query(BaseModel):
    """What stands in an address, where all is text."""

    model_config = ConfigDict(extra="forbid", allow_inf_nan=False)


class ScenePath(BaseModel):
    """Which scene."""

    scene_id: int = Field(ge=1, le=2**31 - 1)


class MediumPath(ScenePath):
    """Which picture or sound of a scene."""

    medium: str = Field(max_length=64)


class NewScene(Incoming):
    """A scene with a name: an empty one, or one that begins with a small rig."""

    name: str
    start: str | None = None


MOST_TAGS = 12


class ExampleName(Incoming):
    """A scene of the demo."""

    name: str


class Want(Incoming):
    """Wanted numbers: a channel at a tap or after a step, or a part's world matrix.

    ``part`` may be ``*`` for the world matrices of all parts.
    """

    part: str
    quantity: str
    stage: str


class Shown(Incoming):
    """Numbers that are shown: what is wanted, and what the browser holds already: keys by names."""

    wants: list[Want] = Field(default=[], max_length=5000)
    have: dict[str, str] = Field(default={}, max_length=20_000)


class Edits(Incoming):
    """Edits, and the revision of the scene that their sender saw.

    With ``shown``, the answer is binary like that to wanted numbers, with the scene's view in
    its header, so that an edit is seen after one round trip.
    """

    revision: Revised
    edits: list[OneEdit] = Field(min_length=1, max_length=MOST_EDITS_AT_ONCE)
    shown: Shown | None = None


class Checked(Incoming):
    """Edits that are only checked: nothing is saved or shown."""

    edits: list[OneEdit] = Field(min_length=1, max_length=MOST_EDITS_AT_ONCE)


class Retrace(Incoming):
    """Undo or redo; ``revision`` is the one that its sender saw, ``shown`` as with edits."""

    revision: Revised
    shown: Shown | None = None


class Restore(Retrace):
    """Back to how the scene was at the revision ``to``."""

    to: Revised


class Samples(Shown):
    """Wanted numbers, and edits to try without saving them."""

    trying: list[OneEdit] = Field(default=[], max_length=MOST_EDITS_AT_ONCE)


class CopyWish(Incoming):
    """What to copy: the pose of channels on frame ``first``, or their curves up to ``last``."""

    channels: list[ChannelRef] = Field(min_length=1, max_length=100_000)
    first: float
    last: float | None = None
    layer: str | None = None


class ClipView(BaseModel):
    """A copy, to be pasted as it is."""

    clip: Clip


class Side(Incoming):
    """One side of a comparison: a channel at a tap, now or as it was at a revision."""

    part: str
    channel: str
    tap: Tap = "final"
    revision: int | None = None


class CompareWish(Incoming):
    """Two channels to lay over each other. The second may be mirrored in zero, shifted in time,
    or scaled and moved to fit the first."""

    one: Side
    other: Side
    mirrored: bool = False
    shift: float = 0.0
    fit: bool = False


class CompareView(BaseModel):
    """Two curves over the range, and where they differ most.

    Attributes:
        slope: of the first curve, in its unit for each second.
        factor, offset: what the second was multiplied by and what was added.
    """

    first: int
    one: list[float]
    other: list[float]
    slope: list[float]
    worst: float
    worst_frame: int
    factor: float
    offset: float


class Revision(BaseModel):
    """Which revision a scene is at."""

    revision: int


class ChangedQuery(Query):
    """On which frame, and since which revision."""

    frame: int = Field(ge=-(10**6), le=10**7)
    since: int = Field(ge=0, le=2**31 - 1)


class ChangedChannelView(BaseModel):
    """A channel, or its curve on a layer, and its own value on the frame before and after."""

    part: str
    channel: str
    name: str
    before: float
    after: float


class ChangedView(BaseModel):
    """What was changed on a frame."""

    revision: int
    channels: list[ChangedChannelView]


class LedgerQuery(Query):
    """Which channel."""

    part: str
    channel: str


class SceneEntry(BaseModel):
    """A line of the home page."""

    id: int
    name: str
    parts: int
    fps: float
    first: int
    last: int
    revision: int
    changed: datetime
    pictured: int | None = Field(None, description="the revision that its picture shows")
    tags: list[str] = []
    findings: int | None = Field(
        None, description="how many nobody accepted; null: checks have not looked at it as it is"
    )


class Tags(Incoming):
    """A scene's tags, in place of those that it has."""

    tags: list[str] = Field(max_length=MOST_TAGS)


class PictureOf(Query):
    """Which revision a picture shows."""

    revision: int = Field(ge=0)


class SceneList(BaseModel):
    """The home page."""

    scenes: list[SceneEntry]


class ExampleList(BaseModel):
    """The demo's scenes by their names, and what new scenes may begin with."""

    names: list[str]
    starts: list[str]


class ChannelView(BaseModel):
    """A channel: what it is, what it is set to, and its keys."""

    id: str
    name: str
    kind: ChannelKind
    unit: str
    default: float
    low: float | None
    high: float | None
    options: list[str]
    value: float = Field(description="what it is set to where it has no keys")
    curve: Curve | None
    on_layers: dict[str, Curve] = Field(description="its curves on layers, by the layer's id")
    limits: tuple[float | None, float | None] = Field(description="between which limits keep it")
    steps: int = Field(description="how many steps write it")
    shows: ChannelShow = Field(description="what it shows on the part's shape")
    locked: bool


class StepView(BaseModel):
    """A step; references in its settings are names."""

    id: str
    name: str
    zone: Zone
    on: bool
    settings: StepSettings
    writes: list[str] = Field(description="the channels that it writes")
    description: str
    alike: int = Field(description="how many formulas, itself too, are the same but for numbers")


class PartView(BaseModel):
    """A part with its channels and steps."""

    id: str
    name: str
    parent: str | None
    role: Role
    side: PartSide
    rest: Rest
    rotation_order: RotationOrder
    shape: Shape
    opposite: str | None = Field(description="the part on the other side")
    paired: bool = Field(description="whether that was given by hand")
    posed: bool = Field(description="whether it has an own default pose")
    channels: list[ChannelView]
    steps: list[StepView]


class RowView(BaseModel):
    """A row of driven keys: its step, and the channel that it drives."""

    row: str
    part: str
    channel: str


class DrivenView(BaseModel):
    """A set of driven keys; references in the driver are names."""

    id: str
    name: str
    driver: str
    low: float
    high: float
    stops: list[float]
    rows: list[RowView]


class DeformHead(BaseModel):
    """A step of a surface without its numbers."""

    id: str
    kind: DeformKind
    name: str
    on: bool
    rounds: int | None = None
    form: str | None = None
    axis: Vector | None = None
    seed: int | None = None
    shapes: list[tuple[str, str, int]] = Field(
        description="identity, name, and how many points it moves"
    )
    joints: list[str]


class SurfaceHead(BaseModel):
    """A surface without its points."""

    id: str
    name: str
    part: str
    colour: str
    points: int = Field(description="how many its cage has")
    faces: int
    steps: list[DeformHead]


class ReferenceView(BaseModel):
    """A picture or a sound that is pinned to frames; its bytes are at ``/media/<medium>``."""

    id: str
    name: str
    kind: Kind
    medium: str
    first: float
    last: float | None
    opacity: float
    place: Beside


class SceneHeader(BaseModel):
    """The scene itself, its revision, and what undo and redo would do."""

    id: int
    name: str
    fps: float
    first: int
    last: int
    units: Units
    references: list[ReferenceView]
    revision: int
    undo: str | None
    redo: str | None
    looped: list[str] = Field(description="the parts that take part in a loop")
    layers: list[Layer] = Field(description="from the lowest to the highest")
    sets: list[PartSet]
    markers: list[Marker]
    driven: list[DrivenView]
    probes: list[Probe]
    leads: list[LeadGroup]
    limbs: list[Limb]
    gaits: list[Gait]
    surfaces: list[SurfaceHead]
    what_ifs: list[WhatIf]


class SceneView(BaseModel):
    """A scene, or what an edit changed of it.

    Attributes:
        order: the ids of all parts, in the order of the tree.
        parts: all parts, or those that changed.
    """

    header: SceneHeader
    order: list[str]
    parts: list[PartView]
    whole: bool = Field(description="whether parts holds all parts")
    label: str | None = Field(None, description="what was just done")


class ReadView(BaseModel):
    """Something that a step reads, and the node it takes it from."""

    label: str
    part: str
    quantity: str
    tap: str
    node: str


class BeadView(BaseModel):
    """A step in the ledger; nodes are names of wanted numbers, ``part/quantity/stage``."""

    step: str | None
    name: str
    kind: str
    zone: Zone
    on: bool
    description: str
    incoming: str | None
    outgoing: str | None
    reads: list[ReadView]
    held: bool
    broken_from: int | None
    broken_frames: int
    cost: float = Field(description="how long it took, microseconds")
    incomings: list[str] = Field(description="of a whole group, x, y and z before it")
    outgoings: list[str] = Field(description="of a whole group, x, y and z after it")


class TapView(BaseModel):
    """A tap and the node that holds it."""

    tap: Tap
    node: str


class LedgerView(BaseModel):
    """The account of a channel, or of a whole group."""

    part: str
    channel: str
    name: str
    unit: str
    revision: int
    beads: list[BeadView]
    taps: list[TapView]


class Problem(BaseModel):
    """Why a request was refused, and where."""

    error: str
    code: Code | Literal["stale"] | None = Field(
        default=None, description="what kind of trouble it is; stale: somebody changed it meanwhile"
    )
    place: str = ""
    column: int | None = None
    nearest: list[str] = []
    revision: int | None = None
    changed: list[str] = Field(default=[], description="edits since, that touched the same things")


class Health(BaseModel):
    """Whether the server can work."""

    status: Literal["ready", "waiting for the database"] = "ready"
