"""Identities for all that a document holds, given or made up, by the names in it."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from functools import cached_property

from bindu.core.refusal import Refusal, nearest_names
from bindu.core.scene.channels import BUILT_IN_CHANNELS, step_channel, weight_channel
from bindu.core.scene.settings import SHAPERS, WORLD_KEY
from bindu.core.scene.things import Gait, Limb
from bindu.formats.scene.document import (
    DrivenEntry,
    GaitEntry,
    LayerEntry,
    LeadEntry,
    LimbEntry,
    PartEntry,
    SceneDocument,
)
from bindu.formats.scene.step_entries import (
    AimEntry,
    AnyStepEntry,
    ConstraintEntry,
    FollowEntry,
    PathEntry,
    ShaperEntry,
    SpacesEntry,
)
from bindu.formats.scene.surface_entries import SurfaceEntry, surface_channels


@dataclass(frozen=True)
class NamedPart:
    """A part of the document with the identities of all that it holds, by name."""

    entry: PartEntry
    place: str
    id: str
    channels: dict[str, str]
    steps: list[str]


@dataclass(frozen=True)
class Identities:
    """All identities of a document."""

    parts: tuple[NamedPart, ...]
    layers: dict[str, str]
    driven: dict[str, str]
    leads: dict[str, str]
    limbs: dict[str, str]
    gaits: dict[str, str]
    surfaces: dict[str, str]

    @cached_property
    def part_ids(self) -> dict[str, str]:
        """The parts' identities by their names."""
        return {part.entry.name: part.id for part in self.parts}

    @cached_property
    def by_name(self) -> dict[str, NamedPart]:
        """The parts by their names; a name that stands twice is refused when it is added."""
        return {part.entry.name: part for part in self.parts}

    def part(self, name: str, place: str) -> NamedPart:
        """The part with a name.

        Raises:
            Refusal: when there is none.
        """
        if name not in self.by_name:
            near = nearest_names(name, self.by_name)
            raise Refusal(f"there is no part {name!r}.", code="unknown", place=place, nearest=near)
        return self.by_name[name]


def channel_id(part: NamedPart, name: str, field: str) -> str:
    """The identity of a part's channel.

    Raises:
        Refusal: when it has none of this name.
    """
    if name not in part.channels:
        raise Refusal(
            f"{part.entry.name} has no channel {name!r}.",
            code="unknown",
            place=f"{part.place}.{field}",
            nearest=nearest_names(name, part.channels),
        )
    return part.channels[name]


def identities_of(document: SceneDocument) -> Identities:
    """The identities of a document."""
    taken = set(_given(document))
    layers = _named_ids("l", document.layers, taken)
    driven = _named_ids("d", document.driven, taken)
    leads = _named_ids("g", document.leads, taken)
    limbs = _named_ids("b", document.limbs, taken)
    gaits = _named_ids("w", document.gaits, taken)
    surfaces = _named_ids("f", document.surfaces, taken)
    parts, channels, steps = _FreeIds("p", taken), _FreeIds("c", taken), _FreeIds("s", taken)
    part_ids = [parts.given_or_new(entry.id) for entry in document.parts]
    ids = {entry.name: i for entry, i in zip(document.parts, part_ids, strict=True)}
    found = []
    for n, entry in enumerate(document.parts):
        step_ids = [steps.given_or_new(step.id) for step in entry.steps]
        own = {c.name: channels.given_or_new(c.id) for c in entry.channels}
        known = {c: c for c in BUILT_IN_CHANNELS} | own
        for step, step_id in zip(entry.steps, step_ids, strict=True):
            known |= dict(_step_channels(step, step_id, ids))
        for layer in document.layers:
            if layer.part == entry.name:
                known[f"{layer.name}.weight"] = weight_channel(layers[layer.name])
        for lead in document.leads:
            if lead.part == entry.name:
                for key in ("position", "rotation"):
                    known[f"{lead.name}.{key}"] = step_channel(leads[lead.name], key)
        for limb in document.limbs:
            if limb.part == entry.name:
                for one in Limb("", "", "").inputs:
                    known[f"{limb.name}.{one.key}"] = step_channel(limbs[limb.name], one.key)
        for gait in document.gaits:
            if gait.part == entry.name:
                for one in Gait("", "", "").inputs:
                    known[f"{gait.name}.{one.key}"] = step_channel(gaits[gait.name], one.key)
        for surface in document.surfaces:
            if surface.part == entry.name:
                known |= surface_channels(surface, surfaces[surface.name])
        place = f"parts[{n}] ({entry.name[:40]})"
        found.append(NamedPart(entry, place, part_ids[n], known, step_ids))
    return Identities(tuple(found), layers, driven, leads, limbs, gaits, surfaces)


def _step_channels(
    step: AnyStepEntry, step_id: str, parts: dict[str, str]
) -> Iterator[tuple[str, str]]:
    """The channels that a step has of its own, by name."""
    yield f"{step.name}.weight", weight_channel(step_id)
    keys: dict[str, str] = {}
    if isinstance(step, ConstraintEntry | AimEntry):
        for target in step.targets:
            known = WORLD_KEY if target.part is None else parts.get(target.part, "")
            keys[f"weight of {target.part or 'the world'}"] = f"weight.{known}"
    elif isinstance(step, PathEntry):
        keys["progress"] = "progress"
    elif isinstance(step, SpacesEntry):
        keys["space"] = "space"
    elif isinstance(step, ShaperEntry):
        keys = {one.key: one.key for one in SHAPERS[step.kind]("").inputs}
    elif isinstance(step, FollowEntry):
        keys = {"position" if group == "translation" else group: group for group in step.takes}
    for name, key in keys.items():
        yield f"{step.name}.{name}", step_channel(step_id, key)


def _given(document: SceneDocument) -> Iterator[str]:
    """The identities that the document gives itself."""
    found = [one.id for one in document.parts]
    for layer in document.layers:
        found.append(layer.id)
    found += [one.id for one in document.driven] + [one.id for one in document.leads]
    found += [one.id for one in document.limbs] + [one.id for one in document.gaits]
    found += [one.id for one in document.surfaces]
    for entry in document.parts:
        found += [one.id for one in entry.channels] + [one.id for one in entry.steps]
    yield from (one for one in found if one is not None)


def _named_ids(
    prefix: str,
    entries: Sequence[LayerEntry | DrivenEntry | LeadEntry | LimbEntry | GaitEntry | SurfaceEntry],
    taken: set[str],
) -> dict[str, str]:
    """Identities by name."""
    ids = _FreeIds(prefix, taken)
    return {entry.name: ids.given_or_new(entry.id) for entry in entries}


class _FreeIds:
    """Gives out identities that the document does not use itself."""

    def __init__(self, prefix: str, taken: set[str]) -> None:
        self._prefix, self._taken, self._next = prefix, taken, 1

    def given_or_new(self, given: str | None) -> str:
        if given is not None:
            return given
        while f"{self._prefix}{self._next}" in self._taken:
            self._next += 1
        self._next += 1
        return f"{self._prefix}{self._next - 1}"
