"""Things of a scene to and from the JSON of their rows."""

from __future__ import annotations

import json
from collections.abc import Mapping
from typing import Any

from pydantic import TypeAdapter
from sqlalchemy import delete, insert, select, update
from sqlalchemy.orm import Session

from bindu.core.edits.patch import Change, Patch, Table, key_text
from bindu.core.scene.channels import ChannelRef
from bindu.core.scene.tables import TABLES
from bindu.store.models import CurveRow, PartRow, ThingRow

Row = PartRow | CurveRow | ThingRow
_THINGS: Mapping[Table, TypeAdapter[Any]] = {
    table: TypeAdapter(kind) for table, kind in TABLES.items()
}
_OWN_TABLES: Mapping[Table, type[PartRow | CurveRow]] = {"parts": PartRow, "curves": CurveRow}


def read_tables(session: Session, scene_id: int) -> dict[Table, dict[Any, Any]]:
    """All things of a scene, by table and key."""
    found: dict[Table, dict[Any, Any]] = {table: {} for table in TABLES}
    for table, model in _OWN_TABLES.items():
        rows = session.execute(select(model.key, model.data).where(model.scene_id == scene_id))
        found[table] = {key_of(table, key): thing_of(table, data) for key, data in rows}
    rows_of_things = select(ThingRow.kind, ThingRow.key, ThingRow.data)
    for kind, key, data in session.execute(rows_of_things.where(ThingRow.scene_id == scene_id)):
        found[kind][key] = thing_of(kind, data)
    return found


def write_patch(session: Session, scene_id: int, patch: Patch) -> None:
    """Writes what a patch changes: one row for each thing."""
    new: dict[type[Row], list[dict[str, Any]]] = {}
    for change in patch:
        if change.table == "scene":
            continue
        model = _OWN_TABLES.get(change.table, ThingRow)
        key = {"scene_id": scene_id, "key": key_text(change.key)}
        if model is ThingRow:
            key["kind"] = change.table
        this = [getattr(model, name) == value for name, value in key.items()]
        if change.after is None:
            session.execute(delete(model).where(*this))
        elif change.before is None:
            row = {**key, "data": thing_json(change.table, change.after)}
            new.setdefault(model, []).append(row)
        else:
            data = thing_json(change.table, change.after)
            session.execute(update(model).where(*this).values(data=data))
    for model, rows in new.items():
        session.execute(insert(model), rows)


def thing_json(table: Table, thing: Any) -> str:
    """A thing's row data."""
    return _THINGS[table].dump_json(thing).decode()


def thing_of(table: Table, data: str) -> Any:
    """The thing of a row's data."""
    return _THINGS[table].validate_json(data)


def key_of(table: Table, text: str) -> str | ChannelRef:
    """The key by which a scene finds the thing of a row."""
    return ChannelRef(*text.split("/", 1)) if table == "curves" else text


def patch_json(patch: Patch) -> str:
    """A patch as text."""
    return json.dumps(
        [
            [c.table, key_text(c.key), _side(c.table, c.before), _side(c.table, c.after)]
            for c in patch
        ]
    )


def patch_of(text: str) -> Patch:
    """The patch of a text."""
    return tuple(
        Change(table, key_of(table, key), _thing(table, before), _thing(table, after))
        for table, key, before, after in json.loads(text)
    )


def _side(table: Table, thing: Any) -> Any:
    if thing is None or table == "scene":
        return thing
    return _THINGS[table].dump_python(thing, mode="json")


def _thing(table: Table, data: Any) -> Any:
    if data is None or table == "scene":
        return data
    return _THINGS[table].validate_python(data)
