"""Edits of the steps that deform a surface: their order, and what each does."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace
from typing import Literal, TypeVar

import numpy as np

from bindu.core.counted import counted
from bindu.core.curves.model import Array
from bindu.core.edits.base import new_id
from bindu.core.edits.surfaces import found_surface, with_surface
from bindu.core.refusal import Refusal
from bindu.core.scene.model import Scene
from bindu.core.scene.settings import Vector
from bindu.core.scene.surfaces import (
    AnyDeform,
    BendByJoints,
    BlendShape,
    BlendShapes,
    Carry,
    DeformKind,
    Displace,
    Subdivide,
    Surface,
    WaveForm,
)
from bindu.core.surface.mesh import mesh_of
from bindu.core.surface.weights import by_distance, set_by_hand, smoothed

MOST_SHAPES = 100
MOST_JOINTS = 200
T = TypeVar("T", BlendShapes, BendByJoints)
KINDS: dict[DeformKind, type[AnyDeform]] = {
    "blend shapes": BlendShapes,
    "bend by joints": BendByJoints,
    "displace": Displace,
    "subdivide": Subdivide,
    "carry": Carry,
}


@dataclass(frozen=True)
class AddDeform:
    """Adds a step to a surface, before it is carried.

    Attributes:
        joints: of a bend, the parts that it goes along with; weights are made by distance.
    """

    surface: str
    kind: DeformKind
    name: str | None = None
    joints: tuple[str, ...] = ()
    id: str | None = None
    do: Literal["add deform"] = "add deform"

    def label(self, scene: Scene) -> str:
        """See ``Edit``."""
        return f"{self.name or self.kind} on {found_surface(scene, self.surface).name}"

    def apply(self, scene: Scene) -> Scene:
        """See ``Edit``."""
        surface = found_surface(scene, self.surface)
        step_id = new_id("d", {one.id for one in surface.steps}, self.id)
        names, name, n = {one.name for one in surface.steps}, self.name or self.kind, 2
        while self.name is None and name in names:
            name, n = f"{self.kind} {n}", n + 1
        made = KINDS[self.kind](step_id, name)
        if isinstance(made, BendByJoints) and self.joints:
            _check_joints(scene, self.joints, surface)
            made = replace(made, joints=by_distance(scene, surface, self.joints))
        place = next((n for n, one in enumerate(surface.steps) if one.kind == "carry"), None)
        steps = list(surface.steps)
        steps.insert(len(steps) if place is None else place, made)
        return with_surface(scene, replace(surface, steps=tuple(steps)))


@dataclass(frozen=True)
class ChangeDeform:
    """Changes a step of a surface; what is None stays.

    Attributes:
        rounds: of a subdivision.
        form, axis, seed: of a displacement.
    """

    surface: str
    step: str
    name: str | None = None
    on: bool | None = None
    rounds: int | None = None
    form: WaveForm | None = None
    axis: Vector | None = None
    seed: int | None = None
    do: Literal["change deform"] = "change deform"

    def label(self, scene: Scene) -> str:
        """See ``Edit``."""
        name = found_deform(found_surface(scene, self.surface), self.step).name
        if self.on is not None:
            return f"{'unmute' if self.on else 'mute'} {name}"
        return f"change {name}"

    def apply(self, scene: Scene) -> Scene:
        """See ``Edit``."""
        surface = found_surface(scene, self.surface)
        old = found_deform(surface, self.step)
        given = ("name", "on", "rounds", "form", "axis", "seed")
        changes = {key: value for key in given if (value := getattr(self, key)) is not None}
        for key in changes:
            if not hasattr(old, key):
                text = f"{old.kind} has no {key}."
                raise Refusal(text, code="choice", place=old.name)
        return _with_step(scene, surface, replace(old, **changes))


@dataclass(frozen=True)
class OrderDeforms:
    """Puts the steps of a surface in another order, given by their identities."""

    surface: str
    order: tuple[str, ...]
    do: Literal["order deforms"] = "order deforms"

    def label(self, scene: Scene) -> str:
        """See ``Edit``."""
        return f"order of {found_surface(scene, self.surface).name}"

    def apply(self, scene: Scene) -> Scene:
        """See ``Edit``."""
        surface = found_surface(scene, self.surface)
        if sorted(self.order) != sorted(step.id for step in surface.steps):
            text = "an order names each of its steps once; they have changed meanwhile."
            raise Refusal(text, code="gone", place=surface.name)
        steps = {step.id: step for step in surface.steps}
        return with_surface(scene, replace(surface, steps=tuple(steps[one] for one in self.order)))


@dataclass(frozen=True)
class RemoveDeform:
    """Takes a step of a surface away, with its channels."""

    surface: str
    step: str
    do: Literal["remove deform"] = "remove deform"

    def label(self, scene: Scene) -> str:
        """See ``Edit``."""
        surface = found_surface(scene, self.surface)
        return f"delete {found_deform(surface, self.step).name} of {surface.name}"

    def apply(self, scene: Scene) -> Scene:
        """See ``Edit``."""
        surface = found_surface(scene, self.surface)
        found_deform(surface, self.step)
        steps = tuple(one for one in surface.steps if one.id != self.step)
        return with_surface(scene, replace(surface, steps=steps))


@dataclass(frozen=True)
class PutShape:
    """Adds a blend shape, or changes the shape ``id``: gives points of the cage an offset.

    Attributes:
        name: None: as it is.
        points: whose offset is set; those that it has elsewhere stay.
        offset: metres in the part's axes; nothing takes the points out of the shape.
        swell: metres along the cage's normals on top of that.
    """

    surface: str
    step: str
    name: str | None = None
    points: tuple[int, ...] = ()
    offset: Vector = (0.0, 0.0, 0.0)
    id: str | None = None
    swell: float = 0.0
    do: Literal["put shape"] = "put shape"

    def label(self, scene: Scene) -> str:
        """See ``Edit``."""
        return f"shape {self.name or 'of ' + found_surface(scene, self.surface).name}"

    def apply(self, scene: Scene) -> Scene:
        """See ``Edit``."""
        surface = found_surface(scene, self.surface)
        step = _of_kind(surface, self.step, BlendShapes)
        old = next((one for one in step.shapes if one.id == self.id), None)
        if old is None and len(step.shapes) >= MOST_SHAPES:
            raise Refusal(f"a step has at most {MOST_SHAPES} shapes.", code="too much")
        offsets = dict(old.offsets) if old else {}
        _check_points(surface, self.points)
        normals = _normals(surface) if self.swell else np.zeros((len(surface.points), 3))
        for point in self.points:
            x, y, z = np.round(np.array(self.offset) + self.swell * normals[point], 12).tolist()
            offsets[point] = x, y, z
        kept = tuple((p, o) for p, o in sorted(offsets.items()) if any(o))
        if old is None:
            key = new_id("h", {"weight"} | {one.id for one in step.shapes}, self.id)
            shapes = (*step.shapes, BlendShape(key, self.name or f"shape {key[1:]}", kept))
        else:
            made = BlendShape(old.id, self.name or old.name, kept)
            shapes = tuple(made if one is old else one for one in step.shapes)
        return _with_step(scene, surface, replace(step, shapes=shapes))


@dataclass(frozen=True)
class RemoveShape:
    """Takes a blend shape away, with its channel."""

    surface: str
    step: str
    id: str
    do: Literal["remove shape"] = "remove shape"

    def label(self, scene: Scene) -> str:
        """See ``Edit``."""
        step = _of_kind(found_surface(scene, self.surface), self.step, BlendShapes)
        name = next((one.name for one in step.shapes if one.id == self.id), "a shape")
        return f"delete the shape {name}"

    def apply(self, scene: Scene) -> Scene:
        """See ``Edit``."""
        surface = found_surface(scene, self.surface)
        step = _of_kind(surface, self.step, BlendShapes)
        if all(one.id != self.id for one in step.shapes):
            raise Refusal("that shape is not there any more.", code="gone", place=step.name)
        shapes = tuple(one for one in step.shapes if one.id != self.id)
        return _with_step(scene, surface, replace(step, shapes=shapes))


@dataclass(frozen=True)
class WeighByDistance:
    """Gives a bend these joints, with weights that fall with the distance from where they rest."""

    surface: str
    step: str
    joints: tuple[str, ...]
    do: Literal["weigh by distance"] = "weigh by distance"

    def label(self, scene: Scene) -> str:
        """See ``Edit``."""
        return f"weights of {found_surface(scene, self.surface).name} by distance"

    def apply(self, scene: Scene) -> Scene:
        """See ``Edit``."""
        surface = found_surface(scene, self.surface)
        step = found_bend(surface, self.step)
        _check_joints(scene, self.joints, surface)
        joints = by_distance(scene, surface, self.joints)
        return _with_step(scene, surface, replace(step, joints=joints))


@dataclass(frozen=True)
class SmoothWeights:
    """Mixes the weights of a bend with those of neighbouring points, some rounds."""

    surface: str
    step: str
    rounds: int = 1
    do: Literal["smooth weights"] = "smooth weights"

    def label(self, scene: Scene) -> str:
        """See ``Edit``."""
        return f"smooth the weights of {found_surface(scene, self.surface).name}"

    def apply(self, scene: Scene) -> Scene:
        """See ``Edit``."""
        surface = found_surface(scene, self.surface)
        step = found_bend(surface, self.step)
        if not 1 <= self.rounds <= 100:
            raise Refusal("smooth 1 to 100 rounds.", code="number", place="rounds")
        joints = smoothed(surface, step.joints, self.rounds)
        return _with_step(scene, surface, replace(step, joints=joints))


@dataclass(frozen=True)
class SetWeights:
    """Lets a joint hold points of the cage as far as one says; the others share the rest."""

    surface: str
    step: str
    joint: str
    points: tuple[int, ...]
    weight: float
    do: Literal["set weights"] = "set weights"

    def label(self, scene: Scene) -> str:
        """See ``Edit``."""
        joint = scene.parts.get(self.joint)
        points = counted(len(self.points), "point")
        return f"weight of {joint.name if joint else 'a joint'} on {points}"

    def apply(self, scene: Scene) -> Scene:
        """See ``Edit``."""
        surface = found_surface(scene, self.surface)
        step = found_bend(surface, self.step)
        if all(one.joint != self.joint for one in step.joints):
            raise Refusal("it does not bend by this joint.", code="gone", place=step.name)
        if not 0.0 <= self.weight <= 1.0:
            raise Refusal("a weight is from 0 to 1.", code="number", place="weight")
        _check_points(surface, self.points)
        if not self.points:
            raise Refusal("choose the points, such as 0-7, 12.", code="choice", place="points")
        joints = set_by_hand(surface, step.joints, self.joint, self.points, self.weight)
        return _with_step(scene, surface, replace(step, joints=joints))


def _normals(surface: Surface) -> Array:
    """Which way the cage faces at each point, shape (P, 3)."""
    mesh = mesh_of(len(surface.points), surface.faces)
    return np.asarray(mesh.normals(np.array([surface.points]))[0])


def found_deform(surface: Surface, step: str) -> AnyDeform:
    """The step of a surface with this identity.

    Raises:
        Refusal: when it is not there any more.
    """
    found = surface.step(step)
    if found is None:
        raise Refusal(f"it has no step with the identity {step!r} any more.", code="gone")
    return found


def found_bend(surface: Surface, step: str) -> BendByJoints:
    """The bend of a surface with this identity.

    Raises:
        Refusal: when it is not there any more, or no bend.
    """
    return _of_kind(surface, step, BendByJoints)


def _of_kind(surface: Surface, step: str, kind: type[T]) -> T:
    found = found_deform(surface, step)
    if not isinstance(found, kind):
        raise Refusal(f"{found.kind} has no such thing.", code="choice", place=found.name)
    return found


def _with_step(scene: Scene, surface: Surface, made: AnyDeform) -> Scene:
    steps = tuple(made if one.id == made.id else one for one in surface.steps)
    return with_surface(scene, replace(surface, steps=steps))


def _check_points(surface: Surface, points: Sequence[int]) -> None:
    for point in points:
        if not 0 <= point < len(surface.points):
            text = f"there is no point {point}: they count from 0 to {len(surface.points) - 1}."
            raise Refusal(text, code="number", place=surface.name)


def _check_joints(scene: Scene, joints: Sequence[str], surface: Surface) -> None:
    if not 1 <= len(joints) <= MOST_JOINTS:
        raise Refusal(f"choose 1 to {MOST_JOINTS} joints.", code="choice", place=surface.name)
    for joint in joints:
        if joint not in scene.parts:
            raise Refusal(f"there is no part with the identity {joint!r} any more.", code="gone")


DeformEdit = (
    AddDeform
    | ChangeDeform
    | OrderDeforms
    | RemoveDeform
    | PutShape
    | RemoveShape
    | WeighByDistance
    | SmoothWeights
    | SetWeights
)
