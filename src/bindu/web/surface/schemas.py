"""What travels about surfaces."""

from __future__ import annotations

from typing import Annotated

from pydantic import BaseModel, Field

from bindu.core.edits.surfaces import MOST_STEPS
from bindu.core.scene.settings import Vector
from bindu.web.scene.schemas import Incoming, OneEdit, Query, ScenePath

MOST_FRAMES = 24
MOST_HELD = 64
Order = Annotated[list[str], Field(max_length=MOST_STEPS)]


class SurfacePath(ScenePath):
    """One surface of a scene."""

    surface_id: str = Field(max_length=40)


class PointsWish(Incoming):
    """Which frames of a surface are wanted.

    Attributes:
        order: the steps in another order; None: as they are.
        other: a second order, to be compared with the first one.
        trying: edits that are only tried.
        have: keys of blocks that the browser holds.
    """

    frames: list[int] = Field(min_length=1, max_length=MOST_FRAMES)
    order: Order | None = None
    other: Order | None = None
    trying: list[OneEdit] = []
    have: list[str] = Field([], max_length=MOST_HELD)


class PointQuery(Query):
    """A point of the finished surface, on a frame."""

    point: int
    frame: int


class PointStepView(BaseModel):
    """What a step did to a point; ``step`` is None for the cage."""

    step: str | None
    before: Vector
    after: Vector
    moved: float | None = Field(description="metres; null where it only goes into the world")
    world: bool = Field(description="the place after it is in the world, else in the part's axes")


class PointView(BaseModel):
    """The account of a point."""

    revision: int
    point: int
    frame: int
    made_of: list[tuple[int, float]] = Field(description="points of the cage, and their shares")
    steps: list[PointStepView]


class OrdersWish(Incoming):
    """Two orders, compared over a span of frames."""

    one: Order
    other: Order
    first: int
    last: int


class OrdersView(BaseModel):
    """How far apart two orders are over the span, metres, and what is typical of it."""

    revision: int
    mean: float
    worst: float
    point: int
    frame: int
    frames: int
    words: list[str]


class WeightsQuery(Query):
    """A bend of a surface."""

    step: str = Field(max_length=40)


class WeightsView(BaseModel):
    """How far each joint of a bend holds each point of the cage, in rows by point."""

    revision: int
    joints: list[str]
    weights: list[list[float]]
