"""Edits of slip probes."""

from __future__ import annotations

from dataclasses import dataclass, replace
from typing import Literal

from bindu.core.edits.base import finite, found_part, new_id, within
from bindu.core.refusal import Refusal
from bindu.core.scene.model import Scene
from bindu.core.scene.names import check_name
from bindu.core.scene.settings import Vector
from bindu.core.scene.things import Probe

MOST_PROBES = 200
MOST_SPANS = 1000


@dataclass(frozen=True)
class PutProbe:
    """Adds a slip probe, or changes the probe ``id``."""

    name: str
    part: str
    point: Vector = (0.0, 0.0, 0.0)
    rolling: bool = False
    ground: str | None = None
    id: str | None = None
    stands: tuple[tuple[int, int], ...] = ()
    do: Literal["put probe"] = "put probe"

    def label(self, scene: Scene) -> str:
        """See ``Edit``."""
        return f"slip probe {self.name} on {found_part(scene, self.part).name}"

    def apply(self, scene: Scene) -> Scene:
        """See ``Edit``."""
        check_name(self.name, "name of the probe")
        part = found_part(scene, self.part)
        x, y, z = (finite(number, "point of the probe") for number in self.point)
        if self.ground is not None and found_part(scene, self.ground).id == part.id:
            raise Refusal(
                "a part cannot slip on itself; choose another ground.",
                code="choice",
                place=part.name,
            )
        if len(scene.probes) >= MOST_PROBES:
            raise Refusal(f"a scene holds at most {MOST_PROBES} slip probes.", code="too much")
        known = self.id in scene.probes
        key = self.id if self.id and known else new_id("q", scene.probes, self.id)
        if any(one.name == self.name and one.id != key for one in scene.probes.values()):
            raise Refusal("there is a probe with this name already.", code="taken", place=self.name)
        stands = joined_spans(self.stands)
        made = Probe(key, self.name, part.id, (x, y, z), self.rolling, self.ground, stands)
        return replace(scene, probes=within(scene.probes, key, made))


def joined_spans(spans: tuple[tuple[int, int], ...]) -> tuple[tuple[int, int], ...]:
    """Spans of frames in ascending order, those that meet as one.

    Raises:
        Refusal: when one ends before it begins, or they are too many.
    """
    if len(spans) > MOST_SPANS:
        text = f"a probe stands over {MOST_SPANS} spans at most."
        raise Refusal(text, code="too much", place="stands")
    found: list[tuple[int, int]] = []
    for first, last in sorted(spans):
        finite(first, "first frame of a span")
        if finite(last, "last frame of a span") < first:
            text = f"a span goes from its first frame to its last, not from {first} to {last}."
            raise Refusal(text, code="number", place="stands")
        if found and first <= found[-1][1] + 1:
            found[-1] = (found[-1][0], max(last, found[-1][1]))
        else:
            found.append((first, last))
    return tuple(found)


@dataclass(frozen=True)
class RemoveProbe:
    """Takes a slip probe away."""

    id: str
    do: Literal["remove probe"] = "remove probe"

    def label(self, scene: Scene) -> str:
        """See ``Edit``."""
        probe = scene.probes.get(self.id)
        return f"delete the slip probe {probe.name if probe else self.id}"

    def apply(self, scene: Scene) -> Scene:
        """See ``Edit``."""
        if self.id not in scene.probes:
            raise Refusal(f"there is no slip probe {self.id!r} any more.", code="gone")
        return replace(scene, probes={i: p for i, p in scene.probes.items() if i != self.id})


ProbeEdit = PutProbe | RemoveProbe
