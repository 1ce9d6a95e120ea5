"""One edit that makes a limb with all that steers it, on the other side as well if asked."""

from __future__ import annotations

from dataclasses import dataclass, replace
from typing import Literal

import numpy as np

from bindu.core.curves.model import Array
from bindu.core.edits.base import found_part
from bindu.core.edits.limbs import PutLimb, check_chain
from bindu.core.edits.parts import AddPart
from bindu.core.edits.sets import PutSet
from bindu.core.edits.steps import AddStep
from bindu.core.geometry.angles import nearest_angles
from bindu.core.geometry.chain import bend_side, middle_of
from bindu.core.geometry.places import rotation_of
from bindu.core.geometry.vectors import length, normalized
from bindu.core.placing.limbs import STRAIGHT, world_on, worlds_on
from bindu.core.placing.place import vector
from bindu.core.refusal import Refusal
from bindu.core.scene.channels import ChannelRef, step_channel
from bindu.core.scene.model import Scene
from bindu.core.scene.names import check_name
from bindu.core.scene.pairs import opposite, opposite_name
from bindu.core.scene.parts import Rest, Shape, Side
from bindu.core.scene.settings import WORLD_KEY, FollowSettings, SpaceSettings, Vector

COLOURS: dict[Side, str] = {"left": "#3F7A86", "right": "#A3552E", "centre": "#7A6A3A"}


@dataclass(frozen=True)
class MakeLimb:
    """Makes a limb of a chain: a goal where its end is, a pole beside its middle, their spaces,
    and a set of all of it.

    Attributes:
        chain: base, middle and end, or more, each below the one before.
        part: whose channels steer it.
        toward: where the middle of a straight chain is to point, a direction of the world.
        pole: with a pole.
        spaces: goal and pole can go with what the chain hangs on, or not.
        follow: how far the base turns with its parent becomes a channel of it.
        mirror: on the other side as well, by names such as left and right.
        frame: whose pose it is made from.
    """

    name: str
    part: str
    chain: tuple[str, ...]
    frame: int
    toward: Vector | None = None
    pole: bool = True
    spaces: bool = True
    follow: bool = False
    mirror: bool = False
    do: Literal["make limb"] = "make limb"

    def label(self, scene: Scene) -> str:
        """See ``Edit``."""
        return f"make the limb {self.name}{' and its opposite' if self.mirror else ''}"

    def apply(self, scene: Scene) -> Scene:
        """See ``Edit``."""
        made = self._made(scene)
        return self._opposite(scene)._made(made) if self.mirror else made

    def _made(self, scene: Scene) -> Scene:
        check_name(self.name, "name of the limb")
        found_part(scene, self.part)
        check_chain(scene, self.chain)
        side = _side(scene, self.chain, self.name)
        worlds = worlds_on(scene, self.chain, self.frame)
        points = [worlds[part][..., 3] for part in self.chain]
        reach = float(sum(length(b - a)[0] for a, b in zip(points[:-1], points[1:], strict=True)))
        scene, goal = self._goal(scene, side, reach)
        scene, pole = self._pole(scene, side, points, reach) if self.pole else (scene, None)
        put = PutLimb(self.name, self.part, self.chain, goal, pole, frame=self.frame)
        scene = put.apply(scene)
        limb = next(one for one in scene.limbs.values() if one.name == self.name)
        if self.follow and scene.parts[self.chain[0]].parent is not None:
            scene = AddStep(self.chain[0], f"{self.name} follow", FollowSettings()).apply(scene)
        channels = tuple(
            ChannelRef(self.part, step_channel(limb.id, one.key)) for one in limb.inputs
        )
        parts = (goal, *([pole] if pole else []), *self.chain)
        return PutSet(_free(scene, self.name), COLOURS[side], parts, channels).apply(scene)

    def _goal(self, scene: Scene, side: Side, reach: float) -> tuple[Scene, str]:
        end = world_on(scene, self.chain[-1], self.frame)
        order = scene.parts[self.chain[-1]].rotation_order
        angles = nearest_angles(rotation_of(end), order, np.zeros(3))[0]
        rest = Rest(vector(end[0, :, 3]), vector(angles))
        shape = Shape("box", (0.2 * reach, 0.06 * reach, 0.2 * reach), colour=COLOURS[side])
        add = AddPart(f"{self.name} goal", None, "control", side, rest, order, shape)
        return self._in_spaces(add.apply(scene), add.name)

    def _pole(
        self, scene: Scene, side: Side, points: list[Array], reach: float
    ) -> tuple[Scene, str]:
        middle = points[middle_of(len(points))]
        place = middle + 0.6 * reach * self._way(points, reach)
        shape = Shape("ball", (0.09 * reach,) * 3, colour=COLOURS[side])
        rest = Rest(vector(place[0]))
        add = AddPart(f"{self.name} pole", None, "control", side, rest, shape=shape)
        return self._in_spaces(add.apply(scene), add.name)

    def _way(self, points: list[Array], reach: float) -> Array:
        """Where the middle points, or is to point, of length 1, shape (1, 3)."""
        segments = [b - a for a, b in zip(points[:-1], points[1:], strict=True)]
        side = bend_side(segments, np.zeros((1, 3)))
        if length(side)[0] > STRAIGHT * reach:
            return normalized(side)
        line = points[-1] - points[0]
        line = normalized(line if length(line)[0] > 0.0 else segments[0])
        toward = np.array([self.toward or (0.0, 0.0, 1.0)])
        across = toward - np.sum(toward * line) * line
        if length(across)[0] < 1e-6:
            raise Refusal(
                "it is straight there, and is to bend along itself; choose another direction.",
                code="choice",
                place="bends toward",
            )
        return normalized(across)

    def _in_spaces(self, scene: Scene, name: str) -> tuple[Scene, str]:
        part = scene.part_ids[name]
        body = scene.parts[self.chain[0]].parent
        if self.spaces and body is not None:
            settings = SpaceSettings((WORLD_KEY, body))
            scene = AddStep(part, "moves in", settings).apply(scene)
        return scene, part

    def _opposite(self, scene: Scene) -> MakeLimb:
        """The same on the other side."""
        name = opposite_name(self.name)
        if name is None:
            raise Refusal(
                f"{self.name!r} names no side; put left or right into it.",
                code="choice",
                place="name of the limb",
            )
        others = []
        for part in self.chain:
            other = opposite(scene, part)
            if other is None:
                text = "it has no opposite; name it and the other one left and right, or pair them."
                raise Refusal(text, code="choice", place=found_part(scene, part).name)
            others.append(other)
        x, y, z = self.toward or (0.0, 0.0, 1.0)
        part = opposite(scene, self.part) or self.part
        chain = tuple(others)
        return replace(self, name=name, part=part, chain=chain, toward=(-x, y, z), mirror=False)


def _side(scene: Scene, chain: tuple[str, ...], name: str) -> Side:
    """The side of a limb: that of its parts, else what its name says."""
    for part in chain:
        if scene.parts[part].side != "centre":
            return scene.parts[part].side
    words = name.lower().split()
    return "left" if "left" in words else "right" if "right" in words else "centre"


def _free(scene: Scene, name: str) -> str:
    """A name that no set has yet."""
    taken = {one.name for one in scene.sets.values()}
    number, free = 2, name
    while free in taken:
        number, free = number + 1, f"{name} {number}"
    return free
