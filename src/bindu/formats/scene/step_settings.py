"""Settings of binding steps to and from their entries, parts by name."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import asdict
from typing import Annotated, Any

from pydantic import Field, TypeAdapter

from bindu.core.refusal import Refusal, nearest_names
from bindu.core.scene.model import Scene
from bindu.core.scene.parts import Step
from bindu.core.scene.settings import (
    WORLD_KEY,
    BindingSettings,
    LeadSettings,
    SpaceSettings,
    read_parts_followed,
)
from bindu.formats.scene.step_entries import BindingEntry, SpaceEntry, SpacesEntry

_ENTRIES: TypeAdapter[BindingEntry] = TypeAdapter(
    Annotated[BindingEntry, Field(discriminator="kind")]
)
_SETTINGS: TypeAdapter[BindingSettings] = TypeAdapter(
    Annotated[BindingSettings, Field(discriminator="kind")]
)
_STEP_FIELDS = {"name", "id", "zone", "on"}


def binding_entry(scene: Scene, step: Step) -> BindingEntry:
    """The entry of a binding step."""
    settings = step.settings
    assert isinstance(settings, BindingSettings)
    fields: dict[str, Any] = {name: getattr(step, name) for name in _STEP_FIELDS}
    if isinstance(settings, SpaceSettings):
        spaces = [_space_entry(scene, space) for space in settings.spaces]
        return SpacesEntry(**{**asdict(settings), **fields, "spaces": spaces})
    names = {part.id: part.name for part in scene.parts.values()}
    if isinstance(settings, LeadSettings):
        names = {lead.id: lead.name for lead in scene.leads.values()}
    data = asdict(read_parts_followed(settings, names))
    return _ENTRIES.validate_python({**data, **fields})


def binding_settings(
    entry: BindingEntry, parts: Mapping[str, str], leads: Mapping[str, str]
) -> BindingSettings:
    """The settings of an entry.

    Args:
        entry: with names.
        parts, leads: identities by name.

    Raises:
        Refusal: when a name stands for nothing.
    """
    if isinstance(entry, SpacesEntry):
        spaces = tuple(_space(space, parts) for space in entry.spaces)
        data = entry.model_dump(exclude=_STEP_FIELDS | {"spaces"})
        return TypeAdapter(SpaceSettings).validate_python({**data, "spaces": spaces})
    settings = _SETTINGS.validate_python(entry.model_dump(exclude=_STEP_FIELDS))
    if isinstance(settings, LeadSettings):
        return read_parts_followed(settings, _Known(leads, "lead group"))
    return read_parts_followed(settings, _Known(parts, "part"))


class _Known(dict[str, str]):
    """Identities by name; a name that stands for nothing is refused."""

    def __init__(self, ids: Mapping[str, str], what: str) -> None:
        super().__init__(ids)
        self._what = what

    def get(self, name: str, default: Any = None) -> Any:
        if name not in self:
            near = nearest_names(name, self)
            raise Refusal(f"there is no {self._what} {name!r}.", nearest=near)
        return self[name]


def _space_entry(scene: Scene, space: str) -> SpaceEntry:
    if space == "":
        return SpaceEntry(kind="parent")
    if space == WORLD_KEY:
        return SpaceEntry(kind="world")
    return SpaceEntry(kind="part", part=scene.parts[space].name)


def _space(entry: SpaceEntry, parts: Mapping[str, str]) -> str:
    if entry.kind == "part":
        return str(_Known(parts, "part").get(entry.part or ""))
    if entry.kind == "local":
        raise Refusal("a list of spaces holds the parent, the world and parts.", place="spaces")
    return "" if entry.kind == "parent" else WORLD_KEY
