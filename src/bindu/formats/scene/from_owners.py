"""The edits that make a document's lead groups, limbs, gaits and surfaces."""

from __future__ import annotations

from collections.abc import Iterator
from typing import Literal

from bindu.core.edits.base import Edit
from bindu.core.edits.gaits import PutGait
from bindu.core.edits.leads import PutLead
from bindu.core.edits.limbs import PutLimb
from bindu.core.edits.steps import ChangeStep, MoveStep
from bindu.core.edits.surfaces import PutSurface
from bindu.core.refusal import Refusal
from bindu.core.scene.things import GaitFoot
from bindu.formats.scene.document import SceneDocument
from bindu.formats.scene.identities import Identities, NamedPart
from bindu.formats.scene.step_entries import AnyStepEntry, ChainEntry, MemberEntry, WalkEntry
from bindu.formats.scene.surface_entries import surface_steps

MemberKind = Literal["lead", "limb", "walk"]
Placed = tuple[str, Edit]
"""Where in the document an edit comes from, and the edit."""


def owners(document: SceneDocument, ids: Identities) -> Iterator[Placed]:
    """Things that have channels on a part, with the steps of their members at their places."""
    yield from _lead_groups(document, ids)
    yield from _limbs(document, ids)
    yield from _gaits(document, ids)
    yield from _surfaces(document, ids)
    yield from _placed_members(ids)


def _lead_groups(document: SceneDocument, ids: Identities) -> Iterator[Placed]:
    """Lead groups, with the steps of their members."""
    for lead in document.leads:
        place = f"leads ({lead.name})"
        home = ids.part(lead.part, f"{place}.part")
        members = [ids.part(name, f"{place}.members") for name in lead.members]
        steps = tuple(
            _member_step(member, lead.name, f"{place}.members", "lead") for member in members
        )
        parts = tuple(member.id for member in members)
        yield place, PutLead(lead.name, home.id, parts, ids.leads[lead.name], steps)


def _limbs(document: SceneDocument, ids: Identities) -> Iterator[Placed]:
    """Limbs, with the steps of their chains."""
    for limb in document.limbs:
        place = f"limbs ({limb.name})"
        chain = [ids.part(name, f"{place}.chain") for name in limb.chain]
        steps = tuple(_member_step(member, limb.name, f"{place}.chain", "limb") for member in chain)
        yield (
            place,
            PutLimb(
                limb.name,
                ids.part(limb.part, f"{place}.part").id,
                tuple(member.id for member in chain),
                ids.part(limb.goal, f"{place}.goal").id,
                None if limb.pole is None else ids.part(limb.pole, f"{place}.pole").id,
                limb.axis,
                limb.limits,
                limb.offset,
                goal_tap=limb.goal_tap,
                goal_back=limb.goal_back,
                pole_tap=limb.pole_tap,
                pole_back=limb.pole_back,
                toes=tuple(
                    (ids.part(toe, f"{place}.toes").id, ids.part(one, f"{place}.toes").id)
                    for toe, one in limb.toes
                ),
                id=ids.limbs[limb.name],
                steps=steps,
            ),
        )


def _gaits(document: SceneDocument, ids: Identities) -> Iterator[Placed]:
    """Gaits, with the steps of their feet."""
    for gait in document.gaits:
        place = f"gaits ({gait.name})"
        feet = [(ids.part(foot.part, f"{place}.feet"), foot) for foot in gait.feet]
        steps = tuple(_member_step(part, gait.name, f"{place}.feet", "walk") for part, _ in feet)
        yield (
            place,
            PutGait(
                gait.name,
                ids.part(gait.part, f"{place}.part").id,
                tuple(GaitFoot(part.id, foot.phase, foot.offset, foot.turn) for part, foot in feet),
                None if gait.ground is None else ids.part(gait.ground, f"{place}.ground").id,
                gait.forward,
                gait.width,
                ids.gaits[gait.name],
                steps,
            ),
        )


def _surfaces(document: SceneDocument, ids: Identities) -> Iterator[Placed]:
    """Surfaces, with the steps that deform them."""
    for surface in document.surfaces:
        place = f"surfaces ({surface.name})"

        def part_id(name: str, place: str = place) -> str:
            return ids.part(name, place).id

        yield (
            place,
            PutSurface(
                surface.name,
                part_id(surface.part),
                tuple(surface.points),
                tuple(tuple(face) for face in surface.faces),
                surface_steps(surface, part_id),
                surface.colour,
                ids.surfaces[surface.name],
            ),
        )


def _placed_members(ids: Identities) -> Iterator[Placed]:
    """The steps of members at their places."""
    for part in ids.parts:
        for n, (step, step_id) in enumerate(zip(part.entry.steps, part.steps, strict=True)):
            if isinstance(step, MemberEntry | ChainEntry | WalkEntry):
                before = sum(one.zone == step.zone for one in part.entry.steps[:n])
                place = f"{part.place}.steps ({step.name})"
                yield place, ChangeStep(step_id, name=step.name)
                yield place, MoveStep(step_id, step.zone, before)


def _member_step(member: NamedPart, owner: str, place: str, kind: MemberKind) -> str:
    """The step that makes a part a member of what is solved for several."""
    for step, step_id in zip(member.entry.steps, member.steps, strict=True):
        if step.kind == kind and _owner_named(step) == owner:
            return step_id
    text = f"{member.entry.name} is a member, but has no step of kind {kind} for it."
    raise Refusal(text, code="unknown", place=place)


def _owner_named(step: AnyStepEntry) -> str | None:
    if isinstance(step, ChainEntry):
        return step.limb
    if isinstance(step, WalkEntry):
        return step.gait
    return step.lead if isinstance(step, MemberEntry) else None
