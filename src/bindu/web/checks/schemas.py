"""What travels about checks."""

from __future__ import annotations

from pydantic import BaseModel, Field

from bindu.core.checks.check import Severity
from bindu.core.edits import MOST_EDITS_AT_ONCE
from bindu.core.scene.things import Accepted
from bindu.web.scene.schemas import Incoming, OneEdit, Query

LONGEST_ID = 1000


class ThresholdView(BaseModel):
    """A threshold as it is set; ``words`` takes the value in the place of ``{}``."""

    key: str
    value: float
    default: float
    unit: str
    words: str
    low: float
    high: float


class CheckView(BaseModel):
    """A check, and how it looks at the scene."""

    name: str
    why: str
    severity: Severity
    on: bool
    thresholds: list[ThresholdView]


class FindingView(BaseModel):
    """A finding; ``accepted``: the identity of what it is accepted by."""

    id: str
    check: str
    severity: Severity
    part: str
    channel: str
    what: str
    cause: str
    text: str
    amount: float
    unit: str
    step: str | None
    spans: list[tuple[int, int]]
    frame: int | None
    accepted: str | None


class ChecksView(BaseModel):
    """All checks and all that they found."""

    revision: int
    checks: list[CheckView]
    findings: list[FindingView]
    accepted: list[Accepted]


class FindingQuery(Query):
    """Which finding."""

    id: str = Field(max_length=LONGEST_ID)


class OfferView(BaseModel):
    """A remedy; ``kind`` tells it from the others of its check."""

    kind: str
    text: str
    cost: str
    edits: list[OneEdit]


class WayView(BaseModel):
    """A way through the world that shows a finding; ``dashed``: one that is not gone."""

    name: str
    points: list[tuple[float, float, float]]
    dashed: bool


class FindingDetails(BaseModel):
    """A finding with its amount over frames, where there is such a curve, the ways that show it,
    and its remedies."""

    revision: int
    finding: FindingView
    first: int
    amounts: list[float] | None
    level: float | None
    ways: list[WayView]
    offers: list[OfferView]


class TriedWish(Incoming):
    """A finding, and edits to be tried."""

    id: str = Field(max_length=LONGEST_ID)
    edits: list[OneEdit] = Field(min_length=1, max_length=MOST_EDITS_AT_ONCE)


class TriedView(BaseModel):
    """What edits would make of a finding.

    ``left``: what of the same check is left on its part, in words, None where nothing is;
    ``amounts``: over frames, of what is left; ``gone`` and ``new``: how many findings of the whole
    scene there would be no more, and how many others; ``moved``: the parts whose place or channels
    change.
    """

    left: str | None
    amounts: list[float] | None
    gone: int
    new: list[str]
    moved: list[str]
