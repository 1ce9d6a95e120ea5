"""Position, rotation, scale and full constraints: an owner that goes with its targets."""

from __future__ import annotations

from collections.abc import Hashable, Sequence
from dataclasses import dataclass, replace
from functools import cached_property, partial

import numpy as np

from bindu.core.curves.model import Array
from bindu.core.geometry.angles import ShownAngles, shown_angles
from bindu.core.geometry.local_frame import LocalFrame
from bindu.core.geometry.places import (
    IDENTITY,
    points_inside,
    points_outside,
    rotation_and_scale,
    seen_from,
    turned_inside,
    turned_outside,
    weighted_mean,
)
from bindu.core.geometry.rotation import angles_quaternion, mean_rotation, product
from bindu.core.nodes.batches import InBatches, stacked
from bindu.core.nodes.identity import Read, before
from bindu.core.nodes.operation import Operation, OverTime, Reach, Running, Times
from bindu.core.nodes.running import KeptRunning
from bindu.core.refusal import Refusal
from bindu.core.scene.channels import AXES, Zone, step_channel
from bindu.core.scene.model import Scene
from bindu.core.scene.parts import Step
from bindu.core.scene.settings import (
    ALL_AXES,
    ConstraintKind,
    ConstraintSettings,
    Offset,
)
from bindu.core.steps.base import StepKind
from bindu.core.steps.bound.checks import (
    checked_space,
    checked_tap,
    checked_targets,
    checked_vector,
    target_names,
)
from bindu.core.steps.bound.constraint_reads import (
    all_reads_of,
    bare_positions,
    own_angles,
    reads_of_target,
)
from bindu.core.steps.bound.rereads import surroundings_reread, targets_reread
from bindu.core.steps.bound.targets import (
    Inputs,
    SeenTarget,
    owner_base,
    owner_frame,
    owner_reads,
    rests_of,
    seen_target,
)

AnglesBefore = tuple[ShownAngles, ShownAngles]
"""The target's and the owner's angles on the frame before."""


@dataclass(frozen=True)
class ConstraintOperation(InBatches, OverTime):
    """One group of a constraint: the weighted mean of its targets, written in its space.

    Rotations and scales are taken from the targets' places as seen from where the owner's
    channels count; of some axes only, as angles in the space that is written.

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
    def reach(self) -> Reach:
        """Frames before where some axes of a rotation follow, as angles; else this frame."""
        return "frames before" if self.by_angles else "this frame"

    @property
    def calculations(self) -> int:
        """See ``Operation``."""
        return 40 * len(self.settings.targets)

    @property
    def by_angles(self) -> bool:
        """Whether it works on angles, since only some axes of a rotation follow."""
        return self.quantity == "quaternion" and self.settings.axes != ALL_AXES

    @cached_property
    def alike(self) -> Hashable:
        """See ``InBatches``: all but whom it reads, and the numbers."""
        told = self.settings
        return (
            self.quantity,
            self.local.order,
            self.parented,
            self.positions,
            (told.kind, told.axes, any(told.offset), told.read.kind, told.write.kind),
            tuple(target.part is None for target in told.targets),
        )

    @cached_property
    def alone(self) -> _Constraints:
        """Itself as a stack of one, made once: frame by frame it is asked for on every frame."""
        return _Constraints([self])

    @classmethod
    def compute_many(
        cls, operations: Sequence[ConstraintOperation], inputs: Sequence[Array], times: Times
    ) -> Array:
        """Shape (B, F, 3) or (B, 1, 3); of a rotation quaternions, (B, F, 4) or (B, 1, 4)."""
        alone = operations[0].alone if len(operations) == 1 else None
        return (alone or _Constraints(operations)).made(inputs, None)[0]

    def running(self) -> Running:
        """See ``OverTime``."""
        return KeptRunning(self._following)

    def _following(
        self, inputs: Sequence[Array], times: Times, before: AnglesBefore | None
    ) -> tuple[Array, AnglesBefore | None]:
        made, kept = self.alone.made([one[None] for one in inputs], before)
        return made[0], kept

    def taken(self, inputs: Sequence[Array]) -> list[Array]:
        """The places that rotations are taken from, as seen from where they are written, each of
        shape (N, 3, 4)."""
        return self.alone.taken([one[None] for one in inputs])


class _Constraints:
    """Constraints that are alike, computed over a stack of their inputs."""

    def __init__(self, operations: Sequence[ConstraintOperation]) -> None:
        self._first = operations[0]
        self._settings = self._first.settings
        self._operations = operations
        self._rests = rests_of([one.local for one in operations])

    def made(
        self, inputs: Sequence[Array], before: AnglesBefore | None
    ) -> tuple[Array, AnglesBefore | None]:
        """The group, and the angles that count for the next frame."""
        quantity, write, rest = self._first.quantity, self._settings.write, iter(inputs[1:])
        targets, angles, weights = [], [], []
        for n, target in enumerate(self._settings.targets):
            targets.append(self._target(n, rest))
            own = quantity == "quaternion" and own_angles(self._settings, target)
            angles.append(next(rest) if own else np.zeros((1, 3)))
            weights.append(np.maximum(next(rest), 0.0))
        base = owner_base(self._rests, self._first.parented[0], write, rest)
        if quantity == "translation":
            places = [target.place[..., 3] for target in targets]
            return self._translation(inputs[0], weighted_mean(places, weights), base), None
        if quantity == "scale":
            return self._scale(inputs[0], targets, weights, base), None
        if not self._first.by_angles:
            found = [self._rotation(base, t, n) for n, t in enumerate(targets)]
            return self._turned(mean_rotation(found, weights)), None
        found = [self._rotation(IDENTITY, target, n) for n, target in enumerate(targets)]
        mean = self._turned(mean_rotation(found, weights))
        came = next(rest) if write.kind == "local" else np.zeros((1, 3))
        near = weighted_mean(angles, weights)
        return self._by_some_axes(inputs[0], mean, near, came, base, before)

    def taken(self, inputs: Sequence[Array]) -> list[Array]:
        """See ``ConstraintOperation.taken``; of the first constraint."""
        rest = iter(inputs[1:])
        targets = []
        for n, target in enumerate(self._settings.targets):
            targets.append(self._target(n, rest))
            for _ in range(1 + own_angles(self._settings, target)):
                next(rest)
        base = owner_base(self._rests, self._first.parented[0], self._settings.write, rest)
        places = [target.place for target in targets if target.rotation is None]
        seen = [place if base is IDENTITY else seen_from(base, place) for place in places]
        return [place.reshape(-1, 3, 4) for place in seen]

    def _target(self, n: int, rest: Inputs) -> SeenTarget:
        if self._first.positions:
            read = next(rest)
            place = np.zeros((*read.shape, 4))
            place[..., 3] = read
            return SeenTarget(place)
        target, parented = self._settings.targets[n], self._first.parented[n + 1]
        turns = self._first.quantity != "translation"
        seen = seen_target(target.part, parented, self._settings.read, turns, rest)
        if turns or self._settings.kind != "full":
            return seen
        moved = points_outside(seen.place, self._target_moves[n])
        place = np.zeros((*moved.shape, 4))
        place[..., :3], place[..., 3] = seen.place[..., :3], moved
        return SeenTarget(place)

    def _from_targets(self, group: str) -> list[Array]:
        """For each target, of each constraint the offset from it, shape (B, 1, 3)."""
        count = range(len(self._settings.targets))
        return [
            stacked([getattr(one.settings.targets[n].offset, group) for one in self._operations])
            for n in count
        ]

    @cached_property
    def _target_moves(self) -> list[Array]:
        return self._from_targets("translation")

    @cached_property
    def _target_turns(self) -> list[Array]:
        return [self._turn(degrees) for degrees in self._from_targets("rotation")]

    @cached_property
    def _target_sizes(self) -> list[Array]:
        return self._from_targets("scale")

    @cached_property
    def _offset(self) -> Array:
        """Of each constraint the offset from all targets, shape (B, 1, 3)."""
        return stacked([one.settings.offset for one in self._operations])

    @cached_property
    def _offset_turn(self) -> Array:
        return self._turn(self._offset)

    def _rotation(self, base: Array, target: SeenTarget, n: int) -> Array:
        """A target's rotation seen from a base, with its offset."""
        found = seen_rotation_and_scale(base, target)[0]
        if self._settings.kind == "full":
            found = product(found, self._target_turns[n])
        return found

    def _turned(self, rotation: Array) -> Array:
        """The mean of the targets with the offset of the whole constraint."""
        if self._settings.kind != "full" and any(self._settings.offset):
            return product(rotation, self._offset_turn)
        return rotation

    def _turn(self, degrees: Array) -> Array:
        return angles_quaternion(degrees, self._first.local.order)

    def _translation(self, incoming: Array, place: Array, base: Array) -> Array:
        if self._settings.kind != "full":
            place = place + self._offset
        if self._settings.axes != ALL_AXES:
            place = self._chosen(points_outside(base, incoming), place)
        return points_inside(base, place)

    def _by_some_axes(
        self,
        incoming: Array,
        rotation: Array,
        near: Array,
        own: Array,
        base: Array,
        before: AnglesBefore | None,
    ) -> tuple[Array, AnglesBefore | None]:
        """The rotation whose angles along the axes that follow are the targets', else those that
        come in; ``near`` and ``own`` are the channels' own where they count."""
        good = np.isfinite(rotation).all(axis=-1, keepdims=True)
        order = self._first.local.order
        rotation = np.where(good, rotation, (0.0, 0.0, 0.0, 1.0))
        near = np.where(np.isfinite(near), near, 0.0)
        start = before or (None, None)
        target, target_kept = shown_angles(rotation, near, order, start[0])
        came, came_kept = shown_angles(turned_outside(base, incoming), own, order, start[1])
        made = turned_inside(base, angles_quaternion(self._chosen(came, target), order))
        return np.where(good, made, np.nan), (target_kept, came_kept)

    def _scale(
        self, incoming: Array, targets: list[SeenTarget], weights: list[Array], base: Array
    ) -> Array:
        """The channels' scale."""
        found = []
        for n, seen in enumerate(targets):
            size = seen_rotation_and_scale(base, seen)[1]
            full = self._settings.kind == "full"
            found.append(size * self._target_sizes[n] if full else size)
        scale = weighted_mean(found, weights)
        if self._settings.kind != "full":
            scale = scale * self._offset
        return self._chosen(incoming, scale)

    def _chosen(self, incoming: Array, made: Array) -> Array:
        """The made vector along the axes that follow, else the one that comes in."""
        follow = np.array([axis in self._settings.axes for axis in AXES])
        return np.where(follow, made, incoming)


def seen_rotation_and_scale(base: Array, target: SeenTarget) -> tuple[Array, Array]:
    """A target's rotation, shape (N, 4), and scale, shape (N, 3), as seen from where the owner's
    channels count; read and written locally, those of its own channels."""
    if base is not IDENTITY:
        return rotation_and_scale(seen_from(base, target.place), target.signs)
    rotation, scale = rotation_and_scale(target.place, target.signs)
    return (rotation if target.rotation is None else target.rotation), scale


class ConstraintStepKind(StepKind):
    """See ``StepKind``."""

    zones: tuple[Zone, ...] = ("bound", "late")
    zone_reason = "a constraint works on whole transforms, after the driven values"

    def __init__(self, name: ConstraintKind) -> None:
        self.name: str = name

    def checked(self, scene: Scene, part: str, settings: ConstraintSettings) -> ConstraintSettings:
        """See ``StepKind``."""
        checked_targets(scene, part, settings.targets)
        read = checked_space(scene, part, settings.read, "read space")
        write = checked_space(scene, part, settings.write, "written space")
        settings = replace(settings, read=read, write=write)
        checked_vector(settings.offset, "offset")
        checked_tap(settings.tap, "tap")
        if not settings.axes or tuple(a for a in AXES if a in settings.axes) != settings.axes:
            raise Refusal(
                "choose at least one of x, y, z, in this order.", code="choice", place="axes"
            )
        if settings.kind == "full" and settings.axes != ALL_AXES:
            raise Refusal(
                "a full constraint carries all axes; use a position or a rotation constraint "
                "for some of them.",
                place="axes",
            )
        if settings.kind == "scale" and settings.offset == (0.0, 0.0, 0.0):
            return replace(settings, offset=(1.0, 1.0, 1.0))
        return settings

    def reads(self, scene: Scene, step: Step, quantity: str) -> tuple[Read, ...]:
        """For each target its place and its weight, then the owner's surroundings; where some axes
        of a rotation are written locally, also the angles that the channels say."""
        settings = step.settings
        assert isinstance(settings, ConstraintSettings)
        turned = quantity == "quaternion"
        reads: list[Read] = []
        for target in settings.targets:
            reads.extend(reads_of_target(scene, settings, target, quantity))
            reads.append(Read(step.part, step_channel(step.id, target.weight_key), "final"))
        reads.extend(owner_reads(scene, step, settings.write, settings.tap))
        if turned and settings.axes != ALL_AXES and settings.write.kind == "local":
            reads.append(Read(step.part, "rotation", before(step)))
        return tuple(reads)

    def operation(self, scene: Scene, step: Step, quantity: str) -> Operation:
        """See ``ConstraintOperation``."""
        settings = step.settings
        assert isinstance(settings, ConstraintSettings)
        parts = (step.part, *(target.part for target in settings.targets))
        parented = tuple(p is not None and scene.parts[p].parent is not None for p in parts)
        positions = bare_positions(settings, quantity)
        return ConstraintOperation(
            settings, quantity, owner_frame(scene, step.part), parented, positions
        )

    def reread(self, scene: Scene, step: Step, old: Read, new: Read) -> ConstraintSettings | None:
        """See ``StepKind``: targets and the surroundings."""
        settings = step.settings
        assert isinstance(settings, ConstraintSettings)
        around = owner_reads(scene, step, settings.write, settings.tap)
        tap = surroundings_reread(around, settings.tap, old, new)
        if tap is None:
            return None
        reads = partial(all_reads_of, scene, settings)
        targets = targets_reread(settings.targets, reads, old, new)
        return replace(settings, targets=targets, tap=tap)

    def port(self, scene: Scene, step: Step) -> str:
        """See ``StepKind``: with its first target."""
        assert isinstance(step.settings, ConstraintSettings)
        target = step.settings.targets[0].part
        return f"{self.name} ← {scene.parts[target].name if target else 'the world'}"

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
