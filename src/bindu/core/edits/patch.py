"""What an edit changed, thing by thing, so that it can be stored and taken back exactly."""

from __future__ import annotations

from collections.abc import Iterator, Mapping
from dataclasses import dataclass, replace
from typing import Any

from bindu.core.scene.channels import ChannelRef
from bindu.core.scene.model import Scene
from bindu.core.scene.tables import TABLES

Table = str
"""``scene``, or one of ``TABLES``."""
HEADER = ("name", "fps", "first", "last")


@dataclass(frozen=True)
class Change:
    """One thing before and after; None where it was or is not there.

    For the table ``scene``, before and after are the fields name, fps, first and last.
    """

    table: Table
    key: str | ChannelRef
    before: Any
    after: Any


Patch = tuple[Change, ...]


def patch_between(old: Scene, new: Scene) -> Patch:
    """What differs between two scenes. Things that both share are passed over unread."""
    changes: list[Change] = []
    before, after = _header(old), _header(new)
    if before != after:
        changes.append(Change("scene", "scene", before, after))
    for table in TABLES:
        changes.extend(_table_changes(table, getattr(old, table), getattr(new, table)))
    return tuple(changes)


def patched(scene: Scene, patch: Patch) -> Scene:
    """The scene with a patch applied."""
    tables: dict[str, dict[Any, Any]] = {}
    header: dict[str, Any] = {}
    for change in patch:
        if change.table == "scene":
            header = change.after
            continue
        table = tables.setdefault(change.table, dict(getattr(scene, change.table)))
        if change.after is None:
            table.pop(change.key, None)
        else:
            table[change.key] = change.after
    fields: dict[str, Any] = {**tables, **header}
    return replace(scene, **fields)


def inverse(patch: Patch) -> Patch:
    """The patch that takes another back."""
    return tuple(replace(change, before=change.after, after=change.before) for change in patch)


def touched(patch: Patch) -> frozenset[tuple[str, str]]:
    """What a patch writes, as (table, key) pairs of text."""
    return frozenset((change.table, key_text(change.key)) for change in patch)


def key_text(key: str | ChannelRef) -> str:
    """A key as one text."""
    return "/".join(key) if isinstance(key, ChannelRef) else key


def _header(scene: Scene) -> dict[str, Any]:
    return {name: getattr(scene, name) for name in HEADER}


def _table_changes(
    table: Table, old: Mapping[Any, Any], new: Mapping[Any, Any]
) -> Iterator[Change]:
    if old is new:
        return
    for key, after in new.items():
        before = old.get(key)
        if before is not after and before != after:
            yield Change(table, key, before, after)
    for key, before in old.items():
        if key not in new:
            yield Change(table, key, before, None)
