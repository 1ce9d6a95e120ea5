"""Things of a scene to and from the JSON of their rows."""

from __future__ import annotations

import json
from typing import Any

from pydantic import TypeAdapter

from bindu.core.curves.model import Curve
from bindu.core.edits.patch import Change, Patch, Table, key_text
from bindu.core.scene.channels import ChannelRef
from bindu.core.scene.parts import OwnChannel, Part, Step
from bindu.core.scene.things import DrivenKeys, Layer, LeadGroup, Marker, PartSet, Probe, WhatIf
from bindu.store.models import (
    ChannelRow,
    CurveRow,
    DrivenRow,
    LayerRow,
    LeadRow,
    MarkerRow,
    PartRow,
    ProbeRow,
    SetRow,
    StepRow,
    WhatIfRow,
)

Row = (
    PartRow
    | ChannelRow
    | CurveRow
    | StepRow
    | LayerRow
    | SetRow
    | MarkerRow
    | DrivenRow
    | ProbeRow
    | LeadRow
    | WhatIfRow
)
ROWS: dict[Table, type[Row]] = {
    "parts": PartRow,
    "channels": ChannelRow,
    "curves": CurveRow,
    "steps": StepRow,
    "layers": LayerRow,
    "sets": SetRow,
    "markers": MarkerRow,
    "driven": DrivenRow,
    "probes": ProbeRow,
    "leads": LeadRow,
    "what_ifs": WhatIfRow,
}
_THINGS: dict[Table, TypeAdapter[Any]] = {
    "parts": TypeAdapter(Part),
    "channels": TypeAdapter(OwnChannel),
    "curves": TypeAdapter(Curve),
    "steps": TypeAdapter(Step),
    "layers": TypeAdapter(Layer),
    "sets": TypeAdapter(PartSet),
    "markers": TypeAdapter(Marker),
    "driven": TypeAdapter(DrivenKeys),
    "probes": TypeAdapter(Probe),
    "leads": TypeAdapter(LeadGroup),
    "what_ifs": TypeAdapter(WhatIf),
}


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
