"""What all shapers share: they change the shape of one channel's curve."""

from __future__ import annotations

from dataclasses import replace
from typing import Any

from bindu.core.nodes.identity import Read
from bindu.core.scene.channels import Zone, step_channel
from bindu.core.scene.model import Scene
from bindu.core.scene.parts import Step
from bindu.core.steps.base import StepKind, kind_checks_channel


class ShaperKind(StepKind):
    """See ``StepKind``. Its inputs: the value that comes in, then its own channels in their
    order."""

    zones: tuple[Zone, ...] = ("keyed", "late")
    zone_reason = "it shapes a curve, behind its keys and layers or after all else"

    def checked(self, scene: Scene, part: str, settings: Any) -> Any:
        """Settings of a channel that the part has."""
        return replace(settings, channel=kind_checks_channel(scene, part, settings.channel))

    def reads(self, scene: Scene, step: Step, quantity: str) -> tuple[Read, ...]:
        """Its own channels."""
        return tuple(
            Read(step.part, step_channel(step.id, one.key), "final") for one in step.settings.inputs
        )

    def trouble(self, scene: Scene, settings: Any) -> str:
        """See ``StepKind``."""
        return "Look at its own channels there."
