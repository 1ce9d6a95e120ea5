"""Position, rotation, scale and full constraints: an owner that goes with its targets."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace
from functools import cached_property

import numpy as np

from bindu.core.curves.model import Array
from bindu.core.graph.node import Operation, Read, Times
from bindu.core.graph.operations import LocalFrame
from bindu.core.refusal import Refusal
from bindu.core.rotation import (
    angles_quaternion,
    continuous_angles,
    matrices_of,
    mean_rotation,
    product,
)
from bindu.core.scene.channels import AXES, Zone, step_channel
from bindu.core.scene.model import Scene, Step
from bindu.core.scene.settings import ALL_AXES, ConstraintKind, ConstraintSettings, Offset
from bindu.core.steps.bound.checks import (
    checked_space,
    checked_tap,
    checked_targets,
    checked_vector,
    target_names,
)
from bindu.core.steps.bound.places import (
    Inputs,
    channels_rotation,
    owner_base,
    owner_frame,
    owner_reads,
    points_inside,
    points_outside,
    rotation_of,
    scale_of,
    target_place,
    target_reads,
    weighted_mean,
)


@dataclass(frozen=True)
class ConstraintOperation:
    """One group of a constraint: the weighted mean of its targets, written in its space.

    Attributes:
        settings: what it is told.
        quantity: ``translation``, ``quaternion`` or ``scale``.
        local: the owner's rest.
        parented: for the owner, then for each target, whether it has a parent.
        positions: the targets are read as bare positions.
    """

    settings: ConstraintSettings
    quantity: str
    local: LocalFrame
    parented: tuple[bool, ...]
    positions: bool

    @cached_property
    def digest(self) -> str:
        """See ``Operation``."""
        return f"constraint {self!r}"

    @property
    def over_time(self) -> bool:
        """Whether a frame depends on those before it: where some axes of a rotation follow."""
        return self.quantity == "quaternion" and self.settings.axes != ALL_AXES

    def compute(self, inputs: Sequence[Array], times: Times) -> Array:
        """Shape (F, 3) or (1, 3); of a rotation quaternions, (F, 4) or (1, 4)."""
        rest = iter(inputs[1:])
        values, weights = [], []
        for target, parented in zip(self.settings.targets, self.parented[1:], strict=True):
            if self.positions:
                values.append(next(rest))
            else:
                place = target_place(target.part, parented, self.settings.read, rest)
                values.append(self._value(place, target.offset))
            weights.append(np.maximum(next(rest), 0.0))
        base = owner_base(self.local, self.parented[0], self.settings.write, rest)
        if self.quantity == "translation":
            return self._translation(inputs[0], weighted_mean(values, weights), base)
        if self.quantity == "scale":
            return self._scale(inputs[0], weighted_mean(values, weights), base, rest)
        return self._rotation(inputs[0], mean_rotation(values, weights), base)

    def _value(self, place: Array, offset: Offset) -> Array:
        """The group of a target's place."""
        full = self.settings.kind == "full"
        if self.quantity == "translation":
            return points_outside(place, np.array([offset.translation])) if full else place[:, :, 3]
        if self.quantity == "scale":
            return scale_of(place) * offset.scale if full else scale_of(place)
        found = rotation_of(place)
        return product(found, self._turn(offset.rotation)) if full else found

    def _turn(self, degrees: Sequence[float]) -> Array:
        return angles_quaternion(np.array([degrees]), self.local.order)

    def _translation(self, incoming: Array, place: Array, base: Array) -> Array:
        if self.settings.kind != "full":
            place = place + np.array(self.settings.offset)
        if self.settings.axes != ALL_AXES:
            place = self._chosen(points_outside(base, incoming), place)
        return points_inside(base, place)

    def _rotation(self, incoming: Array, rotation: Array, base: Array) -> Array:
        if self.settings.kind != "full" and any(self.settings.offset):
            rotation = product(rotation, self._turn(self.settings.offset))
        if self.settings.axes == ALL_AXES:
            return channels_rotation(base, rotation)
        good = np.isfinite(rotation).all(axis=1, keepdims=True)
        order, none = self.local.order, np.zeros(3)
        target = continuous_angles(matrices_of(np.where(good, rotation, (0, 0, 0, 1))), order, none)
        came = product(rotation_of(base), incoming)
        angles = self._chosen(continuous_angles(matrices_of(came), order, none), target)
        made = channels_rotation(base, angles_quaternion(angles, order))
        return np.where(good, made, np.nan)

    def _scale(self, incoming: Array, scale: Array, base: Array, rest: Inputs) -> Array:
        """The channels' scale, for lengths of the axes in the written space."""
        if self.settings.kind != "full":
            scale = scale * np.array(self.settings.offset)
        turned = matrices_of(next(rest))
        with np.errstate(divide="ignore", invalid="ignore"):
            made = scale / np.linalg.norm(np.matmul(base[:, :, :3], turned), axis=1)
        return self._chosen(incoming, made)

    def _chosen(self, incoming: Array, made: Array) -> Array:
        """The made vector along the axes that follow, else the one that comes in."""
        follow = np.array([axis in self.settings.axes for axis in AXES])
        return np.where(follow, made, incoming)


class ConstraintStepKind:
    """See ``StepKind``."""

    zones: tuple[Zone, ...] = ("bound", "late")
    zone_reason = "a constraint works on whole transforms, after the driven values"

    def __init__(self, name: ConstraintKind) -> None:
        self.name: str = name

    def checked(self, scene: Scene, part: str, settings: ConstraintSettings) -> ConstraintSettings:
        """See ``StepKind``."""
        checked_targets(scene, part, settings.targets)
        checked_space(scene, part, settings.read, "read space")
        checked_space(scene, part, settings.write, "written space")
        checked_vector(settings.offset, "offset")
        checked_tap(settings.tap, "tap")
        if not settings.axes or tuple(a for a in AXES if a in settings.axes) != settings.axes:
            raise Refusal("choose at least one of x, y, z, in this order.", place="axes")
        if settings.kind == "full" and settings.axes != ALL_AXES:
            raise Refusal(
                "a full constraint carries all axes; use a position or a rotation constraint "
                "for some of them.",
                place="axes",
            )
        if settings.kind == "scale" and settings.offset == (0.0, 0.0, 0.0):
            return replace(settings, offset=(1.0, 1.0, 1.0))
        return settings

    def shown(self, scene: Scene, settings: ConstraintSettings) -> ConstraintSettings:
        """See ``StepKind``."""
        return settings

    def reads(self, scene: Scene, step: Step, quantity: str) -> tuple[Read, ...]:
        """For each target its place and its weight, then the owner's surroundings; for a scale
        also how the owner is turned."""
        settings = step.settings
        assert isinstance(settings, ConstraintSettings)
        reads: list[Read] = []
        for target in settings.targets:
            if _bare_positions(settings, quantity) and target.part is not None:
                reads.append(Read(target.part, "world position", target.tap, target.back))
            else:
                reads.extend(target_reads(scene, target, settings.read))
            reads.append(Read(step.part, step_channel(step.id, target.weight_key), "final"))
        reads.extend(owner_reads(scene, step, settings.write, settings.tap))
        if quantity == "scale":
            reads.append(Read(step.part, "quaternion", settings.tap))
        return tuple(reads)

    def operation(self, scene: Scene, step: Step, quantity: str) -> Operation:
        """See ``ConstraintOperation``."""
        settings = step.settings
        assert isinstance(settings, ConstraintSettings)
        parts = (step.part, *(target.part for target in settings.targets))
        parented = tuple(p is not None and scene.parts[p].parent is not None for p in parts)
        positions = _bare_positions(settings, quantity)
        return ConstraintOperation(
            settings, quantity, owner_frame(scene, step.part), parented, positions
        )

    def described(self, scene: Scene, settings: ConstraintSettings) -> str:
        """Its targets, and what is not as usual."""
        text = f"with {target_names(scene, settings.targets)}"
        if settings.axes != ALL_AXES:
            text += f" · only {', '.join(settings.axes)}"
        neutral = (1.0, 1.0, 1.0) if settings.kind == "scale" else (0.0, 0.0, 0.0)
        kept = any(target.offset != Offset() for target in settings.targets)
        if kept or (settings.kind != "full" and settings.offset != neutral):
            text += " · offset"
        return text

    def trouble(self, scene: Scene, settings: ConstraintSettings) -> str:
        """See ``StepKind``."""
        return (
            "Its weights sum to zero there, or something that it reads is scaled to nothing; give "
            "a target some weight."
        )


def _bare_positions(settings: ConstraintSettings, quantity: str) -> bool:
    """Whether targets are read as world positions alone, which their rotation cannot change."""
    return (
        quantity == "translation"
        and settings.kind == "position"
        and settings.read.kind == "world"
        and all(target.part is not None for target in settings.targets)
    )
