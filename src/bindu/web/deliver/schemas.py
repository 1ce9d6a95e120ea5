"""What travels about handing over."""

from __future__ import annotations

from pydantic import BaseModel, Field

from bindu.core.clips.standing import State
from bindu.core.scene.bakes import By
from bindu.core.scene.receivers import Setup
from bindu.formats.sending import Format
from bindu.web.scene.schemas import Incoming, Query, ScenePath


class PartGapView(BaseModel):
    """How far a bake's part is from its source: metres, degrees, and where."""

    part: str
    places: float
    turns: float
    frame: int


class BakeView(BaseModel):
    """A bake, and how it stands to its source."""

    id: str
    name: str
    first: int
    last: int
    by: By
    set: str | None
    parts: list[str]
    own_channels: bool
    step: int
    tolerance: float
    follows: bool
    leaving: list[str] = Field(description="identities of the parts that it wrote out")
    keys: int
    state: State | None = Field(description="none where what leaves is gone")
    problem: str | None = Field(description="why its state cannot be told, or what it asks")
    places: float | None = Field(description="metres, of the part that is farthest from its source")
    turns: float | None
    frame: int | None
    gaps: list[PartGapView] = Field(description="the parts that are farthest away, at most 20")


class BakesView(BaseModel):
    """All bakes."""

    revision: int
    bakes: list[BakeView]


class SendQuery(Query):
    """Which bakes leave, by their identities with blanks between; all when left out."""

    bakes: str = Field("", max_length=4000)


class SendPath(ScenePath):
    """A format."""

    format: Format


class BakePath(ScenePath):
    """A bake."""

    bake_id: str = Field(max_length=40)


class ReportView(BaseModel):
    """What became of a scene on its way; see the core's ``Report``."""

    format: str
    size: int
    parts: int
    clips: int
    held: list[str]
    otherwise: list[str]
    lost: list[str]
    places: float | None
    turns: float | None
    worst: tuple[str, float] | None


class TakeInQuery(Query):
    """A file that is taken in: its name, and which of its clips.

    Attributes:
        revision: that its sender saw, where it changes a scene.
    """

    file: str = Field(max_length=300)
    clip: str | None = Field(None, max_length=10_000)
    fps: float = Field(24.0, gt=0.01, le=10_000.0)
    unit: float = Field(1.0, ge=1e-6, le=1e6, description="metres, where the file does not say")
    revision: int = 0


class MatchView(BaseModel):
    """A part of the file, and the scene's part of its name."""

    name: str
    part: str | None


class TakeInView(BaseModel):
    """What a file holds, what of it matches, and what became of it."""

    scene: int | None = Field(description="the number of the new scene")
    clips: list[str]
    matches: list[MatchView]
    channels: list[str] = Field(
        description="what the file has of single channels that have the name of one here"
    )
    report: ReportView


class ReceiverView(BaseModel):
    """What the scene's receiver is told beside its clips."""

    revision: int
    setup: Setup


class ReceiveWish(Incoming):
    """What a receiver is to play: the bakes as one glTF file, its setup, and what inputs are told.

    Attributes:
        bakes: their identities; all when left out.
        said: by input, times in seconds, ascending, with values.
    """

    bakes: list[str] = Field([], max_length=200)
    setup: Setup = Setup()
    said: dict[str, list[tuple[float, float]]] = Field({}, max_length=500)
    seconds: float = Field(10.0, ge=0.0, le=120.0)
    rate: float = Field(60.0, ge=1.0, le=240.0)
