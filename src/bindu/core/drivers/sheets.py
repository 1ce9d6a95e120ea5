"""Driven keys looked at as a sheet: what rows make of the driver, and what is odd about them."""

from __future__ import annotations

from collections.abc import Iterator, Mapping
from dataclasses import dataclass, replace

import numpy as np

from bindu.core.clips.clip import ClipPart, matrix_of, mirror_signs, world_rest_axes
from bindu.core.curves.model import Array, Curve, Key, Tangent
from bindu.core.evaluation import Evaluation, evaluated_nodes
from bindu.core.formula.compiler import compiled
from bindu.core.formula.references import with_other_parts
from bindu.core.graph.kinds.channel import tap_node
from bindu.core.placing.reordering import ROTATION
from bindu.core.refusal import Refusal
from bindu.core.scene.channels import ChannelRef
from bindu.core.scene.model import Scene
from bindu.core.scene.names import channel_name, channel_names, full_name, unit_of
from bindu.core.scene.pairs import opposite
from bindu.core.scene.parts import Step
from bindu.core.scene.settings import DrivenSettings
from bindu.core.scene.things import DrivenKeys
from bindu.core.steps.driven.driven_keys import mapped

SAMPLES = 121
SAME = 1e-9


@dataclass(frozen=True)
class RowSheet:
    """A row over the driver: values at ``Sheet.inputs``, and the value at the tried driver."""

    row: Step
    values: Array
    now: float


@dataclass(frozen=True)
class SheetFinding:
    """Something odd about a set or, with ``row``, about one of its rows."""

    row: str | None
    text: str


@dataclass(frozen=True)
class Sheet:
    """A set of driven keys over the range of its driver.

    Attributes:
        inputs: driver values from end to end, shape (N,).
        driver: the driver on each frame, shape (F,) or (1,).
        at: the driver value that ``now`` is for.
    """

    driven: DrivenKeys
    inputs: Array
    driver: Array
    at: float
    rows: tuple[RowSheet, ...]
    findings: tuple[SheetFinding, ...]


def sheet_of(evaluation: Evaluation, driven: DrivenKeys, at: float) -> Sheet:
    """The sheet of a set in an evaluated scene."""
    scene = evaluation.scene
    low = min(driven.low, driven.stops[0])
    high = max(driven.high, driven.stops[-1])
    inputs = np.linspace(low, high, SAMPLES)
    rows = []
    for row in scene.rows_of.get(driven.id, ()):
        mapping = mapping_of(row)
        now = float(mapped(mapping, np.array([at]))[0])
        rows.append(RowSheet(row, mapped(mapping, inputs), now))
    driver = driver_values(evaluation, driven)
    found = [*set_findings(evaluation, driven, driver)]
    for sheet in rows:
        found.extend(row_findings(scene, driven, sheet.row))
    return Sheet(driven, inputs, driver, at, tuple(rows), tuple(found))


def mapping_of(row: Step) -> Curve:
    """The curve of a row over the driver."""
    assert isinstance(row.settings, DrivenSettings)
    return row.settings.mapping


def driver_values(evaluation: Evaluation, driven: DrivenKeys) -> Array:
    """A set's driver on each frame, shape (F,) or (1,)."""
    formula = compiled(driven.driver)
    inputs = [evaluation.read(read) for read in formula.reads]
    return formula.values(inputs, evaluation.times)


def tried(scene: Scene, driven: DrivenKeys, value: float) -> Scene:
    """The scene with a set's driver held at a value."""
    made = replace(driven, driver=repr(float(value)))
    return replace(scene, driven={**scene.driven, driven.id: made})


def captured(
    scene: Scene, driven: DrivenKeys, stop: float, frame: float, wanted: Mapping[ChannelRef, float]
) -> dict[str, float]:
    """What the cells of a stop must be so that channels come to wanted values after Driven.

    A channel's value after Driven is linear in its cell, so two evaluations with the driver at
    the stop give it exactly.

    Raises:
        Refusal: for a channel without a row, or one that a later step sets.
    """
    rows = {ChannelRef(r.part, r.settings.writes[0]): r for r in scene.rows_of.get(driven.id, ())}
    for ref in wanted:
        if ref not in rows:
            text = f"it has no row in {driven.name}; add one first."
            raise Refusal(text, code="in use", place=full_name(scene, ref))
    if stop not in driven.stops:
        raise Refusal(f"there is no stop at {stop:g}.", code="unknown", place=driven.name)
    posed = tried(scene, driven, stop)
    before = _driven_values(posed, tuple(wanted), frame)
    pushed = {rows[ref].id: _pushed(rows[ref], stop, 1.0) for ref in wanted}
    after = _driven_values(replace(posed, steps={**posed.steps, **pushed}), tuple(wanted), frame)
    cells = {}
    for ref, value in wanted.items():
        slope = after[ref] - before[ref]
        if abs(slope) < SAME:
            raise Refusal(
                "this row has no effect here: a weight of 0, or a later step sets the channel.",
                place=full_name(scene, ref),
            )
        key = mapping_of(rows[ref]).key_at(stop)
        assert key is not None
        cells[rows[ref].id] = key.value + (value - before[ref]) / slope
    return cells


def mirrored_rows(
    scene: Scene, driven: DrivenKeys
) -> tuple[str, list[tuple[ChannelRef, DrivenSettings]]]:
    """The driver and the rows of a set for the other side; rows of parts without an opposite are
    left out.

    Raises:
        Refusal: when no row has an opposite, or an opposite lacks the channel.
    """
    others = {part: other for part in scene.parts if (other := opposite(scene, part))}
    made = []
    for row in scene.rows_of.get(driven.id, ()):
        other = others.get(row.part)
        if other is None:
            continue
        assert isinstance(row.settings, DrivenSettings)
        name = channel_name(scene, ChannelRef(row.part, row.settings.writes[0]))
        channel = channel_names(scene, other).get(name)
        if channel is None:
            raise Refusal(
                f"it has no channel {name!r}.", code="unknown", place=scene.parts[other].name
            )
        orders = [scene.parts[part].rotation_order for part in (row.part, other)]
        if name in ROTATION and orders[0] != orders[1]:
            text = f"its rotation order is {orders[1]}, that of {scene.parts[row.part].name} "
            text += f"{orders[0]}: one angle alone has no mirror image; give both one order."
            raise Refusal(text, code="unknown", place=scene.parts[other].name)
        axes = matrix_of(world_rest_axes(scene, row.part))
        source = ClipPart(scene.parts[row.part].name, axes, ())
        sign = mirror_signs(scene, source, other).get(name, 1.0)
        sign = 1.0 if row.settings.mode == "scale" else sign
        mapping = _times(row.settings.mapping, sign)
        made.append(
            (ChannelRef(other, channel), replace(row.settings, channel=channel, mapping=mapping))
        )
    if not made:
        raise Refusal(
            "none of its rows is on a part with an opposite.", code="choice", place=driven.name
        )
    return with_other_parts(scene, driven.driver, others), made


def _driven_values(
    scene: Scene, refs: tuple[ChannelRef, ...], frame: float
) -> dict[ChannelRef, float]:
    nodes = {ref: tap_node(scene, ref, "driven") for ref in refs}
    evaluation = evaluated_nodes(scene, list(nodes.values()))
    place = evaluation.index(frame)
    found = {}
    for ref, node in nodes.items():
        values = evaluation.result(node).values
        found[ref] = float(values[place if len(values) > 1 else 0])
    return found


def _pushed(row: Step, stop: float, by: float) -> Step:
    assert isinstance(row.settings, DrivenSettings)
    keys = row.settings.mapping.keys
    moved = tuple(replace(k, value=k.value + by) if k.frame == stop else k for k in keys)
    mapping = replace(row.settings.mapping, keys=moved)
    return replace(row, settings=replace(row.settings, mapping=mapping))


def _times(curve: Curve, sign: float) -> Curve:
    if sign == 1.0:
        return curve

    def turned(key: Key) -> Key:
        left, right = (Tangent(-t.angle, t.length) for t in (key.left, key.right))
        return replace(key, value=-key.value, left=left, right=right)

    return replace(curve, keys=tuple(turned(key) for key in curve.keys))


def set_findings(
    evaluation: Evaluation, driven: DrivenKeys, driver: Array
) -> Iterator[SheetFinding]:
    """What is odd about a set: a single stop, a driver that leaves its stops."""
    if len(driven.stops) == 1:
        yield SheetFinding(None, "There is one stop only: every row is the same everywhere.")
    first, last = driven.stops[0], driven.stops[-1]
    outside = np.flatnonzero((driver < first - SAME) | (driver > last + SAME))
    if len(outside):
        frames = len(outside) if len(driver) > 1 else len(evaluation.times.frames)
        at, value = evaluation.times.first + int(outside[0]), float(driver[outside[0]])
        text = f"The driver leaves the stops on {frames} frames, first on {at} ({value:.4g})."
        yield SheetFinding(None, text)


def row_findings(scene: Scene, driven: DrivenKeys, row: Step) -> Iterator[SheetFinding]:
    """What is odd about a row: it is flat, turns back, jumps, or barely moves at first."""
    ref = ChannelRef(row.part, row.settings.writes[0])
    name, unit = full_name(scene, ref), unit_of(scene, ref.channel)
    mapping, stops = mapping_of(row), driven.stops
    if len(stops) < 2:
        return
    at_stops = np.array([key.value for key in mapping.keys])
    inside = mapped(mapping, np.linspace(stops[0], stops[-1], 40 * len(stops)))
    reach = float(np.ptp(inside))
    if reach < SAME:
        yield SheetFinding(row.id, f"{name} is flat: {at_stops[0]:.4g}{unit} at every stop.")
        return
    ways = np.diff(inside)
    ways = np.sign(ways[np.abs(ways) > 1e-6 * reach])
    if len(ways) and np.any(ways[1:] != ways[:-1]):
        turn = int(np.flatnonzero(ways[1:] != ways[:-1])[0]) + 1
        at = float(np.linspace(stops[0], stops[-1], 40 * len(stops))[turn])
        yield SheetFinding(row.id, f"{name} turns back near {at:.3g}.")
    for before, key in zip(mapping.keys, mapping.keys[1:], strict=False):
        if before.interpolation == "hold" and abs(key.value - before.value) > SAME:
            jump = key.value - before.value
            yield SheetFinding(row.id, f"{name} jumps by {jump:.4g}{unit} at {key.frame:g}.")
    rises = np.abs(np.diff(at_stops))
    if len(rises) > 1 and rises[0] < 0.02 * reach and rises[0] * 20 < rises[1:].max():
        text = f"{name} barely moves until {stops[1]:g} and then by {rises[1:].sum():.4g}{unit}."
        yield SheetFinding(row.id, text)
