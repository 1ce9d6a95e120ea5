"""Edits of the rows of driven keys: channels, cells, shapes."""

from __future__ import annotations

from collections.abc import Callable, Iterable
from dataclasses import dataclass, replace
from typing import Literal

from bindu.core.counted import counted
from bindu.core.curves.keys import changed_keys, with_keys
from bindu.core.curves.model import Curve, Interpolation, Key, Outside
from bindu.core.curves.operations import TangentChange, with_interpolation, with_tangents
from bindu.core.edits.base import (
    finite,
    found_channel,
    found_part,
    found_step,
    named,
    refuse_readers,
    unlocked,
    weights_of,
    without_steps,
    writers_of,
    written,
)
from bindu.core.edits.keys import KeyChange, with_changes
from bindu.core.edits.steps import AddStep
from bindu.core.refusal import Refusal
from bindu.core.scene.changes import with_step
from bindu.core.scene.channels import ChannelRef
from bindu.core.scene.model import Scene
from bindu.core.scene.names import channel_name, channel_names
from bindu.core.scene.parts import Step
from bindu.core.scene.settings import DrivenSettings, FormulaMode
from bindu.core.scene.things import DrivenKeys
from bindu.core.steps.driven.driven_keys import check_outside


@dataclass(frozen=True)
class Cell:
    """What a row is to be at a stop."""

    row: str
    stop: float
    value: float


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
            raise Refusal(
                "choose the channels that it is to drive.", code="choice", place=driven.name
            )
        there = {written(row)[0] for row in scene.rows_of.get(driven.id, ())}
        still = 1.0 if self.mode == "scale" else 0.0
        for part, channel in dict.fromkeys(self.channels):
            ref = unlocked(scene, found_channel(scene, part, channel))
            if ref in there:
                continue
            value = scene.set_value(ref) if self.mode == "set" else still
            mapping = with_keys(None, [Key(stop, value) for stop in driven.stops])
            scene = with_row(scene, ref, DrivenSettings(channel, driven.id, mapping, self.mode))
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
        return without_rows(scene, [found_row(scene, row) for row in self.rows], "row")


@dataclass(frozen=True)
class PutCells:
    """Gives rows values at stops."""

    cells: tuple[Cell, ...]
    do: Literal["put cells"] = "put cells"

    def label(self, scene: Scene) -> str:
        """See ``Edit``."""
        if len(self.cells) == 1:
            cell = self.cells[0]
            name = named(scene, written(found_row(scene, cell.row))[0])
            return f"{name} = {cell.value:g} at {cell.stop:g}"
        return f"put {counted(len(self.cells), 'cell')}"

    def apply(self, scene: Scene) -> Scene:
        """See ``Edit``."""
        by_row: dict[str, dict[float, float]] = {}
        for cell in self.cells:
            by_row.setdefault(cell.row, {})[cell.stop] = finite(cell.value, "cell")
        for row, values in by_row.items():

            def filled(mapping: Curve, values: dict[float, float] = values) -> Curve:
                changes = {f: replace(key_at_stop(mapping, f), value=v) for f, v in values.items()}
                return changed_keys(mapping, changes)

            scene = reshaped(scene, row, filled)
        return scene


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
            scene = reshaped(scene, row, self._shaped, self.mode)
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
class CopyRows:
    """Copies rows onto other parts, each for the channel of the same name."""

    rows: tuple[str, ...]
    parts: tuple[str, ...]
    do: Literal["copy rows"] = "copy rows"

    def label(self, scene: Scene) -> str:
        """See ``Edit``."""
        return f"copy {_counted(scene, self.rows)} to {counted(len(self.parts), 'part')}"

    def apply(self, scene: Scene) -> Scene:
        """See ``Edit``."""
        for row_id in self.rows:
            row = found_row(scene, row_id)
            name = channel_name(scene, written(row)[0])
            for part in self.parts:
                channel = channel_names(scene, found_part(scene, part).id).get(name)
                if channel is None:
                    raise Refusal(
                        f"it has no channel {name!r}.", code="unknown", place=scene.parts[part].name
                    )
                assert isinstance(row.settings, DrivenSettings)
                settings = replace(row.settings, channel=channel)
                ref = unlocked(scene, ChannelRef(part, channel))
                same = [r for r in scene.rows_of[settings.driven] if ref in written(r)]
                if same:
                    scene = reshaped(scene, same[0].id, lambda _, s=settings: s.mapping)  # type: ignore[misc]
                else:
                    scene = with_row(scene, ref, settings)
        return scene


RowEdit = AddRows | RemoveRows | PutCells | ShapeRows | CopyRows


def found_driven(scene: Scene, driven: str) -> DrivenKeys:
    """The set of driven keys with this id.

    Raises:
        Refusal: when there is none any more.
    """
    if driven not in scene.driven:
        raise Refusal(f"there is no set {driven!r} of driven keys any more.", code="gone")
    return scene.driven[driven]


def found_row(scene: Scene, row: str) -> Step:
    """The step that is this row.

    Raises:
        Refusal: when it is another step.
    """
    step = found_step(scene, row)
    if not isinstance(step.settings, DrivenSettings):
        raise Refusal("it is no row of driven keys.", place=step.name)
    return step


def with_row(scene: Scene, ref: ChannelRef, settings: DrivenSettings) -> Scene:
    """The scene with one more row, named after its set; where the part has a step of that name,
    the channel's name is added."""
    taken = channel_names(scene, ref.part)
    name = scene.driven[settings.driven].name
    if f"{name}.weight" in taken:
        name = f"{name} {channel_name(scene, ref).replace('.', ' ')}"
    return AddStep(ref.part, name, settings, "driven").apply(scene)


def without_rows(scene: Scene, rows: Iterable[Step], what: str) -> Scene:
    """The scene without these rows, the steps that write their weights among them."""
    gone = {row.id for row in rows}
    gone |= writers_of(scene, weights_of(scene, gone))
    refuse_readers(scene, set(), weights_of(scene, gone), gone, what)
    return without_steps(scene, gone)


def key_at_stop(mapping: Curve, stop: float) -> Key:
    """A mapping's key at a stop.

    Raises:
        Refusal: when there is no such stop.
    """
    key = mapping.key_at(stop)
    if key is None:
        raise Refusal(f"there is no stop at {stop:g}.", code="unknown")
    return key


def reshaped(
    scene: Scene, row: str, work: Callable[[Curve], Curve], mode: FormulaMode | None = None
) -> Scene:
    """The scene with a row\'s mapping changed, and perhaps how it writes.

    Raises:
        Refusal: when the mapping cannot be, with the channel's name.
    """
    step = found_row(scene, row)
    settings = step.settings
    assert isinstance(settings, DrivenSettings)
    try:
        made = replace(settings, mapping=work(settings.mapping), mode=mode or settings.mode)
    except Refusal as refusal:
        raise refusal.at(named(scene, written(step)[0])) from None
    return with_step(scene, replace(step, settings=made))


def _counted(scene: Scene, rows: tuple[str, ...]) -> str:
    if len(rows) == 1:
        return named(scene, written(found_row(scene, rows[0]))[0])
    return counted(len(rows), "row")
