"""Surfaces in a scene document, and the way between them and a scene's."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from typing import Annotated, Any, Literal

from pydantic import Field

from bindu.core.edits.base import new_id
from bindu.core.scene.model import Scene
from bindu.core.scene.surfaces import (
    AnyDeform,
    BendByJoints,
    BlendShape,
    BlendShapes,
    Carry,
    Displace,
    JointWeights,
    Subdivide,
    Surface,
    WaveForm,
)
from bindu.formats.scene.curve_entries import Flag, Listed, Number, StrictEntry, Vector3, Whole

PointOffset = tuple[Whole, Number, Number, Number]
PointWeight = tuple[Whole, Number]


class DeformEntry(StrictEntry):
    """What every step of a surface has; its weight is the channel ``<surface>.<name> weight``."""

    name: str
    id: str | None = Field(None, description="identity; made up when left out")
    on: Flag = True


class ShapeOffsetsEntry(StrictEntry):
    """A blend shape; how far it is added is the channel ``<surface>.<name>``."""

    name: str
    id: str | None = Field(None, description="identity; made up when left out")
    offsets: Listed[PointOffset] = Field([], description="point, and metres along x, y, z")


class BlendShapesEntry(DeformEntry):
    """Adds shapes."""

    kind: Literal["blend shapes"]
    shapes: Listed[ShapeOffsetsEntry] = []


class JointWeightsEntry(StrictEntry):
    """What a joint holds."""

    joint: str
    weights: Listed[PointWeight] = Field([], description="point, and how far it is held")


class BendByJointsEntry(DeformEntry):
    """Bends the surface by joints."""

    kind: Literal["bend by joints"]
    joints: Listed[JointWeightsEntry] = []


class DisplaceEntry(DeformEntry):
    """Moves points along the normal."""

    kind: Literal["displace"]
    form: WaveForm = "waves"
    axis: Vector3 = (1.0, 0.0, 0.0)
    seed: Whole = 0


class SubdivideEntry(DeformEntry):
    """Divides every face in four."""

    kind: Literal["subdivide"]
    rounds: Whole = Field(1, ge=1, le=2)


class CarryEntry(DeformEntry):
    """Takes the points along with the part."""

    kind: Literal["carry"]


AnyDeformEntry = Annotated[
    BlendShapesEntry | BendByJointsEntry | DisplaceEntry | SubdivideEntry | CarryEntry,
    Field(discriminator="kind"),
]


class SurfaceEntry(StrictEntry):
    """A surface: points and faces on a part, and the steps that deform them in their order."""

    name: str
    id: str | None = Field(None, description="identity; made up when left out")
    part: str
    colour: str = Field(default="#C9A66B", description="#RRGGBB")
    points: Listed[Vector3] = Field(min_length=1, description="metres, in the part's axes")
    faces: Listed[Listed[Whole]] = Field(
        description="numbers of points, against the clock as seen from outside"
    )
    steps: Listed[AnyDeformEntry] = []


def surface_entry(scene: Scene, surface: Surface) -> SurfaceEntry:
    """A surface by people's names."""
    return SurfaceEntry(
        name=surface.name,
        id=surface.id,
        part=scene.parts[surface.part].name,
        colour=surface.colour,
        points=list(surface.points),
        faces=[list(face) for face in surface.faces],
        steps=[_deform_entry(scene, step) for step in surface.steps],
    )


def _deform_entry(scene: Scene, step: AnyDeform) -> Any:
    common: dict[str, Any] = {"name": step.name, "id": step.id, "on": step.on, "kind": step.kind}
    if isinstance(step, BlendShapes):
        shapes = [
            ShapeOffsetsEntry(
                name=one.name,
                id=one.id,
                offsets=[(point, *offset) for point, offset in one.offsets],
            )
            for one in step.shapes
        ]
        return BlendShapesEntry(**common, shapes=shapes)
    if isinstance(step, BendByJoints):
        joints = [
            JointWeightsEntry(joint=scene.parts[one.joint].name, weights=list(one.weights))
            for one in step.joints
        ]
        return BendByJointsEntry(**common, joints=joints)
    if isinstance(step, Displace):
        return DisplaceEntry(**common, form=step.form, axis=step.axis, seed=step.seed)
    if isinstance(step, Subdivide):
        return SubdivideEntry(**common, rounds=step.rounds)
    return CarryEntry(**common)


def surface_steps(entry: SurfaceEntry, part_id: Callable[[str], str]) -> tuple[AnyDeform, ...]:
    """The steps of a surface's entry, with identities for those that have none.

    Args:
        part_id: the identity of a part by its name.

    Raises:
        Refusal: when a joint's name stands for no part.
    """
    taken = {one.id for one in entry.steps if one.id is not None}
    made = []
    for one in entry.steps:
        key = one.id or new_id("d", taken)
        taken.add(key)
        made.append(_deform(one, key, part_id))
    return tuple(made)


def _deform(entry: Any, key: str, part_id: Callable[[str], str]) -> AnyDeform:
    common: dict[str, Any] = {"id": key, "name": entry.name, "on": entry.on}
    if isinstance(entry, BlendShapesEntry):
        taken = {"weight"} | {one.id for one in entry.shapes if one.id is not None}
        shapes = []
        for one in entry.shapes:
            shape = one.id or new_id("h", taken)
            taken.add(shape)
            offsets = tuple((point, (x, y, z)) for point, x, y, z in one.offsets)
            shapes.append(BlendShape(shape, one.name, offsets))
        return BlendShapes(**common, shapes=tuple(shapes))
    if isinstance(entry, BendByJointsEntry):
        joints = (JointWeights(part_id(one.joint), tuple(one.weights)) for one in entry.joints)
        return BendByJoints(**common, joints=tuple(joints))
    if isinstance(entry, DisplaceEntry):
        return Displace(**common, form=entry.form, axis=entry.axis, seed=entry.seed)
    if isinstance(entry, SubdivideEntry):
        return Subdivide(**common, rounds=entry.rounds)
    return Carry(**common)


def surface_channels(entry: SurfaceEntry, key: str) -> Mapping[str, str]:
    """The channels that a surface has on its part, by the names that people see.

    Args:
        key: the surface's identity.
    """
    made = Surface(key, entry.name, "", steps=surface_steps(entry, lambda name: name))
    return {f"{entry.name}.{name}": f"{key}.{one}" for one, name in made.input_names.items()}
