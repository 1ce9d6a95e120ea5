"""Feet that roll: helpers below the goal of a limb, at points that are put where they belong first,
and formulas that turn them."""

from __future__ import annotations

from dataclasses import dataclass, replace
from typing import Literal

import numpy as np

from bindu.core.curves.model import Array
from bindu.core.edits.base import found_part
from bindu.core.edits.binding import Bind
from bindu.core.edits.channels import AddChannel
from bindu.core.edits.limbs import found_limb, put_again
from bindu.core.edits.parts import AddPart
from bindu.core.edits.steps import AddStep
from bindu.core.edits.trees import ancestors
from bindu.core.geometry.angles import continuous_angles
from bindu.core.placing.limbs import world_on, worlds_on
from bindu.core.placing.matching import control_of
from bindu.core.placing.place import unscaled, vector
from bindu.core.refusal import Refusal
from bindu.core.scene.channels import BUILT_IN_CHANNELS, weight_channel
from bindu.core.scene.model import Scene
from bindu.core.scene.names import channel_names
from bindu.core.scene.parts import Rest, Shape
from bindu.core.scene.settings import ConstraintSettings, FormulaSettings, Target, Vector
from bindu.core.scene.things import Limb

POINTS = ("heel", "outer", "inner", "toe tip", "ball")
"""What a foot turns about, in the order in which the helpers hang below each other."""
GUESSES: dict[str, Vector] = {
    "heel": (0.0, 0.0, -0.3),
    "outer": (0.25, 0.0, 0.55),
    "inner": (-0.25, 0.0, 0.55),
    "toe tip": (0.0, 0.0, 1.0),
    "ball": (0.0, 0.0, 0.6),
}
"""Where they are to begin with, in lengths of the foot: outward, up, forward from below the
ankle."""
CHANNELS: tuple[tuple[str, float, float | None, float | None], ...] = (
    ("roll", 0.0, None, None),
    ("tip roll", 0.0, 0.0, None),
    ("tilt", 0.0, None, None),
    ("toe bend", 0.0, None, None),
    ("heel limit", 60.0, 0.0, 180.0),
    ("ball limit", 45.0, 0.0, 180.0),
)
"""What turns a foot: name, default, low, high; degrees."""


@dataclass(frozen=True)
class AddFootPoints:
    """Adds the points of a foot below the goal of a limb, where they may well be; they are put
    where they belong, and then made a foot of.

    Attributes:
        limb: whose foot it is.
        length: of the foot, metres.
        forward: a direction of the world, to where the toes point.
        height: of the ankle above the ground, metres.
    """

    limb: str
    frame: int
    length: float
    height: float
    forward: Vector = (0.0, 0.0, 1.0)
    do: Literal["add foot points"] = "add foot points"

    def label(self, scene: Scene) -> str:
        """See ``Edit``."""
        return f"points of the foot of {found_limb(scene, self.limb).name}"

    def apply(self, scene: Scene) -> Scene:
        """See ``Edit``."""
        limb = found_limb(scene, self.limb)
        goal = control_of(scene, limb.goal)
        if not 0.0 < self.length < 1e6 or not 0.0 <= self.height < 1e6:
            raise Refusal("give the foot a length and a height.", code="number", place="foot")
        place = world_on(scene, goal, self.frame)[0]
        ahead = np.array([self.forward[0], 0.0, self.forward[2]])
        if np.linalg.norm(ahead) < 1e-9:
            raise Refusal("the toes cannot point straight up.", code="number", place="forward")
        ahead = ahead / np.linalg.norm(ahead)
        right = np.cross((0.0, 1.0, 0.0), ahead)
        outward = -right if scene.parts[limb.chain[-1]].side == "right" else right
        shape = Shape("ball", (0.1 * self.length,) * 3, colour="#0E6F73")
        for name in POINTS:
            x, _, z = GUESSES[name]
            point = place[:, 3] + self.length * (x * outward + z * ahead)
            point[1] -= self.height
            inside = np.asarray(np.linalg.inv(place[:, :3]) @ (point - place[:, 3]))
            rest = Rest(vector(inside))
            add = AddPart(f"{limb.name} {name}", goal, "helper", rest=rest, shape=shape)
            scene = add.apply(scene)
        return scene


@dataclass(frozen=True)
class MakeFoot:
    """Makes a foot of points below the goal of a limb: helpers that hang below each other, the
    ankle on the last one, and formulas by which it rolls on heel, ball and toe tip and tilts.

    Attributes:
        limb: whose foot it is.
        frame: whose pose it is made from.
        toes: a part behind the end of the chain that stays flat while the ball rolls; None: there
            is none.
    """

    limb: str
    frame: int
    toes: str | None = None
    do: Literal["make foot"] = "make foot"

    def label(self, scene: Scene) -> str:
        """See ``Edit``."""
        return f"make the foot of {found_limb(scene, self.limb).name}"

    def apply(self, scene: Scene) -> Scene:
        """See ``Edit``."""
        limb = found_limb(scene, self.limb)
        goal = control_of(scene, limb.goal)
        if goal != limb.goal:
            raise Refusal("it has a foot already.", code="taken", place=limb.name)
        parts = {name: _point(scene, limb, name) for name in POINTS}
        worlds = worlds_on(scene, [goal, *parts.values()], self.frame)
        points = {name: worlds[part][0, :, 3] for name, part in parts.items()}
        place = worlds[goal][0]
        axes, outward = _axes(points, place[:, 3])
        scene = _hung(scene, goal, parts, points, place, axes)
        tip, ball = parts["toe tip"], parts["ball"]
        ankle = axes.T @ (place[:, 3] - points["ball"])
        turn = axes.T @ unscaled(place[:, :3])
        scene, ankle_part = _helper(scene, f"{limb.name} ankle", ball, ankle, turn)
        local = axes.T @ (points["ball"] - points["toe tip"])
        scene, toes = _helper(scene, f"{limb.name} toes", tip, local, np.eye(3))
        scene = _with_channels(scene, goal)
        scene = _with_formulas(scene, goal, {**parts, "toes": toes}, outward)
        pairs = ((self.toes, toes),) if self.toes else ()
        made = replace(limb, goal=ankle_part, toes=pairs)
        scene = put_again(made).apply(scene)
        return self._with_toes(scene, limb, toes) if self.toes else scene

    def _with_toes(self, scene: Scene, limb: Limb, helper: str) -> Scene:
        """The toes stay with their helper, as far as IK is on."""
        toes = found_part(scene, self.toes or "")
        if limb.chain[-1] not in ancestors(scene, toes.id):
            text = f"{toes.name} does not hang on the end of the chain."
            raise Refusal(text, code="choice", place="toes")
        settings = ConstraintSettings((Target(helper),), kind="rotation")
        made = Bind(toes.id, "flat toes", settings, self.frame).apply(scene)
        step = next(s for s in made.steps if s not in scene.steps)
        blend = f"{{{made.parts[limb.part].name}.{limb.name}.blend}}"
        weight = FormulaSettings(weight_channel(step), blend)
        return AddStep(toes.id, "flat in IK", weight).apply(made)


FootEdit = AddFootPoints | MakeFoot


def _point(scene: Scene, limb: Limb, name: str) -> str:
    part = scene.part_ids.get(f"{limb.name} {name}")
    if part is None or scene.parts[part].parent != limb.goal:
        text = f"there is no {limb.name} {name} below its goal; add the points of the foot first."
        raise Refusal(text, code="choice", place=limb.name)
    return part


def _axes(points: dict[str, Array], ankle: Array) -> tuple[Array, float]:
    """The axes of a foot in the world – across, up and forward, as columns – and on which side of
    it, 1 or -1 along x, the outer edge is."""
    ahead = points["toe tip"] - points["heel"]
    across = points["outer"] - points["inner"]
    up = np.cross(ahead, across)
    if np.linalg.norm(ahead) < 1e-9 or np.linalg.norm(up) < 1e-12:
        text = "heel, toe tip and both edges are on a line; pull them apart."
        raise Refusal(text, code="choice", place="foot")
    up = up / np.linalg.norm(up)
    up = up if up @ (ankle - points["heel"]) >= 0.0 else -up
    ahead = ahead / np.linalg.norm(ahead)
    side = np.cross(up, ahead)
    return np.stack([side, up, ahead], axis=1), 1.0 if side @ across > 0.0 else -1.0


def _hung(
    scene: Scene,
    goal: str,
    parts: dict[str, str],
    points: dict[str, Array],
    place: Array,
    axes: Array,
) -> Scene:
    """The points as helpers below each other, with the axes of the foot; their own channels are at
    their defaults."""
    above, made = goal, dict(scene.parts)
    curves = scene.curves
    for n, name in enumerate(POINTS):
        part = made[parts[name]]
        if n == 0:
            inside = np.asarray(np.linalg.inv(place[:, :3]) @ (points[name] - place[:, 3]))
            turn = unscaled(place[:, :3]).T @ axes
            angles = continuous_angles(turn[None], part.rotation_order, np.zeros(3))[0]
            rest = Rest(vector(inside), vector(angles))
        else:
            rest = Rest(vector(axes.T @ (points[name] - points[POINTS[n - 1]])))
        values = {c: v for c, v in part.values.items() if c not in BUILT_IN_CHANNELS}
        made[part.id] = replace(
            part,
            parent=above,
            position=0,
            rest=rest,
            values=values,
            shape=Shape("axes", part.shape.size),
        )
        curves = {r: c for r, c in curves.items() if r.part != part.id}
        above = part.id
    return replace(scene, parts=made, curves=curves)


def _helper(scene: Scene, name: str, parent: str, place: Array, turn: Array) -> tuple[Scene, str]:
    angles = continuous_angles(turn[None], "xyz", np.zeros(3))[0]
    rest = Rest(vector(place), vector(angles))
    made = AddPart(name, parent, "helper", rest=rest).apply(scene)
    return made, made.part_ids[name]


def _with_channels(scene: Scene, goal: str) -> Scene:
    taken = channel_names(scene, goal)
    for name, default, low, high in CHANNELS:
        if name not in taken:
            add = AddChannel(goal, name, default=default, low=low, high=high, unit="°")
            scene = add.apply(scene)
    return scene


def _with_formulas(scene: Scene, goal: str, parts: dict[str, str], outward: float) -> Scene:
    own = scene.parts[goal].name
    tilt = f"{-outward:g} * "
    texts = {
        ("heel", "x"): f"clamp({{{own}.roll}}, -{{{own}.heel limit}}, 0)",
        ("ball", "x"): f"clamp({{{own}.roll}}, 0, {{{own}.ball limit}})",
        ("toe tip", "x"): f"max({{{own}.roll}} - {{{own}.ball limit}}, 0) + {{{own}.tip roll}}",
        ("outer", "z"): f"{tilt}max({{{own}.tilt}}, 0)",
        ("inner", "z"): f"{tilt}min({{{own}.tilt}}, 0)",
        ("toes", "x"): f"-{{{own}.toe bend}}",
    }
    for (name, axis), text in texts.items():
        settings = FormulaSettings(f"rotation.{axis}", text, "add")
        scene = AddStep(parts[name], name, settings).apply(scene)
    return scene
