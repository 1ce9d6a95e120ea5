"""Scenes and ledgers in the form that the browser takes."""

from __future__ import annotations

from collections.abc import Mapping

from bindu.core.account.ledger import Bead, group_ledger, ledger_of
from bindu.core.comparing.changed import changed_on
from bindu.core.drivers.copying import alike_counts, shape_key
from bindu.core.edits.patch import Patch
from bindu.core.evaluation import Evaluation
from bindu.core.formula.references import to_names
from bindu.core.nodes.identity import NodeId
from bindu.core.scene.channels import UNITS, ChannelRef, layer_channel, step_and_key
from bindu.core.scene.model import Scene
from bindu.core.scene.names import channel_name, full_name, unit_of
from bindu.core.scene.pairs import opposite
from bindu.core.scene.parts import ChannelKind, OwnChannel, Part, Step
from bindu.core.scene.settings import LimitSettings, StepInput
from bindu.core.scene.things import DrivenKeys
from bindu.core.steps.bound.space import space_name
from bindu.core.steps.registry import kind_of
from bindu.store.scenes import History
from bindu.web.scene.heads import surface_head
from bindu.web.scene.schemas import (
    BeadView,
    ChangedChannelView,
    ChangedView,
    ChannelView,
    DrivenView,
    LedgerView,
    PartView,
    ReadView,
    ReferenceView,
    RowView,
    SceneHeader,
    SceneView,
    StepView,
    TapView,
)


def scene_view(
    scene_id: int,
    revision: int,
    evaluation: Evaluation,
    history: History,
    changed: set[str] | None = None,
    label: str | None = None,
) -> SceneView:
    """A scene for the browser; with ``changed``, only these parts of it."""
    scene = evaluation.scene
    header = SceneHeader(
        id=scene_id,
        name=scene.name,
        fps=scene.fps,
        first=scene.first,
        last=scene.last,
        units=scene.looked_at_in,
        references=[
            ReferenceView(**vars(one), kind=scene.media[one.medium].kind)
            for one in sorted(scene.references.values(), key=lambda one: one.name)
        ],
        revision=revision,
        undo=history.undo,
        redo=history.redo,
        looped=sorted({n.part for loop in evaluation.graph.loops for n in loop.chain}),
        layers=list(scene.layer_order),
        sets=sorted(scene.sets.values(), key=lambda one: one.name),
        markers=sorted(scene.markers.values(), key=lambda marker: (marker.frame, marker.id)),
        probes=sorted(scene.probes.values(), key=lambda probe: probe.name),
        leads=sorted(scene.leads.values(), key=lambda lead: lead.name),
        limbs=sorted(scene.limbs.values(), key=lambda limb: limb.name),
        gaits=sorted(scene.gaits.values(), key=lambda gait: gait.name),
        surfaces=[
            surface_head(one) for one in sorted(scene.surfaces.values(), key=lambda one: one.name)
        ],
        what_ifs=sorted(scene.what_ifs.values(), key=lambda one: one.name),
        driven=[
            _driven(scene, driven)
            for driven in sorted(scene.driven.values(), key=lambda driven: driven.name)
        ],
    )
    order = list(scene.tree_order)
    counts = alike_counts(scene)
    chosen = [part for part in order if changed is None or part in changed]
    return SceneView(
        header=header,
        order=order,
        parts=[_part(scene, scene.parts[part], counts) for part in chosen],
        whole=changed is None,
        label=label,
    )


UNSEEN = (
    "scene", "sets", "bakes", "receivers", "markers", "probes", "what_ifs", "checks", "accepted",
    "units", "media", "references",
)  # fmt: skip
"""What no part looks different by."""


def changed_parts(patch: Patch) -> set[str] | None:
    """The parts that look different after a patch; None where that may be any.

    Names stand in the formulas of other parts, so a change of names concerns all.
    """
    found: set[str] = set()
    for change in patch:
        if change.table in UNSEEN:
            continue
        if change.table in ("layers", "driven", "leads", "limbs", "gaits"):
            return None
        before, after = change.before, change.after
        if change.table == "curves":
            found.add(change.key[0])
            continue
        if before is None or after is None or before.name != after.name:
            return None
        found.add(after.id if change.table == "parts" else after.part)
    return found


def node_name(node_id: NodeId) -> str:
    """A node as one text, the name of wanted numbers."""
    return f"{node_id.part}/{node_id.quantity}/{node_id.stage}"


def ledger_view(evaluation: Evaluation, ref: ChannelRef, revision: int) -> LedgerView:
    """The account of a channel for the browser."""
    ledger = ledger_of(evaluation, ref)
    return LedgerView(
        part=ref.part,
        channel=ref.channel,
        name=full_name(evaluation.scene, ref),
        unit=unit_of(evaluation.scene, ref.channel),
        revision=revision,
        beads=[_bead(bead) for bead in ledger.beads],
        taps=[TapView(tap=tap, node=node_name(node_id)) for tap, node_id in ledger.taps],
    )


def group_ledger_view(evaluation: Evaluation, part: str, group: str, revision: int) -> LedgerView:
    """The account of a whole translation, rotation or scale for the browser."""
    beads = []
    for one in group_ledger(evaluation, part, group):
        view = _bead(one.bead)
        view.incoming = view.outgoing = None
        view.incomings = [node_name(node) for node in one.incoming]
        view.outgoings = [node_name(node) for node in one.outgoing]
        beads.append(view)
    return LedgerView(
        part=part,
        channel=group,
        name=f"{evaluation.scene.parts[part].name}.{group}",
        unit=UNITS.get(f"{group}.x", ""),
        revision=revision,
        beads=beads,
        taps=[],
    )


def _driven(scene: Scene, driven: DrivenKeys) -> DrivenView:
    return DrivenView(
        id=driven.id,
        name=driven.name,
        driver=to_names(scene, driven.driver),
        low=driven.low,
        high=driven.high,
        stops=list(driven.stops),
        rows=[
            RowView(row=row.id, part=row.part, channel=row.settings.writes[0])
            for row in scene.rows_of.get(driven.id, ())
        ],
    )


def _part(scene: Scene, part: Part, counts: Mapping[tuple[str, str], int]) -> PartView:
    refs = [ChannelRef(part.id, channel) for channel in scene.channel_ids(part.id)]
    return PartView(
        id=part.id,
        name=part.name,
        parent=part.parent,
        role=part.role,
        side=part.side,
        rest=part.rest,
        rotation_order=part.rotation_order,
        shape=part.shape,
        opposite=opposite(scene, part.id),
        paired=part.pair is not None,
        posed=bool(part.pose),
        channels=[_channel(scene, part, ref) for ref in refs],
        steps=[
            _step(scene, step, counts)
            for step in scene.steps_of.get(part.id, ())
            if step.id in scene.steps
        ],
    )


def _channel(scene: Scene, part: Part, ref: ChannelRef) -> ChannelView:
    own = scene.channels.get(ref.channel)
    given = scene.input_of(ref.channel)
    weight = ref.channel.endswith(".weight")
    return ChannelView(
        id=ref.channel,
        name=channel_name(scene, ref),
        kind=_kind(ref, own, given),
        unit=unit_of(scene, ref.channel),
        default=scene.default(ref),
        low=own.low if own else given.low if given else 0.0 if weight else None,
        high=own.high if own else given.high if given else 1.0 if weight else None,
        options=list(own.options) if own else _options(scene, ref, given),
        value=scene.set_value(ref),
        curve=scene.curves.get(ref),
        on_layers={
            layer: curve
            for layer in scene.layers
            if (curve := scene.curves.get(ChannelRef(part.id, layer_channel(layer, ref.channel))))
        },
        limits=_limits(scene, ref),
        steps=len(scene.writers(ref)),
        shows=own.shows if own else "nothing",
        locked=ref.channel in part.locked,
    )


def _kind(ref: ChannelRef, own: OwnChannel | None, given: StepInput | None) -> ChannelKind:
    if own:
        return own.kind
    if given is not None and given.options:
        return "choice"
    return "switch" if ref.channel == "visible" else "number"


def _options(scene: Scene, ref: ChannelRef, given: StepInput | None) -> list[str]:
    """What a step's or a lead group's channel chooses from."""
    if given is None:
        return []
    nobody = step_and_key(ref.channel)[0] in scene.leads
    return [
        "nobody" if nobody and part == "" else space_name(scene, part) for part in given.options
    ]


def _limits(scene: Scene, ref: ChannelRef) -> tuple[float | None, float | None]:
    """The narrowest ends that the limits of a channel give it."""
    found = [
        step.settings
        for step in scene.writers(ref)
        if step.on and isinstance(step.settings, LimitSettings)
    ]
    lows = [one.low for one in found if one.low is not None]
    highs = [one.high for one in found if one.high is not None]
    return max(lows, default=None), min(highs, default=None)


def _step(scene: Scene, step: Step, counts: Mapping[tuple[str, str], int]) -> StepView:
    kind = kind_of(step.settings)
    return StepView(
        id=step.id,
        name=step.name,
        zone=step.zone,
        on=step.on,
        settings=kind.shown(scene, step.settings),
        writes=list(step.settings.writes),
        description=kind.described(scene, step.settings),
        alike=counts.get(shape_key(step), 1),
    )


def _bead(bead: Bead) -> BeadView:
    return BeadView(
        step=bead.step.id if bead.step else None,
        name=bead.name,
        kind=bead.kind,
        zone=bead.zone,
        on=bead.step is None or bead.step.on,
        description=bead.description,
        incoming=node_name(bead.incoming) if bead.incoming else None,
        outgoing=node_name(bead.outgoing) if bead.outgoing else None,
        reads=[
            ReadView(
                label=seen.label,
                part=seen.read.part,
                quantity=seen.read.quantity,
                tap=str(seen.read.tap),
                node=node_name(seen.node),
            )
            for seen in bead.reads
        ],
        held=bead.held,
        broken_from=bead.broken_from,
        broken_frames=bead.broken_frames,
        cost=round(bead.cost * 1e6, 1),
        incomings=[],
        outgoings=[],
    )


def changed_view(before: Scene, scene: Scene, frame: int, revision: int) -> ChangedView:
    """What was changed on a frame since an earlier state of a scene."""
    channels = [
        ChangedChannelView(
            part=one.ref.part,
            channel=one.ref.channel,
            name=full_name(scene, one.ref),
            before=one.before,
            after=one.after,
        )
        for one in changed_on(before, scene, frame)
    ]
    return ChangedView(revision=revision, channels=channels)
