"""The costliest steps."""

from __future__ import annotations

from collections.abc import Iterator, Mapping, Sequence

from bindu.core.checks.check import Check, Finding, Looked, Offer, Threshold
from bindu.core.edits.steps import ChangeStep
from bindu.core.evaluation import Evaluation
from bindu.core.graph.kinds.stepped import step_nodes


class Costs(Check):
    """See ``Check``."""

    name = "cost"
    why = "A step that takes long makes every drag wait for it."
    severity = "untidy"
    thresholds = (
        Threshold("share", 25.0, "%", "over {} % of all", 1.0, 100.0),
        Threshold("milliseconds", 5.0, "ms", "over {} ms", 0.0, 1e6),
    )
    on = False

    def found(
        self, evaluation: Evaluation, limits: Mapping[str, float], looked: Looked
    ) -> Iterator[Finding]:
        """One for each step."""
        scene = evaluation.scene
        whole = sum(one.seconds for one in evaluation.results.values())
        for step in scene.steps.values():
            found = [evaluation.results.get(node) for node in step_nodes(step)] if step.on else []
            seconds = sum(one.seconds for one in found if one is not None)
            share = 100.0 * seconds / whole if whole > 0.0 else 0.0
            if share > limits["share"] and 1000.0 * seconds > limits["milliseconds"]:
                name = scene.parts[step.part].name
                text = f"{name}: “{step.name}” takes {1000.0 * seconds:.2g} ms, {share:.0f} % of "
                text += "the whole evaluation."
                yield Finding(
                    self.name,
                    self.severity,
                    step.part,
                    step.settings.writes[0],
                    step.name,
                    text,
                    1000.0 * seconds,
                    "ms",
                    step.id,
                )

    def offers(self, evaluation: Evaluation, finding: Finding) -> Sequence[Offer]:
        """Muting it."""
        if finding.step is None:
            return ()
        edit = ChangeStep(finding.step, on=False)
        return (Offer("mute", f"mute “{finding.what}”", "what it does is lost", (edit,)),)
