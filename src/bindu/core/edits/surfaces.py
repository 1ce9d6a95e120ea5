"""Edits of surfaces: made, renamed, taken away."""

from __future__ import annotations

import re
from dataclasses import dataclass, replace
from typing import Literal

from bindu.core.edits.base import (
    IDENTITY,
    found_part,
    identities,
    new_id,
    refuse_readers,
    within,
    without_channels,
    without_steps,
    written,
)
from bindu.core.edits.owners import owner_channels, refuse_owner_readers, without_owner
from bindu.core.refusal import Refusal
from bindu.core.scene.channels import ChannelRef, step_channel
from bindu.core.scene.model import Scene
from bindu.core.scene.names import check_name
from bindu.core.scene.settings import Vector
from bindu.core.scene.surfaces import (
    AnyDeform,
    BendByJoints,
    BlendShapes,
    Carry,
    Face,
    Subdivide,
    Surface,
)
from bindu.core.surface.mesh import checked_cage
from bindu.core.surface.solids import Solid, solid_cage
from bindu.core.surface.trouble import check_deform

MOST_SURFACES = 100
MOST_STEPS = 40
MOST_ROUNDS = 2
COLOUR = re.compile(r"#[0-9A-Fa-f]{6}")


@dataclass(frozen=True)
class PutSurface:
    """Adds a surface, or changes the surface ``id`` wholly; see ``Surface``."""

    name: str
    part: str
    points: tuple[Vector, ...]
    faces: tuple[Face, ...]
    steps: tuple[AnyDeform, ...] = ()
    colour: str = "#C9A66B"
    id: str | None = None
    do: Literal["put surface"] = "put surface"

    def label(self, scene: Scene) -> str:
        """See ``Edit``."""
        return f"surface {self.name}"

    def apply(self, scene: Scene) -> Scene:
        """See ``Edit``."""
        points, faces = checked_cage(self.points, self.faces)
        old = scene.surfaces.get(self.id or "")
        if old is not None and old.part != self.part:
            text = "its numbers are channels of the part it was made on."
            raise Refusal(text, code="choice", place=self.name)
        key = old.id if old else _new_key(scene, self.id)
        made = Surface(key, self.name, self.part, points, faces, self.steps, self.colour)
        return with_surface(scene, made)


@dataclass(frozen=True)
class MakeSurface:
    """Makes a surface in the form of a simple solid, which its part carries.

    Attributes:
        solid: see ``solid_cage``, as size, middle and divisions.
    """

    name: str
    part: str
    solid: Solid = "tube"
    size: Vector = (1.0, 1.0, 1.0)
    middle: Vector = (0.0, 0.0, 0.0)
    divisions: Vector = (6.0, 8.0, 1.0)
    colour: str = "#C9A66B"
    id: str | None = None
    do: Literal["make surface"] = "make surface"

    def label(self, scene: Scene) -> str:
        """See ``Edit``."""
        return f"make the surface {self.name}"

    def apply(self, scene: Scene) -> Scene:
        """See ``Edit``."""
        for number in self.divisions:
            if not (number == int(number) and 1 <= number <= 60):
                text = f"a solid has 1 to 60 faces each way, not {number:g}."
                raise Refusal(text, code="number", place="divisions")
        if self.solid == "tube" and not 3 <= self.divisions[1] <= 16:
            text = f"a tube has 3 to 16 sides, not {self.divisions[1]:g}."
            raise Refusal(text, code="number", place="divisions")
        if not all(0.0 < abs(number) <= 1e4 for number in self.size):
            raise Refusal("a size is above 0 and at most 10,000 m.", code="number", place="size")
        points, faces = solid_cage(self.solid, self.size, self.middle, self.divisions)
        steps = (Subdivide("d1", "subdivide"), Carry("d2", "carry"))
        put = PutSurface(self.name, self.part, points, faces, steps, self.colour, self.id)
        return put.apply(scene)


@dataclass(frozen=True)
class ChangeSurface:
    """Gives a surface another name or colour."""

    id: str
    name: str | None = None
    colour: str | None = None
    do: Literal["change surface"] = "change surface"

    def label(self, scene: Scene) -> str:
        """See ``Edit``."""
        name = found_surface(scene, self.id).name
        return f"colour of {name}" if self.name is None else f"rename {name} to {self.name}"

    def apply(self, scene: Scene) -> Scene:
        """See ``Edit``."""
        old = found_surface(scene, self.id)
        name = old.name if self.name is None else self.name
        colour = old.colour if self.colour is None else self.colour
        return with_surface(scene, replace(old, name=name, colour=colour))


@dataclass(frozen=True)
class RemoveSurface:
    """Takes a surface away with its channels."""

    id: str
    do: Literal["remove surface"] = "remove surface"

    def label(self, scene: Scene) -> str:
        """See ``Edit``."""
        return f"delete the surface {found_surface(scene, self.id).name}"

    def apply(self, scene: Scene) -> Scene:
        """See ``Edit``."""
        surface = found_surface(scene, self.id)
        return without_owner(scene, surface, refuse_owner_readers(scene, surface))


def found_surface(scene: Scene, surface: str) -> Surface:
    """The surface with this identity.

    Raises:
        Refusal: when it is not there any more.
    """
    if surface not in scene.surfaces:
        text = f"there is no surface with the identity {surface!r} any more."
        raise Refusal(text, code="gone")
    return scene.surfaces[surface]


def with_surface(scene: Scene, made: Surface) -> Scene:
    """The scene with a surface more or changed, and without what is said of channels that go.

    Raises:
        Refusal: where it cannot be as it is, or something reads a channel that goes.
    """
    check_name(made.name, "name of the surface")
    found_part(scene, made.part)
    if not COLOUR.fullmatch(made.colour):
        raise Refusal("a colour is written #RRGGBB.", code="text", place="colour")
    if any(one.name == made.name and one.id != made.id for one in scene.surfaces.values()):
        raise Refusal("there is a surface with this name already.", code="taken", place=made.name)
    if len(made.steps) > MOST_STEPS:
        text = f"a surface has at most {MOST_STEPS} steps."
        raise Refusal(text, code="too much", place=made.name)
    _check_steps(scene, made)
    old = scene.surfaces.get(made.id)
    after = replace(scene, surfaces=within(scene.surfaces, made.id, made))
    return after if old is None else _without_lost(scene, after, old, made)


def _check_steps(scene: Scene, made: Surface) -> None:
    taken: set[str] = set()
    for step in made.steps:
        check_name(step.name, "name of the step")
        keys = [one.id for one in step.shapes] if isinstance(step, BlendShapes) else []
        for key in (step.id, *keys):
            if not IDENTITY.fullmatch(key) or key == "weight":
                text = f"{key!r} is no identity: a letter, then letters and digits."
                raise Refusal(text, code="text", place=step.name)
        if step.id in taken:
            text = f"the identity {step.id!r} stands for two steps."
            raise Refusal(text, code="taken", place=made.name)
        taken.add(step.id)
        check_deform(scene, made, step)
    names = [one.name for one in made.steps]
    names_of_channels = list(made.input_names.values())
    for listed in (names, names_of_channels):
        twice = next((name for name in listed if listed.count(name) > 1), None)
        if twice is not None:
            text = "two of its steps or shapes have this name; give one another."
            raise Refusal(text, code="taken", place=f"{made.name}.{twice}")
    kinds = [step.kind for step in made.steps]
    if kinds.count("carry") > 1:
        text = "it is carried once: by its part."
        raise Refusal(text, code="choice", place=made.name)
    rounds = sum(step.rounds for step in made.steps if isinstance(step, Subdivide))
    if rounds > MOST_ROUNDS:
        text = f"all in all it is subdivided at most {MOST_ROUNDS} times: "
        text += "each time makes four faces of one."
        raise Refusal(text, code="too much", place=made.name)


def _without_lost(before: Scene, after: Scene, old: Surface, new: Surface) -> Scene:
    """The scene without what is said of channels that a changed surface has no more."""
    left = {one.key for one in new.inputs}
    lost = {
        ChannelRef(old.part, step_channel(old.id, one.key))
        for one in old.inputs
        if one.key not in left
    }
    if not lost:
        return after
    gone = {s.id for s in before.steps.values() if not lost.isdisjoint(written(s))}
    refuse_readers(before, set(), lost, gone, new.name)
    return without_channels(without_steps(after, gone), lost)


def _new_key(scene: Scene, wanted: str | None) -> str:
    if len(scene.surfaces) >= MOST_SURFACES:
        raise Refusal(f"a scene holds at most {MOST_SURFACES} surfaces.", code="too much")
    return new_id("f", scene.surfaces, wanted, identities(scene))


def without_surface_parts(scene: Scene, gone: set[str]) -> Scene:
    """The scene whose surfaces know nothing of parts that go: without those on them, and the
    others without these joints."""
    for surface in tuple(scene.surfaces.values()):
        if surface.part in gone:
            own = owner_channels(surface)
            steps = {s.id for s in scene.steps.values() if not own.isdisjoint(written(s))}
            scene = without_owner(scene, surface, steps)
            continue
        steps_left = tuple(_without_joints(step, gone) for step in surface.steps)
        if steps_left != surface.steps:
            left = replace(surface, steps=steps_left)
            scene = replace(scene, surfaces=within(scene.surfaces, surface.id, left))
    return scene


def _without_joints(step: AnyDeform, gone: set[str]) -> AnyDeform:
    if not isinstance(step, BendByJoints):
        return step
    return replace(step, joints=tuple(one for one in step.joints if one.joint not in gone))


SurfaceEdit = PutSurface | MakeSurface | ChangeSurface | RemoveSurface
