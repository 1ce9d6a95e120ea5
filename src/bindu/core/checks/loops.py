"""Loops: steps that feed themselves."""

from __future__ import annotations

from collections.abc import Iterator, Mapping, Sequence

from bindu.core.account.labels import ledger_channel, node_label, step_name
from bindu.core.account.loop_report import loop_reports
from bindu.core.checks.check import Check, Finding, Looked, Offer
from bindu.core.evaluation import Evaluation
from bindu.core.graph.loops import Loop
from bindu.core.scene.model import Scene


class Loops(Check):
    """See ``Check``."""

    name = "loop"
    why = "A value that is made of itself has no order to be computed in: one read is held."
    severity = "wrong"

    def found(
        self, evaluation: Evaluation, limits: Mapping[str, float], looked: Looked
    ) -> Iterator[Finding]:
        """One for each group of values that feed themselves."""
        for loop in evaluation.graph.loops:
            yield _finding(evaluation.scene, loop)

    def offers(self, evaluation: Evaluation, finding: Finding) -> Sequence[Offer]:
        """Earlier taps, one frame back, or muting a step on the way round."""
        for report in loop_reports(evaluation):
            if _finding(evaluation.scene, report.loop).id == finding.id:
                return [Offer(one.kind, one.text, "", one.edits) for one in report.remedies]
        return ()


def _finding(scene: Scene, loop: Loop) -> Finding:
    chain = " → ".join(node_label(scene, node) for node in loop.chain)
    name = step_name(scene, loop.reader)
    text = f"Loop: {chain}. “{name}” takes {node_label(scene, loop.held)} instead. "
    text += "Let a step read an earlier tap, or mute it."
    part, channel = ledger_channel(scene, loop.reader.part, loop.reader.quantity)
    size = float(len(loop.members))
    return Finding(
        "loop", "wrong", part, channel, name, text, size, "values", loop.reader.stage.name
    )
