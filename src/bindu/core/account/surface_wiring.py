"""What surfaces read: of each of their steps the parts and channels that it goes by."""

from __future__ import annotations

from collections.abc import Iterator
from typing import NamedTuple

from bindu.core.account.labels import read_label
from bindu.core.nodes.identity import Read, at_tap
from bindu.core.scene.channels import ChannelRef, step_channel
from bindu.core.scene.model import Scene
from bindu.core.scene.surfaces import AnyDeform, BendByJoints, Carry, Surface


class SurfaceRead(NamedTuple):
    """What a step of a surface reads, and how that is said."""

    surface: Surface
    step: AnyDeform
    read: Read
    text: str


def surface_reads(scene: Scene) -> Iterator[SurfaceRead]:
    """All reads of surfaces: joints that bend them, the part that carries them, and those of their
    channels that other steps write. A surface comes after all channels are final."""
    for surface in scene.surfaces.values():
        for step in surface.steps:
            for read in _reads(scene, surface, step):
                text = f"“{step.name}” of the surface “{surface.name}” reads "
                yield SurfaceRead(
                    surface, step, read, f"{text}{read_label(scene, read)} at {read.tap}"
                )


def _reads(scene: Scene, surface: Surface, step: AnyDeform) -> Iterator[Read]:
    if isinstance(step, BendByJoints):
        yield from (Read(one.joint, "world matrix", "final") for one in step.joints)
    if isinstance(step, Carry):
        yield Read(surface.part, "world matrix", "final")
    for key, _ in step.inputs:
        ref = ChannelRef(surface.part, step_channel(surface.id, key))
        if scene.writers(ref):
            yield Read(*ref, at_tap("final"))
