"""Path: an owner that goes along a smooth path by true length."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace
from functools import cached_property

import numpy as np

from bindu.core.counted import counted
from bindu.core.curves.model import Array
from bindu.core.geometry.local_frame import LocalFrame
from bindu.core.geometry.looking import KeptSide, looking
from bindu.core.geometry.places import directions_inside, points_inside, points_outside, rest_place
from bindu.core.geometry.smooth_path import smooth_path
from bindu.core.nodes.identity import Read
from bindu.core.nodes.operation import Operation, OverTime, Reach, Running, Times
from bindu.core.nodes.running import KeptRunning
from bindu.core.refusal import Refusal
from bindu.core.scene.channels import Zone, step_channel
from bindu.core.scene.model import Scene
from bindu.core.scene.parts import Step
from bindu.core.scene.settings import PathPoint, PathSettings, Space
from bindu.core.steps.base import StepKind
from bindu.core.steps.bound.checks import (
    checked_axes,
    checked_direction,
    checked_tap,
    checked_vector,
    found_target,
)
from bindu.core.steps.bound.rereads import new_tap, surroundings_reread
from bindu.core.steps.bound.targets import (
    Inputs,
    owner_base,
    owner_frame,
    owner_reads,
)

WORLD = Space("world")
MOST_POINTS = 200
ORIGIN = (0.0, 0.0, 0.0)


@dataclass(frozen=True)
class PathOperation(OverTime):
    """See ``PathSettings`` and ``SmoothPath``."""

    settings: PathSettings
    quantity: str
    local: LocalFrame
    parented: bool

    @cached_property
    def digest(self) -> str:
        """See ``Operation``."""
        return f"path {self!r}"

    @property
    def reach(self) -> Reach:
        """Of the rotation frames before, since they keep the side; else this frame."""
        return "frames before" if self.quantity == "quaternion" else "this frame"

    @property
    def calculations(self) -> int:
        """See ``Operation``."""
        return 600 * len(self.settings.points)

    def compute(self, inputs: Sequence[Array], times: Times) -> Array:
        """Shape (F, 3) or (1, 3); of the rotation quaternions, (F, 4) or (1, 4)."""
        return self._made(inputs, times, None)[0]

    def running(self) -> Running:
        """See ``OverTime``."""
        return KeptRunning(self._made)

    def _made(
        self, inputs: Sequence[Array], times: Times, before: KeptSide | None
    ) -> tuple[Array, KeptSide | None]:
        rest = iter(inputs[1:])
        points = [self._point(point, rest) for point in self.settings.points]
        progress = next(rest)
        base = owner_base(rest_place(self.local), self.parented, WORLD, rest)
        path = smooth_path(points, self.settings.closed)
        places = path.at_share(self._share(progress))
        if self.quantity == "translation":
            return points_inside(base, path.positions(places)), None
        return self._rotation(directions_inside(base, path.directions(places)), base, before)

    def _rotation(
        self, directions: Array, base: Array, before: KeptSide | None
    ) -> tuple[Array, KeptSide | None]:
        settings = self.settings
        up = np.array([settings.up_direction])
        # Where the whole way leads straight up, any side will do, always the same one.
        other = np.array([[up[0, 1], up[0, 2], up[0, 0]]]) + (0.0, 0.0, 1e-3)
        for one in (up, other):
            upward = directions_inside(base, one)
            found = looking(directions, upward, settings.axis, settings.up_axis, before)
            if found is not None:
                return found
        return np.full((1, 4), np.nan), before

    def _share(self, progress: Array) -> Array:
        if self.settings.ends == "repeat":
            return np.asarray(progress - np.floor(progress))
        return np.clip(progress, 0.0, 1.0)

    @staticmethod
    def _point(point: PathPoint, rest: Inputs) -> Array:
        if point.part is None:
            return np.array([point.point])
        read = next(rest)
        return read if point.point == ORIGIN else points_outside(read, np.array([point.point]))


class PathKind(StepKind):
    """See ``StepKind``."""

    name = "path"
    zones: tuple[Zone, ...] = ("bound", "late")
    zone_reason = "a path works on whole transforms, after the driven values"

    def checked(self, scene: Scene, part: str, settings: PathSettings) -> PathSettings:
        """See ``StepKind``."""
        count = len(settings.points)
        if not 2 <= count <= MOST_POINTS:
            raise Refusal(f"a path needs 2 to {MOST_POINTS} points.", place="points")
        for n, point in enumerate(settings.points):
            found_target(scene, point.part, f"points[{n}]")
            if point.part == part:
                raise Refusal("a part cannot be on a path through itself.", place=f"points[{n}]")
            checked_vector(point.point, f"points[{n}]")
            checked_tap(point.tap, f"points[{n}]")
        _refuse_same_neighbours(settings)
        checked_axes(settings.axis, settings.up_axis)
        checked_direction(settings.up_direction, "up direction")
        checked_tap(settings.tap, "tap")
        return settings

    def reads(self, scene: Scene, step: Step, quantity: str) -> tuple[Read, ...]:
        """The parts of its points; how far; the parent."""
        settings = step.settings
        assert isinstance(settings, PathSettings)
        reads = [read for point in settings.points for read in _reads_of(point)]
        progress = Read(step.part, step_channel(step.id, "progress"), "final")
        return (*reads, progress, *owner_reads(scene, step, WORLD, settings.tap))

    def operation(self, scene: Scene, step: Step, quantity: str) -> Operation:
        """See ``PathOperation``."""
        settings = step.settings
        assert isinstance(settings, PathSettings)
        parented = scene.parts[step.part].parent is not None
        return PathOperation(settings, quantity, owner_frame(scene, step.part), parented)

    def reread(self, scene: Scene, step: Step, old: Read, new: Read) -> PathSettings | None:
        """See ``StepKind``: points and the surroundings."""
        settings = step.settings
        assert isinstance(settings, PathSettings)
        around = owner_reads(scene, step, WORLD, settings.tap)
        tap = surroundings_reread(around, settings.tap, old, new)
        points = tuple(
            replace(point, tap=new_tap(new)) if old in _reads_of(point) else point
            for point in settings.points
        )
        if tap is None or (new.back and points != settings.points):
            return None
        return replace(settings, points=points, tap=tap)

    def described(self, scene: Scene, settings: PathSettings) -> str:
        """How many points, and what happens at the ends."""
        closed = "closed, " if settings.closed else ""
        points = counted(len(settings.points), "point")
        return f"{closed}through {points} · {settings.ends} at the ends"

    def trouble(self, scene: Scene, settings: PathSettings) -> str:
        """See ``StepKind``."""
        return (
            "Neighbouring points of the path lie on one place there, so that it has no direction; "
            "move one of them."
        )


def _refuse_same_neighbours(settings: PathSettings) -> None:
    ends = [(point.part, point.point) for point in settings.points]
    following = [*ends[1:], *(ends[:1] if settings.closed else ())]
    for n, (one, other) in enumerate(zip(ends, following, strict=False)):
        if one == other:
            second = (n + 1) % len(ends)
            raise Refusal(
                f"points {n + 1} and {second + 1} are the same; move or delete one.",
                place=f"points[{second}]",
            )


def _reads_of(point: PathPoint) -> tuple[Read, ...]:
    if point.part is None:
        return ()
    quantity = "world position" if point.point == ORIGIN else "world matrix"
    return (Read(point.part, quantity, point.tap),)
