"""What makes a scene come out otherwise than anybody meant: loops, no numbers, jumps."""

from __future__ import annotations

from bindu.core.checks.check import Finding
from bindu.core.checks.registry import findings
from bindu.core.evaluation import Evaluation

CHECKS = {
    "loop",
    "no number",
    "switch",
    "handover",
    "uneven limb",
    "reach",
    "pole",
    "aim",
    "shear",
}


def troubles(evaluation: Evaluation) -> tuple[Finding, ...]:
    """What these checks find in a scene."""
    return findings(evaluation, only=CHECKS)
