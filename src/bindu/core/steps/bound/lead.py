"""Lead groups: parts of which any one can carry the others."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from functools import cached_property

import numpy as np

from bindu.core.curves.model import Array
from bindu.core.graph.node import Operation, Read, Times
from bindu.core.graph.operations import LocalFrame
from bindu.core.graph.stages import LEAD, QUATERNION, before
from bindu.core.refusal import Refusal
from bindu.core.rotation import inverse, product
from bindu.core.scene.channels import Zone, step_channel
from bindu.core.scene.model import LeadGroup, Scene, Step
from bindu.core.scene.settings import LeadSettings, Space
from bindu.core.steps.bound.places import (
    Inputs,
    channels_rotation,
    owner_base,
    owner_frame,
    owner_reads,
    points_inside,
    points_outside,
    rest_place,
    rotation_of,
    within,
)

WORLD = Space("world")


@dataclass(frozen=True)
class LeadOperation:
    """Where all members of a lead group are.

    Between two changes of the lead, the leads move by their own channels, and carry all others:
    about the position lead turns what the rotation lead turns. On top of being carried, each
    member still moves by its own channels. At a change everyone starts from where it is, so that
    nothing jumps.

    Inputs: who leads the position, who the rotation; for each member its parent's world matrix
    (unless it has none), and its incoming translation and rotation.
    """

    locals: tuple[LocalFrame, ...]
    parented: tuple[bool, ...]
    over_time: bool = True

    @cached_property
    def digest(self) -> str:
        """See ``Operation``."""
        return f"lead {self!r}"

    def compute(self, inputs: Sequence[Array], times: Times) -> Array:
        """Each member's position and rotation in the world, shape (F, M, 7): metres and
        quaternion."""
        frames = len(times.frames)
        rest = iter(inputs[2:])
        own = [self._own(n, rest, frames) for n in range(len(self.locals))]
        points = np.stack([p for p, _ in own], axis=1)
        turns = np.stack([q for _, q in own], axis=1)
        leads = [_choice(inputs[n], len(self.locals), frames) for n in (0, 1)]
        changes = np.flatnonzero((np.diff(leads[0]) != 0) | (np.diff(leads[1]) != 0)) + 1
        carried = _Carried(len(self.locals))
        made = np.empty((frames, len(self.locals), 7))
        for start, end in zip([0, *changes], [*changes, frames], strict=True):
            # Of the next stretch only its first frame is needed, to go on from there.
            span = slice(start, min(end + 1, frames))
            places = carried.over(points[span], turns[span], leads[0][start], leads[1][start])
            made[start:end] = places[: end - start]
        return made

    def _own(self, member: int, rest: Inputs, frames: int) -> tuple[Array, Array]:
        place = rest_place(self.locals[member])
        if self.parented[member]:
            place = within(next(rest), place)
        point = points_outside(place, next(rest))
        turn = product(rotation_of(place), next(rest))
        return np.broadcast_to(point, (frames, 3)), np.broadcast_to(turn, (frames, 4))


class _Carried:
    """How far each member has been carried so far: a turn and a move of its position, and a
    turn of its rotation."""

    def __init__(self, members: int) -> None:
        self._turns = np.tile((0.0, 0.0, 0.0, 1.0), (members, 1))
        self._moves = np.zeros((members, 3))
        self._spins = np.tile((0.0, 0.0, 0.0, 1.0), (members, 1))

    def over(self, points: Array, turns: Array, position_lead: int, rotation_lead: int) -> Array:
        """The members' places over a stretch, shape (F, M, 7), and on its last frame what they
        have been carried by then."""
        points = _turned(self._turns[None], points) + self._moves
        turns = product(np.broadcast_to(self._spins, turns.shape), turns)
        turn = np.tile((0.0, 0.0, 0.0, 1.0), (len(points), 1))
        if rotation_lead >= 0:
            lead = turns[:, rotation_lead]
            turn = product(lead, np.broadcast_to(inverse(lead[:1]), lead.shape))
        away, pivot = np.zeros((len(points), 3)), points[:1, 0] * 0.0
        if position_lead >= 0:
            pivot = points[:1, position_lead]
            away = points[:, position_lead] - pivot
        elif rotation_lead >= 0:
            pivot = points[:1, rotation_lead]
        moved = _turned(turn[:, None], points - pivot[:, None]) + (pivot + away)[:, None]
        turned = product(np.broadcast_to(turn[:, None], turns.shape), turns)
        others = np.arange(points.shape[1])
        goes = others != position_lead
        spins = others != rotation_lead
        made = np.concatenate(
            [
                np.where(goes[None, :, None], moved, points),
                np.where(spins[None, :, None], turned, turns),
            ],
            axis=2,
        )
        last = turn[-1]
        self._moves[goes] = _turned(last, self._moves[goes] - pivot) + pivot + away[-1]
        self._turns[goes] = product(np.broadcast_to(last, (goes.sum(), 4)), self._turns[goes])
        self._spins[spins] = product(np.broadcast_to(last, (spins.sum(), 4)), self._spins[spins])
        return made


@dataclass(frozen=True)
class MemberOperation:
    """A member's own channels, from where its group is. Inputs: incoming, the group, the parent
    (where there is one)."""

    quantity: str
    member: int
    local: LocalFrame
    parented: bool

    @cached_property
    def digest(self) -> str:
        """See ``Operation``."""
        return f"member {self!r}"

    def compute(self, inputs: Sequence[Array], times: Times) -> Array:
        """Shape (F, 3); of the rotation quaternions, (F, 4)."""
        place = inputs[1][:, self.member]
        base = owner_base(self.local, self.parented, WORLD, iter(inputs[2:]))
        if self.quantity == "translation":
            return points_inside(base, place[:, :3])
        return channels_rotation(base, place[:, 3:])


class LeadKind:
    """See ``StepKind``."""

    name = "lead"
    zones: tuple[Zone, ...] = ("bound",)
    zone_reason = "the members of a lead group start from their driven values"

    def checked(self, scene: Scene, part: str, settings: LeadSettings) -> LeadSettings:
        """Always refused: members are chosen with their group."""
        if settings.lead not in scene.leads:
            raise Refusal("there is no such lead group any more.", place="lead group")
        raise Refusal("change the members of the lead group instead.", place="lead group")

    def shown(self, scene: Scene, settings: LeadSettings) -> LeadSettings:
        """See ``StepKind``."""
        return settings

    def reads(self, scene: Scene, step: Step, quantity: str) -> tuple[Read, ...]:
        """The group, and the parent."""
        assert isinstance(step.settings, LeadSettings)
        lead = scene.leads[step.settings.lead]
        return (Read(lead.part, LEAD, lead.id), *owner_reads(scene, step, WORLD, "final"))

    def operation(self, scene: Scene, step: Step, quantity: str) -> Operation:
        """See ``MemberOperation``."""
        assert isinstance(step.settings, LeadSettings)
        member = scene.leads[step.settings.lead].members.index(step.part)
        parented = scene.parts[step.part].parent is not None
        return MemberOperation(quantity, member, owner_frame(scene, step.part), parented)

    def described(self, scene: Scene, settings: LeadSettings) -> str:
        """The group and its members."""
        lead = scene.leads[settings.lead]
        return f"{lead.name}: {', '.join(scene.parts[p].name for p in lead.members)}"

    def trouble(self, scene: Scene, settings: LeadSettings) -> str:
        """See ``StepKind``."""
        return "Its parent is scaled to nothing there; scale it less."


def lead_reads(scene: Scene, lead: LeadGroup) -> tuple[Read, ...]:
    """What a lead group reads; see ``LeadOperation``."""
    reads = [
        Read(lead.part, step_channel(lead.id, key), "final") for key in ("position", "rotation")
    ]
    for part in lead.members:
        step = scene.members_of[lead.id][part]
        parent = scene.parts[part].parent
        if parent is not None:
            reads.append(Read(parent, "world matrix", "final"))
        reads.append(Read(part, "translation", before(step)))
        reads.append(Read(part, QUATERNION, before(step)))
    return tuple(reads)


def lead_operation(scene: Scene, lead: LeadGroup) -> Operation:
    """See ``LeadOperation``."""
    locals_ = tuple(owner_frame(scene, part) for part in lead.members)
    return LeadOperation(
        locals_, tuple(scene.parts[part].parent is not None for part in lead.members)
    )


def _choice(values: Array, members: int, frames: int) -> Array:
    """Who leads on each frame: a place among the members, -1 for nobody."""
    whole = np.clip(np.rint(values), 0, members).astype(int) - 1
    return np.broadcast_to(whole, frames)


def _turned(turns: Array, points: Array) -> Array:
    """Points turned by quaternions (v + 2w(u × v) + 2u × (u × v))."""
    axis, w = turns[..., :3], turns[..., 3:]
    once = np.cross(np.broadcast_to(axis, points.shape), points)
    return np.asarray(
        points + 2.0 * (w * once + np.cross(np.broadcast_to(axis, points.shape), once))
    )
