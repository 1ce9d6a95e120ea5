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
    SpaceSettings,
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
    data = asdict(settings.followed(_Names(scene)))
    return _ENTRIES.validate_python({**data, **fields})


def binding_settings(
    entry: BindingEntry, parts: Mapping[str, str], owners: Mapping[str, str]
) -> BindingSettings:
    """The settings of an entry.

    Args:
        entry: with names.
        parts: identities by name.
        owners: those of the lead groups, or of the limbs, whichever it is about.

    Raises:
        Refusal: when a name stands for nothing.
    """
    if isinstance(entry, SpacesEntry):
        spaces = tuple(_space(space, parts) for space in entry.spaces)
        data = entry.model_dump(exclude=_STEP_FIELDS | {"spaces"})
        return TypeAdapter(SpaceSettings).validate_python({**data, "spaces": spaces})
    settings = _SETTINGS.validate_python(entry.model_dump(exclude=_STEP_FIELDS))
    return settings.followed(_Identities(parts, owners))


class _Names:
    """Names in place of identities; see ``Followed``."""

    def __init__(self, scene: Scene) -> None:
        self._scene = scene

    def part(self, old: str) -> str:
        return self._scene.parts[old].name

    def thing(self, old: str) -> str:
        return self._scene.owners[old].name

    def channel(self, old: str) -> str:
        return old

    def text(self, old: str) -> str:
        return old


class _Identities:
    """Identities in place of names; see ``Followed``. A name that stands for nothing is refused."""

    def __init__(self, parts: Mapping[str, str], owners: Mapping[str, str]) -> None:
        self._parts, self._owners = parts, owners

    def part(self, old: str) -> str:
        return _known(self._parts, old, "part")

    def thing(self, old: str) -> str:
        return _known(self._owners, old, "lead group or limb")

    def channel(self, old: str) -> str:
        return old

    def text(self, old: str) -> str:
        return old


def _known(ids: Mapping[str, str], name: str, what: str) -> str:
    if name not in ids:
        raise Refusal(
            f"there is no {what} {name!r}.", code="unknown", nearest=nearest_names(name, ids)
        )
    return ids[name]


def _space_entry(scene: Scene, space: str) -> SpaceEntry:
    if space == "":
        return SpaceEntry(kind="parent")
    if space == WORLD_KEY:
        return SpaceEntry(kind="world")
    return SpaceEntry(kind="part", part=scene.parts[space].name)


def _space(entry: SpaceEntry, parts: Mapping[str, str]) -> str:
    if entry.kind == "part":
        return _known(parts, entry.part or "", "part")
    if entry.kind == "local":
        raise Refusal("a list of spaces holds the parent, the world and parts.", place="spaces")
    return "" if entry.kind == "parent" else WORLD_KEY
