"""What lead groups, limbs, gaits and surfaces share: channels of their own on a part, and steps
that make parts members of what is solved for several."""

from __future__ import annotations

from dataclasses import replace
from typing import Any

from bindu.core.edits.base import refuse_readers, without_channels, without_steps, written
from bindu.core.scene.channels import ChannelRef, Zone, step_channel
from bindu.core.scene.model import Owner, Scene
from bindu.core.scene.names import channel_names
from bindu.core.scene.parts import Step


def member_step(
    scene: Scene, part: str, owner: Owner, settings: Any, zone: Zone, step_id: str
) -> Step:
    """The step of a new member, last in its zone, under the owner's name where that is free."""
    listed = [s.position for s in scene.steps_of.get(part, ()) if s.zone == zone]
    taken, name, n = channel_names(scene, part), owner.name, 2
    while f"{name}.weight" in taken:
        name, n = f"{owner.name} {n}", n + 1
    return Step(step_id, part, name, zone, settings, max(listed, default=-1) + 1)


def owner_channels(owner: Owner) -> set[ChannelRef]:
    """The channels that steer what an owner solves."""
    return {ChannelRef(owner.part, step_channel(owner.id, one.key)) for one in owner.inputs}


def refuse_owner_readers(scene: Scene, owner: Owner) -> set[str]:
    """Refuses to take an owner away whose channels steps still read; gives the steps that go with
    it: those of its members, and those that write its channels."""
    own = owner_channels(owner)
    gone = {s.id for s in scene.members_of.get(owner.id, {}).values()}
    gone |= {s.id for s in scene.steps.values() if not own.isdisjoint(written(s))}
    refuse_readers(scene, set(), own, gone, owner.name)
    return gone


def without_owner(scene: Scene, owner: Owner, steps: set[str]) -> Scene:
    """The scene without an owner, its channels, and these steps."""
    scene = without_channels(without_steps(scene, steps), owner_channels(owner))
    leads = {i: one for i, one in scene.leads.items() if i != owner.id}
    limbs = {i: one for i, one in scene.limbs.items() if i != owner.id}
    gaits = {i: one for i, one in scene.gaits.items() if i != owner.id}
    surfaces = {i: one for i, one in scene.surfaces.items() if i != owner.id}
    return replace(scene, leads=leads, limbs=limbs, gaits=gaits, surfaces=surfaces)
