"""What a constraint reads of its targets."""

from __future__ import annotations

from bindu.core.nodes.identity import QUATERNION, Read
from bindu.core.scene.model import Scene
from bindu.core.scene.settings import ALL_AXES, ConstraintSettings, Target
from bindu.core.steps.bound.targets import target_reads


def own_angles(settings: ConstraintSettings, target: Target) -> bool:
    """Whether a target's own angles are read beside its place: where some axes of it follow,
    read and written locally."""
    local = settings.read.kind == settings.write.kind == "local"
    return local and target.part is not None and settings.axes != ALL_AXES


def bare_positions(settings: ConstraintSettings, quantity: str) -> bool:
    """Whether targets are read as world positions alone, which their rotation cannot change."""
    return (
        quantity == "translation"
        and settings.kind == "position"
        and settings.read.kind == "world"
        and all(target.part is not None for target in settings.targets)
    )


def reads_of_target(
    scene: Scene, settings: ConstraintSettings, target: Target, quantity: str
) -> tuple[Read, ...]:
    """What is read of a target: its place, and where some axes of a rotation are written locally,
    also the angles that its channels say."""
    if target.part is not None and bare_positions(settings, quantity):
        return (Read(target.part, "world position", target.tap, target.back),)
    place = target_reads(scene, target, settings.read, quantity != "translation")
    if quantity != QUATERNION or target.part is None or not own_angles(settings, target):
        return place
    return (*place, Read(target.part, "rotation", target.tap, target.back))


def all_reads_of(scene: Scene, settings: ConstraintSettings, target: Target) -> set[Read]:
    """What is read of a target for whatever is written."""
    quantities = (QUATERNION if group == "rotation" else group for group in settings.groups)
    return {read for one in quantities for read in reads_of_target(scene, settings, target, one)}
