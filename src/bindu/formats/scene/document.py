"""The scene document: what a ``*.bindu.json`` file holds. People's names, no hidden order.

The JSON Schema in docs/scene.schema.json is made from these models.
"""

from __future__ import annotations

from typing import Literal

from pydantic import Field

from bindu.core.scene.channels import Tap, Zone
from bindu.core.scene.parts import ChannelKind, ChannelShow, Role, RotationOrder, ShapeKind, Side
from bindu.core.scene.receivers import Setup
from bindu.core.scene.references import Beside
from bindu.core.scene.settings import LayerMode
from bindu.core.scene.things import Angle, Length
from bindu.formats.scene.bake_entries import BakeEntry
from bindu.formats.scene.curve_entries import (
    CurveField,
    Flag,
    Listed,
    Number,
    StrictEntry,
    Vector3,
    Whole,
)
from bindu.formats.scene.step_entries import AnyStepEntry
from bindu.formats.scene.surface_entries import SurfaceEntry


class RestEntry(StrictEntry):
    """Where the part is with all channels at default."""

    translation: Vector3 = Field(default=(0.0, 0.0, 0.0), description="metres")
    rotation: Vector3 = Field(default=(0.0, 0.0, 0.0), description="degrees about x, y, z")


class ShapeEntry(StrictEntry):
    """A simple solid drawn for the part."""

    kind: ShapeKind = "none"
    size: Vector3 = Field(default=(1.0, 1.0, 1.0), description="metres along x, y, z")
    offset: Vector3 = Field(default=(0.0, 0.0, 0.0), description="of its centre, metres")
    colour: str = Field(default="#C9A66B", description="#RRGGBB")


class ChannelEntry(StrictEntry):
    """An own channel."""

    name: str
    id: str | None = Field(None, description="identity; made up when left out")
    kind: ChannelKind = "number"
    default: Number = 0.0
    low: Number | None = None
    high: Number | None = None
    unit: str = ""
    options: Listed[str] = []
    shows: ChannelShow = Field("nothing", description="what it shows on the part's shape")


class PartEntry(StrictEntry):
    """A part with all that belongs to it. Parents come before their children."""

    name: str
    id: str | None = Field(None, description="identity; made up when left out")
    parent: str | None = Field(None, description="the parent's name")
    role: Role = "control"
    side: Side = "centre"
    rest: RestEntry = RestEntry()
    rotation_order: RotationOrder = Field("xyz", description="the first axis is applied first")
    shape: ShapeEntry = ShapeEntry()
    channels: Listed[ChannelEntry] = []
    values: dict[str, Number] = Field({}, description="channels without keys that are set")
    curves: dict[str, CurveField] = Field({}, description="by channel")
    layers: dict[str, dict[str, CurveField]] = Field(
        {}, description="curves on layers, by layer and channel"
    )
    steps: Listed[AnyStepEntry] = Field([], description="in their listed order")
    locked: Listed[str] = Field([], description="channels locked against edits by hand")
    pose: dict[str, Number] = Field({}, description="the part's own default pose, by channel")
    pair: str | None = Field(None, description="the part on the other side, where given by hand")


class LayerEntry(StrictEntry):
    """A layer of curves; its weight is the channel ``<name>.weight`` of ``part``."""

    name: str
    id: str | None = Field(None, description="identity; made up when left out")
    part: str
    mode: LayerMode = "add"
    on: Flag = True
    solo: Flag = False


class SetEntry(StrictEntry):
    """A named choice of parts, and of channels as part.channel."""

    name: str
    id: str | None = Field(None, description="identity; made up when left out")
    colour: str = Field(default="#C9A66B", description="#RRGGBB")
    parts: Listed[str] = []
    channels: Listed[str] = []


class DrivenEntry(StrictEntry):
    """A set of driven keys; its rows are steps of the parts that it drives."""

    name: str
    id: str | None = Field(None, description="identity; made up when left out")
    driver: str = Field("0", description="a formula, often one {part.channel}")
    range: tuple[Number, Number] = Field((0.0, 1.0), description="where the driver is tried")
    stops: Listed[Number] = Field([0.0, 1.0], min_length=1, description="driver values, ascending")


class ProbeEntry(StrictEntry):
    """A slip probe: a point on a part, and the part that it should stick to (none: the world)."""

    name: str
    id: str | None = Field(None, description="identity; made up when left out")
    part: str
    point: Vector3 = Field(
        (0.0, 0.0, 0.0),
        description="metres; of a rolling one from the part's origin to the contact, in the "
        "ground's axes",
    )
    rolling: Flag = False
    ground: str | None = None
    stands: Listed[tuple[Whole, Whole]] = Field(
        [], description="first and last frames between which a fixed point is said to stand"
    )


class LeadEntry(StrictEntry):
    """A lead group; who leads is ``<name>.position`` and ``<name>.rotation`` of ``part``: 0 for
    nobody, 1 for the first member, and so on."""

    name: str
    id: str | None = Field(None, description="identity; made up when left out")
    part: str
    members: Listed[str] = Field(min_length=2)


class LimbEntry(StrictEntry):
    """A limb: a chain of parts that reaches for a goal. ``<name>.blend`` and the others that steer
    it are channels of ``part``; the parts of the chain have steps of kind limb."""

    name: str
    id: str | None = Field(None, description="identity; made up when left out")
    part: str
    chain: Listed[str] = Field(min_length=3, description="base, middle and end, or more")
    goal: str
    pole: str | None = None
    axis: Vector3 = Field((0.0, 0.0, 1.0), description="the bend axis, in the middle part's axes")
    limits: tuple[Number, Number] | None = Field(
        None, description="the least and the largest bend, degrees from straight"
    )
    offset: Vector3 = Field(
        (0.0, 0.0, 0.0), description="the end's rotation as seen from the goal's, degrees"
    )
    goal_tap: Tap = "final"
    goal_back: Flag = False
    pole_tap: Tap = "final"
    pole_back: Flag = False
    toes: Listed[tuple[str, str]] = Field(
        [], description="parts behind the end that a foot turns, each with its helper"
    )


class GaitFootEntry(StrictEntry):
    """A foot of a gait: when it lands, and where it stands as seen from the root on the ground."""

    part: str
    phase: Number = Field(0.0, description="share of a cycle", ge=0.0, lt=1.0)
    offset: Vector3 = Field((0.0, 0.0, 0.0), description="to the side, up and ahead, metres")
    turn: Vector3 = Field((0.0, 0.0, 0.0), description="degrees, in the order xyz")


class GaitEntry(StrictEntry):
    """A gait: walking by rule. ``<name>.step length`` and its other numbers are channels of
    ``part``, the root; its feet have steps of kind walk."""

    name: str
    id: str | None = Field(None, description="identity; made up when left out")
    part: str
    feet: Listed[GaitFootEntry] = Field(min_length=1)
    ground: str | None = Field(None, description="on whose plane y = 0 they walk; none: the world")
    forward: Vector3 = Field((0.0, 0.0, 1.0), description="the root's own axis that looks ahead")
    width: Number = Field(0.0, description="between the feet of both sides as they stand", ge=0.0)


class VariantEntry(StrictEntry):
    """Another state of a step: its zone and place in it, on or off."""

    part: str
    step: str
    zone: Zone | None = None
    position: Whole = 0
    on: Flag | None = None


class WhatIfEntry(StrictEntry):
    """Two states of some steps, to be looked at side by side."""

    name: str
    id: str | None = Field(None, description="identity; made up when left out")
    one: Listed[VariantEntry] = []
    other: Listed[VariantEntry] = []


class UnitsEntry(StrictEntry):
    """The units in which the scene is looked at; all numbers of this file are in metres and
    degrees."""

    length: Length = "m"
    angle: Angle = "degrees"


class ReferenceEntry(StrictEntry):
    """A picture or a sound that is pinned to frames."""

    name: str
    data: str = Field(description="the bytes of a PNG, JPEG, WebP, WAV or Ogg file, base64")
    first: Number = 0.0
    last: Number | None = Field(None, description="null: to the end")
    opacity: Number = Field(1.0, description="of a sound how loud it is")
    place: Beside = "beside"
    id: str | None = Field(None, description="identity; made up when left out")


class CheckEntry(StrictEntry):
    """How a check looks at the scene."""

    check: str
    on: Flag = True
    limits: dict[str, Number] = Field({}, description="its thresholds by their keys")


class AcceptedEntry(StrictEntry):
    """A finding that stays as it is."""

    check: str
    part: str
    what: str = Field(description="what of the part: a channel, a step, a limb, a probe")
    cause: str = Field("", description="the same by identities; left out: it is told by its name")
    reason: str
    amount: Number = 0.0
    span: tuple[Whole, Whole] | None = Field(None, description="first and last frame; null: all")
    id: str | None = Field(None, description="identity; made up when left out")


class MarkerEntry(StrictEntry):
    """A label on a frame."""

    frame: Number
    label: str
    id: str | None = Field(None, description="identity; made up when left out")


class SceneDocument(StrictEntry):
    """A whole scene."""

    format: Literal["bindu scene"]
    version: Literal[1]
    name: str
    fps: Number = 24.0
    range: tuple[Whole, Whole] = Field((0, 120), description="first and last frame")
    units: UnitsEntry = UnitsEntry()
    parts: Listed[PartEntry] = []
    layers: Listed[LayerEntry] = Field([], description="from the lowest to the highest")
    sets: Listed[SetEntry] = []
    markers: Listed[MarkerEntry] = []
    driven: Listed[DrivenEntry] = Field([], description="sets of driven keys")
    probes: Listed[ProbeEntry] = Field([], description="slip probes")
    leads: Listed[LeadEntry] = Field([], description="lead groups")
    limbs: Listed[LimbEntry] = []
    gaits: Listed[GaitEntry] = Field([], description="walking by rule")
    surfaces: Listed[SurfaceEntry] = Field([], description="cages, and the steps that deform them")
    bakes: Listed[BakeEntry] = Field([], description="curves of what leaves")
    receiver: Setup = Field(Setup(), description="what the receiver is told beside its clips")
    what_ifs: Listed[WhatIfEntry] = Field([], description="saved What ifs")
    checks: Listed[CheckEntry] = Field([], description="where checks differ from their defaults")
    accepted: Listed[AcceptedEntry] = Field([], description="findings that are accepted")
    references: Listed[ReferenceEntry] = []
