"""Keys and curves in a scene document."""

from __future__ import annotations

from collections import Counter
from typing import Annotated, Any, TypeVar

from pydantic import (
    BaseModel,
    ConfigDict,
    FailFast,
    Field,
    PlainSerializer,
    Strict,
    ValidatorFunctionWrapHandler,
    WrapValidator,
)

from bindu.core.curves.keys import LONGEST_TINT
from bindu.core.curves.model import Curve, Interpolation, Key, Outside, Tangent, TangentMode, Tint

Number = Annotated[float, Strict()]
"""A number; neither a text nor true or false stands for one."""
Whole = Annotated[int, Strict()]
Flag = Annotated[bool, Strict()]
Item = TypeVar("Item")
Listed = Annotated[list[Item], FailFast()]
"""A list that is read up to its first mistake."""
Vector3 = tuple[Number, Number, Number]
LEVEL = Tangent()
FRAMES = tuple(float(n) for n in range(2000))


class StrictEntry(BaseModel):
    """Strict: unknown fields and numbers that are not finite are refused."""

    model_config = ConfigDict(extra="forbid", allow_inf_nan=False, frozen=True)


class TangentEntry(StrictEntry):
    """A handle in the plane of (frame, value)."""

    angle: Number = Field(description="degrees from the time axis", ge=-90.0, le=90.0)
    length: Number = Field(ge=0.0)


class TintEntry(StrictEntry):
    """A mark of a key: a word, and a colour as #RRGGBB."""

    word: str = Field(min_length=1, max_length=LONGEST_TINT)
    colour: str = Field(pattern="^#[0-9a-fA-F]{6}$")


class KeyEntry(StrictEntry):
    """A key. Tangents of a smart key follow from its neighbours and are left out."""

    frame: Number
    value: Number
    interpolation: Interpolation = Field(
        "smooth", description="of the segment to the right of the key"
    )
    tangents: TangentMode = "smart"
    left: TangentEntry | None = None
    right: TangentEntry | None = None
    tint: TintEntry | None = None


class CurveEntry(StrictEntry):
    """A channel's own curve."""

    keys: Listed[KeyEntry] = Field(min_length=1, max_length=100_000)
    before: Outside = "hold"
    after: Outside = "hold"


def curve_of(entry: CurveEntry) -> Curve:
    """The curve of an entry, its smart tangents not made yet.

    Raises:
        ValueError: when two keys stand on one frame.
    """
    twice, count = Counter(key.frame for key in entry.keys).most_common(1)[0]
    if count > 1:
        raise ValueError(f"two keys stand at frame {twice:g}")
    keys = (
        Key(
            _frame(k.frame),
            k.value,
            k.interpolation,
            _tangent(k.left),
            _tangent(k.right),
            k.tangents,
            Tint(k.tint.word, k.tint.colour) if k.tint else None,
        )
        for k in entry.keys
    )
    return Curve(tuple(keys), entry.before, entry.after)


def curve_entry(curve: Curve) -> CurveEntry:
    """The entry of a curve."""
    keys = [_key_entry(key) for key in curve.keys]
    return CurveEntry(keys=keys, before=curve.before, after=curve.after)


def _key_entry(key: Key) -> KeyEntry:
    smart = key.mode == "smart"
    return KeyEntry(
        frame=key.frame,
        value=key.value,
        interpolation=key.interpolation,
        tangents=key.mode,
        left=None if smart else _tangent_entry(key.left),
        right=None if smart else _tangent_entry(key.right),
        tint=TintEntry(word=key.tint.word, colour=key.tint.colour) if key.tint else None,
    )


def _tangent_entry(tangent: Tangent) -> TangentEntry:
    return TangentEntry(angle=tangent.angle, length=tangent.length)


def _frame(frame: float) -> float:
    """The same number, one object for all keys on a usual whole frame: they are most of a scene."""
    usual = 0.0 < frame < len(FRAMES) and frame.is_integer()
    return FRAMES[int(frame)] if usual else frame


def _tangent(entry: TangentEntry | None) -> Tangent:
    return Tangent(entry.angle, entry.length) if entry else LEVEL


def _validated(value: Any, entry: ValidatorFunctionWrapHandler) -> Curve:
    return value if isinstance(value, Curve) else curve_of(entry(value))


def _written(curve: Curve) -> dict[str, Any]:
    return curve_entry(curve).model_dump(mode="json", exclude_defaults=True)


CurveField = Annotated[CurveEntry, WrapValidator(_validated), PlainSerializer(_written)]
"""A curve in a document: a ``CurveEntry`` in the text, held as the core's own ``Curve``, which
needs a fraction of the memory."""
