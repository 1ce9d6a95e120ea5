"""Aim: an axis of the owner that looks at targets."""

from __future__ import annotations

from collections.abc import Hashable, Sequence
from dataclasses import dataclass, replace
from functools import cached_property

import numpy as np

from bindu.core.curves.model import Array
from bindu.core.geometry.local_frame import LocalFrame
from bindu.core.geometry.looking import KeptSide, least_turn, looking, looking_all_along
from bindu.core.geometry.places import directions_inside, weighted_mean
from bindu.core.geometry.rotation import angles_quaternion, matrices_of, product
from bindu.core.geometry.vectors import length, transformed, where_finite
from bindu.core.nodes.batches import InBatches, stacked
from bindu.core.nodes.identity import Read
from bindu.core.nodes.operation import Operation, OverTime, Reach, Running, Times
from bindu.core.nodes.running import KeptRunning
from bindu.core.refusal import Refusal
from bindu.core.scene.channels import Zone, step_channel
from bindu.core.scene.model import Scene
from bindu.core.scene.parts import Step
from bindu.core.scene.settings import AimSettings, Space, Target
from bindu.core.steps.base import StepKind
from bindu.core.steps.bound.checks import (
    checked_axes,
    checked_direction,
    checked_tap,
    checked_targets,
    checked_vector,
    found_target,
    target_names,
)
from bindu.core.steps.bound.rereads import surroundings_reread, targets_reread
from bindu.core.steps.bound.targets import (
    owner_base,
    owner_frame,
    owner_reads,
    rests_of,
)

WORLD = Space("world")
NEAREST = 1e-9
"""Metres below which a target is at the owner's own position."""


@dataclass(frozen=True)
class AimOperation(InBatches, OverTime):
    """See ``AimSettings``; ``looking`` says how it stays stable through the pole.

    Directions are brought to where the owner's channels count by the full inverse of what lies
    above, so that the axis meets its target whatever the scale there.
    """

    settings: AimSettings
    local: LocalFrame
    parented: bool

    @cached_property
    def digest(self) -> str:
        """See ``Operation``."""
        return f"aim {self!r}"

    @property
    def reach(self) -> Reach:
        """Frames before, since they keep the side; without an up, this frame."""
        return "this frame" if self.settings.up == "none" else "frames before"

    @cached_property
    def alike(self) -> Hashable:
        """See ``InBatches``: all but whom it reads, and the numbers."""
        told = self.settings
        return (
            (told.axis, told.up_axis, told.up, any(told.offset)),
            tuple(target.part is None for target in told.targets),
            self.parented,
            self.local.order,
        )

    @classmethod
    def compute_many(
        cls, operations: Sequence[AimOperation], inputs: Sequence[Array], times: Times
    ) -> Array:
        """Quaternions, shape (B, F, 4) or (B, 1, 4)."""
        return _Aims(operations).made(inputs, None)[0]

    def running(self) -> Running:
        """See ``OverTime``."""
        return KeptRunning(self._following)

    def _following(
        self, inputs: Sequence[Array], times: Times, before: KeptSide | None
    ) -> tuple[Array, KeptSide | None]:
        made, kept = _Aims([self]).made([one[None] for one in inputs], before)
        return made[0], kept


class _Aims:
    """Aims that are alike, computed over a stack of their inputs."""

    def __init__(self, operations: Sequence[AimOperation]) -> None:
        self._first = operations[0]
        self._settings = self._first.settings
        self._operations = operations

    def made(
        self, inputs: Sequence[Array], before: KeptSide | None
    ) -> tuple[Array, KeptSide | None]:
        """Quaternions, and the side that counts for the next frame."""
        settings, rest = self._settings, iter(inputs[1:])
        points, weights = [], []
        for target in settings.targets:
            points.append(np.zeros((1, 3)) if target.part is None else next(rest))
            weights.append(np.maximum(next(rest), 0.0))
        own = next(rest)
        up = next(rest) - own if settings.up == "part" else self._up_directions()
        rests = rests_of([one.local for one in self._operations])
        base = owner_base(rests, self._first.parented, WORLD, rest)
        directions = weighted_mean(points, weights) - own
        good = length(directions) > NEAREST
        directions, up = directions_inside(base, directions), directions_inside(base, up)
        good = good & where_finite(directions, 1)
        directions = np.where(good[..., None], directions, np.array([settings.axis]))
        made, kept = self._looking(inputs[0], directions, up, before)
        if any(settings.offset):
            offsets = stacked([one.settings.offset for one in self._operations])
            made = product(made, angles_quaternion(offsets, self._first.local.order))
        return np.where(good[..., None], made, np.nan), kept

    def _up_directions(self) -> Array:
        return stacked([one.settings.up_direction for one in self._operations])

    def _looking(
        self, incoming: Array, directions: Array, up: Array, before: KeptSide | None
    ) -> tuple[Array, KeptSide | None]:
        """Toward directions, and up as near as can be."""
        settings = self._settings
        if settings.up == "none":
            return self._least_turn(incoming, directions), before
        near = ~(length(up)[..., None] > NEAREST)
        up = np.where(near, directions, up)
        if len(self._operations) > 1:
            made = looking_all_along(directions, up, settings.axis, settings.up_axis)
            if made is not None:
                return made, None
        directions, up = np.broadcast_arrays(directions, up)
        return self._one_by_one(incoming, directions, up, before)

    def _one_by_one(
        self, incoming: Array, directions: Array, up: Array, before: KeptSide | None
    ) -> tuple[Array, KeptSide | None]:
        """Where some have an up that says nothing on some frames."""
        settings, kept = self._settings, before
        found = []
        for n in range(len(self._operations)):
            one = looking(directions[n], up[n], settings.axis, settings.up_axis, before)
            if one is None:
                found.append(self._least_turn(incoming[n], directions[n]))
            else:
                found.append(one[0])
                kept = one[1]
        return np.stack(np.broadcast_arrays(*found)), kept

    def _least_turn(self, incoming: Array, directions: Array) -> Array:
        turned = transformed(matrices_of(incoming), np.array(self._settings.axis))
        return least_turn(directions, turned, incoming)


class AimKind(StepKind):
    """See ``StepKind``."""

    name = "aim"
    zones: tuple[Zone, ...] = ("bound", "late")
    zone_reason = "an aim works on whole transforms, after the driven values"

    def checked(self, scene: Scene, part: str, settings: AimSettings) -> AimSettings:
        """See ``StepKind``."""
        checked_targets(scene, part, settings.targets)
        checked_axes(settings.axis, settings.up_axis)
        checked_vector(settings.offset, "offset")
        checked_tap(settings.tap, "tap")
        checked_tap(settings.up_tap, "up tap")
        if settings.up == "direction":
            checked_direction(settings.up_direction, "up direction")
        if settings.up == "part":
            if settings.up_part is None:
                raise Refusal("choose the part that is up.", code="choice", place="up part")
            found_target(scene, settings.up_part, "up part")
            if settings.up_part == part:
                raise Refusal(
                    "a part cannot be up of itself; choose another.", code="choice", place="up part"
                )
            return settings
        # A part that is not read may go; nothing is left that names it.
        return replace(settings, up_part=None)

    def reads(self, scene: Scene, step: Step, quantity: str) -> tuple[Read, ...]:
        """For each target its position and its weight; the own position; the up part; the
        parent."""
        settings = step.settings
        assert isinstance(settings, AimSettings)
        reads: list[Read] = []
        for target in settings.targets:
            reads.extend(_reads_of(target))
            reads.append(Read(step.part, step_channel(step.id, target.weight_key), "final"))
        own = Read(step.part, "world position", settings.tap)
        return (*reads, own, *_up_reads(settings), *owner_reads(scene, step, WORLD, settings.tap))

    def operation(self, scene: Scene, step: Step, quantity: str) -> Operation:
        """See ``AimOperation``."""
        settings = step.settings
        assert isinstance(settings, AimSettings)
        parented = scene.parts[step.part].parent is not None
        return AimOperation(settings, owner_frame(scene, step.part), parented)

    def reread(self, scene: Scene, step: Step, old: Read, new: Read) -> AimSettings | None:
        """See ``StepKind``: targets, the up part, and the surroundings."""
        settings = step.settings
        assert isinstance(settings, AimSettings)
        own = Read(step.part, "world position", settings.tap)
        around = (own, *owner_reads(scene, step, WORLD, settings.tap))
        tap = surroundings_reread(around, settings.tap, old, new)
        up_tap = surroundings_reread(_up_reads(settings), settings.up_tap, old, new)
        if tap is None or up_tap is None:
            return None
        targets = targets_reread(settings.targets, _reads_of, old, new)
        return replace(settings, targets=targets, tap=tap, up_tap=up_tap)

    def port(self, scene: Scene, step: Step) -> str:
        """See ``StepKind``."""
        return "aim → rotation"

    def described(self, scene: Scene, settings: AimSettings) -> str:
        """Its targets and its up."""
        up = {"none": "least turn", "direction": "up by a direction", "part": ""}[settings.up]
        if settings.up_part is not None and settings.up == "part":
            up = f"up toward {scene.parts[settings.up_part].name}"
        return f"at {target_names(scene, settings.targets)} · {up}"

    def trouble(self, scene: Scene, settings: AimSettings) -> str:
        """See ``StepKind``."""
        return (
            "It aims at its own position there, or its weights sum to zero; move the target away "
            "or give a target some weight."
        )


def _reads_of(target: Target) -> tuple[Read, ...]:
    if target.part is None:
        return ()
    return (Read(target.part, "world position", target.tap, target.back),)


def _up_reads(settings: AimSettings) -> tuple[Read, ...]:
    if settings.up != "part" or settings.up_part is None:
        return ()
    return (Read(settings.up_part, "world position", settings.up_tap),)
