"""Edits of sets of driven keys, and of their stops."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass, replace
from itertools import pairwise
from typing import Literal

from bindu.core.counted import counted
from bindu.core.curves.keys import changed_keys, with_inserted_key, without_keys
from bindu.core.curves.model import Curve
from bindu.core.drivers.sheets import captured, mirrored_rows
from bindu.core.edits.base import (
    finite,
    found_channel,
    identities,
    new_id,
    within,
)
from bindu.core.edits.rows import (
    Cell,
    PutCells,
    found_driven,
    key_at_stop,
    reshaped,
    with_row,
    without_rows,
)
from bindu.core.formula.references import to_identities
from bindu.core.refusal import Refusal
from bindu.core.scene.model import Scene
from bindu.core.scene.names import check_name
from bindu.core.scene.settings import DrivenSettings
from bindu.core.scene.things import DrivenKeys

MOST_DRIVEN = 1_000
MOST_STOPS = 200


@dataclass(frozen=True)
class AddDriven:
    """Adds a set of driven keys without rows; references in the driver are written by name."""

    name: str
    driver: str = "0"
    low: float = 0.0
    high: float = 1.0
    stops: tuple[float, ...] = (0.0, 1.0)
    id: str | None = None
    do: Literal["add driven keys"] = "add driven keys"

    def label(self, scene: Scene) -> str:
        """See ``Edit``."""
        return f"add driven keys “{self.name}”"

    def apply(self, scene: Scene) -> Scene:
        """See ``Edit``."""
        if len(scene.driven) >= MOST_DRIVEN:
            raise Refusal(
                f"a scene holds at most {MOST_DRIVEN:,} sets of driven keys.", code="too much"
            )
        stops = tuple(finite(stop, "stops") for stop in self.stops)
        rising = all(a < b for a, b in pairwise(stops))
        if not 1 <= len(stops) <= MOST_STOPS or not rising:
            text = f"give 1 to {MOST_STOPS} different stops, the lowest first."
            raise Refusal(text, code="too much", place=self.name)
        made = DrivenKeys(
            new_id("d", scene.driven, self.id, identities(scene)), _free_name(scene, self.name)
        )
        made = replace(made, driver=_driver(scene, self.driver, self.name), stops=stops)
        made = _ranged(made, self.low, self.high)
        return replace(scene, driven=within(scene.driven, made.id, made))


@dataclass(frozen=True)
class ChangeDriven:
    """Renames a set, gives it another driver (references by name) or range."""

    driven: str
    name: str | None = None
    driver: str | None = None
    low: float | None = None
    high: float | None = None
    do: Literal["change driven keys"] = "change driven keys"

    def label(self, scene: Scene) -> str:
        """See ``Edit``."""
        name = found_driven(scene, self.driven).name
        what = "driver" if self.driver is not None else "name" if self.name else "range"
        return f"change the {what} of “{name}”"

    def apply(self, scene: Scene) -> Scene:
        """See ``Edit``."""
        driven = found_driven(scene, self.driven)
        if self.name is not None and self.name != driven.name:
            driven = replace(driven, name=_free_name(scene, self.name))
        if self.driver is not None:
            driven = replace(driven, driver=_driver(scene, self.driver, driven.name))
        low = driven.low if self.low is None else self.low
        high = driven.high if self.high is None else self.high
        driven = _ranged(driven, low, high)
        return replace(scene, driven=within(scene.driven, driven.id, driven))


@dataclass(frozen=True)
class RemoveDriven:
    """Takes a set away with its rows."""

    driven: str
    do: Literal["remove driven keys"] = "remove driven keys"

    def label(self, scene: Scene) -> str:
        """See ``Edit``."""
        return f"delete driven keys “{found_driven(scene, self.driven).name}”"

    def apply(self, scene: Scene) -> Scene:
        """See ``Edit``."""
        driven = found_driven(scene, self.driven)
        scene = without_rows(scene, scene.rows_of.get(driven.id, ()), driven.name)
        return replace(scene, driven={i: d for i, d in scene.driven.items() if i != driven.id})


@dataclass(frozen=True)
class CaptureStop:
    """Sets the cells of a stop so that rows' channels come to wanted values right after zone
    Driven, as a pose on a frame shows them; other drivers keep their share."""

    driven: str
    stop: float
    frame: float
    values: tuple[tuple[str, str, float], ...]
    do: Literal["capture stop"] = "capture stop"

    def label(self, scene: Scene) -> str:
        """See ``Edit``."""
        name = found_driven(scene, self.driven).name
        return f"capture {counted(len(self.values), 'channel')} of “{name}” at {self.stop:g}"

    def apply(self, scene: Scene) -> Scene:
        """See ``Edit``."""
        driven = found_driven(scene, self.driven)
        wanted = {found_channel(scene, p, c): finite(v, "capture") for p, c, v in self.values}
        cells = captured(scene, driven, self.stop, self.frame, wanted)
        return PutCells(tuple(Cell(row, self.stop, v) for row, v in cells.items())).apply(scene)


@dataclass(frozen=True)
class PutStop:
    """Adds a stop, the shape of every row kept; with ``old``, moves that stop instead."""

    driven: str
    stop: float
    old: float | None = None
    do: Literal["put stop"] = "put stop"

    def label(self, scene: Scene) -> str:
        """See ``Edit``."""
        name = found_driven(scene, self.driven).name
        if self.old is None:
            return f"add the stop {self.stop:g} to “{name}”"
        return f"move the stop {self.old:g} of “{name}” to {self.stop:g}"

    def apply(self, scene: Scene) -> Scene:
        """See ``Edit``."""
        driven, at, old = found_driven(scene, self.driven), finite(self.stop, "stop"), self.old
        if old is not None and old not in driven.stops:
            raise Refusal(f"there is no stop at {old:g}.", code="unknown", place=driven.name)
        if at in driven.stops:
            raise Refusal(f"there is a stop at {at:g} already.", code="taken", place=driven.name)
        if len(driven.stops) >= MOST_STOPS:
            raise Refusal(
                f"a set holds at most {MOST_STOPS} stops.", code="too much", place=driven.name
            )

        def stopped(mapping: Curve) -> Curve:
            if old is None:
                return with_inserted_key(mapping, at)
            return changed_keys(mapping, {old: replace(key_at_stop(mapping, old), frame=at)})

        stops = tuple(sorted({at, *driven.stops} - {old}))
        return _with_stops(scene, driven, stops, stopped)


@dataclass(frozen=True)
class RemoveStop:
    """Takes a stop away from all rows."""

    driven: str
    stop: float
    do: Literal["remove stop"] = "remove stop"

    def label(self, scene: Scene) -> str:
        """See ``Edit``."""
        return f"delete the stop {self.stop:g} of “{found_driven(scene, self.driven).name}”"

    def apply(self, scene: Scene) -> Scene:
        """See ``Edit``."""
        driven = found_driven(scene, self.driven)
        if self.stop not in driven.stops:
            raise Refusal(f"there is no stop at {self.stop:g}.", code="unknown", place=driven.name)
        if len(driven.stops) == 1:
            raise Refusal("it is the last stop; delete the set instead.", place=driven.name)
        stops = tuple(stop for stop in driven.stops if stop != self.stop)
        return _with_stops(scene, driven, stops, lambda m: without_keys(m, [self.stop]))


@dataclass(frozen=True)
class ScaleStop:
    """Scales the cells of a stop, for all rows or some."""

    driven: str
    stop: float
    factor: float
    rows: tuple[str, ...] | None = None
    do: Literal["scale stop"] = "scale stop"

    def label(self, scene: Scene) -> str:
        """See ``Edit``."""
        name = found_driven(scene, self.driven).name
        return f"scale the stop {self.stop:g} of “{name}” by {self.factor:g}"

    def apply(self, scene: Scene) -> Scene:
        """See ``Edit``."""
        driven, factor = found_driven(scene, self.driven), finite(self.factor, "factor")
        cells = []
        for row in scene.rows_of.get(driven.id, ()):
            assert isinstance(row.settings, DrivenSettings)
            if self.rows is None or row.id in self.rows:
                value = key_at_stop(row.settings.mapping, self.stop).value
                cells.append(Cell(row.id, self.stop, factor * value))
        return PutCells(tuple(cells)).apply(scene)


@dataclass(frozen=True)
class MirrorDriven:
    """Makes a set for the other side: rows of the opposite parts with their signs mirrored, and
    a driver that reads the opposites."""

    driven: str
    name: str
    do: Literal["mirror driven keys"] = "mirror driven keys"

    def label(self, scene: Scene) -> str:
        """See ``Edit``."""
        return f"mirror “{found_driven(scene, self.driven).name}” to “{self.name}”"

    def apply(self, scene: Scene) -> Scene:
        """See ``Edit``."""
        driven = found_driven(scene, self.driven)
        driver, rows = mirrored_rows(scene, driven)
        made = replace(driven, id=new_id("d", scene.driven, None, identities(scene)), driver=driver)
        made = replace(made, name=_free_name(scene, self.name))
        scene = replace(scene, driven=within(scene.driven, made.id, made))
        for ref, settings in rows:
            scene = with_row(scene, ref, replace(settings, driven=made.id))
        return scene


DrivenEdit = (
    AddDriven
    | ChangeDriven
    | RemoveDriven
    | CaptureStop
    | PutStop
    | RemoveStop
    | ScaleStop
    | MirrorDriven
)


def _free_name(scene: Scene, name: str) -> str:
    check_name(name, "name of driven keys")
    if any(driven.name == name for driven in scene.driven.values()):
        raise Refusal("there are driven keys with this name already.", code="taken", place=name)
    return name


def _driver(scene: Scene, text: str, name: str) -> str:
    try:
        return to_identities(scene, text)
    except Refusal as refusal:
        raise refusal.at(f"{name} · driver") from None


def _ranged(driven: DrivenKeys, low: float, high: float) -> DrivenKeys:
    if finite(low, "range") >= finite(high, "range"):
        raise Refusal(f"its range {low:g} … {high:g} must go up.", place=driven.name)
    return replace(driven, low=low, high=high)


def _with_stops(
    scene: Scene, driven: DrivenKeys, stops: tuple[float, ...], work: Callable[[Curve], Curve]
) -> Scene:
    for row in scene.rows_of.get(driven.id, ()):
        scene = reshaped(scene, row.id, work)
    made = replace(driven, stops=stops)
    return replace(scene, driven=within(scene.driven, made.id, made))
