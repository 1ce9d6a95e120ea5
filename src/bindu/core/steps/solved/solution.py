"""How a limb's chain is solved: where all its parts are, by IK on top of the pose that comes in."""

from __future__ import annotations

from collections.abc import Hashable, Iterator, Sequence
from dataclasses import dataclass
from functools import cached_property

import numpy as np

from bindu.core.curves.model import Array
from bindu.core.geometry.chain import Solved, Wanted, middle_of, reach_of, solved
from bindu.core.geometry.local_frame import LocalFrame
from bindu.core.geometry.places import (
    inverted,
    place_of,
    points_inside,
    rotation_of,
    seen_from,
    signs_of,
    turned_inside,
    within,
)
from bindu.core.geometry.rotation import angles_quaternion, inverse, product
from bindu.core.geometry.vectors import cross, dot, frames_last, length, normalized, transformed
from bindu.core.nodes.batches import InBatches, stacked
from bindu.core.nodes.operation import Times
from bindu.core.scene.parts import RotationOrder
from bindu.core.steps.base import weighed
from bindu.core.steps.bound.targets import rests_of

STEERING = ("stretch", "soft", "turn", "end follows")
"""The limb's channels that its solution reads; the blend is read by the members."""
ACCOUNT = ("missed", "distance", "reach", "bend", "branch", "factor", "off the line")
"""What a solution says of itself, in its last row: how far the end is from its goal, from base to
goal, how long the straight chain is (metres); how far it bends (degrees); see ``BRANCHES``; how
many times as long it is; how far the pole is off the line from base to goal (metres)."""


@dataclass(frozen=True)
class ChainPart:
    """A part of a chain, and the parts between it and the one before."""

    local: LocalFrame
    between: tuple[LocalFrame, ...] = ()


@dataclass(frozen=True)
class LimbOperation(InBatches):
    """Where all parts of a limb's chain are, by IK alone: the pose that comes in, moved by the
    least that reaches the goal; see ``chain.solved``.

    Seen from what the base hangs on, so that what moves them all is not taken twice. Inputs: the
    channels of ``STEERING``; the world matrix of what the base hangs on, unless that is the world;
    the goal's world matrix and scale; the pole's world position, if there is one; then for each
    part of the chain the translation, rotation and scale of those between it and the one before,
    and its own.

    Attributes:
        parts: the chain, base first.
        axis: the bend axis in the middle part's own axes.
        limits: the least and the largest bend, degrees; None: it bends freely.
        offset: the end's rotation as seen from the goal's, degrees.
        order: the end's rotation order.
        hangs: the base has a parent.
        poled: there is a pole.
    """

    parts: tuple[ChainPart, ...]
    axis: tuple[float, float, float]
    limits: tuple[float, float] | None
    offset: tuple[float, float, float]
    order: RotationOrder
    hangs: bool
    poled: bool

    @cached_property
    def digest(self) -> str:
        """See ``Operation``."""
        return f"limb {self!r}"

    @property
    def numbers(self) -> int:
        """See ``Operation``."""
        return 7 * (len(self.parts) + 1)

    @property
    def calculations(self) -> int:
        """See ``Operation``: about as many as were counted; FABRIK goes round and round."""
        return 400 if len(self.parts) == 3 else 6000 * len(self.parts)

    @cached_property
    def alike(self) -> Hashable:
        """See ``InBatches``."""
        between = tuple(len(part.between) for part in self.parts)
        return between, self.limits is None, self.order, self.hangs, self.poled

    @classmethod
    def compute_many(
        cls, operations: Sequence[LimbOperation], inputs: Sequence[Array], times: Times
    ) -> Array:
        """For each part of the chain translation and rotation, metres and quaternion, and after
        them the account: shape (B, F, J + 1, 7)."""
        with np.errstate(divide="ignore", invalid="ignore", over="ignore"):
            return _solution(operations, inputs)

    def places(self, inputs: Sequence[Array], solution: Array | None = None) -> list[Array]:
        """Where the parts of the chain are, seen from what the base hangs on, each of shape
        (F, 3, 4): as they come in, or by a solution."""
        stacks = [one[None] for one in inputs]
        made = None if solution is None else solution[None]
        return [link.place[0] for link in _chain([self], self._of_chain(stacks), made)]

    def reach_of(self, inputs: Sequence[Array]) -> Array:
        """How long the straight chain is, seen from what the base hangs on, shape (F,)."""
        chain = _chain([self], self._of_chain([one[None] for one in inputs]))
        points = [link.place[..., 3] for link in chain]
        return np.asarray(reach_of(points, _axis([self], chain))[0])

    def _of_chain(self, stacks: Sequence[Array]) -> Iterator[Array]:
        """The inputs that are about the chain itself."""
        return iter(stacks[len(STEERING) + self.hangs + 2 + self.poled :])


def _solution(operations: Sequence[LimbOperation], inputs: Sequence[Array]) -> Array:
    """See ``LimbOperation.compute_many``."""
    rest = iter(inputs)
    stretch, soft, turn, follows = (next(rest) for _ in STEERING)
    first = operations[0]
    around = next(rest) if first.hangs else None
    goal = _inside(around, next(rest))
    signs = signs_of(next(rest))
    pole = next(rest) if first.poled else None
    if pole is not None and around is not None:
        pole = points_inside(around, pole)
    chain = _chain(operations, rest)
    limits = None
    if first.limits is not None:
        limits = (
            stacked([one.limits[0] for one in operations if one.limits]),
            stacked([one.limits[1] for one in operations if one.limits]),
        )
    wanted = Wanted(goal[..., 3], pole, turn, soft, stretch, limits)
    found = solved([link.place[..., 3] for link in chain], _axis(operations, chain), wanted)
    rotations = _rotations(chain, found)
    rotations[-1] = _followed(operations, chain, found, goal, signs, follows)
    return _packed(chain, found, rotations, _account(found, goal, pole, chain, around))


@dataclass(frozen=True)
class _ChainPart:
    """A part of the chain as it comes in, seen from what the base hangs on.

    Attributes:
        basis: where its channels count from, shape (…, 3, 4).
        place: where it is, shape (…, 3, 4).
        translation, rotation: its channels, shapes (…, 3) and (…, 4).
    """

    basis: Array
    place: Array
    translation: Array
    rotation: Array


def _inside(around: Array | None, place: Array) -> Array:
    return place if around is None else seen_from(around, place)


def _axis(operations: Sequence[LimbOperation], chain: Sequence[_ChainPart]) -> Array:
    """The bend axes, seen from what the bases hang on."""
    middle = chain[middle_of(len(chain))].place
    return normalized(transformed(middle[..., :3], stacked([one.axis for one in operations])))


def _chain(
    operations: Sequence[LimbOperation], inputs: Iterator[Array], solution: Array | None = None
) -> list[_ChainPart]:
    """The chain as it comes in, or by a solution in place of its own translations and rotations."""
    links: list[_ChainPart] = []
    for n, part in enumerate(operations[0].parts):
        outer = links[-1].place if links else None
        for m in range(len(part.between)):
            rests = rests_of([one.parts[n].between[m] for one in operations])
            groups = next(inputs), next(inputs), next(inputs)
            outer = within(_within(outer, rests), place_of(*groups))
        basis = _within(outer, rests_of([one.parts[n].local for one in operations]))
        translation, rotation, scale = next(inputs), next(inputs), next(inputs)
        if solution is not None:
            translation, rotation = solution[..., n, :3], solution[..., n, 3:]
        place = within(basis, place_of(translation, rotation, scale))
        links.append(_ChainPart(basis, place, translation, rotation))
    return links


def _within(outer: Array | None, inner: Array) -> Array:
    return inner if outer is None else within(outer, inner)


def _rotations(chain: Sequence[_ChainPart], found: Solved) -> list[Array]:
    """The chain's rotations, as their channels count them; the end rides along."""
    made, above = [], None
    for link, turn in zip(chain[:-1], found.turns, strict=True):
        own = turn if above is None else product(inverse(above), turn)
        made.append(product(_seen_turn(link.basis, own), link.rotation))
        above = turn
    return [*made, chain[-1].rotation]


def _seen_turn(basis: Array, turn: Array) -> Array:
    """A turn as it is seen from inside a place that is turned, evenly scaled and may be mirrored.

    B⁻¹·R·B of a rotation about n is one about det(Q)·Qᵀ·n, Q being B without its size.
    """
    back = inverted(basis[..., :3])
    # 1 / det(B) from the rows of the inverse; its cube root is one over the size, with the sign.
    volume = dot(back[..., 0, :], cross(back[..., 1, :], back[..., 2, :]))
    axis = transformed(back, turn[..., :3]) / np.cbrt(volume)[..., None]
    return np.concatenate([axis, np.broadcast_to(turn[..., 3:], (*axis.shape[:-1], 1))], axis=-1)


def _followed(
    operations: Sequence[LimbOperation],
    chain: Sequence[_ChainPart],
    found: Solved,
    goal: Array,
    signs: Array,
    share: Array,
) -> Array:
    """The end's rotation, moved by its share toward the goal's."""
    end = chain[-1]
    if np.all(share == 0.0):
        return end.rotation
    offsets = np.array([one.offset for one in operations])[:, None]
    wanted = product(rotation_of(goal, signs), angles_quaternion(offsets, operations[0].order))
    carried = _turned_place(found.turns[-1], end.basis)
    own = turned_inside(carried, wanted)
    return weighed(np.broadcast_to(end.rotation, own.shape), own, share, turns=True)


def _turned_place(turn: Array, place: Array) -> Array:
    """A place turned about the origin, shape (…, 3, 4)."""
    still = np.zeros((*turn.shape[:-1], 3))
    return within(place_of(still, turn, np.ones(3)), place)


def _account(
    found: Solved,
    goal: Array,
    pole: Array | None,
    chain: Sequence[_ChainPart],
    around: Array | None,
) -> Array:
    """See ``ACCOUNT``, shape (…, 7). Metres are those of the world."""
    base = chain[0].place[..., 3]
    goes = goal[..., 3] - base
    missed, distance = found.end - goal[..., 3], goes
    if around is not None:
        missed, distance = (transformed(around[..., :3], one) for one in (missed, distance))
    apart = length(distance)
    size = np.where(
        found.distance > 0.0, apart / np.where(found.distance > 0.0, found.distance, 1.0), 1.0
    )
    off = np.full(found.distance.shape, -1.0)
    if pole is not None:
        line = goes / np.where(found.distance > 0.0, found.distance, 1.0)[..., None]
        toward = pole - base
        off = length(toward - dot(toward, line)[..., None] * line) * size
    columns = (
        length(missed),
        apart,
        found.reach * size,
        found.bend,
        found.branch,
        found.factor,
        off,
    )
    shape = np.broadcast_shapes(*(np.shape(one) for one in columns))
    made = frames_last((*shape, len(ACCOUNT)), 1)
    for n, one in enumerate(columns):
        made[..., n] = one
    return made


def _packed(
    chain: Sequence[_ChainPart], found: Solved, rotations: Sequence[Array], account: Array
) -> Array:
    shape = account.shape[:-1]
    made = frames_last((*shape, len(chain) + 1, 7), 2)
    for n, (link, rotation) in enumerate(zip(chain, rotations, strict=True)):
        moved = link.translation
        if n:
            segment = link.place[..., 3] - chain[n - 1].place[..., 3]
            longer = (found.factor - 1.0)[..., None] * segment
            moved = moved + transformed(inverted(link.basis[..., :3]), longer)
        made[..., n, :3] = moved
        made[..., n, 3:] = rotation
    made[..., len(chain), :] = account
    return made
