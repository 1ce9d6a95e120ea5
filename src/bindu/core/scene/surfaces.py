"""Surfaces: cages of points and faces, and the steps that deform them in an order."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, replace
from functools import cached_property
from typing import Literal

from bindu.core.scene.settings import StepInput, Vector

Face = tuple[int, ...]
"""The numbers of its corners, counted from 0, against the clock as seen from outside."""
WaveForm = Literal["waves", "noise"]
DeformKind = Literal["blend shapes", "bend by joints", "displace", "subdivide", "carry"]


@dataclass(frozen=True)
class Deform:
    """A step that deforms a surface.

    Attributes:
        id: within its surface.
        on: whether it does anything.
    """

    id: str
    name: str
    on: bool = True

    @property
    def inputs(self) -> tuple[tuple[str, StepInput], ...]:
        """The channels that it has on the surface's part: what each is for, and its weight
        first."""
        return ((f"{self.id}.weight", StepInput("weight")),)

    def input(self, key: str, name: str, default: float, unit: str = "") -> tuple[str, StepInput]:
        """One channel without bounds."""
        return f"{self.id}.{key}", StepInput(name, default, None, None, unit=unit)


@dataclass(frozen=True)
class BlendShape:
    """Offsets of some of the cage's points.

    Attributes:
        id: within its step.
        offsets: by point, metres in the part's axes.
    """

    id: str
    name: str
    offsets: tuple[tuple[int, Vector], ...] = ()


@dataclass(frozen=True)
class BlendShapes(Deform):
    """Adds shapes, each as far as its own weight says."""

    shapes: tuple[BlendShape, ...] = ()
    kind: Literal["blend shapes"] = "blend shapes"

    @property
    def inputs(self) -> tuple[tuple[str, StepInput], ...]:
        """See ``Deform``."""
        own = (self.input(one.id, one.name, 0.0) for one in self.shapes)
        return (*super().inputs, *own)


@dataclass(frozen=True)
class JointWeights:
    """What a joint holds of the cage: weights by point."""

    joint: str
    weights: tuple[tuple[int, float], ...] = ()


@dataclass(frozen=True)
class BendByJoints(Deform):
    """Lets points go along with parts that move from where they rest."""

    joints: tuple[JointWeights, ...] = ()
    kind: Literal["bend by joints"] = "bend by joints"


@dataclass(frozen=True)
class Displace(Deform):
    """Moves points along the normal, by waves or a noise.

    Attributes:
        axis: along which the waves go, or the noise drifts.
        seed: which noise.
    """

    form: WaveForm = "waves"
    axis: Vector = (1.0, 0.0, 0.0)
    seed: int = 0
    kind: Literal["displace"] = "displace"

    @property
    def inputs(self) -> tuple[tuple[str, StepInput], ...]:
        """See ``Deform``."""
        return (
            *super().inputs,
            self.input("amplitude", "amplitude", 0.02, "m"),
            (f"{self.id}.length", StepInput("length", 0.5, 0.001, None, unit="m")),
            self.input("shift", "shift", 0.0),
        )


@dataclass(frozen=True)
class Subdivide(Deform):
    """Divides every face in four, and rounds what comes of it."""

    rounds: int = 1
    kind: Literal["subdivide"] = "subdivide"


@dataclass(frozen=True)
class Carry(Deform):
    """Takes the points along with the part's own motion: from its axes into the world."""

    kind: Literal["carry"] = "carry"


AnyDeform = BlendShapes | BendByJoints | Displace | Subdivide | Carry


@dataclass(frozen=True)
class Surface:
    """Points and faces on a part, and the steps that deform them, in their order.

    Attributes:
        part: in whose axes the cage's points are, and whose channels ``<surface>.<step> weight``
            and so on steer the steps.
        points: the cage's points, metres.
        faces: the cage's faces.
        steps: the first one comes first.
    """

    id: str
    name: str
    part: str
    points: tuple[Vector, ...] = ()
    faces: tuple[Face, ...] = ()
    steps: tuple[AnyDeform, ...] = ()
    colour: str = "#C9A66B"

    @property
    def members(self) -> tuple[str, ...]:
        """No part has a step that names it."""
        return ()

    @cached_property
    def inputs(self) -> tuple[StepInput, ...]:
        """What steers its steps."""
        return tuple(replace(one, key=key) for step in self.steps for key, one in step.inputs)

    @cached_property
    def input_names(self) -> Mapping[str, str]:
        """The keys of its inputs as people see them: the shape alone, or the step and what of
        it."""
        return {
            key: one.key
            if isinstance(step, BlendShapes) and key != f"{step.id}.weight"
            else f"{step.name} {one.key}"
            for step in self.steps
            for key, one in step.inputs
        }

    def step(self, deform: str) -> AnyDeform | None:
        """The step with this identity."""
        return next((one for one in self.steps if one.id == deform), None)
