"""Limbs: chains of parts that reach for a goal, by IK on top of FK."""

from __future__ import annotations

from collections.abc import Hashable, Iterator, Sequence
from dataclasses import dataclass

import numpy as np

from bindu.core.curves.model import Array
from bindu.core.nodes.batches import InBatches
from bindu.core.nodes.identity import QUATERNION, SOLVE, Read, Stage, before
from bindu.core.nodes.operation import Operation, Times
from bindu.core.refusal import Refusal
from bindu.core.scene.channels import Zone, step_channel
from bindu.core.scene.model import Scene
from bindu.core.scene.parts import Step
from bindu.core.scene.settings import LimbSettings
from bindu.core.scene.things import Limb
from bindu.core.steps.base import StepKind, weighed
from bindu.core.steps.bound.targets import owner_frame
from bindu.core.steps.solved.solution import STEERING, ChainPart, LimbOperation

WHOLE = ("translation", QUATERNION, "scale")


@dataclass(frozen=True)
class LimbMemberOperation(InBatches):
    """What a part of a chain makes of its limb's solution: FK and IK mixed by the blend, rotations
    the shortest way. Inputs: incoming, the solution, the blend."""

    quantity: str
    place: int

    @property
    def digest(self) -> str:
        """See ``Operation``."""
        return f"limb member {self.quantity} {self.place}"

    @property
    def alike(self) -> Hashable:
        """See ``InBatches``."""
        return self.quantity

    @classmethod
    def compute_many(
        cls, operations: Sequence[LimbMemberOperation], inputs: Sequence[Array], times: Times
    ) -> Array:
        """Shape (B, F, 3); of the rotation quaternions, (B, F, 4)."""
        incoming, solution, blend = inputs
        places = np.array([one.place for one in operations])
        own = solution[np.arange(len(operations)), :, places]
        turns = operations[0].quantity == QUATERNION
        made = own[..., 3:] if turns else own[..., :3]
        return weighed(incoming, made, blend, turns)


class LimbKind(StepKind):
    """See ``StepKind``."""

    name = "limb"
    zones: tuple[Zone, ...] = ("solved",)
    zone_reason = "a limb corrects what comes out of Bound"

    def checked(self, scene: Scene, part: str, settings: LimbSettings) -> LimbSettings:
        """Always refused: a chain is chosen with its limb."""
        if settings.limb not in scene.limbs:
            raise Refusal("there is no such limb any more.", code="gone", place="limb")
        raise Refusal("change the chain of the limb instead.", code="impossible", place="limb")

    def reads(self, scene: Scene, step: Step, quantity: str) -> tuple[Read, ...]:
        """The solution, and the blend."""
        assert isinstance(step.settings, LimbSettings)
        limb = scene.limbs[step.settings.limb]
        return (
            solution_read(limb),
            Read(limb.part, step_channel(limb.id, "blend"), "final"),
        )

    def operation(self, scene: Scene, step: Step, quantity: str) -> Operation:
        """See ``LimbMemberOperation``."""
        assert isinstance(step.settings, LimbSettings)
        limb = scene.limbs[step.settings.limb]
        return LimbMemberOperation(quantity, limb.chain.index(step.part))

    def described(self, scene: Scene, settings: LimbSettings) -> str:
        """The limb, its chain and what it reaches for."""
        limb = scene.limbs[settings.limb]
        chain = " › ".join(scene.parts[part].name for part in limb.chain)
        pole = f", pole {scene.parts[limb.pole].name}" if limb.pole else ""
        return f"{limb.name}: {chain} → {scene.parts[limb.goal].name}{pole}"

    def trouble(self, scene: Scene, settings: LimbSettings) -> str:
        """See ``StepKind``."""
        return "Something in the chain or above it is scaled to nothing there; scale it less."


class LimbSolve:
    """See ``SharedSolve``: where all parts of a limb's chain are."""

    zone: Zone = "solved"

    def reads(self, scene: Scene, owner: str) -> tuple[Read, ...]:
        """See ``LimbOperation``."""
        return tuple(_limb_reads(scene, scene.limbs[owner]))

    def operation(self, scene: Scene, owner: str) -> Operation:
        """See ``LimbOperation``."""
        limb = scene.limbs[owner]
        parts = tuple(
            ChainPart(owner_frame(scene, part), tuple(owner_frame(scene, one) for one in between))
            for part, between in zip(limb.chain, between_parts(scene, limb.chain), strict=True)
        )
        return LimbOperation(
            parts,
            limb.axis,
            limb.limits,
            limb.offset,
            scene.parts[limb.chain[-1]].rotation_order,
            scene.parts[limb.chain[0]].parent is not None,
            limb.pole is not None,
        )


def _limb_reads(scene: Scene, limb: Limb) -> Iterator[Read]:
    for key in STEERING:
        yield Read(limb.part, step_channel(limb.id, key), "final")
    around = scene.parts[limb.chain[0]].parent
    if around is not None:
        yield Read(around, "world matrix", "solved")
    yield Read(limb.goal, "world matrix", limb.goal_tap, limb.goal_back)
    yield Read(limb.goal, "scale", limb.goal_tap, limb.goal_back)
    if limb.pole is not None:
        yield Read(limb.pole, "world position", limb.pole_tap, limb.pole_back)
    for part, between in zip(limb.chain, between_parts(scene, limb.chain), strict=True):
        for one in between:
            yield from (
                Read(one, group, "solved") for group in ("translation", QUATERNION, "scale")
            )
        incoming = before(scene.members_of[limb.id][part])
        yield Read(part, "translation", incoming)
        yield Read(part, QUATERNION, incoming)
        yield Read(part, "scale", "solved")


def steered_by(limb: Limb) -> tuple[Read, ...]:
    """What a limb goes by, as people think of it: its goal and its pole."""
    goal = Read(limb.goal, "world matrix", limb.goal_tap, limb.goal_back)
    if limb.pole is None:
        return (goal,)
    return goal, Read(limb.pole, "world position", limb.pole_tap, limb.pole_back)


def solution_read(limb: Limb) -> Read:
    """The read of what a limb solves for its chain."""
    return Read(limb.part, SOLVE, Stage("owner", limb.id))


def chain_line(scene: Scene, limb: Limb) -> tuple[str, ...]:
    """All parts of a limb's chain, and those between them, from the top down."""
    between = between_parts(scene, limb.chain)
    return tuple(
        one for part, above in zip(limb.chain, between, strict=True) for one in (*above, part)
    )


def between_parts(scene: Scene, chain: Sequence[str]) -> list[tuple[str, ...]]:
    """For each part of a chain those between it and the one before, from the top down.

    Raises:
        KeyError: where a part is not below the one before.
    """
    found: list[tuple[str, ...]] = [()]
    for above, part in zip(chain[:-1], chain[1:], strict=True):
        line, one = [], scene.parts[part].parent
        while one != above:
            if one is None:
                raise KeyError(part)
            line.append(one)
            one = scene.parts[one].parent
        found.append(tuple(reversed(line)))
    return found
