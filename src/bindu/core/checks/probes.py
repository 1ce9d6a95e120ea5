"""Slip probes, for the checks of contact."""

from __future__ import annotations

from collections.abc import Iterator

from bindu.core.evaluation import Evaluation
from bindu.core.scene.things import Probe


def probes_of(evaluation: Evaluation, rolling: bool) -> Iterator[Probe]:
    found = (probe for probe in evaluation.scene.probes.values() if probe.rolling is rolling)
    yield from sorted(found, key=lambda probe: (probe.name, probe.id))
