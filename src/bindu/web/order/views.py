"""Order and cause in the form that the browser takes."""

from __future__ import annotations

from bindu.core.account.labels import ledger_channel, node_label
from bindu.core.account.loop_report import LoopReport, loop_reports
from bindu.core.account.mutual import mutual_pairs
from bindu.core.account.wiring import wiring_of
from bindu.core.comparing.what_if import Difference
from bindu.core.evaluation import Evaluation
from bindu.core.graph.kinds.ties import step_made
from bindu.core.scene.channels import AXES, GROUPS, ChannelRef
from bindu.core.scene.model import Scene
from bindu.core.scene.names import full_name, unit_of
from bindu.web.order.schemas import (
    DifferenceView,
    LoopsView,
    LoopView,
    OrderRow,
    OrderView,
    RemedyView,
    WiringView,
)


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
