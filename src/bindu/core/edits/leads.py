"""Edits of lead groups."""

from __future__ import annotations

from dataclasses import dataclass, replace
from typing import Literal

from bindu.core.edits.base import found_part, identities, new_id, within, without_steps
from bindu.core.edits.choices import with_choice, with_choices_renumbered
from bindu.core.edits.owners import member_step, refuse_owner_readers, without_owner
from bindu.core.edits.trees import ancestors
from bindu.core.refusal import Refusal
from bindu.core.scene.channels import ChannelRef, step_channel
from bindu.core.scene.model import Scene
from bindu.core.scene.names import check_name
from bindu.core.scene.settings import LeadSettings
from bindu.core.scene.things import LeadGroup

MOST_MEMBERS = 50
MOST_GROUPS = 200
Leads = Literal["position", "rotation"]
BOTH: tuple[Leads, ...] = ("position", "rotation")


@dataclass(frozen=True)
class PutLead:
    """Adds a lead group, or changes the group ``id``. Whoever leads stays the lead when the
    members change; where it is taken out, nobody leads.

    Attributes:
        part: whose channels say who leads.
        steps: identities for the steps of the members; made up when left out.
    """

    name: str
    part: str
    members: tuple[str, ...]
    id: str | None = None
    steps: tuple[str, ...] = ()
    do: Literal["put lead group"] = "put lead group"

    def label(self, scene: Scene) -> str:
        """See ``Edit``."""
        return f"lead group {self.name}"

    def apply(self, scene: Scene) -> Scene:
        """See ``Edit``."""
        check_name(self.name, "name of the lead group")
        found_part(scene, self.part)
        _check_members(scene, self.members, self.id)
        key = self.id
        if key is None or key not in scene.leads:
            if len(scene.leads) >= MOST_GROUPS:
                raise Refusal(f"a scene holds at most {MOST_GROUPS} lead groups.", code="too much")
            key = new_id("g", scene.leads, self.id, identities(scene))
        if any(one.name == self.name and one.id != key for one in scene.leads.values()):
            raise Refusal(
                "there is a lead group with this name already.", code="taken", place=self.name
            )
        old = scene.leads.get(key)
        if old is not None and old.part != self.part:
            raise Refusal("its leads are channels of the part it was made on.", place=self.name)
        made = LeadGroup(key, self.name, self.part, self.members)
        return _with_group(scene, old, made, self.steps)


@dataclass(frozen=True)
class RemoveLead:
    """Takes a lead group away, with the curves of its leads; its members stay where their own
    channels put them."""

    id: str
    do: Literal["remove lead group"] = "remove lead group"

    def label(self, scene: Scene) -> str:
        """See ``Edit``."""
        return f"delete the lead group {_found(scene, self.id).name}"

    def apply(self, scene: Scene) -> Scene:
        """See ``Edit``."""
        lead = _found(scene, self.id)
        return without_owner(scene, lead, refuse_owner_readers(scene, lead))


@dataclass(frozen=True)
class KeyLead:
    """Lets a member of a lead group (None: nobody) lead from a frame on."""

    id: str
    frame: int
    part: str | None
    leads: tuple[Leads, ...] = BOTH
    do: Literal["key lead"] = "key lead"

    def label(self, scene: Scene) -> str:
        """See ``Edit``."""
        who = found_part(scene, self.part).name if self.part else "nobody"
        return f"{who} leads {_found(scene, self.id).name} from {self.frame}"

    def apply(self, scene: Scene) -> Scene:
        """See ``Edit``."""
        lead = _found(scene, self.id)
        if self.part is not None and self.part not in lead.members:
            name = found_part(scene, self.part).name
            raise Refusal(f"{name} is no member of it.", place=lead.name)
        value = 0 if self.part is None else lead.members.index(self.part) + 1
        for key in self.leads:
            ref = ChannelRef(lead.part, step_channel(lead.id, key))
            scene = with_choice(scene, ref, self.frame, value)
        return scene


LeadEdit = PutLead | RemoveLead | KeyLead


def without_member_parts(scene: Scene, gone: set[str]) -> Scene:
    """The scene with these parts taken out of all lead groups; a group of one is none."""
    for lead in tuple(scene.leads.values()):
        members = tuple(part for part in lead.members if part not in gone)
        if members == lead.members:
            continue
        if len(members) < 2:
            steps = {s.id for s in scene.members_of.get(lead.id, {}).values()}
            scene = without_owner(scene, lead, steps)
        else:
            scene = _with_group(scene, lead, replace(lead, members=members))
    return scene


def _with_group(
    scene: Scene, old: LeadGroup | None, made: LeadGroup, step_ids: tuple[str, ...] = ()
) -> Scene:
    before = scene.members_of.get(made.id, {})
    leaving = {step.id for part, step in before.items() if part not in made.members}
    scene = without_steps(scene, leaving)
    steps = dict(scene.steps)
    for n, part in enumerate(made.members):
        if part not in before:
            wanted = step_ids[n] if n < len(step_ids) else None
            step_id = new_id("s", steps, wanted, identities(scene))
            settings = LeadSettings(made.id)
            steps[step_id] = member_step(scene, part, made, settings, "bound", step_id)
    scene = replace(scene, steps=steps, leads=within(scene.leads, made.id, made))
    return scene if old is None else _followed(scene, old, made)


def _followed(scene: Scene, old: LeadGroup, made: LeadGroup) -> Scene:
    """The scene in which the leads mean the same members in their new order."""
    places = {
        n: made.members.index(part) + 1
        for n, part in enumerate(old.members, start=1)
        if part in made.members
    }
    for key in BOTH:
        ref = ChannelRef(made.part, step_channel(made.id, key))
        scene = with_choices_renumbered(scene, ref, places)
    return scene


def _check_members(scene: Scene, members: tuple[str, ...], lead: str | None) -> None:
    if not 2 <= len(members) <= MOST_MEMBERS:
        raise Refusal(f"choose 2 to {MOST_MEMBERS} parts.", code="choice", place="members")
    chosen = set(members)
    if len(chosen) < len(members):
        raise Refusal("a part is chosen twice.", place="members")
    for part in members:
        name = found_part(scene, part).name
        above = chosen & ancestors(scene, part)
        if above:
            parent = scene.parts[above.pop()].name
            raise Refusal(
                f"{name} hangs on {parent} and is carried by it anyway; choose one of them.",
                code="choice",
                place="members",
            )
    for part in members:
        name = scene.parts[part].name
        for group, steps in scene.members_of.items():
            if group in scene.leads and group != lead and part in steps:
                other = scene.leads[group].name
                raise Refusal(
                    f"{name} is in the lead group {other} already.", code="taken", place="members"
                )


def _found(scene: Scene, lead: str) -> LeadGroup:
    if lead not in scene.leads:
        raise Refusal(f"there is no lead group with the identity {lead!r} any more.", code="gone")
    return scene.leads[lead]
