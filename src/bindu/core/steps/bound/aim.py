"""Aim: an axis of the owner that looks at targets."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace
from functools import cached_property

import numpy as np

from bindu.core.curves.model import Array
from bindu.core.geometry.local_frame import LocalFrame
from bindu.core.geometry.looking import Side, least_turn, looking
from bindu.core.geometry.places import directions_inside, weighted_mean
from bindu.core.geometry.rotation import angles_quaternion, matrices_of, product
from bindu.core.nodes.identity import Read
from bindu.core.nodes.operation import Operation, Reach, Running, Times
from bindu.core.nodes.running import KeptRunning
from bindu.core.refusal import Refusal
from bindu.core.scene.channels import Zone, step_channel
from bindu.core.scene.model import Scene, Step
from bindu.core.scene.settings import AimSettings, Space
from bindu.core.steps.bound.checks import (
    checked_axes,
    checked_direction,
    checked_tap,
    checked_targets,
    checked_vector,
    found_target,
    target_names,
)
from bindu.core.steps.bound.targets import owner_base, owner_frame, owner_reads

WORLD = Space("world")
NEAREST = 1e-9
"""Metres below which a target is at the owner's own position."""


@dataclass(frozen=True)
class AimOperation:
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

    def compute(self, inputs: Sequence[Array], times: Times) -> Array:
        """Quaternions, shape (F, 4) or (1, 4)."""
        return self._made(inputs, times, None)[0]

    def running(self) -> Running:
        """See ``OverTime``."""
        return KeptRunning(self._made)

    def _made(
        self, inputs: Sequence[Array], times: Times, before: Side | None
    ) -> tuple[Array, Side | None]:
        settings, rest = self.settings, iter(inputs[1:])
        points, weights = [], []
        for target in settings.targets:
            points.append(np.zeros((1, 3)) if target.part is None else next(rest))
            weights.append(np.maximum(next(rest), 0.0))
        own = next(rest)
        up = next(rest) - own if settings.up == "part" else np.array([settings.up_direction])
        base = owner_base(self.local, self.parented, WORLD, rest)
        directions = weighted_mean(points, weights) - own
        good = np.linalg.norm(directions, axis=1) > NEAREST
        directions, up = directions_inside(base, directions), directions_inside(base, up)
        good = good & np.isfinite(directions).all(axis=1)
        directions = np.where(good[:, None], directions, np.array([settings.axis]))
        found = None
        if settings.up != "none":
            near = ~(np.linalg.norm(up, axis=1)[:, None] > NEAREST)
            up = np.where(near, directions, up)
            found = looking(directions, up, settings.axis, settings.up_axis, before)
        if found is None:
            turned = np.matmul(matrices_of(inputs[0]), np.array(settings.axis))
            made, kept = least_turn(directions, turned, inputs[0]), before
        else:
            made, kept = found
        if any(settings.offset):
            made = product(made, angles_quaternion(np.array([settings.offset]), self.local.order))
        return np.where(good[:, None], made, np.nan), kept


class AimKind:
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
                raise Refusal("choose the part that is up.", place="up part")
            found_target(scene, settings.up_part, "up part")
            if settings.up_part == part:
                raise Refusal("a part cannot be up of itself; choose another.", place="up part")
            return settings
        # A part that is not read may go; nothing is left that names it.
        return replace(settings, up_part=None)

    def shown(self, scene: Scene, settings: AimSettings) -> AimSettings:
        """See ``StepKind``."""
        return settings

    def reads(self, scene: Scene, step: Step, quantity: str) -> tuple[Read, ...]:
        """For each target its position and its weight; the own position; the up part; the
        parent."""
        settings = step.settings
        assert isinstance(settings, AimSettings)
        reads: list[Read] = []
        for target in settings.targets:
            if target.part is not None:
                reads.append(Read(target.part, "world position", target.tap, target.back))
            reads.append(Read(step.part, step_channel(step.id, target.weight_key), "final"))
        reads.append(Read(step.part, "world position", settings.tap))
        if settings.up == "part" and settings.up_part is not None:
            reads.append(Read(settings.up_part, "world position", settings.up_tap))
        return (*reads, *owner_reads(scene, step, WORLD, settings.tap))

    def operation(self, scene: Scene, step: Step, quantity: str) -> Operation:
        """See ``AimOperation``."""
        settings = step.settings
        assert isinstance(settings, AimSettings)
        parented = scene.parts[step.part].parent is not None
        return AimOperation(settings, owner_frame(scene, step.part), parented)

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
