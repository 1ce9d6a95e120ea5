"""A scene as a document."""

from __future__ import annotations

from typing import Any, cast

from bindu.core.curves.model import Curve
from bindu.core.edits.receivers import RECEIVER
from bindu.core.formula.references import to_names
from bindu.core.scene.bakes import Bake
from bindu.core.scene.channels import ChannelRef, layer_channel
from bindu.core.scene.model import Owner, Scene
from bindu.core.scene.names import channel_name, full_name
from bindu.core.scene.parts import OwnChannel, Part, Step
from bindu.core.scene.receivers import Setup
from bindu.core.scene.references import PinnedReference
from bindu.core.scene.settings import (
    DrivenSettings,
    FormulaSettings,
    LimitSettings,
    NoiseSettings,
    ShaperSettings,
)
from bindu.core.scene.things import (
    Accepted,
    DrivenKeys,
    Gait,
    Layer,
    LeadGroup,
    Limb,
    PartSet,
    Probe,
    StepVariant,
    WhatIf,
)
from bindu.formats.scene.bake_entries import bake_entry
from bindu.formats.scene.curve_entries import curve_entry
from bindu.formats.scene.document import (
    AcceptedEntry,
    ChannelEntry,
    CheckEntry,
    DrivenEntry,
    GaitEntry,
    GaitFootEntry,
    LayerEntry,
    LeadEntry,
    LimbEntry,
    MarkerEntry,
    PartEntry,
    ProbeEntry,
    ReferenceEntry,
    RestEntry,
    SceneDocument,
    SetEntry,
    ShapeEntry,
    UnitsEntry,
    VariantEntry,
    WhatIfEntry,
)
from bindu.formats.scene.step_entries import (
    AnyStepEntry,
    FormulaEntry,
    LimitEntry,
    RowEntry,
    ShaperEntry,
)
from bindu.formats.scene.step_settings import binding_entry
from bindu.formats.scene.surface_entries import surface_entry


def document_of(scene: Scene) -> SceneDocument:
    """The document of a scene, parts in the order of the tree."""
    return SceneDocument(
        format="bindu scene",
        version=1,
        name=scene.name,
        fps=scene.fps,
        range=(scene.first, scene.last),
        units=UnitsEntry(length=scene.looked_at_in.length, angle=scene.looked_at_in.angle),
        parts=[_part(scene, scene.parts[part]) for part in scene.tree_order],
        layers=[_layer(scene, layer) for layer in scene.layer_order],
        sets=[_set(scene, one) for one in sorted(scene.sets.values(), key=_by_name)],
        markers=[
            MarkerEntry(frame=marker.frame, label=marker.label, id=marker.id)
            for marker in sorted(scene.markers.values(), key=lambda m: (m.frame, m.id))
        ],
        driven=[_driven(scene, one) for one in sorted(scene.driven.values(), key=_by_name)],
        probes=[_probe(scene, one) for one in sorted(scene.probes.values(), key=_by_name)],
        what_ifs=[_what_if(scene, one) for one in sorted(scene.what_ifs.values(), key=_by_name)],
        checks=[
            CheckEntry(check=one.id, on=one.on, limits=dict(one.limits))
            for one in sorted(scene.checks.values(), key=lambda one: one.id)
        ],
        accepted=[
            _accepted(scene, one) for one in sorted(scene.accepted.values(), key=lambda one: one.id)
        ],
        references=[
            _reference(scene, one) for one in sorted(scene.references.values(), key=_by_name)
        ],
        receiver=scene.receivers.get(RECEIVER, Setup()),
        bakes=[bake_entry(scene, one) for one in sorted(scene.bakes.values(), key=_by_name)],
        leads=[_lead(scene, one) for one in sorted(scene.leads.values(), key=_by_name)],
        limbs=[_limb(scene, one) for one in sorted(scene.limbs.values(), key=_by_name)],
        gaits=[_gait(scene, one) for one in sorted(scene.gaits.values(), key=_by_name)],
        surfaces=[
            surface_entry(scene, one) for one in sorted(scene.surfaces.values(), key=_by_name)
        ],
    )


def _accepted(scene: Scene, one: Accepted) -> AcceptedEntry:
    return AcceptedEntry(
        check=one.check,
        part=scene.parts[one.part].name,
        what=one.what,
        cause=one.cause,
        reason=one.reason,
        amount=one.amount,
        span=one.span,
        id=one.id,
    )


def _reference(scene: Scene, one: PinnedReference) -> ReferenceEntry:
    return ReferenceEntry(
        name=one.name,
        data=scene.media[one.medium].data,
        first=one.first,
        last=one.last,
        opacity=one.opacity,
        place=one.place,
        id=one.id,
    )


def _by_name(
    thing: Probe | PartSet | Owner | WhatIf | DrivenKeys | Bake | PinnedReference,
) -> str:
    return thing.name


def _what_if(scene: Scene, saved: WhatIf) -> WhatIfEntry:
    def entries(variants: tuple[StepVariant, ...]) -> list[VariantEntry]:
        return [_variant(scene, one) for one in variants if one.step in scene.steps]

    return WhatIfEntry(
        name=saved.name, id=saved.id, one=entries(saved.one), other=entries(saved.other)
    )


def _variant(scene: Scene, variant: StepVariant) -> VariantEntry:
    step = scene.steps[variant.step]
    return VariantEntry(
        part=scene.parts[step.part].name,
        step=step.name,
        zone=variant.zone,
        position=variant.position,
        on=variant.on,
    )


def _lead(scene: Scene, lead: LeadGroup) -> LeadEntry:
    return LeadEntry(
        name=lead.name,
        id=lead.id,
        part=scene.parts[lead.part].name,
        members=[scene.parts[part].name for part in lead.members],
    )


def _limb(scene: Scene, limb: Limb) -> LimbEntry:
    return LimbEntry(
        name=limb.name,
        id=limb.id,
        part=scene.parts[limb.part].name,
        chain=[scene.parts[part].name for part in limb.chain],
        goal=scene.parts[limb.goal].name,
        pole=None if limb.pole is None else scene.parts[limb.pole].name,
        axis=limb.axis,
        limits=limb.limits,
        offset=limb.offset,
        goal_tap=limb.goal_tap,
        goal_back=limb.goal_back,
        pole_tap=limb.pole_tap,
        pole_back=limb.pole_back,
        toes=[(scene.parts[toe].name, scene.parts[one].name) for toe, one in limb.toes],
    )


def _gait(scene: Scene, gait: Gait) -> GaitEntry:
    return GaitEntry(
        name=gait.name,
        id=gait.id,
        part=scene.parts[gait.part].name,
        feet=[
            GaitFootEntry(
                part=scene.parts[foot.part].name,
                phase=foot.phase,
                offset=foot.offset,
                turn=foot.turn,
            )
            for foot in gait.feet
        ],
        ground=None if gait.ground is None else scene.parts[gait.ground].name,
        forward=gait.forward,
        width=gait.width,
    )


def _layer(scene: Scene, layer: Layer) -> LayerEntry:
    return LayerEntry(
        name=layer.name,
        id=layer.id,
        part=scene.parts[layer.part].name,
        mode=layer.mode,
        on=layer.on,
        solo=layer.solo,
    )


def _set(scene: Scene, one: PartSet) -> SetEntry:
    return SetEntry(
        name=one.name,
        id=one.id,
        colour=one.colour,
        parts=[scene.parts[part].name for part in one.parts],
        channels=[full_name(scene, ref) for ref in one.channels],
    )


def _driven(scene: Scene, driven: DrivenKeys) -> DrivenEntry:
    return DrivenEntry(
        name=driven.name,
        id=driven.id,
        driver=to_names(scene, driven.driver),
        range=(driven.low, driven.high),
        stops=list(driven.stops),
    )


def _probe(scene: Scene, probe: Probe) -> ProbeEntry:
    return ProbeEntry(
        name=probe.name,
        id=probe.id,
        part=scene.parts[probe.part].name,
        point=probe.point,
        rolling=probe.rolling,
        ground=scene.parts[probe.ground].name if probe.ground else None,
        stands=list(probe.stands),
    )


def _part(scene: Scene, part: Part) -> PartEntry:
    def name(channel: str) -> str:
        return channel_name(scene, ChannelRef(part.id, channel))

    known = scene.channel_ids(part.id)
    refs = [ChannelRef(part.id, channel) for channel in known]
    return PartEntry(
        name=part.name,
        id=part.id,
        parent=scene.parts[part.parent].name if part.parent else None,
        role=part.role,
        side=part.side,
        rest=RestEntry(translation=part.rest.translation, rotation=part.rest.rotation),
        rotation_order=part.rotation_order,
        shape=ShapeEntry(
            kind=part.shape.kind,
            size=part.shape.size,
            offset=part.shape.offset,
            colour=part.shape.colour,
        ),
        channels=[_channel(channel) for channel in scene.channels_of.get(part.id, ())],
        values={name(c): part.values[c] for c in known if c in part.values},
        curves=cast(Any, {name(r.channel): scene.curves[r] for r in refs if r in scene.curves}),
        layers=cast(Any, _layer_curves(scene, part)),
        steps=[_step(scene, s) for s in scene.steps_of.get(part.id, ()) if s.id in scene.steps],
        locked=[name(channel) for channel in part.locked],
        pose={name(c): part.pose[c] for c in known if c in part.pose},
        pair=scene.parts[part.pair].name if part.pair else None,
    )


def _layer_curves(scene: Scene, part: Part) -> dict[str, dict[str, Curve]]:
    found: dict[str, dict[str, Curve]] = {}
    for layer in scene.layer_order:
        for channel in scene.channel_ids(part.id):
            curve = scene.curves.get(ChannelRef(part.id, layer_channel(layer.id, channel)))
            if curve is not None:
                name = channel_name(scene, ChannelRef(part.id, channel))
                found.setdefault(layer.name, {})[name] = curve
    return found


def _channel(channel: OwnChannel) -> ChannelEntry:
    return ChannelEntry(
        name=channel.name,
        id=channel.id,
        kind=channel.kind,
        default=channel.default,
        low=channel.low,
        high=channel.high,
        unit=channel.unit,
        options=list(channel.options),
        shows=channel.shows,
    )


def _step(scene: Scene, step: Step) -> AnyStepEntry:
    settings = step.settings
    if settings.groups:
        return binding_entry(scene, step)
    common: dict[str, Any] = {
        "name": step.name,
        "id": step.id,
        "zone": step.zone,
        "on": step.on,
        "channel": channel_name(scene, ChannelRef(step.part, settings.writes[0])),
        "kind": settings.kind,
    }
    if isinstance(settings, FormulaSettings):
        text = to_names(scene, settings.text)
        return FormulaEntry(**common, formula=text, mode=settings.mode)
    if isinstance(settings, DrivenSettings):
        name, mapping = scene.driven[settings.driven].name, curve_entry(settings.mapping)
        return RowEntry(**common, driven=name, mapping=mapping, mode=settings.mode)
    if isinstance(settings, NoiseSettings):
        return ShaperEntry(**common, seed=settings.seed, octaves=settings.octaves)
    if isinstance(settings, ShaperSettings):
        return ShaperEntry(**common)
    assert isinstance(settings, LimitSettings)
    return LimitEntry(**common, low=settings.low, high=settings.high)
