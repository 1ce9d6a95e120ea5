"""Edits of bakes: what leaves, written out, taken over anew."""

from __future__ import annotations

from collections.abc import Mapping, Set
from dataclasses import dataclass, replace
from typing import Literal

from bindu.core.clips.baking import baked, check_baked, leaving
from bindu.core.clips.standing import Standing, standing
from bindu.core.edits.base import finite, found_part, new_id, within
from bindu.core.evaluation import evaluated
from bindu.core.refusal import Refusal
from bindu.core.scene.bakes import Bake, Baked, By
from bindu.core.scene.model import Scene
from bindu.core.scene.names import check_name
from bindu.core.scene.receivers import with_clip_renamed

MOST_BAKES = 100
LONGEST_SPAN = 100_000


@dataclass(frozen=True)
class PutBake:
    """Adds a bake and writes it out, or changes what the bake ``id`` is to hold; see ``Bake``.

    A changed bake keeps what it wrote until it is taken over.

    Attributes:
        made: what it wrote out, where that is known; used by files.
    """

    name: str
    first: int
    last: int
    by: By = "joints and props"
    set: str | None = None
    parts: tuple[str, ...] = ()
    own_channels: bool = True
    step: int = 1
    tolerance: float = 0.0
    follows: bool = False
    made: Baked | None = None
    id: str | None = None
    do: Literal["put bake"] = "put bake"

    def label(self, scene: Scene) -> str:
        """See ``Edit``."""
        return f"{'change' if self.id in scene.bakes else 'bake'} {self.name}"

    def apply(self, scene: Scene) -> Scene:
        """See ``Edit``."""
        check_name(self.name, "name of the bake")
        if any(one.name == self.name and one.id != self.id for one in scene.bakes.values()):
            raise Refusal("there is a bake with this name already.", code="taken", place=self.name)
        if not 0 <= self.last - self.first <= LONGEST_SPAN:
            text = f"a span has 1 to {LONGEST_SPAN:,} frames, the first one first."
            raise Refusal(text, code="number", place="span")
        if not 1 <= self.step <= 1000:
            text = "it writes every 1st to 1,000th frame."
            raise Refusal(text, code="number", place="step")
        if not 0.0 <= finite(self.tolerance, "tolerance") <= 1000.0:
            text = "a tolerance is from 0, which is every frame, to 1,000."
            raise Refusal(text, code="number", place="tolerance")
        for part in self.parts:
            found_part(scene, part)
        if self.set is not None and self.set not in scene.sets:
            text = f"there is no set with the identity {self.set!r} any more."
            raise Refusal(text, code="gone", place=self.name)
        if self.made is not None:
            check_baked(self.made)
        old = scene.bakes.get(self.id or "")
        if old is None and len(scene.bakes) >= MOST_BAKES:
            raise Refusal(f"a scene holds at most {MOST_BAKES} bakes.", code="too much")
        key = old.id if old else new_id("k", scene.bakes, self.id)
        made = Bake(
            key, self.name, self.first, self.last, self.by, self.set, self.parts,
            self.own_channels, self.step, self.tolerance, self.follows,
            self.made or (old.made if old else None),
        )  # fmt: skip
        if made.made is None:
            made = replace(made, made=baked(evaluated(scene), made))
        elif self.made is None:
            leaving(scene, made)
        receivers = scene.receivers
        if old is not None and old.name != self.name:
            # What a receiver is told names the clips as they leave.
            receivers = {
                one: with_clip_renamed(setup, old.name, self.name)
                for one, setup in receivers.items()
            }
        return replace(scene, bakes=within(scene.bakes, key, made), receivers=receivers)


@dataclass(frozen=True)
class TakeOver:
    """Writes a bake out anew from its source.

    Attributes:
        agreed: other parts or another length are meant.
    """

    id: str
    agreed: bool = False
    do: Literal["take over"] = "take over"

    def label(self, scene: Scene) -> str:
        """See ``Edit``."""
        return f"take over {found_bake(scene, self.id).name}"

    def apply(self, scene: Scene) -> Scene:
        """See ``Edit``."""
        bake, evaluation = found_bake(scene, self.id), evaluated(scene)
        stands = standing(evaluation, bake)
        if stands.state == "asks" and not self.agreed:
            raise Refusal(what_changes(stands), code="choice", place=bake.name)
        made = replace(bake, made=baked(evaluation, bake))
        return replace(scene, bakes=within(scene.bakes, bake.id, made))


@dataclass(frozen=True)
class RemoveBake:
    """Takes a bake away, with its curves."""

    id: str
    do: Literal["remove bake"] = "remove bake"

    def label(self, scene: Scene) -> str:
        """See ``Edit``."""
        return f"delete the bake {found_bake(scene, self.id).name}"

    def apply(self, scene: Scene) -> Scene:
        """See ``Edit``."""
        found_bake(scene, self.id)
        return replace(scene, bakes={i: b for i, b in scene.bakes.items() if i != self.id})


def found_bake(scene: Scene, bake: str) -> Bake:
    """The bake with this identity.

    Raises:
        Refusal: when it is not there any more.
    """
    if bake not in scene.bakes:
        raise Refusal(f"there is no bake with the identity {bake!r} any more.", code="gone")
    return scene.bakes[bake]


def what_changes(stands: Standing) -> str:
    """In words what a take-over would cut and add."""
    told = [
        f"{verb} {what}"
        for verb, what in (
            ("cut", ", ".join(stands.cut)),
            ("add", ", ".join(stands.added)),
            ("cut", f"{stands.shorter} frames" if stands.shorter else ""),
            ("add", f"{stands.longer} frames" if stands.longer else ""),
        )
        if what
    ]
    return f"taking it over would {' and '.join(told)}; say that this is meant."


def without_baked_parts(bakes: Mapping[str, Bake], gone: Set[str]) -> Mapping[str, Bake]:
    """The bakes without parts by hand that go; what they wrote out stays."""
    return {
        key: replace(bake, parts=tuple(part for part in bake.parts if part not in gone))
        if not gone.isdisjoint(bake.parts)
        else bake
        for key, bake in bakes.items()
    }


BakeEdit = PutBake | TakeOver | RemoveBake
