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


@dataclass(frozen=True)
class PutProbe:
    """Adds a slip probe, or changes the probe ``id``."""

    name: str
    part: str
    point: Vector = (0.0, 0.0, 0.0)
    rolling: bool = False
    ground: str | None = None
    id: str | None = None
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
        made = Probe(key, self.name, part.id, (x, y, z), self.rolling, self.ground)
        return replace(scene, probes=within(scene.probes, key, made))


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
