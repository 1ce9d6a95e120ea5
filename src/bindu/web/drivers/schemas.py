"""What travels about drivers: stops sheets, copies of formulas, rules, slip probes."""

from __future__ import annotations

from pydantic import BaseModel, Field

from bindu.core.drivers.copying import Following
from bindu.core.edits import MOST_EDITS_AT_ONCE
from bindu.core.edits.rules import NameRule, RuleMatch
from bindu.web.scene.schemas import Incoming, OneEdit


class SheetWish(Incoming):
    """A set of driven keys as a sheet, with the driver tried at a value, and edits to try."""

    driven: str
    at: float
    trying: list[OneEdit] = Field(default=[], max_length=MOST_EDITS_AT_ONCE)


class RowSheetView(BaseModel):
    """A row: its step, what it makes of ``inputs``, and of the tried value."""

    row: str
    values: list[float | None]
    now: float | None


class SheetFindingView(BaseModel):
    """Something odd, about the set or one of its rows."""

    row: str | None
    text: str


class SheetView(BaseModel):
    """A set of driven keys over the range of its driver.

    Attributes:
        inputs: driver values from end to end.
        driver: the driver on each frame, or one number; None where it is not finite.
    """

    driven: str
    inputs: list[float]
    driver: list[float | None]
    at: float
    rows: list[RowSheetView]
    findings: list[SheetFindingView]


class CopiesWish(Incoming):
    """A formula to be copied to parts by a rule."""

    step: str
    parts: list[str] = Field(max_length=5000)
    rule: Following


class CopyPreview(BaseModel):
    """What a part would get: a formula, or why not."""

    part: str
    text: str | None
    problem: str | None


class CopiesView(BaseModel):
    """The copies, in the order of the wish."""

    copies: list[CopyPreview]


class RulesWish(Incoming):
    """Rules whose matches are to be seen before they are applied."""

    rules: list[NameRule] = Field(max_length=200)


class RulesView(BaseModel):
    """What rules would wire. A part with several entries is fitted by several rules."""

    matches: list[RuleMatch]


class SlipWish(Incoming):
    """A slip probe, edits to try, and with ``step`` a formula to fit over a span of frames."""

    probe: str
    first: int
    last: int
    step: str | None = None
    trying: list[OneEdit] = Field(default=[], max_length=MOST_EDITS_AT_ONCE)


class FitView(BaseModel):
    """The factor of least slip; see ``bindu.core.slip.Fit``."""

    factor: float
    text: str
    place: int | None
    value: float | None
    alike: int
    exact: str | None
    before: float
    after: float
    reasons: list[str]


class SlipView(BaseModel):
    """A probe's slip on each frame of the range, in metres a frame, and over the span.

    Attributes:
        points: where the point is in the world, three numbers a frame.
        vectors: the slip, three numbers a frame.
    """

    first: int
    amounts: list[float]
    points: list[float]
    vectors: list[float]
    sum: float
    worst: float
    worst_frame: int
    fit: FitView | None
