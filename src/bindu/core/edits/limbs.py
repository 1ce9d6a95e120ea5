"""Edits of limbs: chains that reach for a goal."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace
from typing import Literal

import numpy as np

from bindu.core.edits.base import finite, found_part, identities, new_id, within, without_steps
from bindu.core.edits.owners import member_step, refuse_owner_readers, without_owner
from bindu.core.edits.trees import ancestors, subtree
from bindu.core.placing.limbs import bend_axis, end_offset
from bindu.core.refusal import Refusal
from bindu.core.scene.channels import Tap
from bindu.core.scene.model import Scene
from bindu.core.scene.names import check_name
from bindu.core.scene.settings import LimbSettings, Vector
from bindu.core.scene.things import Limb

MOST_LIMBS = 500
LONGEST_CHAIN = 50


@dataclass(frozen=True)
class PutLimb:
    """Adds a limb, or changes the limb ``id``; its chain, goal, pole and what steers it.

    Attributes:
        part: whose channels steer it.
        chain: base, middle and end, or more, each below the one before.
        goal, pole: parts; a limb needs no pole.
        axis: the bend axis in the middle part's own axes; None: across the plane in which the chain
            is bent on ``frame``, or, where it is straight, so that it bends toward the pole.
        limits: the least and the largest bend, degrees from straight, of a chain of two segments.
        offset: the end's rotation as seen from the goal's; None: as it is on ``frame``.
        toes: see ``Limb``.
        frame: where axis and offset are taken from; None: the scene's first one.
        steps: identities for the steps of the chain; made up when left out.
    """

    name: str
    part: str
    chain: tuple[str, ...]
    goal: str
    pole: str | None = None
    axis: Vector | None = None
    limits: tuple[float, float] | None = None
    offset: Vector | None = None
    frame: int | None = None
    goal_tap: Tap = "final"
    goal_back: bool = False
    pole_tap: Tap = "final"
    pole_back: bool = False
    toes: tuple[tuple[str, str], ...] = ()
    id: str | None = None
    steps: tuple[str, ...] = ()
    do: Literal["put limb"] = "put limb"

    def label(self, scene: Scene) -> str:
        """See ``Edit``."""
        return f"limb {self.name}"

    def apply(self, scene: Scene) -> Scene:
        """See ``Edit``."""
        check_name(self.name, "name of the limb")
        found_part(scene, self.part)
        check_chain(scene, self.chain)
        _check_steering(scene, self.chain, self.goal, self.pole)
        old = scene.limbs.get(self.id or "")
        key = self.id if old is not None and self.id else self._new_key(scene)
        if any(one.name == self.name and one.id != key for one in scene.limbs.values()):
            raise Refusal("there is a limb with this name already.", code="taken", place=self.name)
        if old is not None and old.part != self.part:
            raise Refusal(
                "what steers it are channels of the part it was made on.", place=self.name
            )
        frame = scene.first if self.frame is None else self.frame
        axis = self.axis or bend_axis(scene, self.chain, self.pole, frame)
        offset = self.offset or end_offset(scene, self.chain, self.goal, frame)
        made = Limb(
            key,
            self.name,
            self.part,
            self.chain,
            self.goal,
            self.pole,
            _unit(axis),
            _checked_limits(self.limits, self.chain),
            tuple(finite(one, "offset") for one in offset),  # type: ignore[arg-type]
            self.goal_tap,
            self.goal_back,
            self.pole_tap,
            self.pole_back,
            self._checked_toes(scene),
        )
        return _with_limb(scene, made, self.steps)

    def _checked_toes(self, scene: Scene) -> tuple[tuple[str, str], ...]:
        for toe, helper in self.toes:
            found_part(scene, helper)
            if self.chain[-1] not in ancestors(scene, toe):
                text = f"{found_part(scene, toe).name} does not hang on the end of the chain."
                raise Refusal(text, code="choice", place="toes")
        return self.toes

    def _new_key(self, scene: Scene) -> str:
        if len(scene.limbs) >= MOST_LIMBS:
            raise Refusal(f"a scene holds at most {MOST_LIMBS} limbs.", code="too much")
        return new_id("b", scene.limbs, self.id, identities(scene))


@dataclass(frozen=True)
class RemoveLimb:
    """Takes a limb away, with what steers it; its chain stays where its own channels put it. Goal
    and pole stay too."""

    id: str
    do: Literal["remove limb"] = "remove limb"

    def label(self, scene: Scene) -> str:
        """See ``Edit``."""
        return f"delete the limb {found_limb(scene, self.id).name}"

    def apply(self, scene: Scene) -> Scene:
        """See ``Edit``."""
        limb = found_limb(scene, self.id)
        return without_owner(scene, limb, refuse_owner_readers(scene, limb))


LimbEdit = PutLimb | RemoveLimb


def put_again(limb: Limb) -> PutLimb:
    """The edit that puts a limb as it is."""
    return PutLimb(
        limb.name,
        limb.part,
        limb.chain,
        limb.goal,
        limb.pole,
        limb.axis,
        limb.limits,
        limb.offset,
        goal_tap=limb.goal_tap,
        goal_back=limb.goal_back,
        pole_tap=limb.pole_tap,
        pole_back=limb.pole_back,
        toes=limb.toes,
        id=limb.id,
    )


def found_limb(scene: Scene, limb: str) -> Limb:
    """The limb with this identity.

    Raises:
        Refusal: when it is not there any more.
    """
    if limb not in scene.limbs:
        raise Refusal(f"there is no limb with the identity {limb!r} any more.", code="gone")
    return scene.limbs[limb]


def check_chain(scene: Scene, chain: Sequence[str]) -> None:
    """Refuses a chain that is none.

    Raises:
        Refusal: naming the part.
    """
    if not 3 <= len(chain) <= LONGEST_CHAIN:
        text = f"choose 3 to {LONGEST_CHAIN} parts, such as hip, knee and ankle."
        raise Refusal(text, code="choice", place="chain")
    for above, part in zip(chain[:-1], chain[1:], strict=True):
        name, over = found_part(scene, part).name, found_part(scene, above).name
        if above not in ancestors(scene, part):
            text = f"{name} is not below {over}; choose the chain from its base to its end."
            raise Refusal(text, code="choice", place="chain")
    for part in chain[:-1]:
        _refuse_uneven(scene, part)


def _check_steering(scene: Scene, chain: Sequence[str], goal: str, pole: str | None) -> None:
    for one, what in ((goal, "goal"), (pole, "pole")):
        if one is not None and found_part(scene, one).id in chain:
            name = scene.parts[one].name
            raise Refusal(f"{name} is in the chain itself.", code="choice", place=what)


def without_limb_parts(scene: Scene, gone: set[str], readers: bool) -> Scene:
    """The scene whose limbs know nothing of parts that go: without the poles, and without the limbs
    of which anything else goes.

    Raises:
        Refusal: where something of the limb would stay behind without it, unless ``readers`` may be
            changed.
    """
    for _, limb in sorted(scene.limbs.items()):
        toes = tuple(pair for pair in limb.toes if gone.isdisjoint(pair))
        if toes != limb.toes:
            scene = replace(scene, limbs=within(scene.limbs, limb.id, replace(limb, toes=toes)))
            limb = scene.limbs[limb.id]
        needed = {*limb.chain, limb.goal, limb.part}
        if needed.isdisjoint(gone):
            if limb.pole in gone:
                _refuse_user(scene, limb, limb.pole or "", readers)
                changed = replace(limb, pole=None)
                scene = replace(scene, limbs=within(scene.limbs, limb.id, changed))
            continue
        if not gone.issuperset(limb.chain):
            _refuse_user(scene, limb, min(needed & gone), readers)
        steps = {s.id for s in scene.members_of.get(limb.id, {}).values()}
        if limb.part not in gone:
            steps = refuse_owner_readers(scene, limb)
        scene = without_owner(scene, limb, steps)
    return scene


def refuse_chain_move(scene: Scene, part: str, parent: str | None) -> None:
    """Refuses a place in the tree that would tear the chain of a limb apart."""
    below = subtree(scene, part)
    above = set() if parent is None else {parent, *ancestors(scene, parent)}
    for limb in scene.limbs.values():
        moving = [one for one in limb.chain if one in below]
        staying = [one for one in limb.chain if one not in below]
        if moving and staying and not above.issuperset(staying):
            text = f"it would tear the chain of the limb {limb.name} apart; delete that first."
            raise Refusal(text, code="in use", place=scene.parts[part].name)


def _refuse_user(scene: Scene, limb: Limb, part: str, readers: bool) -> None:
    if readers:
        return
    what = "carries the channels of"
    if part in limb.chain:
        what = "is in the chain of"
    elif part in (limb.goal, limb.pole):
        what = f"is the {'goal' if part == limb.goal else 'pole'} of"
    text = f"it {what} the limb {limb.name}; change or delete that limb first."
    raise Refusal(text, code="in use", place=scene.parts[part].name)


def _refuse_uneven(scene: Scene, part: str) -> None:
    values = scene.parts[part].values
    sizes = {abs(values.get(f"scale.{axis}", 1.0)) for axis in "xyz"}
    if max(sizes) - min(sizes) > 1e-9:
        raise Refusal(
            "it is scaled unevenly, and a limb bends only what is scaled evenly; scale it alike "
            "along x, y and z.",
            place=scene.parts[part].name,
        )


def _unit(axis: Vector) -> Vector:
    vector = np.array([finite(one, "bend axis") for one in axis])
    size = float(np.linalg.norm(vector))
    if size < 1e-9:
        raise Refusal("the bend axis has no direction.", code="number", place="bend axis")
    # An axis of length 1 stays as it is, so that a file is read back to the last bit.
    x, y, z = axis if abs(size - 1.0) < 1e-15 else (float(v) for v in vector / size)
    return x, y, z


def _checked_limits(
    limits: tuple[float, float] | None, chain: Sequence[str]
) -> tuple[float, float] | None:
    if limits is None:
        return None
    low, high = (finite(one, "bend") for one in limits)
    if len(chain) != 3:
        raise Refusal("only a chain of two segments has a hinge with limits.", place="bend")
    if not -180.0 <= low <= high <= 180.0:
        raise Refusal("the least bend is above the largest.", code="number", place="bend")
    return low, high


def _with_limb(scene: Scene, made: Limb, step_ids: Sequence[str]) -> Scene:
    before = scene.members_of.get(made.id, {})
    leaving = {
        step.id
        for part, step in before.items()
        if part not in made.chain or step.settings != LimbSettings(made.id, part == made.chain[0])
    }
    scene = without_steps(scene, leaving)
    steps = dict(scene.steps)
    for n, part in enumerate(made.chain):
        if part in before and before[part].id not in leaving:
            continue
        wanted = step_ids[n] if n < len(step_ids) else None
        step_id = new_id("s", steps, wanted, (*identities(scene), {made.id}))
        settings = LimbSettings(made.id, n == 0)
        steps[step_id] = member_step(scene, part, made, settings, "solved", step_id)
    return replace(scene, steps=steps, limbs=within(scene.limbs, made.id, made))
