"""How the targets of a step are read, and its owner written, in a space."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from dataclasses import dataclass

from bindu.core.curves.model import Array
from bindu.core.geometry.local_frame import LocalFrame, local_frame
from bindu.core.geometry.places import (
    IDENTITY,
    place_of,
    seen_from,
    signs_of,
    within,
)
from bindu.core.nodes.batches import stacked
from bindu.core.nodes.identity import Read
from bindu.core.scene.channels import Tap
from bindu.core.scene.model import Scene
from bindu.core.scene.parts import Step
from bindu.core.scene.settings import Space, Target

Inputs = Iterator[Array]
"""The arrays of the reads, taken one after the other in the order of the reads."""


def owner_frame(scene: Scene, part: str) -> LocalFrame:
    """The rest of a step's owner."""
    data = scene.parts[part]
    return local_frame(data.rest, data.rotation_order)


@dataclass(frozen=True)
class SeenTarget:
    """A target in the space in which it is read.

    Attributes:
        place: shape (N, 3, 4).
        signs: of its scale channels, shape (N, 3); None of the world, and where only its position
            counts.
        rotation: of a target that is read locally its channels' own, quaternions, shape (N, 4).
    """

    place: Array
    signs: Array | None = None
    rotation: Array | None = None


def target_reads(scene: Scene, target: Target, space: Space, turns: bool) -> tuple[Read, ...]:
    """What is read of a target to know its place in a space, and with ``turns`` also which of its
    axes are mirrored."""
    if target.part is None:
        return _space_reads(space, target.tap, target.back)
    if space.kind == "local":
        groups = ("translation", "quaternion", "scale")
        return tuple(Read(target.part, group, target.tap, target.back) for group in groups)
    own = [Read(target.part, "world matrix", target.tap, target.back)]
    if turns:
        own.append(Read(target.part, "scale", target.tap, target.back))
    parent = scene.parts[target.part].parent
    if space.kind == "parent" and parent is not None:
        return (Read(parent, "world matrix", target.tap, target.back), *own)
    return (*_space_reads(space, target.tap, target.back), *own)


def seen_target(
    part: str | None, parented: bool, space: Space, turns: bool, inputs: Inputs
) -> SeenTarget:
    """A target in a space, from what ``target_reads`` asked for."""
    if part is None:
        return SeenTarget(seen_from(next(inputs), IDENTITY) if space.kind == "part" else IDENTITY)
    if space.kind == "local":
        translation, rotation, scale = next(inputs), next(inputs), next(inputs)
        return SeenTarget(place_of(translation, rotation, scale), signs_of(scale), rotation)
    if space.kind == "part" or (space.kind == "parent" and parented):
        outer = next(inputs)
        place = seen_from(outer, next(inputs))
    else:
        place = next(inputs)
    return SeenTarget(place, signs_of(next(inputs)) if turns else None)


def rests_of(locals_: Sequence[LocalFrame]) -> Array:
    """Rests as places in the parents, a stack of shape (B, 1, 3, 4)."""
    if len(locals_) == 1:
        return locals_[0].stack
    return stacked([local.matrix for local in locals_])


def owner_reads(scene: Scene, step: Step, space: Space, tap: Tap) -> tuple[Read, ...]:
    """What is read of the owner's surroundings to write it in a space."""
    if space.kind in ("local", "parent"):
        return ()
    parent = scene.parts[step.part].parent
    around = (Read(parent, "world matrix", tap),) if parent is not None else ()
    return (*_space_reads(space, tap, False), *around)


def owner_base(rests: Array, parented: bool, space: Space, inputs: Inputs) -> Array:
    """Where the owner's channels count from, as seen from the space that it is written in.

    Args:
        rests: the owner's rest, shape (1, 3, 4), or a stack of them, (B, 1, 3, 4).
        parented: the owner has a parent.
        space: in which it is written.
        inputs: what ``owner_reads`` asked for.
    """
    if space.kind == "local":
        return IDENTITY
    base = rests
    if space.kind == "parent":
        return base
    outer = next(inputs) if space.kind == "part" else None
    base = within(next(inputs), base) if parented else base
    return base if outer is None else seen_from(outer, base)


def _space_reads(space: Space, tap: Tap, back: bool) -> tuple[Read, ...]:
    if space.kind == "part" and space.part is not None:
        return (Read(space.part, "world matrix", tap, back),)
    return ()
