"""Edits that bind parts: with the offset kept, measured again, or put where another is."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass, replace
from typing import Literal

import numpy as np

from bindu.core.curves.model import Array
from bindu.core.edits.base import found_part, found_step, within
from bindu.core.edits.steps import AddStep
from bindu.core.evaluation import Evaluation, evaluated, row_at
from bindu.core.geometry.angles import nearest_angles
from bindu.core.geometry.places import points_inside, points_outside, rest_place
from bindu.core.geometry.rotation import inverse, product
from bindu.core.graph.kinds.group import group_node
from bindu.core.graph.kinds.quaternion import quaternion_node
from bindu.core.nodes.identity import QUATERNION, NodeId, after, before
from bindu.core.refusal import Refusal
from bindu.core.scene.changes import with_step
from bindu.core.scene.channels import ChannelRef, Zone, weight_channel
from bindu.core.scene.model import Scene
from bindu.core.scene.parts import Step
from bindu.core.scene.settings import (
    ALL_AXES,
    AimSettings,
    ConstraintSettings,
    Offset,
    Vector,
)
from bindu.core.steps.bound.constraint import seen_rotation_and_scale
from bindu.core.steps.bound.targets import (
    owner_base,
    owner_frame,
    owner_reads,
    seen_target,
    target_reads,
)

STILL: Vector = (0.0, 0.0, 0.0)


@dataclass(frozen=True)
class Bind:
    """Adds a constraint or an aim; with ``keep``, its offset is measured on that frame, so that
    the part stays where it is there."""

    part: str
    name: str
    settings: ConstraintSettings | AimSettings
    keep: int | None = None
    zone: Zone | None = None
    id: str | None = None
    do: Literal["bind"] = "bind"

    def label(self, scene: Scene) -> str:
        """See ``Edit``."""
        kept = ", offset kept" if self.keep is not None else ""
        return f"bind {found_part(scene, self.part).name} by “{self.name}”{kept}"

    def apply(self, scene: Scene) -> Scene:
        """See ``Edit``."""
        made = AddStep(self.part, self.name, self.settings, self.zone, self.id).apply(scene)
        if self.keep is None:
            return made
        step = next(s for s in made.steps if s not in scene.steps)
        return MeasureOffset(step, self.keep).apply(made)


@dataclass(frozen=True)
class MeasureOffset:
    """Measures a constraint's offset again: so that on this frame, at full weight, the part is
    where it would be without it."""

    step: str
    frame: int
    do: Literal["measure offset"] = "measure offset"

    def label(self, scene: Scene) -> str:
        """See ``Edit``."""
        return f"measure the offset of “{found_step(scene, self.step).name}” at {self.frame}"

    def apply(self, scene: Scene) -> Scene:
        """See ``Edit``."""
        step = found_step(scene, self.step)
        settings = step.settings
        if not isinstance(settings, ConstraintSettings | AimSettings):
            raise Refusal("only constraints and aims have an offset.", place=step.name)
        bare = _without_offset(scene, step, settings)
        evaluation = evaluated(bare)
        n = evaluation.index(self.frame)
        measured = _measured(evaluation, bare.steps[step.id], n)
        if isinstance(settings, ConstraintSettings) and settings.kind == "full":
            offsets = [o for o in measured if isinstance(o, Offset)]
            targets = tuple(
                replace(t, offset=o) for t, o in zip(settings.targets, offsets, strict=True)
            )
            made: ConstraintSettings | AimSettings = replace(settings, targets=targets)
        else:
            (offset,) = [o for o in measured if not isinstance(o, Offset)]
            made = replace(settings, offset=offset)
        numbers = [
            o.translation + o.rotation + o.scale if isinstance(o, Offset) else o for o in measured
        ]
        if not all(np.isfinite(vector).all() for vector in numbers):
            text = f"nothing can be measured on frame {self.frame}; see its finding there."
            raise Refusal(text, code="number", place=step.name)
        return with_step(scene, replace(step, settings=made))


BindingEdit = Bind | MeasureOffset


def _without_offset(scene: Scene, step: Step, settings: ConstraintSettings | AimSettings) -> Scene:
    """The scene with the step at full weight, on all axes and without its offset."""
    if isinstance(settings, ConstraintSettings):
        ones = (1.0, 1.0, 1.0) if settings.kind == "scale" else STILL
        targets = tuple(replace(target, offset=Offset()) for target in settings.targets)
        bare: ConstraintSettings | AimSettings = replace(
            settings, targets=targets, axes=ALL_AXES, offset=ones
        )
    else:
        bare = replace(settings, offset=STILL)
    weight = ChannelRef(step.part, weight_channel(step.id))
    part = scene.parts[step.part]
    values = {**part.values, weight.channel: 1.0}
    return replace(
        scene,
        steps=within(scene.steps, step.id, replace(step, settings=bare, on=True)),
        curves={r: c for r, c in scene.curves.items() if r != weight},
        parts=within(scene.parts, part.id, replace(part, values=values)),
    )


def _measured(evaluation: Evaluation, step: Step, n: int) -> Iterator[Offset | Vector]:
    """The offset, or of a full constraint one for each target."""
    settings = step.settings
    assert isinstance(settings, ConstraintSettings | AimSettings)
    order = evaluation.scene.parts[step.part].rotation_order
    if isinstance(settings, ConstraintSettings) and settings.kind == "full":
        yield from _full_offsets(evaluation, step, settings, n)
        return
    group = step.settings.groups[0]
    came, made = _before(evaluation, step, group, n), _after(evaluation, step, group, n)
    if group == "rotation":
        turn = product(inverse(made), came)
        yield _vector(nearest_angles(turn, order, np.zeros(3))[0])
    elif group == "scale":
        yield _vector(came[0] / made[0])
    else:
        assert isinstance(settings, ConstraintSettings)
        base = _base(evaluation, step, settings, n)
        yield _vector((base[:, :, :3] @ (came - made)[:, :, None])[0, :, 0])


def _full_offsets(
    evaluation: Evaluation, step: Step, settings: ConstraintSettings, n: int
) -> Iterator[Offset]:
    scene = evaluation.scene
    order = scene.parts[step.part].rotation_order
    base = _base(evaluation, step, settings, n)
    moved, turned, sized = (
        _before(evaluation, step, group, n) for group in ("translation", "rotation", "scale")
    )
    for target in settings.targets:
        reads = target_reads(scene, target, settings.read, turns=True)
        inputs = iter([row_at(evaluation.read(read), n) for read in reads])
        parented = target.part is not None and scene.parts[target.part].parent is not None
        seen = seen_target(target.part, parented, settings.read, True, inputs)
        found, size = seen_rotation_and_scale(base, seen)
        angles = nearest_angles(product(inverse(found), turned), order, np.zeros(3))[0]
        away = points_inside(seen.place, points_outside(base, moved))
        with np.errstate(divide="ignore", invalid="ignore"):
            yield Offset(_vector(away[0]), _vector(angles), _vector((sized / size)[0]))


def _base(evaluation: Evaluation, step: Step, settings: ConstraintSettings, n: int) -> Array:
    scene = evaluation.scene
    reads = owner_reads(scene, step, settings.write, settings.tap)
    inputs = iter([row_at(evaluation.read(read), n) for read in reads])
    parented = scene.parts[step.part].parent is not None
    return owner_base(rest_place(owner_frame(scene, step.part)), parented, settings.write, inputs)


def _before(evaluation: Evaluation, step: Step, group: str, n: int) -> Array:
    scene = evaluation.scene
    if group == "rotation":
        node = quaternion_node(scene, step.part, before(step))
    else:
        node = group_node(scene, step.part, group, before(step))
    return row_at(evaluation.result(node).values, n)


def _after(evaluation: Evaluation, step: Step, group: str, n: int) -> Array:
    quantity = QUATERNION if group == "rotation" else group
    return row_at(evaluation.result(NodeId(step.part, quantity, after(step))).values, n)


def _vector(numbers: Array) -> Vector:
    x, y, z = (float(v) for v in numbers)
    return x, y, z
