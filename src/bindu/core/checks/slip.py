"""Rolling points that slip."""

from __future__ import annotations

from collections.abc import Iterator, Mapping, Sequence

import numpy as np

from bindu.core.checks.check import Check, Finding, Looked, Offer, Threshold, said, spans_of
from bindu.core.checks.probes import probes_of
from bindu.core.drivers.slip import fitted, slip_of
from bindu.core.edits.steps import ChangeStep
from bindu.core.evaluation import Evaluation
from bindu.core.refusal import Refusal
from bindu.core.scene.settings import FormulaSettings
from bindu.core.steps.registry import kind_of

FITS = 0.95
"""Which share of the slip a factor may leave to be worth its while."""


class Slipping(Check):
    """See ``Check``."""

    name = "slip"
    why = "A wheel that turns by another way than it has gone skids."
    severity = "wrong"
    thresholds = (Threshold("slip", 1.0, "mm", "over {} mm a frame", 0.0, 1e6),)

    def found(
        self, evaluation: Evaluation, limits: Mapping[str, float], looked: Looked
    ) -> Iterator[Finding]:
        """One for each rolling probe."""
        scene, first = evaluation.scene, evaluation.times.first
        for probe in probes_of(evaluation, rolling=True):
            way = 1000.0 * slip_of(evaluation, probe).amounts
            rows = np.flatnonzero(way > limits["slip"])
            if not len(rows):
                continue
            worst = int(np.argmax(way))
            text = f"{scene.parts[probe.part].name} slips {said(float(way.sum()))} mm in all "
            text += f"({probe.name}), most on {first + worst}: {said(way[worst])} mm in one frame. "
            text += "Fit the factor of its formula."
            yield Finding(
                self.name,
                self.severity,
                probe.part,
                "rotation.x",
                probe.name,
                text,
                float(way.sum()),
                "mm",
                None,
                spans_of(rows, first),
                first + worst,
                way,
                limits["slip"],
                probe.id,
            )

    def offers(self, evaluation: Evaluation, finding: Finding) -> Sequence[Offer]:
        """The factor for which it slips least, and the exact formula, of each formula that turns
        it."""
        scene, times = evaluation.scene, evaluation.times
        probe = scene.probes.get(finding.key)
        found: list[Offer] = []
        for step in scene.steps_of.get(finding.part, ()) if probe else ():
            settings = step.settings
            if not isinstance(settings, FormulaSettings) or not step.on or probe is None:
                continue
            if not settings.channel.startswith("rotation."):
                continue
            try:
                fit = fitted(evaluation, probe, step, times.first, times.last)
            except Refusal:
                continue
            shown = kind_of(settings).shown(scene, settings)
            less = f"slip {said(1000 * fit.before)} → {said(1000 * fit.after)} mm"
            for text, what, cost in (
                (fit.text if fit.after < FITS * fit.before else None, "fit the factor", less),
                (fit.exact, "turn by the true way", f"“{step.name}” becomes {fit.exact}"),
            ):
                if text and text != shown.text:
                    edit = ChangeStep(step.id, settings=_written(shown, text))
                    found.append(Offer(what, f"{what} of “{step.name}”", cost, (edit,)))
        return tuple(found)


def _written(settings: FormulaSettings, text: str) -> FormulaSettings:
    return FormulaSettings(settings.channel, text, settings.mode)
