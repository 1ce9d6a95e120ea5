"""Edits of gaits: feet that walk by rule."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace
from typing import Literal

import numpy as np

from bindu.core.edits.base import finite, found_part, identities, new_id, within, without_steps
from bindu.core.edits.owners import member_step, owner_channels, refuse_owner_readers, without_owner
from bindu.core.edits.trees import subtree
from bindu.core.refusal import Refusal
from bindu.core.scene.model import Scene
from bindu.core.scene.names import check_name
from bindu.core.scene.settings import FormulaSettings, Vector, WalkSettings
from bindu.core.scene.things import Gait, GaitFoot
from bindu.core.steps.registry import reads_of

MOST_GAITS = 200
MOST_FEET = 24


@dataclass(frozen=True)
class PutGait:
    """Adds a gait, or changes the gait ``id``: its feet, the ground, where ahead is.

    Attributes:
        part: the root, along whose path the feet walk; its channels are the gait's numbers.
        feet, ground, forward, width: see ``Gait``.
        steps: identities for the steps of the feet; made up when left out.
    """

    name: str
    part: str
    feet: tuple[GaitFoot, ...]
    ground: str | None = None
    forward: Vector = (0.0, 0.0, 1.0)
    width: float = 0.0
    id: str | None = None
    steps: tuple[str, ...] = ()
    do: Literal["put gait"] = "put gait"

    def label(self, scene: Scene) -> str:
        """See ``Edit``."""
        return f"gait {self.name}"

    def apply(self, scene: Scene) -> Scene:
        """See ``Edit``."""
        check_name(self.name, "name of the gait")
        found_part(scene, self.part)
        self._check_feet(scene)
        old = scene.gaits.get(self.id or "")
        key = old.id if old is not None else self._new_key(scene)
        if any(one.name == self.name and one.id != key for one in scene.gaits.values()):
            raise Refusal("there is a gait with this name already.", code="taken", place=self.name)
        if any(one.part == self.part and one.id != key for one in scene.gaits.values()):
            text = "it has a gait already: a root walks one way at a time."
            raise Refusal(text, code="taken", place=scene.parts[self.part].name)
        if old is not None and old.part != self.part:
            raise Refusal("its numbers are channels of the part it was made on.", place=self.name)
        if self.ground is not None and self.ground in subtree(scene, self.part):
            text = "it hangs on the root: a ground carries what walks on it, not the other way."
            raise Refusal(text, code="choice", place=scene.parts[self.ground].name)
        if not finite(self.width, "width") >= 0.0:
            raise Refusal("a width is not negative.", code="number", place="width")
        ahead = tuple(finite(one, "forward") for one in self.forward)
        if float(np.linalg.norm(ahead)) < 1e-9:
            raise Refusal("the axis ahead has no direction.", code="number", place="forward")
        made = Gait(key, self.name, self.part, self.feet, self.ground, self.forward, self.width)
        return _with_gait(scene, made, self.steps)

    def _check_feet(self, scene: Scene) -> None:
        if not 1 <= len(self.feet) <= MOST_FEET:
            raise Refusal(f"choose 1 to {MOST_FEET} feet.", code="choice", place="feet")
        if len({foot.part for foot in self.feet}) < len(self.feet):
            raise Refusal("a part is two feet of it.", code="choice", place="feet")
        if self.ground is not None:
            found_part(scene, self.ground)
        for foot in self.feet:
            name = found_part(scene, foot.part).name
            for number in (foot.phase, *foot.offset, *foot.turn):
                finite(number, name)
            if not 0.0 <= foot.phase < 1.0:
                text = "a foot lands at a share of the cycle from 0 to below 1."
                raise Refusal(text, code="number", place=name)
            if self.part in subtree(scene, foot.part) or self.ground in subtree(scene, foot.part):
                text = "it carries the root or the ground, so that it would walk away with itself."
                raise Refusal(text, code="choice", place=name)

    def _new_key(self, scene: Scene) -> str:
        if len(scene.gaits) >= MOST_GAITS:
            raise Refusal(f"a scene holds at most {MOST_GAITS} gaits.", code="too much")
        return new_id("w", scene.gaits, self.id, identities(scene))


@dataclass(frozen=True)
class RemoveGait:
    """Takes a gait away, with its numbers and the formulas that go by it; the feet stay where their
    own channels put them."""

    id: str
    do: Literal["remove gait"] = "remove gait"

    def label(self, scene: Scene) -> str:
        """See ``Edit``."""
        return f"delete the gait {found_gait(scene, self.id).name}"

    def apply(self, scene: Scene) -> Scene:
        """See ``Edit``."""
        gait = found_gait(scene, self.id)
        scene = without_steps(scene, gait_formulas(scene, gait))
        return without_owner(scene, gait, refuse_owner_readers(scene, gait))


def found_gait(scene: Scene, gait: str) -> Gait:
    """The gait with this identity.

    Raises:
        Refusal: when it is not there any more.
    """
    if gait not in scene.gaits:
        raise Refusal(f"there is no gait with the identity {gait!r} any more.", code="gone")
    return scene.gaits[gait]


def gait_formulas(scene: Scene, gait: Gait) -> set[str]:
    """The formulas that read a gait's phase or its numbers."""
    own = {(ref.part, ref.channel) for ref in owner_channels(gait)}
    own |= {(part, "phase") for part in (gait.part, *gait.members)}
    return {
        step.id
        for step in scene.steps.values()
        if isinstance(step.settings, FormulaSettings)
        and any((read.part, read.quantity) in own for read in reads_of(scene, step))
    }


def without_gait_parts(scene: Scene, gone: set[str]) -> Scene:
    """The scene whose gaits know nothing of parts that go: without these feet and grounds, and
    without the gaits whose root, or last foot, goes."""
    for gait in tuple(scene.gaits.values()):
        feet = tuple(foot for foot in gait.feet if foot.part not in gone)
        ground = None if gait.ground in gone else gait.ground
        if gait.part in gone or not feet:
            scene = without_steps(scene, gait_formulas(scene, gait))
            steps = {step.id for step in scene.members_of.get(gait.id, {}).values()}
            scene = without_owner(scene, gait, steps)
        elif (feet, ground) != (gait.feet, gait.ground):
            scene = _with_gait(scene, replace(gait, feet=feet, ground=ground))
    return scene


def _with_gait(scene: Scene, made: Gait, step_ids: Sequence[str] = ()) -> Scene:
    before = scene.members_of.get(made.id, {})
    leaving = {step.id for part, step in before.items() if part not in made.members}
    scene = without_steps(scene, leaving)
    steps = dict(scene.steps)
    for n, part in enumerate(made.members):
        if part in before:
            continue
        wanted = step_ids[n] if n < len(step_ids) else None
        step_id = new_id("s", steps, wanted, (*identities(scene), {made.id}))
        steps[step_id] = member_step(scene, part, made, WalkSettings(made.id), "bound", step_id)
    return replace(scene, steps=steps, gaits=within(scene.gaits, made.id, made))
