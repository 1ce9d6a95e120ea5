"""A document as the edits that make its scene."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import replace
from typing import cast

from bindu.core.curves.keys import with_keys
from bindu.core.curves.model import Curve
from bindu.core.edits.channels import AddChannel, SetValue
from bindu.core.edits.checks import AcceptFinding, SetCheck
from bindu.core.edits.driven import AddDriven, ChangeDriven
from bindu.core.edits.keys import PutCurves
from bindu.core.edits.layers import AddLayer, ChangeLayer
from bindu.core.edits.parts import AddPart, LockChannels
from bindu.core.edits.poses import SetDefaultPose
from bindu.core.edits.probes import PutProbe
from bindu.core.edits.receivers import PutReceiver
from bindu.core.edits.references import PutReference
from bindu.core.edits.scene import ChangeScene, SetUnits
from bindu.core.edits.sets import PairParts, PutMarker, PutSet
from bindu.core.edits.steps import AddStep, ChangeStep
from bindu.core.edits.what_ifs import PutWhatIf
from bindu.core.refusal import Refusal, nearest_names
from bindu.core.scene.channels import ChannelRef, layer_channel
from bindu.core.scene.parts import Rest, Shape
from bindu.core.scene.receivers import Setup
from bindu.core.scene.settings import (
    SHAPERS,
    ChannelSettings,
    DrivenSettings,
    FormulaSettings,
    GivenSettings,
    LimitSettings,
    NoiseSettings,
)
from bindu.core.scene.things import StepVariant
from bindu.formats.scene.curve_entries import curve_of
from bindu.formats.scene.document import SceneDocument, VariantEntry, WhatIfEntry
from bindu.formats.scene.from_bakes import bakes
from bindu.formats.scene.from_owners import Placed, owners
from bindu.formats.scene.identities import Identities, NamedPart, channel_id, identities_of
from bindu.formats.scene.step_entries import (
    AnyStepEntry,
    BindingEntry,
    ChainEntry,
    FormulaEntry,
    LimitEntry,
    MemberEntry,
    ShaperEntry,
    WalkEntry,
)
from bindu.formats.scene.step_settings import binding_settings

Curves = dict[str, Curve]


def scene_edits(document: SceneDocument) -> Iterator[Placed]:
    """The edits that make the document's scene from an empty one; the document is used up by it.

    Steps may write and formulas read channels of any other step, so steps that write one channel
    are added on a channel that every part has, and get their settings last.

    Raises:
        Refusal: when a name in the document stands for nothing.
    """
    first, last = document.range
    yield "scene", ChangeScene(name=document.name, fps=document.fps, first=first, last=last)
    yield "units", SetUnits(document.units.length, document.units.angle)
    ids = identities_of(document)
    yield from _parts(ids)
    for part in ids.parts:
        yield from _channels(part)
    yield from _groups(document, ids)
    for part in ids.parts:
        yield from _added_steps(part, ids)
    yield from owners(document, ids)
    for part in ids.parts:
        yield from _curves(part, ids.layers)
    for part in ids.parts:
        yield from _finished_steps(part, ids)
        yield from _pose_and_pair(part, ids)
        if part.entry.locked:
            locked = tuple(channel_id(part, c, "locked") for c in part.entry.locked)
            yield f"{part.place}.locked", LockChannels(part.id, locked)
    for one in document.driven:
        yield f"driven ({one.name})", ChangeDriven(ids.driven[one.name], driver=one.driver)
    yield from _around(document, ids)
    yield from bakes(document, ids)
    if document.receiver != Setup():
        yield "receiver", PutReceiver(document.receiver)
    for saved in document.what_ifs:
        yield _what_if(saved, ids)
    yield from _checks(document, ids)
    yield from _references(document)


def _groups(document: SceneDocument, ids: Identities) -> Iterator[Placed]:
    """Layers and sets of driven keys, which steps and curves belong to."""
    for layer in document.layers:
        home = ids.part(layer.part, f"layers ({layer.name}).part")
        add = AddLayer(layer.name, home.id, layer.mode, ids.layers[layer.name])
        yield f"layers ({layer.name})", add
    for one in document.driven:
        low, high = one.range
        add_set = AddDriven(one.name, "0", low, high, tuple(one.stops), ids.driven[one.name])
        yield f"driven ({one.name})", add_set


def _added_steps(part: NamedPart, ids: Identities) -> Iterator[Placed]:
    """The steps but memberships; of those that write one channel only the kind and the zone."""
    for step, step_id in zip(part.entry.steps, part.steps, strict=True):
        place = f"{part.place}.steps ({step.name})"
        if isinstance(step, MemberEntry | ChainEntry | WalkEntry):
            continue
        settings = _settings(part, step, ids)
        if isinstance(settings, ChannelSettings):
            settings = replace(settings, channel="visible")
        if isinstance(settings, FormulaSettings):
            settings = replace(settings, text="0")
        yield place, AddStep(part.id, step.name, settings, step.zone, step_id)


def _around(document: SceneDocument, ids: Identities) -> Iterator[Placed]:
    """Sets, markers, and which layers are heard."""
    for layer in document.layers:
        change = ChangeLayer(ids.layers[layer.name], on=layer.on, solo=layer.solo)
        yield f"layers ({layer.name})", change
    for one in document.sets:
        place = f"sets ({one.name})"
        parts = tuple(ids.part(name, place).id for name in one.parts)
        channels = []
        for name in one.channels:
            part_name, _, channel = name.partition(".")
            part = ids.part(part_name, place)
            channels.append(ChannelRef(part.id, channel_id(part, channel, place)))
        yield place, PutSet(one.name, one.colour, parts, tuple(channels), one.id)
    for probe in document.probes:
        place = f"probes ({probe.name})"
        ground = ids.part(probe.ground, place).id if probe.ground is not None else None
        part_id = ids.part(probe.part, place).id
        stands = tuple(probe.stands)
        put = PutProbe(probe.name, part_id, probe.point, probe.rolling, ground, probe.id, stands)
        yield place, put
    for n, marker in enumerate(document.markers):
        yield f"markers[{n}]", PutMarker(marker.frame, marker.label, marker.id)


def _checks(document: SceneDocument, ids: Identities) -> Iterator[Placed]:
    """How checks look, and what is accepted."""
    for one in document.checks:
        yield f"checks ({one.check})", SetCheck(one.check, one.on, tuple(one.limits.items()))
    for n, kept in enumerate(document.accepted):
        place = f"accepted ({n + 1})"
        part = ids.part(kept.part, f"{place}.part").id
        made = AcceptFinding(
            kept.check,
            part,
            kept.what,
            kept.reason,
            kept.amount,
            kept.span,
            kept.id,
            kept.cause,
        )
        yield place, made


def _references(document: SceneDocument) -> Iterator[Placed]:
    for n, one in enumerate(document.references):
        pinned = PutReference(
            one.name, one.data, one.first, one.last, one.opacity, one.place, one.id
        )
        yield f"references ({n + 1})", pinned


def _what_if(saved: WhatIfEntry, ids: Identities) -> Placed:
    place = f"what_ifs ({saved.name})"

    def variants(entries: list[VariantEntry]) -> tuple[StepVariant, ...]:
        return tuple(_variant(entry, ids, place) for entry in entries)

    return place, PutWhatIf(saved.name, variants(saved.one), variants(saved.other), saved.id)


def _variant(entry: VariantEntry, ids: Identities, place: str) -> StepVariant:
    part = ids.part(entry.part, place)
    steps = {s.name: i for s, i in zip(part.entry.steps, part.steps, strict=True)}
    if entry.step not in steps:
        near = nearest_names(entry.step, steps)
        raise Refusal(
            f"{entry.part} has no step {entry.step!r}.", code="unknown", place=place, nearest=near
        )
    return StepVariant(steps[entry.step], entry.zone, entry.position, entry.on)


def _pose_and_pair(part: NamedPart, ids: Identities) -> Iterator[Placed]:
    if part.entry.pose:
        values = {channel_id(part, c, "pose"): v for c, v in part.entry.pose.items()}
        yield f"{part.place}.pose", SetDefaultPose((part.id,), values=values)
    if part.entry.pair is not None:
        pair = ids.part(part.entry.pair, f"{part.place}.pair")
        yield f"{part.place}.pair", PairParts(part.id, pair.id)


def _parts(ids: Identities) -> Iterator[Placed]:
    seen: set[str] = set()
    for part in ids.parts:
        entry, parent = part.entry, None
        if entry.parent is not None:
            parent = ids.part(entry.parent, f"{part.place}.parent")
            if entry.parent not in seen:
                text = "a parent must stand before its children; a part is never its own ancestor."
                raise Refusal(text, place=f"{part.place}.parent")
        seen.add(entry.name)
        shape = entry.shape
        yield (
            part.place,
            AddPart(
                entry.name,
                parent.id if parent else None,
                entry.role,
                entry.side,
                Rest(entry.rest.translation, entry.rest.rotation),
                entry.rotation_order,
                Shape(shape.kind, shape.size, shape.offset, shape.colour),
                part.id,
            ),
        )


def _channels(part: NamedPart) -> Iterator[Placed]:
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


def _curves(part: NamedPart, layers: dict[str, str]) -> Iterator[Placed]:
    for name, value in part.entry.values.items():
        yield f"{part.place}.values", SetValue(part.id, channel_id(part, name, "values"), value)
    yield from _keyed(part, cast(Curves, part.entry.curves), None, f"{part.place}.curves")
    for layer, curves in part.entry.layers.items():
        place = f"{part.place}.layers ({layer})"
        if layer not in layers:
            near = nearest_names(layer, layers)
            raise Refusal(
                f"there is no layer {layer!r}.", code="unknown", place=place, nearest=near
            )
        yield from _keyed(part, cast(Curves, curves), layers[layer], place)


def _keyed(part: NamedPart, curves: Curves, layer: str | None, inside: str) -> Iterator[Placed]:
    found = []
    for name in tuple(curves):
        # Taken out of the document, which is used up by this: a scene may hold millions of keys.
        curve = curves.pop(name)
        found.append((layer_channel(layer, channel_id(part, name, "curves")), curve))
    if found:
        yield inside, PutCurves(part.id, tuple(found))


def _finished_steps(part: NamedPart, ids: Identities) -> Iterator[Placed]:
    for step, step_id in zip(part.entry.steps, part.steps, strict=True):
        place = f"{part.place}.steps ({step.name})"
        settings = None if isinstance(step, BindingEntry) else _settings(part, step, ids)
        yield place, ChangeStep(step_id, settings=settings, on=step.on)


def _settings(part: NamedPart, step: AnyStepEntry, ids: Identities) -> GivenSettings:
    if isinstance(step, BindingEntry):
        try:
            owners = {"limb": ids.limbs, "walk": ids.gaits}.get(step.kind, ids.leads)
            return binding_settings(step, ids.part_ids, owners)
        except Refusal as refusal:
            raise refusal.at(f"{part.place}.steps ({step.name})") from None
    channel = channel_id(part, step.channel, f"steps ({step.name}).channel")
    if isinstance(step, FormulaEntry):
        return FormulaSettings(channel, step.formula, step.mode)
    if isinstance(step, LimitEntry):
        return LimitSettings(channel, step.low, step.high)
    if isinstance(step, ShaperEntry):
        if step.kind == "noise":
            return NoiseSettings(channel, step.seed, step.octaves)
        return SHAPERS[step.kind](channel)
    if step.driven not in ids.driven:
        place = f"{part.place}.steps ({step.name}).driven"
        near = nearest_names(step.driven, ids.driven)
        raise Refusal(
            f"there are no driven keys {step.driven!r}.", code="unknown", place=place, nearest=near
        )
    try:
        given = curve_of(step.mapping)
        mapping = with_keys(replace(given, keys=()), given.keys)
    except (Refusal, ValueError) as refusal:
        code = refusal.code if isinstance(refusal, Refusal) else "text"
        place = f"{part.place}.steps ({step.name}).mapping"
        raise Refusal(str(refusal), place=place, code=code) from None
    return DrivenSettings(channel, ids.driven[step.driven], mapping, step.mode)
