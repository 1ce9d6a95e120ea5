"""Two ferries: a second one, half as big, that shares the formulas of the first."""

from __future__ import annotations

from collections.abc import Iterator

from bindu.core.edits import AnyEdit, applied
from bindu.core.edits.channels import SetValue
from bindu.core.edits.duplicate import DuplicatePart
from bindu.core.edits.parts import ChangePart, RenamePart
from bindu.core.edits.scene import ChangeScene
from bindu.core.scene.model import Scene
from bindu.core.scene.names import channel_named, parts_by_name
from bindu.core.scene.parts import Rest
from bindu.demo.ferry import ferry_crossing


def two_ferries() -> Scene:
    """The ferry, and its copy upstream: each copied formula reads the copies, so that only sizes
    differ. The small paddle has half the radius and turns twice as fast."""
    rename = ChangeScene(name="Two ferries")
    scene = applied(ferry_crossing(), [rename, DuplicatePart("p1")])
    return applied(scene, list(_smaller(scene)))


def _smaller(scene: Scene) -> Iterator[AnyEdit]:
    small = parts_by_name(scene)["ferry 2"]
    yield ChangePart(small, rest=Rest((0.0, 0.0, 3.6)))
    for axis in "xyz":
        yield SetValue(small, f"scale.{axis}", 0.5)
    radius = channel_named(scene, "paddle 2.radius")
    yield SetValue(*radius, 0.25)
    yield RenamePart(small, "small ferry")
