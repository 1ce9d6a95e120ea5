"""What travels about order and cause: wiring, loops, lanes, What ifs."""

from __future__ import annotations

from typing import Any, Literal

from pydantic import BaseModel, Field

from bindu.core.account.causes import Cause, Reached
from bindu.core.account.last_word import Word
from bindu.core.account.loop_report import RemedyKind
from bindu.core.account.mutual import MutualPair
from bindu.core.account.wiring import Card, Wire
from bindu.core.edits import MOST_EDITS_AT_ONCE
from bindu.core.scene.channels import ChannelRef
from bindu.core.scene.settings import Offset
from bindu.web.scene.schemas import Incoming, OneEdit, Query, Shown


class WiringView(BaseModel):
    """The whole wiring."""

    revision: int
    cards: list[Card]
    wires: list[Wire]


class RemedyView(BaseModel):
    """A change that breaks a loop."""

    kind: RemedyKind
    text: str
    step: str
    tap: str | None
    edits: list[OneEdit]


class LoopView(BaseModel):
    """A loop: where it goes round, why, what is held, and what would break it."""

    parts: list[str]
    chain: list[str]
    why: list[str]
    held: str
    frames: int = Field(description="on how many frames the held value makes a difference")
    first: int | None
    channels: list[ChannelRef] = Field(description="channels to look at")
    remedies: list[RemedyView]


class LoopsView(BaseModel):
    """All loops of a scene, and what looks like one."""

    revision: int
    loops: list[LoopView]
    pairs: list[MutualPair]


class OrderRow(BaseModel):
    """A value in the order of evaluation; ``cost`` is how long it took, microseconds."""

    rank: int
    label: str
    part: str
    channel: str
    step: str | None
    held: bool
    cost: float


class OrderView(BaseModel):
    """The order of evaluation of a whole scene."""

    revision: int
    rows: list[OrderRow]


class WordsView(BaseModel):
    """Who has the last word on a channel, over the range."""

    words: list[Word]


class RelationQuery(Query):
    """Of which part, as seen from which other one."""

    part: str
    other: str
    frame: float


class RelationView(BaseModel):
    """Where a part is on a frame as seen from another."""

    relation: Offset


class CauseQuery(Query):
    """Which value."""

    part: str
    channel: str
    frame: float = 0.0


class CausesView(BaseModel):
    """Where a value comes from, and what its channel reaches."""

    causes: list[Cause]
    reaches: list[Reached]


class StripView(BaseModel):
    """A stretch of frames in one space, or with one lead."""

    first: int
    last: int
    choice: int
    name: str


class HandoverView(BaseModel):
    """A change of spaces, and how far the part jumps there."""

    frame: int
    source: str
    target: str
    kept: bool
    blend: int
    metres: float
    degrees: float
    jumps: bool


class LaneView(BaseModel):
    """A space lane, or the lane of a lead, a limb, or a foot of a gait."""

    kind: Literal["space", "lead", "limb", "gait"]
    id: str = Field(description="the step, the lead group, the limb or the gait")
    name: str
    part: str
    channel: str
    choices: list[str]
    keys: list[str] = Field(
        description="what each choice stands for: a part, 0, or nothing; of a gait the foot"
    )
    strips: list[StripView]
    handovers: list[HandoverView]


class LimbQuery(Query):
    """Which frames of a limb."""

    limb: str = Field(description="its identity")
    first: int
    last: int


class GaitQuery(Query):
    """A gait."""

    gait: str = Field(description="its identity", max_length=40)


class GaitView(BaseModel):
    """What a gait took when it was last computed, microseconds."""

    revision: int
    steps: float = Field(description="its prints and feet")
    formulas: float = Field(description="the formulas that go by it")


class LimbView(BaseModel):
    """A limb on some frames; as the command line prints it."""

    revision: int
    table: dict[str, Any]


class LanesView(BaseModel):
    """All space lanes, leads, limbs and feet that walk, of a scene."""

    revision: int
    lanes: list[LaneView]


class WhatIfSide(Incoming):
    """A scene as it is, as it was at a revision, or with edits that are only tried."""

    edits: list[OneEdit] = Field(default=[], max_length=MOST_EDITS_AT_ONCE)
    revision: int | None = None
    saved: str | None = Field(None, description="a saved What if, of which this is one side")
    side: Literal["one", "other"] = "one"


class SideSamples(Shown):
    """Wanted numbers of one side of a What if."""

    side: WhatIfSide


class WhatIfWish(Incoming):
    """Two sides, and the channels to compare; without channels, those that differ most."""

    one: WhatIfSide
    other: WhatIfSide
    channels: list[ChannelRef] = Field(default=[], max_length=40)


class DifferenceView(BaseModel):
    """A channel on both sides."""

    part: str
    channel: str
    name: str
    unit: str
    one: list[float]
    other: list[float]
    worst: float
    worst_frame: int


class WhatIfView(BaseModel):
    """Two ways to evaluate a scene, the most different channel first."""

    first: int
    differences: list[DifferenceView]
    loops: tuple[int, int] = Field(description="how many loops each side has")
    one_edits: list[OneEdit] = Field(description="the edits that keep the first side")
    other_edits: list[OneEdit] = Field(description="the edits that keep the second side")
