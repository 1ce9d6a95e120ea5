"""Limbs, gaits and surfaces that are copied with the parts that they are made of."""

from __future__ import annotations

import re
from collections.abc import Mapping
from dataclasses import replace
from typing import Any

from bindu.core.scene.model import Scene
from bindu.core.scene.surfaces import AnyDeform, BendByJoints, Surface
from bindu.core.scene.things import Gait, Limb

PREFIXES = {"limbs": "b", "gaits": "w", "surfaces": "f"}
"""The tables whose things are copied, and what their identities begin with. What a thing refers to
elsewhere stays."""


def copied_name(name: str, taken: set[str]) -> str:
    """The name with the next number that is free: ``oar`` gives ``oar 2``, that ``oar 3``."""
    stem = re.sub(r" \d+$", "", name)
    number = 2
    while f"{stem} {number}" in taken:
        number += 1
    return f"{stem} {number}"


def copied_owners(scene: Scene, table: str, chosen: set[str]) -> list[str]:
    """The things of a table of which all is copied that has steps, or what steers it."""
    things: Mapping[str, Any] = getattr(scene, table)
    return [i for i, one in sorted(things.items()) if chosen.issuperset((one.part, *one.members))]


def followed_owners(
    scene: Scene, table: str, chosen: set[str], ids: Mapping[str, str]
) -> dict[str, Any]:
    """A table with the copies of its things."""
    things: dict[str, Any] = dict(getattr(scene, table))
    names = {one.name for one in things.values()}
    for old in copied_owners(scene, table, chosen):
        thing = things[old]
        name = copied_name(thing.name, names)
        names.add(name)
        own = replace(thing, id=ids[old], name=name, part=ids[thing.part])
        things[ids[old]] = _followed(own, ids)
    return things


def _followed(thing: Limb | Gait | Surface, ids: Mapping[str, str]) -> Limb | Gait | Surface:
    """A thing with the copies of its parts where these are copied."""

    def part(old: str) -> str:
        return ids.get(old, old)

    def perhaps(old: str | None) -> str | None:
        return None if old is None else part(old)

    if isinstance(thing, Limb):
        return replace(
            thing,
            chain=tuple(part(one) for one in thing.chain),
            goal=part(thing.goal),
            pole=perhaps(thing.pole),
            toes=tuple((part(toe), part(helper)) for toe, helper in thing.toes),
        )
    if isinstance(thing, Gait):
        feet = tuple(replace(foot, part=part(foot.part)) for foot in thing.feet)
        return replace(thing, feet=feet, ground=perhaps(thing.ground))

    def bent(step: AnyDeform) -> AnyDeform:
        if not isinstance(step, BendByJoints):
            return step
        return replace(
            step, joints=tuple(replace(one, joint=part(one.joint)) for one in step.joints)
        )

    return replace(thing, steps=tuple(bent(step) for step in thing.steps))
