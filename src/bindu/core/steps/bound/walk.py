"""Walking by rule: a gait is solved once for all its feet, and each foot takes its own place."""

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
    rotation_of,
    seen_from,
    turned_inside,
)
from bindu.core.geometry.rotation import angles_quaternion, product
from bindu.core.nodes.batches import InBatches, stacked
from bindu.core.nodes.identity import QUATERNION, SOLVE, Read, Stage
from bindu.core.nodes.operation import Operation, Reach, Times
from bindu.core.refusal import Refusal
from bindu.core.scene.channels import Zone, step_channel
from bindu.core.scene.model import Scene
from bindu.core.scene.parts import Step
from bindu.core.scene.settings import Space, WalkSettings
from bindu.core.scene.things import Gait, GaitFoot
from bindu.core.steps.base import SharedSolve, StepKind, weighed
from bindu.core.steps.bound.targets import owner_base, owner_frame, owner_reads, rests_of
from bindu.core.steps.bound.walking import Feet, Style, track, walked

WORLD = Space("world")
STYLE = ("step length", "stance", "lift", "width", "turn out", "size")
"""The numbers of a gait that its feet go by; the others are read by formulas."""
PHASE = -1
"""The row behind those of the feet."""
SWING = 7
COLUMNS = 9
"""Of a foot: its position, its rotation as a quaternion, how far it has swung, and its phase."""


@dataclass(frozen=True)
class GaitOperation(InBatches):
    """Where all feet of a gait are in the world, shape (F, feet + 1, 9); the last row holds the
    phase. Inputs: the root's world matrix, the ground's where there is one, and the ``STYLE``."""

    feet: tuple[GaitFoot, ...]
    grounded: bool
    forward: tuple[float, float, float]
    width: float

    @cached_property
    def digest(self) -> str:
        """See ``Operation``."""
        return f"gait {self!r}"

    @property
    def reach(self) -> Reach:
        """Of all frames: prints lie where the root will be."""
        return "all frames"

    @property
    def calculations(self) -> int:
        """See ``Operation``."""
        return 400 * len(self.feet)

    @property
    def alike(self) -> Hashable:
        """See ``InBatches``."""
        return len(self.feet), self.grounded

    @classmethod
    def compute_many(
        cls, operations: Sequence[GaitOperation], inputs: Sequence[Array], times: Times
    ) -> Array:
        """Shape (B, F, feet + 1, 9)."""
        many, count = len(operations), len(times.frames)
        root, *rest = (np.broadcast_to(one, (many, count, *one.shape[2:])) for one in inputs)
        ground = rest.pop(0) if operations[0].grounded else None
        seen = root if ground is None else seen_from(ground, root)
        style = Style(*rest)
        way = track(seen, stacked([one.forward for one in operations]), style)
        feet = Feet(
            np.array([[foot.phase for foot in one.feet] for one in operations]),
            np.array([[foot.offset for foot in one.feet] for one in operations]),
        )
        found = walked(way, style, feet, np.array([one.width for one in operations]))
        turns = np.array([[foot.turn for foot in one.feet] for one in operations])
        stood = angles_quaternion(turns, "xyz")[:, :, None]
        points, rotations = found.points, product(_about_up(found.heading), stood)
        if ground is not None:
            points = points_outside(ground[:, None], points)
            rotations = product(rotation_of(ground)[:, None], rotations)
        made = np.zeros((many, count, len(operations[0].feet) + 1, COLUMNS))
        for columns, values in (
            (slice(3), points),
            (slice(3, 7), rotations),
            (SWING, found.swing),
            (8, found.phase),
        ):
            made[:, :, :PHASE, columns] = values.swapaxes(1, 2)
        made[:, :, PHASE, 0] = way.phase
        return made


def _about_up(angles: Array) -> Array:
    """Turns about y by angles in radians, quaternions, shape (…, 4)."""
    half = angles / 2.0
    still = np.zeros_like(half)
    return np.stack([still, np.sin(half), still, np.cos(half)], axis=-1)


@dataclass(frozen=True)
class WalkOperation(InBatches):
    """A foot's own place in what its gait solves. Inputs: incoming, the solution, the gait's
    weight, and what ``owner_reads`` asks for."""

    quantity: str
    place: int
    local: LocalFrame
    parented: bool

    @cached_property
    def digest(self) -> str:
        """See ``Operation``."""
        return f"walk {self!r}"

    @property
    def alike(self) -> Hashable:
        """See ``InBatches``."""
        return self.quantity, self.parented

    @classmethod
    def compute_many(
        cls, operations: Sequence[WalkOperation], inputs: Sequence[Array], times: Times
    ) -> Array:
        """Shape (B, F, 3); of the rotation quaternions, (B, F, 4)."""
        incoming, solution, weight, *around = inputs
        rests = rests_of([one.local for one in operations])
        base = owner_base(rests, operations[0].parented, WORLD, iter(around))
        own = solution[np.arange(len(operations)), :, [one.place for one in operations]]
        if operations[0].quantity == QUATERNION:
            return weighed(incoming, turned_inside(base, own[..., 3:7]), weight, True)
        return weighed(incoming, points_inside(base, own[..., :3]), weight, False)


@dataclass(frozen=True)
class PhaseOfGait(Operation):
    """The phase in what a gait solves, shape (F,).

    Attributes:
        foot: the place of the foot whose own it is; None: the root's.
    """

    foot: int | None = None

    @property
    def digest(self) -> str:
        """See ``Operation``."""
        return "phase of gait" if self.foot is None else f"phase of foot {self.foot}"

    def compute(self, inputs: Sequence[Array], times: Times) -> Array:
        """Shape (F,), cycles."""
        row, column = (PHASE, 0) if self.foot is None else (self.foot, COLUMNS - 1)
        return np.ascontiguousarray(inputs[0][:, row, column])


class WalkKind(StepKind):
    """See ``StepKind``."""

    name = "walk"
    zones: tuple[Zone, ...] = ("bound",)
    zone_reason = "a foot walks on whole transforms, before the limbs reach for it"

    def checked(self, scene: Scene, part: str, settings: WalkSettings) -> WalkSettings:
        """Always refused: feet are chosen with their gait."""
        if settings.gait not in scene.gaits:
            raise Refusal("there is no such gait any more.", code="gone", place="gait")
        raise Refusal("change the feet of the gait instead.", code="impossible", place="gait")

    def reads(self, scene: Scene, step: Step, quantity: str) -> tuple[Read, ...]:
        """The solution, its weight, and what the foot hangs on."""
        assert isinstance(step.settings, WalkSettings)
        gait = scene.gaits[step.settings.gait]
        weight = Read(gait.part, step_channel(gait.id, "weight"), "final")
        return (gait_read(gait), weight, *owner_reads(scene, step, WORLD, "final"))

    def operation(self, scene: Scene, step: Step, quantity: str) -> Operation:
        """See ``WalkOperation``."""
        assert isinstance(step.settings, WalkSettings)
        gait = scene.gaits[step.settings.gait]
        parented = scene.parts[step.part].parent is not None
        place = gait.members.index(step.part)
        return WalkOperation(quantity, place, owner_frame(scene, step.part), parented)

    def described(self, scene: Scene, settings: WalkSettings) -> str:
        """The gait, and whose path it goes along."""
        gait = scene.gaits[settings.gait]
        ground = f" on {scene.parts[gait.ground].name}" if gait.ground else ""
        return f"{gait.name}: {len(gait.feet)} feet along {scene.parts[gait.part].name}{ground}"

    def trouble(self, scene: Scene, settings: WalkSettings) -> str:
        """See ``StepKind``."""
        return "The ground, or what the foot hangs on, is scaled to nothing there; scale it less."


class GaitSolve(SharedSolve):
    """See ``SharedSolve``: where all feet of a gait are."""

    zone: Zone = "bound"

    def reads(self, scene: Scene, owner: str) -> tuple[Read, ...]:
        """See ``GaitOperation``."""
        gait = scene.gaits[owner]
        places = [gait.part, *([gait.ground] if gait.ground else [])]
        return (
            *(Read(part, "world matrix", "final") for part in places),
            *(Read(gait.part, step_channel(gait.id, key), "final") for key in STYLE),
        )

    def operation(self, scene: Scene, owner: str) -> Operation:
        """See ``GaitOperation``."""
        gait = scene.gaits[owner]
        return GaitOperation(gait.feet, gait.ground is not None, gait.forward, gait.width)


def gait_read(gait: Gait) -> Read:
    """The read of what a gait solves for its feet."""
    return Read(gait.part, SOLVE, Stage("owner", gait.id))
