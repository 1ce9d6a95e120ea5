"""Steps that make no finite number."""

from __future__ import annotations

from collections.abc import Iterator, Mapping, Sequence

from bindu.core.account.labels import ledger_channel, step_name
from bindu.core.checks.check import Check, Finding, Looked, Offer
from bindu.core.edits.steps import ChangeStep
from bindu.core.evaluation import Evaluation, Result
from bindu.core.graph.kinds.ties import step_made
from bindu.core.nodes.identity import NodeId
from bindu.core.scene.channels import ChannelRef
from bindu.core.scene.model import Scene
from bindu.core.scene.names import full_name
from bindu.core.steps.registry import kind_of


class NoNumber(Check):
    """See ``Check``."""

    name = "no number"
    why = "What divides by nothing or grows beyond all bounds is held at the value that came in."
    severity = "wrong"

    def found(
        self, evaluation: Evaluation, limits: Mapping[str, float], looked: Looked
    ) -> Iterator[Finding]:
        """One for each value of a step."""
        for node, result in evaluation.results.items():
            if result.broken_from is not None:
                yield _finding(evaluation.scene, node, result)

    def offers(self, evaluation: Evaluation, finding: Finding) -> Sequence[Offer]:
        """Muting it; what is wrong inside is for its author."""
        step = evaluation.scene.steps.get(finding.step or "")
        if step is None:
            return ()
        edits = (ChangeStep(step.id, on=False),)
        return (Offer("mute", f"mute “{step.name}”", "what it does is lost on all frames", edits),)


def _finding(scene: Scene, node: NodeId, result: Result) -> Finding:
    step = step_made(scene, node)
    part, channel = ledger_channel(scene, node.part, node.quantity)
    name = scene.parts[part].name
    if step is None or not step.settings.groups:
        name = full_name(scene, ChannelRef(part, channel))
    what = step_name(scene, node)
    first, frames = result.broken_from or 0, result.broken_frames
    text = f"{name}: “{what}” makes no finite number on "
    text += f"{frames} frames, first on {first}; held there at the value that came in. "
    text += kind_of(step.settings).trouble(scene, step.settings) if step else ""
    return Finding(
        "no number",
        "wrong",
        part,
        channel,
        what,
        text.strip(),
        float(frames),
        "frames",
        step.id if step else None,
        ((first, first),),
        first,
        key=node.quantity,
    )
