"""Findings as plain data, for the command line."""

from __future__ import annotations

from typing import Any

from bindu.core.checks.check import Finding
from bindu.core.checks.registry import acceptance
from bindu.core.scene.channels import ChannelRef
from bindu.core.scene.model import Scene
from bindu.core.scene.names import full_name, known_channel


def finding_row(scene: Scene, finding: Finding) -> dict[str, Any]:
    """A finding with names in the place of identities."""
    ref = ChannelRef(finding.part, finding.channel)
    accepted = acceptance(scene, finding)
    step = scene.steps.get(finding.step or "")
    return {
        "check": finding.check,
        "severity": finding.severity,
        "part": scene.parts[finding.part].name,
        "channel": full_name(scene, ref) if known_channel(scene, ref) else None,
        "what": finding.what,
        "step": step.name if step else None,
        "amount": finding.amount,
        "unit": finding.unit,
        "spans": [list(span) for span in finding.spans],
        "frame": finding.frame,
        "text": finding.text,
        "accepted": accepted.reason if accepted else None,
    }
