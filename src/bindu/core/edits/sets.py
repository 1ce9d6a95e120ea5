"""Edits of sets, markers and pairs."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass, replace
from typing import Literal, TypeVar

from bindu.core.edits.base import finite, found_channel, found_part, new_id, within
from bindu.core.edits.parts import checked_colour
from bindu.core.refusal import Refusal
from bindu.core.scene.channels import ChannelRef, layer_and_channel
from bindu.core.scene.model import Scene
from bindu.core.scene.names import check_name, full_name
from bindu.core.scene.things import Marker, PartSet

T = TypeVar("T")
MOST_SETS = 500
MOST_MARKERS = 2_000


@dataclass(frozen=True)
class PutSet:
    """Adds a set, or gives the set ``id`` another name, colour or members."""

    name: str
    colour: str = "#C9A66B"
    parts: tuple[str, ...] = ()
    channels: tuple[ChannelRef, ...] = ()
    id: str | None = None
    do: Literal["put set"] = "put set"

    def label(self, scene: Scene) -> str:
        """See ``Edit``."""
        return f"{'change' if self.id in scene.sets else 'add'} set {self.name}"

    def apply(self, scene: Scene) -> Scene:
        """See ``Edit``."""
        check_name(self.name, "set name")
        others = (one for one in scene.sets.values() if one.id != self.id)
        if any(one.name == self.name for one in others):
            raise Refusal("there is a set with this name already.", code="taken", place=self.name)
        if len(scene.sets) >= MOST_SETS:
            raise Refusal(f"a scene holds at most {MOST_SETS} sets.", code="too much")
        for part in self.parts:
            found_part(scene, part)
        channels = tuple(found_channel(scene, *ref) for ref in self.channels)
        for ref in channels:
            if layer_and_channel(ref.channel)[0] is not None:
                text = "a set holds channels, on whatever layer their keys are; name the channel."
                raise Refusal(text, code="choice", place=full_name(scene, ref))
        known = self.id in scene.sets
        key = self.id if self.id and known else new_id("g", scene.sets, self.id)
        colour = checked_colour(self.colour, self.name)
        made = PartSet(key, self.name, colour, unique(self.parts), unique(channels))
        return replace(scene, sets=within(scene.sets, key, made))


@dataclass(frozen=True)
class RemoveSet:
    """Takes a set away; its members stay."""

    id: str
    do: Literal["remove set"] = "remove set"

    def label(self, scene: Scene) -> str:
        """See ``Edit``."""
        return f"delete set {_found(scene, self.id).name}"

    def apply(self, scene: Scene) -> Scene:
        """See ``Edit``."""
        gone = _found(scene, self.id)
        # What left with the set leaves by hand from now on.
        bakes = {
            i: replace(bake, by="by hand", set=None, parts=gone.parts)
            if bake.set == gone.id
            else bake
            for i, bake in scene.bakes.items()
        }
        sets = {i: one for i, one in scene.sets.items() if one is not gone}
        return replace(scene, sets=sets, bakes=bakes)


@dataclass(frozen=True)
class PutMarker:
    """Adds a marker on a frame, or moves or renames the marker ``id``."""

    frame: float
    text: str
    id: str | None = None
    do: Literal["put marker"] = "put marker"

    def label(self, scene: Scene) -> str:
        """See ``Edit``."""
        return f"marker {self.text} at {self.frame:g}"

    def apply(self, scene: Scene) -> Scene:
        """See ``Edit``."""
        if not self.text or len(self.text) > 80 or not self.text.isprintable():
            raise Refusal("give it one line of 1 to 80 characters.", code="text", place="marker")
        if len(scene.markers) >= MOST_MARKERS:
            raise Refusal(f"a scene holds at most {MOST_MARKERS:,} markers.", code="too much")
        known = self.id in scene.markers
        key = self.id if self.id and known else new_id("m", scene.markers, self.id)
        made = Marker(key, finite(self.frame, "marker"), self.text)
        return replace(scene, markers=within(scene.markers, key, made))


@dataclass(frozen=True)
class RemoveMarker:
    """Takes a marker away."""

    id: str
    do: Literal["remove marker"] = "remove marker"

    def label(self, scene: Scene) -> str:
        """See ``Edit``."""
        marker = scene.markers.get(self.id)
        return f"delete marker {marker.label if marker else self.id}"

    def apply(self, scene: Scene) -> Scene:
        """See ``Edit``."""
        if self.id not in scene.markers:
            raise Refusal(
                f"there is no marker with the identity {self.id!r} any more.", code="gone"
            )
        return replace(scene, markers={i: m for i, m in scene.markers.items() if i != self.id})


@dataclass(frozen=True)
class PairParts:
    """Makes two parts each other's opposite by hand; with None, the name rule decides again."""

    part: str
    pair: str | None = None
    do: Literal["pair parts"] = "pair parts"

    def label(self, scene: Scene) -> str:
        """See ``Edit``."""
        name = found_part(scene, self.part).name
        return (
            f"pair {name} with {found_part(scene, self.pair).name}"
            if self.pair
            else (f"pair {name} by its name")
        )

    def apply(self, scene: Scene) -> Scene:
        """See ``Edit``."""
        part = found_part(scene, self.part)
        parts = dict(scene.parts)
        if self.pair is not None:
            found_part(scene, self.pair)
        if self.pair == self.part:
            raise Refusal("a part is no pair with itself.", place=part.name)
        pair = (self.part, self.pair)
        for other in scene.parts.values():
            if other.pair in pair or other.id in pair:
                parts[other.id] = replace(other, pair=None)
        if self.pair is not None:
            parts[self.part] = replace(parts[self.part], pair=self.pair)
            parts[self.pair] = replace(parts[self.pair], pair=self.part)
        return replace(scene, parts=parts)


SetEdit = PutSet | RemoveSet | PutMarker | RemoveMarker | PairParts


def unique(members: Iterable[T]) -> tuple[T, ...]:
    """The members in their order, each once."""
    return tuple(dict.fromkeys(members))


def _found(scene: Scene, key: str) -> PartSet:
    if key not in scene.sets:
        raise Refusal(f"there is no set with the identity {key!r} any more.", code="gone")
    return scene.sets[key]
