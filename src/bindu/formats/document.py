"""The scene document: what a ``*.bindu.json`` file holds. People's names, no hidden order.

The JSON Schema in docs/scene.schema.json is made from these models.
"""

from __future__ import annotations

from typing import Literal

from pydantic import Field

from bindu.core.scene.channels import Zone
from bindu.core.scene.model import ChannelKind, ChannelShow, Role, RotationOrder, ShapeKind, Side
from bindu.core.scene.settings import LayerMode, Vector
from bindu.formats.curve_entries import CurveEntry, Entry
from bindu.formats.step_entries import AnyStepEntry


class RestEntry(Entry):
    """Where the part is with all channels at default."""

    translation: Vector = Field(default=(0.0, 0.0, 0.0), description="metres")
    rotation: Vector = Field(default=(0.0, 0.0, 0.0), description="degrees about x, y, z")


class ShapeEntry(Entry):
    """A simple solid drawn for the part."""

    kind: ShapeKind = "none"
    size: Vector = Field(default=(1.0, 1.0, 1.0), description="metres along x, y, z")
    offset: Vector = Field(default=(0.0, 0.0, 0.0), description="of its centre, metres")
    colour: str = Field(default="#C9A66B", description="#RRGGBB")


class ChannelEntry(Entry):
    """An own channel."""

    name: str
    id: str | None = Field(None, description="identity; made up when left out")
    kind: ChannelKind = "number"
    default: float = 0.0
    low: float | None = None
    high: float | None = None
    unit: str = ""
    options: list[str] = []
    shows: ChannelShow = Field("nothing", description="what it shows on the part's shape")


class PartEntry(Entry):
    """A part with all that belongs to it. Parents come before their children."""

    name: str
    id: str | None = Field(None, description="identity; made up when left out")
    parent: str | None = Field(None, description="the parent's name")
    role: Role = "control"
    side: Side = "centre"
    rest: RestEntry = RestEntry()
    rotation_order: RotationOrder = Field("xyz", description="the first axis is applied first")
    shape: ShapeEntry = ShapeEntry()
    channels: list[ChannelEntry] = []
    values: dict[str, float] = Field({}, description="channels without keys that are set")
    curves: dict[str, CurveEntry] = Field({}, description="by channel")
    layers: dict[str, dict[str, CurveEntry]] = Field(
        {}, description="curves on layers, by layer and channel"
    )
    steps: list[AnyStepEntry] = Field([], description="in their listed order")
    locked: list[str] = Field([], description="channels locked against edits by hand")
    pose: dict[str, float] = Field({}, description="the part's own default pose, by channel")
    pair: str | None = Field(None, description="the part on the other side, where given by hand")


class LayerEntry(Entry):
    """A layer of curves; its weight is the channel ``<name>.weight`` of ``part``."""

    name: str
    id: str | None = Field(None, description="identity; made up when left out")
    part: str
    mode: LayerMode = "add"
    on: bool = True
    solo: bool = False


class SetEntry(Entry):
    """A named choice of parts, and of channels as part.channel."""

    name: str
    id: str | None = Field(None, description="identity; made up when left out")
    colour: str = Field(default="#C9A66B", description="#RRGGBB")
    parts: list[str] = []
    channels: list[str] = []


class DrivenEntry(Entry):
    """A set of driven keys; its rows are steps of the parts that it drives."""

    name: str
    id: str | None = Field(None, description="identity; made up when left out")
    driver: str = Field("0", description="a formula, often one {part.channel}")
    range: tuple[float, float] = Field((0.0, 1.0), description="where the driver is tried")
    stops: list[float] = Field([0.0, 1.0], min_length=1, description="driver values, ascending")


class ProbeEntry(Entry):
    """A slip probe: a point on a part, and the part that it should stick to (none: the world)."""

    name: str
    id: str | None = Field(None, description="identity; made up when left out")
    part: str
    point: Vector = Field(
        (0.0, 0.0, 0.0),
        description="metres; of a rolling one from the part's origin to the contact, in the "
        "ground's axes",
    )
    rolling: bool = False
    ground: str | None = None


class LeadEntry(Entry):
    """A lead group; who leads is ``<name>.position`` and ``<name>.rotation`` of ``part``: 0 for
    nobody, 1 for the first member, and so on."""

    name: str
    id: str | None = Field(None, description="identity; made up when left out")
    part: str
    members: list[str] = Field(min_length=2)


class VariantEntry(Entry):
    """Another state of a step: its zone and place in it, on or off."""

    part: str
    step: str
    zone: Zone | None = None
    position: int = 0
    on: bool | None = None


class WhatIfEntry(Entry):
    """Two states of some steps, to be looked at side by side."""

    name: str
    id: str | None = Field(None, description="identity; made up when left out")
    one: list[VariantEntry] = []
    other: list[VariantEntry] = []


class MarkerEntry(Entry):
    """A label on a frame."""

    frame: float
    label: str
    id: str | None = Field(None, description="identity; made up when left out")


class SceneDocument(Entry):
    """A whole scene."""

    format: Literal["bindu scene"]
    version: Literal[1]
    name: str
    fps: float = 24.0
    range: tuple[int, int] = Field((0, 120), description="first and last frame")
    parts: list[PartEntry] = []
    layers: list[LayerEntry] = Field([], description="from the lowest to the highest")
    sets: list[SetEntry] = []
    markers: list[MarkerEntry] = []
    driven: list[DrivenEntry] = Field([], description="sets of driven keys")
    probes: list[ProbeEntry] = Field([], description="slip probes")
    leads: list[LeadEntry] = Field([], description="lead groups")
    what_ifs: list[WhatIfEntry] = Field([], description="saved What ifs")
