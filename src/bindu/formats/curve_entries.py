"""Keys and curves in a scene document."""

from __future__ import annotations

from pydantic import BaseModel, ConfigDict, Field

from bindu.core.curves.model import Interpolation, Outside, TangentMode


class Entry(BaseModel):
    """Strict: unknown fields and numbers that are not finite are refused."""

    model_config = ConfigDict(extra="forbid", allow_inf_nan=False, frozen=True)


class TangentEntry(Entry):
    """A handle in the plane of (frame, value)."""

    angle: float = Field(description="degrees from the time axis, -90 to 90")
    length: float


class KeyEntry(Entry):
    """A key. Tangents of a smart key follow from its neighbours and are left out."""

    frame: float
    value: float
    interpolation: Interpolation = Field(
        "smooth", description="of the segment to the right of the key"
    )
    tangents: TangentMode = "smart"
    left: TangentEntry | None = None
    right: TangentEntry | None = None


class CurveEntry(Entry):
    """A channel's own curve."""

    keys: list[KeyEntry] = Field(min_length=1)
    before: Outside = "hold"
    after: Outside = "hold"
