"""Order and cause in the form that the browser takes."""

from __future__ import annotations

from collections.abc import Iterator

import numpy as np

from bindu.core.account.labels import ledger_channel, node_label
from bindu.core.account.limbs import switches
from bindu.core.account.loop_report import LoopReport, loop_reports
from bindu.core.account.mutual import mutual_pairs
from bindu.core.account.wiring import wiring_of
from bindu.core.comparing.what_if import Difference
from bindu.core.evaluation import Evaluation
from bindu.core.graph.kinds.ties import step_made
from bindu.core.placing.handovers import handover_states
from bindu.core.placing.matching import control_of
from bindu.core.placing.spaces import active_space, space_ref
from bindu.core.scene.channels import AXES, GROUPS, ChannelRef, step_channel
from bindu.core.scene.model import Scene
from bindu.core.scene.names import full_name, unit_of
from bindu.core.scene.parts import Step
from bindu.core.scene.settings import SpaceSettings
from bindu.core.scene.things import LeadGroup, Limb
from bindu.core.steps.bound.space import active_spaces, space_name
from bindu.web.order.schemas import (
    DifferenceView,
    HandoverView,
    LanesView,
    LaneView,
    LoopsView,
    LoopView,
    OrderRow,
    OrderView,
    RemedyView,
    StripView,
    WiringView,
)

LIMB_STATES = ("FK", "IK", "between")


def wiring_view(evaluation: Evaluation, revision: int) -> WiringView:
    """The wiring of a scene."""
    wiring = wiring_of(evaluation.graph)
    return WiringView(revision=revision, cards=list(wiring.cards), wires=list(wiring.wires))


def loops_view(evaluation: Evaluation, revision: int) -> LoopsView:
    """All loops, and the pairs that look like one."""
    return LoopsView(
        revision=revision,
        loops=[_loop(evaluation.scene, report) for report in loop_reports(evaluation)],
        pairs=list(mutual_pairs(evaluation.graph)),
    )


def order_view(evaluation: Evaluation, revision: int) -> OrderView:
    """The whole order."""
    graph, scene = evaluation.graph, evaluation.scene
    rows = []
    for node_id in graph.order:
        part, channel = ledger_channel(scene, node_id.part, node_id.quantity)
        step = step_made(scene, node_id)
        rows.append(
            OrderRow(
                rank=graph.ranks[node_id],
                label=node_label(scene, node_id),
                part=part,
                channel=channel,
                step=step.id if step and step.id in scene.steps else None,
                held=node_id in graph.held,
                cost=round(evaluation.results[node_id].seconds * 1e6, 1),
            )
        )
    return OrderView(revision=revision, rows=rows)


def lanes_view(evaluation: Evaluation, revision: int) -> LanesView:
    """The limbs, the space lanes by the tree, then the leads."""
    scene = evaluation.scene
    lanes = [_limb_lane(evaluation, limb) for limb in sorted(scene.limbs.values(), key=_name)]
    lanes += [
        _space_lane(evaluation, step)
        for part in scene.tree_order
        for step in scene.steps_of.get(part, ())
        if isinstance(step.settings, SpaceSettings)
    ]
    for lead in sorted(scene.leads.values(), key=lambda one: one.name):
        lanes += [_lead_lane(evaluation, lead, key) for key in ("position", "rotation")]
    return LanesView(revision=revision, lanes=lanes)


def difference_view(scene: Scene, found: Difference) -> DifferenceView:
    """A channel on both sides of a What if."""
    return DifferenceView(
        part=found.channel.part,
        channel=found.channel.channel,
        name=full_name(scene, found.channel),
        unit=unit_of(scene, found.channel.channel),
        one=found.one.tolist(),
        other=found.other.tolist(),
        worst=found.worst,
        worst_frame=found.worst_frame,
    )


def _loop(scene: Scene, report: LoopReport) -> LoopView:
    channels: list[ChannelRef] = []
    for node in report.loop.chain[:-1]:
        part, channel = ledger_channel(scene, node.part, node.quantity)
        group = channel.removesuffix(".x")
        all_of_it = [f"{group}.{axis}" for axis in AXES] if group in GROUPS else [channel]
        channels += [ChannelRef(part, one) for one in all_of_it]
    return LoopView(
        parts=list(report.parts),
        chain=list(report.chain),
        why=list(report.why),
        held=report.held,
        frames=report.frames,
        first=report.first,
        channels=list(dict.fromkeys(channels)),
        remedies=[
            RemedyView(kind=r.kind, text=r.text, step=r.step, tap=r.tap, edits=list(r.edits))
            for r in report.remedies
        ],
    )


def _space_lane(evaluation: Evaluation, step: Step) -> LaneView:
    scene, settings = evaluation.scene, step.settings
    assert isinstance(settings, SpaceSettings)
    names = [space_name(scene, space) for space in settings.spaces]
    active = active_space(evaluation, step)
    states = handover_states(evaluation, [step] if step.on else [])
    return LaneView(
        kind="space",
        id=step.id,
        name=f"{scene.parts[step.part].name} · {step.name}",
        part=step.part,
        channel=space_ref(step).channel,
        choices=names,
        keys=list(settings.spaces),
        strips=list(_strips(active, names, evaluation.times.first)),
        handovers=[
            HandoverView(
                frame=state.frame,
                source=space_name(scene, state.source),
                target=space_name(scene, state.target),
                kept=state.kept,
                blend=state.blend,
                metres=state.metres,
                degrees=state.degrees,
                jumps=state.jumps,
            )
            for state in states
        ],
    )


def _lead_lane(evaluation: Evaluation, lead: LeadGroup, key: str) -> LaneView:
    scene = evaluation.scene
    ref = ChannelRef(lead.part, step_channel(lead.id, key))
    names = ["nobody", *(scene.parts[part].name for part in lead.members)]
    frames = len(evaluation.times.frames)
    chosen = active_spaces(evaluation.channel(ref, "final"), len(names), frames)
    return LaneView(
        kind="lead",
        id=lead.id,
        name=f"{lead.name} · {key}",
        part=lead.part,
        channel=ref.channel,
        choices=names,
        keys=["", *lead.members],
        strips=list(_strips(chosen, names, evaluation.times.first)),
        handovers=[],
    )


def _name(limb: Limb) -> str:
    return limb.name


def _in_hand(scene: Scene, limb: Limb) -> list[str]:
    """The parts with which people move a limb."""
    poles = [limb.pole] if limb.pole else []
    return list(dict.fromkeys([*limb.chain, limb.goal, control_of(scene, limb.goal), *poles]))


def _limb_lane(evaluation: Evaluation, limb: Limb) -> LaneView:
    """When a limb is FK, IK, or between."""
    scene = evaluation.scene
    ref = ChannelRef(limb.part, step_channel(limb.id, "blend"))
    values = np.broadcast_to(evaluation.channel(ref, "final"), len(evaluation.times.frames))
    chosen = np.select([values <= 0.0, values >= 1.0], [0, 1], 2)
    return LaneView(
        kind="limb",
        id=limb.id,
        name=limb.name,
        part=limb.part,
        channel=ref.channel,
        choices=list(LIMB_STATES),
        keys=_in_hand(scene, limb),
        strips=list(_strips(chosen, list(LIMB_STATES), evaluation.times.first)),
        handovers=[
            HandoverView(
                frame=one.frame,
                source=LIMB_STATES[int(one.before > 0.5)],
                target=LIMB_STATES[int(one.after > 0.5)],
                kept=not one.jumps,
                blend=0,
                metres=one.metres,
                degrees=one.degrees,
                jumps=one.jumps,
            )
            for one in switches(evaluation, limb)
        ],
    )


def _strips(
    chosen: np.ndarray[tuple[int, ...], np.dtype[np.int_]], names: list[str], first: int
) -> Iterator[StripView]:
    edges = [0, *(np.flatnonzero(np.diff(chosen)) + 1), len(chosen)]
    for start, end in zip(edges, edges[1:], strict=False):
        choice = int(chosen[start])
        yield StripView(
            first=first + int(start),
            last=first + int(end) - 1,
            choice=choice,
            name=names[choice],
        )
