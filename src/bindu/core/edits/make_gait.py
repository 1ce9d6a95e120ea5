"""The command that makes a gait: feet as they stand, and formulas that anybody can read and change
for all the rest of the figure."""

from __future__ import annotations

from collections.abc import Callable, Iterator
from dataclasses import dataclass
from typing import Literal

import numpy as np

from bindu.core.curves.model import Array
from bindu.core.edits.base import found_part
from bindu.core.edits.channels import SetValue
from bindu.core.edits.gaits import PutGait
from bindu.core.edits.steps import AddStep
from bindu.core.evaluation import Evaluation, evaluated
from bindu.core.geometry.angles import continuous_angles
from bindu.core.geometry.places import rotation_of, seen_from
from bindu.core.geometry.rotation import matrices_of
from bindu.core.refusal import Refusal
from bindu.core.scene.channels import step_channel
from bindu.core.scene.model import Scene
from bindu.core.scene.settings import FormulaSettings, Vector
from bindu.core.scene.things import Gait, GaitFoot

Phased = tuple[str, float]
"""A part, and its phase as a share of a cycle."""
STEP_OF_LEG, LIFT_OF_STEP = 0.45, 0.16
"""A step as a share of the hips' height, and a lift as a share of a step."""
LEAST_STEP = 0.01


@dataclass(frozen=True)
class MakeGait:
    """Lets a figure walk along the path of its root: the feet as they stand on a frame; its hips,
    arms, head and the rolls of its feet by formulas of the gait's phase.

    Attributes:
        part: the root.
        feet: each with the share of the cycle at which it lands.
        hips: what rises, sways, turns and leans; not the root itself.
        arms: what swings, each with the phase of the leg on its side.
        head: what looks ahead while the hips turn and lean; axed like them. It takes out each
            of both angles, so that of both together their product is left.
        ground: see ``Gait``.
        forward: see ``Gait``.
        frame: on which the figure stands as it should; None: the scene's first one.
    """

    name: str
    part: str
    feet: tuple[Phased, ...]
    hips: str | None = None
    arms: tuple[Phased, ...] = ()
    ground: str | None = None
    forward: Vector = (0.0, 0.0, 1.0)
    frame: int | None = None
    id: str | None = None
    head: str | None = None
    do: Literal["make gait"] = "make gait"

    def label(self, scene: Scene) -> str:
        """See ``Edit``."""
        return f"make the gait {self.name}"

    def apply(self, scene: Scene) -> Scene:
        """See ``Edit``."""
        root = found_part(scene, self.part)
        if self.ground is not None:
            found_part(scene, self.ground)
        for part in (self.hips, self.head, *(part for part, _ in self.arms)):
            if part is not None and found_part(scene, part).id == root.id:
                text = "it is the root, whose way makes the phase; choose a part below it."
                raise Refusal(text, code="choice", place=root.name)
        if self.head is not None and self.head == self.hips:
            text = "it moves as the hips; choose a part above them for the head."
            raise Refusal(text, code="choice", place=scene.parts[self.head].name)
        evaluation = evaluated(scene)
        row = evaluation.index(scene.first if self.frame is None else self.frame)
        stands = _Standing.of(evaluation, self.part, self.ground, self.forward, row)
        feet = tuple(stands.foot(part, phase) for part, phase in self.feet)
        width = 2.0 * float(np.mean([abs(foot.offset[0]) for foot in feet])) if feet else 0.0
        made = PutGait(
            self.name, self.part, feet, self.ground, self.forward, round(width, 9), self.id
        ).apply(scene)
        gait = next(one for one in made.gaits.values() if one.part == self.part)
        step = max(STEP_OF_LEG * stands.height_of(self.hips or self.part), LEAST_STEP)
        for key, value in (("step length", step), ("lift", LIFT_OF_STEP * step)):
            ref = step_channel(gait.id, key)
            made = SetValue(self.part, ref, round(value, 4)).apply(made)
        for number in ("hip rise", "hip sway"):
            ref = step_channel(gait.id, number)
            made = SetValue(self.part, ref, round(0.04 * step, 4)).apply(made)
        for part, name, settings in self._formulas(made, gait):
            made = AddStep(part, name, settings).apply(made)
        return made

    def _formulas(self, scene: Scene, gait: Gait) -> Iterator[tuple[str, str, FormulaSettings]]:
        """The formulas of hips, arms and feet, with names in their references."""
        root = scene.parts[gait.part].name
        phase = f"phase({{{root}}})"

        def of(key: str) -> str:
            return f"{{{root}.{gait.name}.{key}}}"

        aside, sign = _axes(self.forward)
        side = float(np.sign(gait.feet[0].offset[0])) or 1.0
        first = f"({phase} - {gait.feet[0].phase:g})"
        hips = self.hips
        if hips is not None:
            size = of("size")
            rise = f"-{of('hip rise')} * {size} * cos(720 * {first})"
            yield hips, "rises", FormulaSettings("translation.y", rise, "add")
            sway = f"{sign * side:g} * {of('hip sway')} * {size}"
            sway += f" * cos(360 * ({first} - {of('stance')} / 2))"
            yield hips, "sways", FormulaSettings(f"translation.{aside}", sway, "add")
            turn = f"{of('hip turn')} * cos(360 * {first})"
            yield hips, "turns", FormulaSettings("rotation.y", f"{-side:g} * {turn}", "add")
            across, lean = f"rotation.{aside}", of("lean")
            yield hips, "leans", FormulaSettings(across, f"{sign:g} * {lean}", "add")
            if self.head is not None:
                ahead = FormulaSettings("rotation.y", f"{side:g} * {turn}", "add")
                yield self.head, "looks ahead", ahead
                level = FormulaSettings(across, f"{-sign:g} * {lean}", "add")
                yield self.head, "stays level", level
        for part, late in self.arms:
            swing = f"{sign:g} * {of('arm swing')} * cos(360 * ({phase} - {late:g}))"
            yield part, "swings", FormulaSettings(f"rotation.{aside}", swing, "add")
        for foot in gait.feet:
            roll = next((c for c in scene.channels_of.get(foot.part, ()) if c.name == "roll"), None)
            if roll is not None:
                share = f"(phase({{{scene.parts[foot.part].name}}}) % 1)"
                yield foot.part, "rolls", FormulaSettings(roll.id, roll_of(share, of), "add")


def roll_of(share: str, number: Callable[[str], str]) -> str:
    """A foot's roll, as a formula, by the share of its cycle: onto the toes before it lifts, on the
    heel where it lands, flat while it stands and in the middle of its swing.

    Args:
        share: a formula.
        number: the formula of one of the gait's numbers.
    """
    stance, toe, heel = number("stance"), number("toe roll"), number("heel roll")
    off = f"smoothstep({stance} - 0.2, {stance}, {share})"
    off += f" * (1 - smoothstep({stance}, ({stance} + 1) / 2, {share}))"
    on = f"smoothstep(({stance} + 2) / 3, 1, {share}) + 1 - smoothstep(0, 0.12, {share})"
    return f"{toe} * {off} - {heel} * ({on})"


def _axes(forward: Vector) -> tuple[str, float]:
    """The axis across the way ahead, of what is axed like the root, and the sign with which it
    points to the side that is counted positive."""
    if abs(forward[2]) >= abs(forward[0]):
        return "x", 1.0 if forward[2] >= 0.0 else -1.0
    return "z", -1.0 if forward[0] >= 0.0 else 1.0


@dataclass(frozen=True)
class _Standing:
    """A figure as it stands on a frame, seen from its ground."""

    evaluation: Evaluation
    ground: str | None
    row: int
    point: Array
    heading: float

    @staticmethod
    def of(
        evaluation: Evaluation, root: str, ground: str | None, forward: Vector, row: int
    ) -> _Standing:
        place = _seen(evaluation, root, ground, row)
        ahead = place[0, :, :3] @ np.array(forward)
        heading = float(np.arctan2(ahead[0], ahead[2]))
        return _Standing(evaluation, ground, row, place[0, :, 3], heading)

    def height_of(self, part: str) -> float:
        """How high a part is over the ground, metres."""
        return abs(float(_seen(self.evaluation, part, self.ground, self.row)[0, 1, 3]))

    def foot(self, part: str, phase: float) -> GaitFoot:
        """A foot as it stands."""
        found_part(self.evaluation.scene, part)
        place = _seen(self.evaluation, part, self.ground, self.row)
        way = place[0, :, 3] - self.point
        sin, cos = np.sin(self.heading), np.cos(self.heading)
        offset = (cos * way[0] - sin * way[2], float(place[0, 1, 3]), sin * way[0] + cos * way[2])
        back = np.array([[cos, 0.0, -sin], [0.0, 1.0, 0.0], [sin, 0.0, cos]])
        turned = back @ matrices_of(rotation_of(place))[0]
        angles = continuous_angles(turned[None], "xyz", np.zeros(3))[0]
        x, y, z = (round(float(n), 9) + 0.0 for n in offset)
        a, b, c = (round(float(n), 9) + 0.0 for n in angles)
        return GaitFoot(part, phase, (x, y, z), (a, b, c))


def _seen(evaluation: Evaluation, part: str, ground: str | None, row: int) -> Array:
    """Where a part is on a frame, in the ground's axes, shape (1, 3, 4)."""
    world = evaluation.world(part)
    place = world[row : row + 1] if len(world) > 1 else world
    if ground is None:
        return place
    under = evaluation.world(ground)
    under = under[row : row + 1] if len(under) > 1 else under
    return np.asarray(seen_from(under, place))
