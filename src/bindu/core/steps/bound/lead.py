"""Lead groups: parts of which any one can carry the others."""

from __future__ import annotations

from collections.abc import Hashable, Sequence
from dataclasses import dataclass
from functools import cached_property

import numpy as np

from bindu.core.curves.model import Array
from bindu.core.geometry.local_frame import LocalFrame
from bindu.core.geometry.places import (
    points_inside,
    points_outside,
    rest_place,
    seen_from,
    turned_inside,
    turned_outside,
    within,
)
from bindu.core.geometry.rotation import inverse, product
from bindu.core.geometry.vectors import cross
from bindu.core.nodes.batches import InBatches
from bindu.core.nodes.identity import QUATERNION, SOLVE, Read, Stage, before
from bindu.core.nodes.operation import Operation, OverTime, Running, Times
from bindu.core.nodes.running import KeptRunning
from bindu.core.refusal import Refusal
from bindu.core.scene.channels import Zone, step_channel
from bindu.core.scene.model import Scene
from bindu.core.scene.parts import Step
from bindu.core.scene.settings import LeadSettings
from bindu.core.scene.things import LeadGroup
from bindu.core.steps.base import StepKind
from bindu.core.steps.bound.targets import Inputs, owner_frame, rests_of


@dataclass(frozen=True)
class LeadOperation(OverTime):
    """Where all members of a lead group are.

    Between two changes of the lead, the leads move by their own channels, and carry all others:
    about the position lead turns what the rotation lead turns. On top of being carried, each
    member still moves by its own channels. At a change everyone starts from where it is, so that
    nothing jumps. All this is counted in the nearest part above all members, so that what moves
    them all is not taken twice.

    Inputs: who leads the position, who the rotation; that part's world matrix, where some member
    hangs elsewhere; for each member its parent's (if that is another one), and its incoming
    translation and rotation.

    Attributes:
        elsewhere: for each member, whether its parent is another one than the part above all.
        above: that part's world matrix is among the inputs.
    """

    locals: tuple[LocalFrame, ...]
    elsewhere: tuple[bool, ...]
    above: bool

    @cached_property
    def digest(self) -> str:
        """See ``Operation``."""
        return f"lead {self!r}"

    @property
    def numbers(self) -> int:
        """See ``Operation``."""
        return 7 * len(self.locals)

    def compute(self, inputs: Sequence[Array], times: Times) -> Array:
        """Each member's position and rotation in the part above all, shape (F, M, 7): metres and
        quaternion."""
        frames = len(times.frames)
        points, turns = self._own_places(inputs, frames)
        position, rotation = (_choice(inputs[n], len(self.locals), frames) for n in (0, 1))
        changes = np.flatnonzero((np.diff(position) != 0) | (np.diff(rotation) != 0)) + 1
        carried = _nobody_carried(len(self.locals))
        made = np.empty((frames, len(self.locals), 7))
        for start, end in zip([0, *changes], [*changes, frames], strict=True):
            # Of the next stretch only its first frame is needed, to go on from there.
            span = slice(start, min(end + 1, frames))
            leads = int(position[start]), int(rotation[start])
            places, carried = _stretch(carried, points[span], turns[span], leads)
            made[start:end] = places[: end - start]
        return made

    def running(self) -> Running:
        """See ``OverTime``."""
        return KeptRunning(self._following)

    def _following(
        self, inputs: Sequence[Array], times: Times, before: _Stretch | None
    ) -> tuple[Array, _Stretch]:
        points, turns = self._own_places(inputs, 1)
        position, rotation = (int(_choice(inputs[n], len(self.locals), 1)[0]) for n in (0, 1))
        leads = position, rotation
        if before is None:
            before = _Stretch(_nobody_carried(len(self.locals)), points, turns, leads)
        elif before.leads != leads:
            _, carried = _stretch(
                before.carried,
                np.concatenate([before.points, points]),
                np.concatenate([before.turns, turns]),
                before.leads,
            )
            before = _Stretch(carried, points, turns, leads)
        places, _ = _stretch(
            before.carried,
            np.concatenate([before.points, points]),
            np.concatenate([before.turns, turns]),
            leads,
        )
        return places[1:], before

    def _own_places(self, inputs: Sequence[Array], frames: int) -> tuple[Array, Array]:
        """The members' own places in the part above all, shapes (F, M, 3) and (F, M, 4)."""
        rest = iter(inputs[2:])
        above = next(rest) if self.above else None
        own = [self._own(n, above, rest, frames) for n in range(len(self.locals))]
        return np.stack([p for p, _ in own], axis=1), np.stack([q for _, q in own], axis=1)

    def _own(
        self, member: int, above: Array | None, rest: Inputs, frames: int
    ) -> tuple[Array, Array]:
        place = self._base(member, above, rest)
        point = points_outside(place, next(rest))
        turn = turned_outside(place, next(rest))
        return np.broadcast_to(point, (frames, 3)), np.broadcast_to(turn, (frames, 4))

    def _base(self, member: int, above: Array | None, rest: Inputs) -> Array:
        """Where a member's channels count from, in the part above all."""
        place = rest_place(self.locals[member])
        if not self.elsewhere[member]:
            return place
        place = within(next(rest), place)
        return place if above is None else seen_from(above, place)

    def taken(self, inputs: Sequence[Array]) -> list[Array]:
        """Where the members' channels count from, each of shape (N, 3, 4)."""
        rest = iter(inputs[2:])
        above = next(rest) if self.above else None
        found = []
        for member in range(len(self.locals)):
            found.append(self._base(member, above, rest))
            next(rest), next(rest)
        return found


@dataclass(frozen=True)
class _Carried:
    """How far each member has been carried so far: a turn and a move of its position, and a
    turn of its rotation; shapes (M, 4), (M, 3), (M, 4)."""

    turns: Array
    moves: Array
    spins: Array


@dataclass(frozen=True)
class _Stretch:
    """A stretch without a change of leads: what was carried before it, its first frame's own
    places, and who leads."""

    carried: _Carried
    points: Array
    turns: Array
    leads: tuple[int, int]


def _nobody_carried(members: int) -> _Carried:
    still = np.tile((0.0, 0.0, 0.0, 1.0), (members, 1))
    return _Carried(still, np.zeros((members, 3)), still)


def _stretch(
    carried: _Carried, points: Array, turns: Array, leads: tuple[int, int]
) -> tuple[Array, _Carried]:
    """The members' places over a stretch, shape (F, M, 7), and what they have been carried by its
    last frame.

    Args:
        carried: before the stretch.
        points, turns: the members' own places, shapes (F, M, 3) and (F, M, 4).
        leads: who leads the position, and who the rotation; -1 for nobody.
    """
    position_lead, rotation_lead = leads
    points = _turned(carried.turns[None], points) + carried.moves
    turns = product(np.broadcast_to(carried.spins, turns.shape), turns)
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
    goes, spins = (others != position_lead)[:, None], (others != rotation_lead)[:, None]
    made = np.concatenate([np.where(goes, moved, points), np.where(spins, turned, turns)], axis=2)
    last = np.broadcast_to(turn[-1], carried.turns.shape)
    moves = _turned(last, carried.moves - pivot) + pivot + away[-1]
    return made, _Carried(
        np.where(goes, product(last, carried.turns), carried.turns),
        np.where(goes, moves, carried.moves),
        np.where(spins, product(last, carried.spins), carried.spins),
    )


@dataclass(frozen=True)
class MemberOperation(InBatches):
    """A member's own channels, from where its group is. Inputs: incoming, the group; where its
    parent is another one than the part above all members, that part's world matrix (unless it is
    the world) and the parent's."""

    quantity: str
    member: int
    local: LocalFrame
    elsewhere: bool

    @cached_property
    def digest(self) -> str:
        """See ``Operation``."""
        return f"member {self!r}"

    @property
    def alike(self) -> Hashable:
        """See ``InBatches``."""
        return self.quantity, self.elsewhere

    @classmethod
    def compute_many(
        cls, operations: Sequence[MemberOperation], inputs: Sequence[Array], times: Times
    ) -> Array:
        """Shape (B, F, 3); of the rotation quaternions, (B, F, 4)."""
        members = np.array([one.member for one in operations])
        place = inputs[1][np.arange(len(operations)), :, members]
        base = rests_of([one.local for one in operations])
        if operations[0].elsewhere:
            *above, parent = inputs[2:]
            base = within(parent, base)
            base = seen_from(above[0], base) if above else base
        if operations[0].quantity == "translation":
            return points_inside(base, place[..., :3])
        return turned_inside(base, place[..., 3:])


class LeadKind(StepKind):
    """See ``StepKind``."""

    name = "lead"
    zones: tuple[Zone, ...] = ("bound",)
    zone_reason = "the members of a lead group start from their driven values"

    def checked(self, scene: Scene, part: str, settings: LeadSettings) -> LeadSettings:
        """Always refused: members are chosen with their group."""
        if settings.lead not in scene.leads:
            raise Refusal("there is no such lead group any more.", code="gone", place="lead group")
        raise Refusal(
            "change the members of the lead group instead.", code="impossible", place="lead group"
        )

    def reads(self, scene: Scene, step: Step, quantity: str) -> tuple[Read, ...]:
        """The group, and the parent."""
        assert isinstance(step.settings, LeadSettings)
        lead = scene.leads[step.settings.lead]
        above, parent = part_above(scene, lead), scene.parts[step.part].parent
        parts = [] if parent == above else [above, parent]
        around = (Read(part, "world matrix", "final") for part in parts if part is not None)
        return (Read(lead.part, SOLVE, Stage("owner", lead.id)), *around)

    def operation(self, scene: Scene, step: Step, quantity: str) -> Operation:
        """See ``MemberOperation``."""
        assert isinstance(step.settings, LeadSettings)
        lead = scene.leads[step.settings.lead]
        elsewhere = scene.parts[step.part].parent != part_above(scene, lead)
        place = lead.members.index(step.part)
        return MemberOperation(quantity, place, owner_frame(scene, step.part), elsewhere)

    def described(self, scene: Scene, settings: LeadSettings) -> str:
        """The group and its members."""
        lead = scene.leads[settings.lead]
        return f"{lead.name}: {', '.join(scene.parts[p].name for p in lead.members)}"

    def trouble(self, scene: Scene, settings: LeadSettings) -> str:
        """See ``StepKind``."""
        return "Its parent is scaled to nothing there; scale it less."


class LeadSolve:
    """See ``SharedSolve``: where all members of a lead group are."""

    zone: Zone = "bound"

    def reads(self, scene: Scene, owner: str) -> tuple[Read, ...]:
        """See ``LeadOperation``."""
        return _lead_reads(scene, scene.leads[owner])

    def operation(self, scene: Scene, owner: str) -> Operation:
        """See ``LeadOperation``."""
        lead = scene.leads[owner]
        locals_ = tuple(owner_frame(scene, part) for part in lead.members)
        elsewhere = _elsewhere(scene, lead)
        above = part_above(scene, lead) is not None and any(elsewhere)
        return LeadOperation(locals_, elsewhere, above)


def _lead_reads(scene: Scene, lead: LeadGroup) -> tuple[Read, ...]:
    reads = [
        Read(lead.part, step_channel(lead.id, key), "final") for key in ("position", "rotation")
    ]
    above = part_above(scene, lead)
    if above is not None and any(_elsewhere(scene, lead)):
        reads.append(Read(above, "world matrix", "final"))
    for part, elsewhere in zip(lead.members, _elsewhere(scene, lead), strict=True):
        step = scene.members_of[lead.id][part]
        parent = scene.parts[part].parent
        if elsewhere and parent is not None:
            reads.append(Read(parent, "world matrix", "final"))
        reads.append(Read(part, "translation", before(step)))
        reads.append(Read(part, QUATERNION, before(step)))
    return tuple(reads)


def part_above(scene: Scene, lead: LeadGroup) -> str | None:
    """The nearest part above all members; None: the world."""
    lines = [_line(scene, part) for part in lead.members]
    shared = set(lines[0]).intersection(*lines[1:])
    return next((part for part in lines[0] if part in shared), None)


def _elsewhere(scene: Scene, lead: LeadGroup) -> tuple[bool, ...]:
    above = part_above(scene, lead)
    return tuple(scene.parts[part].parent != above for part in lead.members)


def _line(scene: Scene, part: str) -> list[str]:
    """The parts above one, the nearest first."""
    found, above = [], scene.parts[part].parent
    while above is not None:
        found.append(above)
        above = scene.parts[above].parent
    return found


def _choice(values: Array, members: int, frames: int) -> Array:
    """Who leads on each frame: a place among the members, -1 for nobody."""
    whole = np.clip(np.rint(values), 0, members).astype(int) - 1
    return np.broadcast_to(whole, frames)


def _turned(turns: Array, points: Array) -> Array:
    """Points turned by quaternions (v + 2w(u × v) + 2u × (u × v))."""
    axis, w = turns[..., :3], turns[..., 3:]
    once = cross(np.broadcast_to(axis, points.shape), points)
    return np.asarray(points + 2.0 * (w * once + cross(np.broadcast_to(axis, points.shape), once)))
