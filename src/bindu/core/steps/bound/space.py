"""Space: a part that moves in one of several spaces at a time."""

from __future__ import annotations

from collections.abc import Hashable, Sequence
from dataclasses import dataclass, replace
from functools import cached_property
from typing import Literal

import numpy as np

from bindu.core.curves.model import Array
from bindu.core.geometry.local_frame import LocalFrame
from bindu.core.geometry.places import (
    IDENTITY,
    place_of,
    points_inside,
    points_outside,
    seen_from,
    turned_inside,
    turned_outside,
)
from bindu.core.geometry.rotation import angles_quaternion, between, product
from bindu.core.geometry.vectors import frames_last
from bindu.core.nodes.batches import InBatches
from bindu.core.nodes.identity import QUATERNION, Read
from bindu.core.nodes.operation import Indices, Operation, OverTime, Running, Times
from bindu.core.nodes.running import KeptRunning
from bindu.core.refusal import Refusal
from bindu.core.scene.channels import Zone, step_channel
from bindu.core.scene.model import Scene
from bindu.core.scene.parts import Step
from bindu.core.scene.settings import LONGEST_BLEND, WORLD_KEY, Handover, SpaceSettings
from bindu.core.steps.base import StepKind
from bindu.core.steps.bound.checks import checked_tap, checked_vector, found_target
from bindu.core.steps.bound.rereads import surroundings_reread
from bindu.core.steps.bound.targets import owner_frame, rests_of

MOST_SPACES = 100
MOST_HANDOVERS = 10_000


@dataclass(frozen=True)
class _SpacesBefore:
    """What a space step keeps of the frame before: the handover that it was in (-1: none), the
    space before that, and the one that was active; each of shape (1, 1)."""

    at: Indices
    old: Indices
    active: Indices


@dataclass(frozen=True)
class SpaceOperation(InBatches, OverTime):
    """Where the part is: its own place inside its offset inside the space that is active.

    At a blend the place in the old space, with the offset before, goes over to the new one:
    straight, or turning the shortest way, slowly at both ends. All is counted in the part's
    parent, so that what lies above both cancels.

    Inputs: incoming; the world matrix of each space but the world (and of the parent, where
    there is one, first); which space.

    Attributes:
        sources: for each space, the place of its world matrix among the inputs; None for the
            world.
        parented: the first of them is the parent's.
    """

    quantity: str
    local: LocalFrame
    sources: tuple[int | None, ...]
    parented: bool
    handovers: tuple[Handover, ...]

    @cached_property
    def digest(self) -> str:
        """See ``Operation``."""
        return f"space {self!r}"

    @cached_property
    def alike(self) -> Hashable:
        """See ``InBatches``: all but the handovers, of which there are as many."""
        return self.quantity, self.sources, self.parented, len(self.handovers)

    @classmethod
    def compute_many(
        cls, operations: Sequence[SpaceOperation], inputs: Sequence[Array], times: Times
    ) -> Array:
        """Shape (B, F, 3); of the rotation quaternions, (B, F, 4)."""
        spaces = _Spaces(operations)
        active = active_spaces(inputs[-1], len(operations[0].sources), len(times.frames))
        at = spaces.handovers_at(times.frames)
        return spaces.placed(inputs, times.frames, active, spaces.before(active, at, times), at)

    def running(self) -> Running:
        """See ``OverTime``."""
        return KeptRunning(self._following)

    def _following(
        self, inputs: Sequence[Array], times: Times, before: _SpacesBefore | None
    ) -> tuple[Array, _SpacesBefore]:
        inputs = [one[None] for one in inputs]
        spaces = _Spaces([self])
        now = active_spaces(inputs[-1], len(self.sources), 1)
        at = spaces.handovers_at(times.frames)
        # Where a handover begins, the space of the frame before is the old one.
        earlier = before or _SpacesBefore(at, now, now)
        old = np.where(earlier.at == at, earlier.old, earlier.active)
        made = spaces.placed(inputs, times.frames, now, old, at)
        return made[0], _SpacesBefore(at, old, now)

    def taken(self, inputs: Sequence[Array]) -> list[Array]:
        """The space that is active as seen from the part's parent, shape (F, 3, 4)."""
        spaces = _Spaces([self]).seen([one[None] for one in inputs[1:-1]])
        frames = max(len(one) for one in inputs)
        active = active_spaces(inputs[-1][None], len(spaces), frames)
        return [_gathered(spaces, active).reshape(-1, 3, 4)]


class _Spaces:
    """Space steps that are alike, computed over a stack of their inputs."""

    def __init__(self, operations: Sequence[SpaceOperation]) -> None:
        self._first = operations[0]
        self._rests = rests_of([one.local for one in operations])
        self._handovers = [one.handovers for one in operations]

    def placed(
        self, inputs: Sequence[Array], frames: Array, active: Indices, old: Indices, at: Indices
    ) -> Array:
        """The channels, of a space that is active and one that was before the handover ``at``,
        each of shape (B, F)."""
        spaces = self.seen(inputs[1:-1])
        own = self._own(inputs[0], len(frames))
        made = self._inside(own, _gathered(spaces, active), at)
        share = self._shares(at, frames)
        if np.any(share < 1.0):
            made = _mixed(self._inside(own, _gathered(spaces, old), at - 1), made, share)
        if self._first.quantity == "translation":
            return points_inside(self._rests, made)
        return turned_inside(self._rests, made)

    def seen(self, places: Sequence[Array]) -> list[Array]:
        """Each space as seen from the parts' parents."""
        sources = self._first.sources
        found = [IDENTITY if n is None else places[n] for n in sources]
        if not self._first.parented:
            return found
        return [
            IDENTITY if n == 0 else seen_from(places[0], place)
            for n, place in zip(sources, found, strict=True)
        ]

    def handovers_at(self, frames: Array) -> Indices:
        """The handover that each frame is in or behind, -1 before the first, shape (B, F)."""
        starts = [[one.frame for one in handovers] for handovers in self._handovers]
        return np.array([np.searchsorted(s, frames, side="right") - 1 for s in starts])

    def before(self, active: Indices, at: Indices, times: Times) -> Indices:
        """The space that was active before the handover of each frame, shape (B, F)."""
        starts = self._at_handovers(at, float(times.first), "frame")
        place = np.ceil(starts - times.frames[0]).astype(int) - 1
        place = np.clip(place, 0, active.shape[-1] - 1)
        return np.take_along_axis(active, place, axis=-1)

    def _own(self, incoming: Array, frames: int) -> Array:
        """The parts' places in their parents: positions, or quaternions."""
        whole = (len(self._handovers), frames)
        if self._first.quantity == "translation":
            return np.broadcast_to(points_outside(self._rests, incoming), (*whole, 3))
        return np.broadcast_to(turned_outside(self._rests, incoming), (*whole, 4))

    def _inside(self, own: Array, space: Array, at: Indices) -> Array:
        """The place inside a space, with the offset of a handover (-1: none)."""
        turns, moves = self._offsets
        rows = np.arange(len(at))[:, None]
        turn = turns[rows, at + 1]
        if self._first.quantity == "translation":
            offset = place_of(moves[rows, at + 1], turn, np.ones((1, 3)))
            return points_outside(space, points_outside(offset, own))
        return turned_outside(space, product(turn, own))

    @cached_property
    def _offsets(self) -> tuple[Array, Array]:
        """The rotations and translations of no handover, then of each, shapes (B, H + 1, 4) and
        (B, H + 1, 3)."""
        still = ((0.0, 0.0, 0.0),)
        angles = np.array([(*still, *(h.rotation for h in hs)) for hs in self._handovers])
        moves = np.array([(*still, *(h.translation for h in hs)) for hs in self._handovers])
        return angles_quaternion(angles, "xyz"), moves

    def _shares(self, at: Indices, frames: Array) -> Array:
        """How far each frame is in its blend, slowly at both ends; 1 outside of blends."""
        starts = self._at_handovers(at, -np.inf, "frame")
        lengths = self._at_handovers(at, 0.0, "blend")
        with np.errstate(invalid="ignore", divide="ignore"):
            share = np.where(lengths > 0, (frames - starts) / lengths, 1.0)
        share = np.clip(np.nan_to_num(share, nan=1.0), 0.0, 1.0)
        return np.asarray(share * share * (3.0 - 2.0 * share))

    def _at_handovers(self, at: Indices, none: float, number: Literal["frame", "blend"]) -> Array:
        """A number of the handover that each frame is in, shape (B, F); ``none`` before the
        first."""
        numbers = [[none, *(getattr(h, number) for h in hs)] for hs in self._handovers]
        return np.take_along_axis(np.array(numbers, dtype=np.float64), at + 1, axis=-1)


def active_spaces(choice: Array, count: int, frames: int) -> Indices:
    """Which space is active on each frame, shape (…, frames), whole numbers."""
    whole = np.clip(np.rint(choice), 0, count - 1).astype(int)
    return np.broadcast_to(whole, (*whole.shape[:-1], frames))


def _gathered(spaces: list[Array], active: Indices) -> Array:
    """The active space of each frame, shape (B, F, 3, 4)."""
    if all(space is IDENTITY for space in spaces):
        return IDENTITY
    found = frames_last((*active.shape, 3, 4), 2)
    for n, space in enumerate(spaces):
        np.copyto(found, space, where=(active == n)[..., None, None])
    return found


def _mixed(old: Array, new: Array, share: Array) -> Array:
    if old.shape[-1] == 4:
        return between(old, new, share)
    return np.asarray(old + share[..., None] * (new - old))


class SpaceStepKind(StepKind):
    """See ``StepKind``."""

    name = "space"
    zones: tuple[Zone, ...] = ("bound", "late")
    zone_reason = "a space works on whole transforms, after the driven values"

    def checked(self, scene: Scene, part: str, settings: SpaceSettings) -> SpaceSettings:
        """See ``StepKind``."""
        name = scene.parts[part].name
        if not 2 <= len(settings.spaces) <= MOST_SPACES:
            raise Refusal(f"a list of spaces has 2 to {MOST_SPACES} of them.", place="spaces")
        for n, space in enumerate(settings.spaces):
            if space in settings.spaces[:n]:
                raise Refusal(
                    f"{space_name(scene, space)} is listed twice.", code="taken", place="spaces"
                )
            if space not in ("", WORLD_KEY):
                found_target(scene, space, "spaces")
            if space == part:
                raise Refusal(
                    f"{name} cannot be a space of its own; choose another part.",
                    code="choice",
                    place="spaces",
                )
        if len(settings.handovers) > MOST_HANDOVERS:
            raise Refusal(
                f"has at most {MOST_HANDOVERS:,} handovers.", code="too much", place="handovers"
            )
        for one in settings.handovers:
            checked_vector((one.frame, 0.0, 0.0), "handovers")
            checked_vector(one.translation, "handovers")
            checked_vector(one.rotation, "handovers")
            if not 0 <= one.blend <= LONGEST_BLEND:
                raise Refusal(
                    f"blends over 0 to {LONGEST_BLEND:,} frames.", code="number", place="handovers"
                )
        frames = [one.frame for one in settings.handovers]
        if any(b <= a for a, b in zip(frames, frames[1:], strict=False)):
            raise Refusal("must be in the order of their frames, one a frame.", place="handovers")
        checked_tap(settings.tap, "tap")
        return settings

    def reads(self, scene: Scene, step: Step, quantity: str) -> tuple[Read, ...]:
        """The parent, the other spaces, and which of them."""
        settings = step.settings
        assert isinstance(settings, SpaceSettings)
        choice = Read(step.part, step_channel(step.id, "space"), "final")
        parts = _space_parts(scene, step)
        return (*(Read(part, "world matrix", settings.tap) for part in parts), choice)

    def operation(self, scene: Scene, step: Step, quantity: str) -> Operation:
        """See ``SpaceOperation``."""
        settings, parent = step.settings, scene.parts[step.part].parent
        assert isinstance(settings, SpaceSettings)
        parts = _space_parts(scene, step)
        owners = [parent if space == "" else space for space in settings.spaces]
        sources = tuple(parts.index(p) if p and p != WORLD_KEY else None for p in owners)
        local = owner_frame(scene, step.part)
        return SpaceOperation(quantity, local, sources, parent is not None, settings.handovers)

    def reread(self, scene: Scene, step: Step, old: Read, new: Read) -> SpaceSettings | None:
        """See ``StepKind``: the surroundings."""
        settings = step.settings
        assert isinstance(settings, SpaceSettings)
        tap = surroundings_reread(self.reads(scene, step, QUATERNION), settings.tap, old, new)
        return None if tap is None else replace(settings, tap=tap)

    def described(self, scene: Scene, settings: SpaceSettings) -> str:
        """Its spaces."""
        names = ", ".join(space_name(scene, space) for space in settings.spaces)
        only = "" if settings.carries == "full" else f" · only {settings.carries}"
        return f"{names}{only}"

    def trouble(self, scene: Scene, settings: SpaceSettings) -> str:
        """See ``StepKind``."""
        return "A space is scaled to nothing there; scale it less."


def space_name(scene: Scene, space: str) -> str:
    """A space as people call it."""
    if space in ("", WORLD_KEY):
        return "parent" if space == "" else "world"
    return scene.parts[space].name if space in scene.parts else space


def _space_parts(scene: Scene, step: Step) -> list[str]:
    """The parts whose world matrices are read, the parent first, each once."""
    settings, parent = step.settings, scene.parts[step.part].parent
    assert isinstance(settings, SpaceSettings)
    others = [space for space in settings.spaces if space not in ("", WORLD_KEY)]
    return list(dict.fromkeys([parent, *others] if parent is not None else others))
