"""Edits of driven keys: sets, stops, rows, cells."""

from __future__ import annotations

from collections.abc import Callable, Iterable
from dataclasses import dataclass, replace
from typing import Literal

from bindu.core.curves.keys import changed_keys, with_inserted_key, with_keys, without_keys
from bindu.core.curves.model import Curve, Interpolation, Key, Outside
from bindu.core.curves.operations import TangentChange, with_interpolation, with_tangents
from bindu.core.driven import captured, mirrored_rows
from bindu.core.edits.base import (
    finite,
    found_channel,
    found_part,
    found_step,
    named,
    new_id,
    refuse_readers,
    unlocked,
    weights_of,
    within,
    without_steps,
    written,
)
from bindu.core.edits.keys import KeyChange, with_changes
from bindu.core.edits.steps import AddStep
from bindu.core.formula.references import to_identities
from bindu.core.refusal import Refusal
from bindu.core.scene.channels import ChannelRef
from bindu.core.scene.model import DrivenKeys, DrivenSettings, FormulaMode, Scene, Step
from bindu.core.scene.names import channel_name, channel_names, check_name
from bindu.core.steps.driven import check_outside

MOST_DRIVEN = 1_000
MOST_STOPS = 200


@dataclass(frozen=True)
class Cell:
    """What a row is to be at a stop."""

    row: str
    stop: float
    value: float


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
            raise Refusal(f"a scene holds at most {MOST_DRIVEN:,} sets of driven keys.")
        stops = tuple(sorted({finite(stop, "stops") for stop in self.stops}))
        if not 1 <= len(stops) <= MOST_STOPS or len(stops) < len(self.stops):
            raise Refusal(f"give 1 to {MOST_STOPS} different stops.", place=self.name)
        made = DrivenKeys(new_id("d", scene.driven, self.id), _free_name(scene, self.name))
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
        scene = _without_rows(scene, scene.rows_of.get(driven.id, ()), driven.name)
        return replace(scene, driven={i: d for i, d in scene.driven.items() if i != driven.id})


@dataclass(frozen=True)
class AddRows:
    """Adds rows for channels; they change nothing until a cell is set."""

    driven: str
    channels: tuple[ChannelRef, ...]
    mode: FormulaMode = "add"
    do: Literal["add rows"] = "add rows"

    def label(self, scene: Scene) -> str:
        """See ``Edit``."""
        count = len(self.channels)
        what = named(scene, self.channels[0]) if count == 1 else f"{count} rows"
        return f"add {what} to “{found_driven(scene, self.driven).name}”"

    def apply(self, scene: Scene) -> Scene:
        """See ``Edit``."""
        driven = found_driven(scene, self.driven)
        if not self.channels:
            raise Refusal("choose the channels that it is to drive.", place=driven.name)
        there = {written(row) for row in scene.rows_of.get(driven.id, ())}
        still = 1.0 if self.mode == "scale" else 0.0
        for part, channel in dict.fromkeys(self.channels):
            ref = unlocked(scene, found_channel(scene, part, channel))
            if ref in there:
                continue
            value = scene.set_value(ref) if self.mode == "set" else still
            mapping = with_keys(None, [Key(stop, value) for stop in driven.stops])
            scene = _with_row(scene, ref, DrivenSettings(channel, driven.id, mapping, self.mode))
        return scene


@dataclass(frozen=True)
class RemoveRows:
    """Takes rows away."""

    rows: tuple[str, ...]
    do: Literal["remove rows"] = "remove rows"

    def label(self, scene: Scene) -> str:
        """See ``Edit``."""
        return f"delete {_counted(scene, self.rows)}"

    def apply(self, scene: Scene) -> Scene:
        """See ``Edit``."""
        return _without_rows(scene, [found_row(scene, row) for row in self.rows], "row")


@dataclass(frozen=True)
class PutCells:
    """Gives rows values at stops."""

    cells: tuple[Cell, ...]
    do: Literal["put cells"] = "put cells"

    def label(self, scene: Scene) -> str:
        """See ``Edit``."""
        if len(self.cells) == 1:
            cell = self.cells[0]
            name = named(scene, written(found_row(scene, cell.row)))
            return f"{name} = {cell.value:g} at {cell.stop:g}"
        return f"put {len(self.cells)} cells"

    def apply(self, scene: Scene) -> Scene:
        """See ``Edit``."""
        by_row: dict[str, dict[float, float]] = {}
        for cell in self.cells:
            by_row.setdefault(cell.row, {})[cell.stop] = finite(cell.value, "cell")
        for row, values in by_row.items():

            def filled(mapping: Curve, values: dict[float, float] = values) -> Curve:
                changes = {f: replace(_at_stop(mapping, f), value=v) for f, v in values.items()}
                return changed_keys(mapping, changes)

            scene = _reshaped(scene, row, filled)
        return scene


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
        return f"capture {len(self.values)} channels of “{name}” at {self.stop:g}"

    def apply(self, scene: Scene) -> Scene:
        """See ``Edit``."""
        driven = found_driven(scene, self.driven)
        wanted = {ChannelRef(p, c): finite(v, "capture") for p, c, v in self.values}
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
            raise Refusal(f"there is no stop at {old:g}.", place=driven.name)
        if at in driven.stops:
            raise Refusal(f"there is a stop at {at:g} already.", place=driven.name)
        if len(driven.stops) >= MOST_STOPS:
            raise Refusal(f"a set holds at most {MOST_STOPS} stops.", place=driven.name)

        def stopped(mapping: Curve) -> Curve:
            if old is None:
                return with_inserted_key(mapping, at)
            return changed_keys(mapping, {old: replace(_at_stop(mapping, old), frame=at)})

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
            raise Refusal(f"there is no stop at {self.stop:g}.", place=driven.name)
        if len(driven.stops) == 1:
            raise Refusal("it is the last stop; delete the set instead.", place=driven.name)
        stops = tuple(stop for stop in driven.stops if stop != self.stop)
        return _with_stops(scene, driven, stops, lambda m: without_keys(m, [self.stop]))


@dataclass(frozen=True)
class ShapeRows:
    """Changes how rows run between and outside their stops, and how they write.

    ``stops``: at which stops; None for all. ``changes`` bend single keys, as with a curve.
    """

    rows: tuple[str, ...]
    stops: tuple[float, ...] | None = None
    interpolation: Interpolation | None = None
    tangents: TangentChange | None = None
    before: Outside | None = None
    after: Outside | None = None
    mode: FormulaMode | None = None
    changes: tuple[KeyChange, ...] = ()
    do: Literal["shape rows"] = "shape rows"

    def label(self, scene: Scene) -> str:
        """See ``Edit``."""
        what = self.mode or self.interpolation or (self.tangents and f"{self.tangents} tangents")
        return f"{what or 'shape'}: {_counted(scene, self.rows)}"

    def apply(self, scene: Scene) -> Scene:
        """See ``Edit``."""
        for row in self.rows:
            scene = _reshaped(scene, row, self._shaped, self.mode)
        return scene

    def _shaped(self, mapping: Curve) -> Curve:
        stops = tuple(k.frame for k in mapping.keys) if self.stops is None else self.stops
        if self.interpolation is not None:
            mapping = with_interpolation(mapping, stops, self.interpolation)
        if self.tangents is not None:
            mapping = with_tangents(mapping, stops, self.tangents)
        if any(change.to_frame is not None for change in self.changes):
            raise Refusal("a row's keys stay at their stops; move the stop instead.")
        if self.changes:
            mapping = with_changes(mapping, self.changes)
        before, after = self.before or mapping.before, self.after or mapping.after
        made = replace(mapping, before=before, after=after)
        check_outside(made)
        return made


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
                value = _at_stop(row.settings.mapping, self.stop).value
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
        made = replace(driven, id=new_id("d", scene.driven), driver=driver)
        made = replace(made, name=_free_name(scene, self.name))
        scene = replace(scene, driven=within(scene.driven, made.id, made))
        for ref, settings in rows:
            scene = _with_row(scene, ref, replace(settings, driven=made.id))
        return scene


@dataclass(frozen=True)
class CopyRows:
    """Copies rows onto other parts, each for the channel of the same name."""

    rows: tuple[str, ...]
    parts: tuple[str, ...]
    do: Literal["copy rows"] = "copy rows"

    def label(self, scene: Scene) -> str:
        """See ``Edit``."""
        return f"copy {_counted(scene, self.rows)} to {len(self.parts)} parts"

    def apply(self, scene: Scene) -> Scene:
        """See ``Edit``."""
        for row_id in self.rows:
            row = found_row(scene, row_id)
            name = channel_name(scene, written(row))
            for part in self.parts:
                channel = channel_names(scene, found_part(scene, part).id).get(name)
                if channel is None:
                    raise Refusal(f"it has no channel {name!r}.", place=scene.parts[part].name)
                settings = replace(row.settings, channel=channel)
                assert isinstance(settings, DrivenSettings)
                ref = unlocked(scene, ChannelRef(part, channel))
                same = [r for r in scene.rows_of[settings.driven] if written(r) == ref]
                if same:
                    scene = _reshaped(scene, same[0].id, lambda _, s=settings: s.mapping)  # type: ignore[misc]
                else:
                    scene = _with_row(scene, ref, settings)
        return scene


DrivenEdit = (
    AddDriven
    | ChangeDriven
    | RemoveDriven
    | AddRows
    | RemoveRows
    | PutCells
    | CaptureStop
    | PutStop
    | RemoveStop
    | ShapeRows
    | ScaleStop
    | MirrorDriven
    | CopyRows
)


def found_driven(scene: Scene, driven: str) -> DrivenKeys:
    """The set of driven keys with this id."""
    if driven not in scene.driven:
        raise Refusal(f"there is no set {driven!r} of driven keys any more.")
    return scene.driven[driven]


def found_row(scene: Scene, row: str) -> Step:
    """The step that is this row."""
    step = found_step(scene, row)
    if not isinstance(step.settings, DrivenSettings):
        raise Refusal("it is no row of driven keys.", place=step.name)
    return step


def _free_name(scene: Scene, name: str) -> str:
    check_name(name, "name of driven keys")
    if any(driven.name == name for driven in scene.driven.values()):
        raise Refusal("there are driven keys with this name already.", place=name)
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


def _with_row(scene: Scene, ref: ChannelRef, settings: DrivenSettings) -> Scene:
    """The scene with one more row, named after its set; where the part has a step of that name,
    the channel's name is added."""
    taken = channel_names(scene, ref.part)
    name = scene.driven[settings.driven].name
    if f"{name}.weight" in taken:
        name = f"{name} {channel_name(scene, ref).replace('.', ' ')}"
    return AddStep(ref.part, name, settings, "driven").apply(scene)


def _without_rows(scene: Scene, rows: Iterable[Step], what: str) -> Scene:
    gone = {row.id for row in rows}
    weights = weights_of(scene, gone)
    gone |= {s.id for s in scene.steps.values() if written(s) in weights}
    refuse_readers(scene, set(), weights_of(scene, gone), gone, what)
    return without_steps(scene, gone)


def _at_stop(mapping: Curve, stop: float) -> Key:
    key = mapping.key_at(stop)
    if key is None:
        raise Refusal(f"there is no stop at {stop:g}.")
    return key


def _reshaped(
    scene: Scene, row: str, work: Callable[[Curve], Curve], mode: FormulaMode | None = None
) -> Scene:
    step = found_row(scene, row)
    settings = step.settings
    assert isinstance(settings, DrivenSettings)
    try:
        made = replace(settings, mapping=work(settings.mapping), mode=mode or settings.mode)
    except Refusal as refusal:
        raise refusal.at(named(scene, written(step))) from None
    return replace(scene, steps=within(scene.steps, row, replace(step, settings=made)))


def _with_stops(
    scene: Scene, driven: DrivenKeys, stops: tuple[float, ...], work: Callable[[Curve], Curve]
) -> Scene:
    for row in scene.rows_of.get(driven.id, ()):
        scene = _reshaped(scene, row.id, work)
    made = replace(driven, stops=stops)
    return replace(scene, driven=within(scene.driven, made.id, made))


def _counted(scene: Scene, rows: tuple[str, ...]) -> str:
    if len(rows) == 1:
        return named(scene, written(found_row(scene, rows[0])))
    return f"{len(rows)} rows"
