"""Bakes in a scene document, and the way between them and a scene's."""

from __future__ import annotations

from collections.abc import Callable

from pydantic import Field

from bindu.core.edits.bakes import PutBake
from bindu.core.scene.bakes import Bake, Baked, BakedCurve, BakedPart, By
from bindu.core.scene.model import Scene
from bindu.core.scene.parts import Rest, Role, RotationOrder
from bindu.formats.scene.curve_entries import Flag, Listed, Number, StrictEntry, Vector3, Whole


class BakedPartEntry(StrictEntry):
    """A part as it was written out. A curve is packed, straight between frames: each frame
    less the one before it (int32, the first less 0); then values (float64), the first bytes of all
    of them, then the second ones, and so on; little-endian, zlib, base64."""

    part: str = Field(description="its identity")
    name: str
    parent: Whole | None = Field(None, description="the place of its parent in the list", ge=0)
    role: Role = "joint"
    translation: Vector3 = Field((0.0, 0.0, 0.0), description="of its rest, metres")
    rotation: Vector3 = Field((0.0, 0.0, 0.0), description="of its rest, degrees")
    rotation_order: RotationOrder = "xyz"
    curves: dict[str, str] = Field({}, description="by channel, packed")


class BakedEntry(StrictEntry):
    """What a bake wrote out."""

    digest: str
    fps: Number = Field(gt=0.0)
    first: Whole
    last: Whole
    parts: Listed[BakedPartEntry] = []
    markers: Listed[tuple[Number, str]] = []


class BakeEntry(StrictEntry):
    """Curves of what leaves, linked with what they came from."""

    name: str
    id: str | None = Field(None, description="identity; made up when left out")
    span: tuple[Whole, Whole]
    by: By = "joints and props"
    set: str | None = Field(None, description="the set's name")
    parts: Listed[str] = []
    own_channels: Flag = True
    step: Whole = Field(1, ge=1)
    tolerance: Number = Field(0.0, ge=0.0)
    follows: Flag = False
    made: BakedEntry | None = None


def bake_entry(scene: Scene, bake: Bake) -> BakeEntry:
    """A bake by people's names."""
    return BakeEntry(
        name=bake.name,
        id=bake.id,
        span=(bake.first, bake.last),
        by=bake.by,
        set=None if bake.set is None else scene.sets[bake.set].name,
        parts=[scene.parts[part].name for part in bake.parts],
        own_channels=bake.own_channels,
        step=bake.step,
        tolerance=bake.tolerance,
        follows=bake.follows,
        made=None if bake.made is None else _baked_entry(bake.made),
    )


def _baked_entry(made: Baked) -> BakedEntry:
    return BakedEntry(
        digest=made.digest,
        fps=made.fps,
        first=made.first,
        last=made.last,
        markers=list(made.markers),
        parts=[
            BakedPartEntry(
                part=part.part,
                name=part.name,
                parent=part.parent,
                role=part.role,
                translation=part.rest.translation,
                rotation=part.rest.rotation,
                rotation_order=part.rotation_order,
                curves={curve.channel: curve.packed for curve in part.curves},
            )
            for part in made.parts
        ],
    )


def put_bake(
    entry: BakeEntry, part_id: Callable[[str], str], set_id: Callable[[str], str]
) -> PutBake:
    """The edit that makes a bake of its entry.

    Raises:
        Refusal: when a name stands for nothing, or a curve is none.
    """
    return PutBake(
        entry.name,
        *entry.span,
        entry.by,
        None if entry.set is None else set_id(entry.set),
        tuple(part_id(name) for name in entry.parts),
        entry.own_channels,
        entry.step,
        entry.tolerance,
        entry.follows,
        None if entry.made is None else _baked(entry.made),
        entry.id,
    )


def _baked(entry: BakedEntry) -> Baked:
    parts = []
    for part in entry.parts:
        curves = tuple(BakedCurve(channel, packed) for channel, packed in part.curves.items())
        rest, order = Rest(part.translation, part.rotation), part.rotation_order
        parts.append(BakedPart(part.part, part.name, part.parent, part.role, rest, order, curves))
    return Baked(
        entry.digest, entry.fps, entry.first, entry.last, tuple(parts), tuple(entry.markers)
    )
