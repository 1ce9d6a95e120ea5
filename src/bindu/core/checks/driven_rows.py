"""Rows of driven keys that are flat, turn back, jump, or barely move at first."""

from __future__ import annotations

from collections.abc import Iterator, Mapping

from bindu.core.checks.check import Check, Finding, Looked
from bindu.core.drivers.sheets import row_findings
from bindu.core.evaluation import Evaluation


class DrivenRows(Check):
    """What the stops sheet says of its rows, in the list of all findings. See ``Check``."""

    name = "driven rows"
    why = "A row that is flat or turns back on its way is often forgotten, or mistyped."
    severity = "untidy"

    def found(
        self, evaluation: Evaluation, limits: Mapping[str, float], looked: Looked
    ) -> Iterator[Finding]:
        """One for each oddity of a row."""
        scene = evaluation.scene
        for driven in sorted(scene.driven.values(), key=lambda one: (one.name, one.id)):
            for row in scene.rows_of.get(driven.id, ()):
                for n, odd in enumerate(row_findings(scene, driven, row)):
                    text = f"{driven.name}: {odd.text} See its stops sheet."
                    yield Finding(
                        self.name,
                        self.severity,
                        row.part,
                        row.settings.writes[0],
                        driven.name,
                        text,
                        1.0,
                        "row",
                        row.id,
                        key=f"{driven.id} {n}",
                    )
