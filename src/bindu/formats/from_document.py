"""A document as the edits that make its scene."""

from __future__ import annotations

from collections import Counter
from collections.abc import Iterator, Sequence
from dataclasses import dataclass, replace

from bindu.core.curves.keys import with_keys
from bindu.core.curves.model import Curve, Key, Tangent
from bindu.core.edits import AnyEdit
from bindu.core.edits.channels import AddChannel, SetValue
from bindu.core.edits.driven import AddDriven, ChangeDriven
from bindu.core.edits.keys import PutKeys, SetOutside
from bindu.core.edits.layers import AddLayer, ChangeLayer
from bindu.core.edits.parts import AddPart, LockChannels
from bindu.core.edits.poses import SetDefaultPose
from bindu.core.edits.probes import PutProbe
from bindu.core.edits.scene import ChangeScene
from bindu.core.edits.sets import PairParts, PutMarker, PutSet
from bindu.core.edits.steps import AddStep, ChangeStep
from bindu.core.refusal import Refusal, nearest_names
from bindu.core.scene.channels import (
    BUILT_IN_CHANNELS,
    ChannelRef,
    layer_channel,
    weight_channel,
)
from bindu.core.scene.model import (
    DrivenSettings,
    FormulaSettings,
    GivenSettings,
    LimitSettings,
    Rest,
    Shape,
)
from bindu.formats.document import (
    AnyStepEntry,
    CurveEntry,
    DrivenEntry,
    FormulaEntry,
    KeyEntry,
    LayerEntry,
    LimitEntry,
    PartEntry,
    SceneDocument,
    TangentEntry,
)

Placed = tuple[str, AnyEdit]
"""Where in the document an edit comes from, and the edit."""


@dataclass(frozen=True)
class _Named:
    """A part of the document with the identities of all that it holds."""

    entry: PartEntry
    place: str
    id: str
    channels: dict[str, str]
    steps: list[str]


def scene_edits(document: SceneDocument) -> Iterator[Placed]:
    """The edits that make the document's scene from an empty one.

    Formulas may refer to anything, so steps are added first and get their formulas last.

    Raises:
        Refusal: when a name in the document stands for nothing.
    """
    first, last = document.range
    yield "scene", ChangeScene(name=document.name, fps=document.fps, first=first, last=last)
    layers = _layer_ids(document)
    named = _with_identities(document, layers)
    by_name = {part.entry.name: part for part in named}
    yield from _parts(named)
    for part in named:
        yield from _channels(part)
    for layer in document.layers:
        home = _part_named(by_name, layer.part, f"layers ({layer.name}).part")
        add = AddLayer(layer.name, home.id, layer.mode, layers[layer.name])
        yield f"layers ({layer.name})", add
    driven = _named_ids("d", document.driven)
    for one in document.driven:
        low, high = one.range
        add_set = AddDriven(one.name, "0", low, high, tuple(one.stops), driven[one.name])
        yield f"driven ({one.name})", add_set
    for part in named:
        for step, step_id in zip(part.entry.steps, part.steps, strict=True):
            settings = _settings(part, step, driven)
            if isinstance(settings, FormulaSettings):
                settings = replace(settings, text="0")
            place = f"{part.place}.steps ({step.name})"
            yield place, AddStep(part.id, step.name, settings, step.zone, step_id)
    for part in named:
        yield from _curves(part, layers)
    for part in named:
        yield from _finished_steps(part, driven)
        yield from _pose_and_pair(part, by_name)
        if part.entry.locked:
            locked = tuple(_channel(part, c, "locked") for c in part.entry.locked)
            yield f"{part.place}.locked", LockChannels(part.id, locked)
    for one in document.driven:
        yield f"driven ({one.name})", ChangeDriven(driven[one.name], driver=one.driver)
    yield from _around(document, by_name)


def _around(document: SceneDocument, by_name: dict[str, _Named]) -> Iterator[Placed]:
    """Sets, markers, and which layers are heard."""
    for layer in document.layers:
        layer_id = _layer_ids(document)[layer.name]
        yield f"layers ({layer.name})", ChangeLayer(layer_id, on=layer.on, solo=layer.solo)
    for one in document.sets:
        place = f"sets ({one.name})"
        parts = tuple(_part_named(by_name, name, place).id for name in one.parts)
        channels = []
        for name in one.channels:
            part_name, _, channel = name.partition(".")
            part = _part_named(by_name, part_name, place)
            channels.append(ChannelRef(part.id, _channel(part, channel, place)))
        yield place, PutSet(one.name, one.colour, parts, tuple(channels), one.id)
    for probe in document.probes:
        place = f"probes ({probe.name})"
        ground = _part_named(by_name, probe.ground, place).id if probe.ground is not None else None
        part_id = _part_named(by_name, probe.part, place).id
        put = PutProbe(probe.name, part_id, probe.point, probe.rolling, ground, probe.id)
        yield place, put
    for n, marker in enumerate(document.markers):
        yield f"markers[{n}]", PutMarker(marker.frame, marker.label, marker.id)


def _pose_and_pair(part: _Named, by_name: dict[str, _Named]) -> Iterator[Placed]:
    if part.entry.pose:
        values = {_channel(part, c, "pose"): v for c, v in part.entry.pose.items()}
        yield f"{part.place}.pose", SetDefaultPose((part.id,), values=values)
    if part.entry.pair is not None:
        pair = _part_named(by_name, part.entry.pair, f"{part.place}.pair")
        yield f"{part.place}.pair", PairParts(part.id, pair.id)


def _part_named(by_name: dict[str, _Named], name: str, place: str) -> _Named:
    if name not in by_name:
        near = nearest_names(name, by_name)
        raise Refusal(f"there is no part {name!r}.", place=place, nearest=near)
    return by_name[name]


def _layer_ids(document: SceneDocument) -> dict[str, str]:
    """The layers' identities by their names."""
    return _named_ids("l", document.layers)


def _named_ids(prefix: str, entries: Sequence[LayerEntry | DrivenEntry]) -> dict[str, str]:
    """Identities by name."""
    ids = _Ids(prefix)
    for entry in entries:
        ids.reserve(entry.id)
    return {entry.name: ids.given_or_new(entry.id) for entry in entries}


def _with_identities(document: SceneDocument, layers: dict[str, str]) -> list[_Named]:
    parts, channels, steps = _Ids("p"), _Ids("c"), _Ids("s")
    for entry in document.parts:
        parts.reserve(entry.id)
        for channel in entry.channels:
            channels.reserve(channel.id)
        for step in entry.steps:
            steps.reserve(step.id)
    found = []
    for n, entry in enumerate(document.parts):
        step_ids = [steps.given_or_new(step.id) for step in entry.steps]
        own = {c.name: channels.given_or_new(c.id) for c in entry.channels}
        weights = {
            f"{step.name}.weight": weight_channel(i)
            for step, i in zip(entry.steps, step_ids, strict=True)
        }
        weights |= {
            f"{layer.name}.weight": weight_channel(layers[layer.name])
            for layer in document.layers
            if layer.part == entry.name
        }
        known = {**{c: c for c in BUILT_IN_CHANNELS}, **own, **weights}
        place = f"parts[{n}] ({entry.name[:40]})"
        found.append(_Named(entry, place, parts.given_or_new(entry.id), known, step_ids))
    return found


class _Ids:
    """Gives out identities that the document does not use itself."""

    def __init__(self, prefix: str) -> None:
        self._prefix, self._taken, self._next = prefix, set[str](), 1

    def reserve(self, given: str | None) -> None:
        if given is not None:
            self._taken.add(given)

    def given_or_new(self, given: str | None) -> str:
        if given is not None:
            return given
        while f"{self._prefix}{self._next}" in self._taken:
            self._next += 1
        self._next += 1
        return f"{self._prefix}{self._next - 1}"


def _parts(named: list[_Named]) -> Iterator[Placed]:
    by_name = {part.entry.name: part.id for part in named}
    seen: set[str] = set()
    for part in named:
        entry = part.entry
        if entry.parent is not None and entry.parent not in seen:
            if entry.parent in by_name:
                text = "a parent must stand before its children; a part is never its own ancestor."
                raise Refusal(text, place=f"{part.place}.parent")
            near = nearest_names(entry.parent, by_name)
            raise Refusal(
                f"there is no part {entry.parent!r}.", place=f"{part.place}.parent", nearest=near
            )
        seen.add(entry.name)
        yield (
            part.place,
            AddPart(
                entry.name,
                by_name[entry.parent] if entry.parent is not None else None,
                entry.role,
                entry.side,
                Rest(entry.rest.translation, entry.rest.rotation),
                entry.rotation_order,
                Shape(entry.shape.kind, entry.shape.size, entry.shape.offset, entry.shape.colour),
                part.id,
            ),
        )


def _channels(part: _Named) -> Iterator[Placed]:
    for channel in part.entry.channels:
        yield (
            f"{part.place}.channels",
            AddChannel(
                part.id,
                channel.name,
                channel.kind,
                channel.default,
                channel.low,
                channel.high,
                channel.unit,
                tuple(channel.options),
                part.channels[channel.name],
                channel.shows,
            ),
        )


def _curves(part: _Named, layers: dict[str, str]) -> Iterator[Placed]:
    for name, value in part.entry.values.items():
        yield f"{part.place}.values", SetValue(part.id, _channel(part, name, "values"), value)
    yield from _keyed(part, part.entry.curves, None, f"{part.place}.curves")
    for layer, curves in part.entry.layers.items():
        place = f"{part.place}.layers ({layer})"
        if layer not in layers:
            near = nearest_names(layer, layers)
            raise Refusal(f"there is no layer {layer!r}.", place=place, nearest=near)
        yield from _keyed(part, curves, layers[layer], place)


def _keyed(
    part: _Named, curves: dict[str, CurveEntry], layer: str | None, inside: str
) -> Iterator[Placed]:
    for name, curve in curves.items():
        channel = layer_channel(layer, _channel(part, name, "curves"))
        place = f"{inside} ({name})"
        frames = [key.frame for key in curve.keys]
        twice, count = Counter(frames).most_common(1)[0]
        if count > 1:
            raise Refusal(f"two keys stand at frame {twice:g}.", place=place)
        yield place, PutKeys(part.id, channel, tuple(_key(key) for key in curve.keys))
        yield place, SetOutside(part.id, channel, curve.before, curve.after)


def _finished_steps(part: _Named, driven: dict[str, str]) -> Iterator[Placed]:
    for step, step_id in zip(part.entry.steps, part.steps, strict=True):
        place = f"{part.place}.steps ({step.name})"
        yield place, ChangeStep(step_id, settings=_settings(part, step, driven), on=step.on)


def _settings(part: _Named, step: AnyStepEntry, driven: dict[str, str]) -> GivenSettings:
    channel = _channel(part, step.channel, f"steps ({step.name}).channel")
    if isinstance(step, FormulaEntry):
        return FormulaSettings(channel, step.formula, step.mode)
    if isinstance(step, LimitEntry):
        return LimitSettings(channel, step.low, step.high)
    if step.driven not in driven:
        place = f"{part.place}.steps ({step.name}).driven"
        near = nearest_names(step.driven, driven)
        raise Refusal(f"there are no driven keys {step.driven!r}.", place=place, nearest=near)
    try:
        mapping = with_keys(None, [_key(key) for key in step.mapping.keys])
    except Refusal as refusal:
        raise refusal.at(f"{part.place}.steps ({step.name}).mapping") from None
    mapping = Curve(mapping.keys, step.mapping.before, step.mapping.after)
    return DrivenSettings(channel, driven[step.driven], mapping, step.mode)


def _channel(part: _Named, name: str, field: str) -> str:
    if name not in part.channels:
        raise Refusal(
            f"{part.entry.name} has no channel {name!r}.",
            place=f"{part.place}.{field}",
            nearest=nearest_names(name, part.channels),
        )
    return part.channels[name]


def _key(key: KeyEntry) -> Key:
    left, right = _tangent(key.left), _tangent(key.right)
    return Key(key.frame, key.value, key.interpolation, left, right, key.tangents)


def _tangent(entry: TangentEntry | None) -> Tangent:
    return Tangent(entry.angle, entry.length) if entry else Tangent()
