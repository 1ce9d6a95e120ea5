"""Follow: a part that takes only a share of its parent's position, rotation or scale."""

from __future__ import annotations

from collections.abc import Hashable, Sequence
from dataclasses import dataclass, replace
from functools import cached_property

import numpy as np

from bindu.core.curves.model import Array
from bindu.core.geometry.local_frame import LocalFrame
from bindu.core.geometry.places import (
    points_inside,
    points_outside,
    rotation_and_scale,
    seen_from,
    signs_of,
    turned_inside,
    turned_outside,
    within,
)
from bindu.core.geometry.rotation import between, inverse, product
from bindu.core.nodes.batches import InBatches
from bindu.core.nodes.identity import DEFAULT, QUATERNION, Read
from bindu.core.nodes.operation import Operation, Times
from bindu.core.refusal import Refusal
from bindu.core.scene.channels import GROUPS, Zone, step_channel
from bindu.core.scene.model import Scene
from bindu.core.scene.parts import Step
from bindu.core.scene.settings import FollowSettings
from bindu.core.steps.base import StepKind
from bindu.core.steps.bound.checks import checked_tap
from bindu.core.steps.bound.rereads import surroundings_reread
from bindu.core.steps.bound.targets import owner_frame, rests_of


@dataclass(frozen=True)
class FollowOperation(InBatches):
    """One group of a follow step. Inputs: incoming, the parent's world matrix, the same at its
    rest, the signs of whose scale tell its mirrored axes, the share.

    Rotation and scale are shares of how the parent stands as seen from its own rest.
    """

    quantity: str
    local: LocalFrame

    @cached_property
    def digest(self) -> str:
        """See ``Operation``."""
        return f"follow {self!r}"

    @property
    def alike(self) -> Hashable:
        """See ``InBatches``."""
        return self.quantity

    @classmethod
    def compute_many(
        cls, operations: Sequence[FollowOperation], inputs: Sequence[Array], times: Times
    ) -> Array:
        """Shape (B, F, 3) or (B, 1, 3); of the rotation quaternions, (B, F, 4) or (B, 1, 4)."""
        incoming, parent, still, *scale, share = inputs
        share = np.clip(share, 0.0, 1.0)
        rest = rests_of([one.local for one in operations])
        if operations[0].quantity == "translation":
            inside = points_outside(rest, incoming)
            apart = points_outside(parent, inside) - points_outside(still, inside)
            place = points_outside(still, inside) + share[..., None] * apart
            return points_inside(within(parent, rest), place)
        turn, size = rotation_and_scale(seen_from(still, parent), signs_of(scale[0]))
        if operations[0].quantity == "scale":
            with np.errstate(divide="ignore", invalid="ignore"):
                return np.asarray(incoming * (1.0 + share[..., None] * (size - 1.0)) / size)
        none = np.broadcast_to((0.0, 0.0, 0.0, 1.0), turn.shape)
        lacks = product(inverse(turn), between(none, turn, share))
        return turned_inside(rest, product(lacks, turned_outside(rest, incoming)))

    def taken(self, inputs: Sequence[Array]) -> list[Array]:
        """The parent as seen from its own rest, shape (N, 3, 4)."""
        return [seen_from(inputs[2], inputs[1])]


class FollowKind(StepKind):
    """See ``StepKind``."""

    name = "follow"
    zones: tuple[Zone, ...] = ("bound", "late")
    zone_reason = "it works on whole transforms, after the driven values"

    def checked(self, scene: Scene, part: str, settings: FollowSettings) -> FollowSettings:
        """See ``StepKind``."""
        if scene.parts[part].parent is None:
            name = scene.parts[part].name
            raise Refusal(
                f"{name} has no parent that it could follow; give it one.",
                code="choice",
                place="part",
            )
        if not settings.takes or any(group not in GROUPS for group in settings.takes):
            raise Refusal("choose position, rotation or scale.", code="choice", place="takes")
        checked_tap(settings.tap, "tap")
        return settings

    def reads(self, scene: Scene, step: Step, quantity: str) -> tuple[Read, ...]:
        """The parent's world matrix, the same at its rest, its scale, and the share."""
        settings, parent = step.settings, scene.parts[step.part].parent
        assert isinstance(settings, FollowSettings)
        if parent is None:
            return ()
        share = step_channel(step.id, "rotation" if quantity == "quaternion" else quantity)
        scale = () if quantity == "translation" else (Read(parent, "scale", settings.tap),)
        return (
            Read(parent, "world matrix", settings.tap),
            Read(parent, "world matrix", DEFAULT),
            *scale,
            Read(step.part, share, "final"),
        )

    def operation(self, scene: Scene, step: Step, quantity: str) -> Operation:
        """See ``FollowOperation``; without a parent there is nothing to follow."""
        if scene.parts[step.part].parent is None:
            return Unchanged()
        return FollowOperation(quantity, owner_frame(scene, step.part))

    def reread(self, scene: Scene, step: Step, old: Read, new: Read) -> FollowSettings | None:
        """See ``StepKind``: the surroundings."""
        settings = step.settings
        assert isinstance(settings, FollowSettings)
        tap = surroundings_reread(self.reads(scene, step, QUATERNION), settings.tap, old, new)
        return None if tap is None else replace(settings, tap=tap)

    def described(self, scene: Scene, settings: FollowSettings) -> str:
        """What it takes a share of."""
        words = {"translation": "position", "rotation": "rotation", "scale": "scale"}
        return f"a share of its parent's {', '.join(words[g] for g in settings.groups)}"

    def trouble(self, scene: Scene, settings: FollowSettings) -> str:
        """See ``StepKind``."""
        return "Its parent is scaled to nothing there; scale it less."


@dataclass(frozen=True)
class Unchanged(Operation):
    """What comes in goes out."""

    @property
    def digest(self) -> str:
        """See ``Operation``."""
        return "unchanged"

    def compute(self, inputs: Sequence[Array], times: Times) -> Array:
        """The shape that comes in."""
        return inputs[0]
