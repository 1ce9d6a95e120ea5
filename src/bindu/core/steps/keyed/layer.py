"""Layers: a curve laid over what comes from below."""

from __future__ import annotations

from collections.abc import Hashable, Sequence
from dataclasses import dataclass

import numpy as np

from bindu.core.curves.model import Array
from bindu.core.nodes.batches import InBatches
from bindu.core.nodes.identity import Read
from bindu.core.nodes.operation import Operation, Times
from bindu.core.refusal import Refusal
from bindu.core.scene.channels import Zone
from bindu.core.scene.model import Scene
from bindu.core.scene.parts import Step
from bindu.core.scene.settings import LayerMode, LayerSettings
from bindu.core.steps.base import StepKind


@dataclass(frozen=True)
class LayerOperation(InBatches):
    """Adds the layer's curve to the value that comes in, or puts it in its place."""

    mode: LayerMode

    @property
    def digest(self) -> str:
        return f"layer {self.mode}"

    @property
    def alike(self) -> Hashable:
        """See ``InBatches``."""
        return self.mode

    @classmethod
    def compute_many(
        cls, operations: Sequence[LayerOperation], inputs: Sequence[Array], times: Times
    ) -> Array:
        """Shape (B, F) or (B, 1)."""
        below, own = inputs
        return below + own if operations[0].mode == "add" else np.asarray(own)


class LayerKind(StepKind):
    """See ``StepKind``. The scene itself makes these steps, from curves on its layers."""

    name = "layer"
    zones: tuple[Zone, ...] = ("keyed",)
    zone_reason = "it is made of keys"

    def checked(self, scene: Scene, part: str, settings: LayerSettings) -> LayerSettings:
        """Always refused: a layer's step comes with its first key."""
        raise Refusal("put a key on the layer instead.", place="layer")

    def reads(self, scene: Scene, step: Step, quantity: str) -> tuple[Read, ...]:
        """The curve on the layer."""
        settings = step.settings
        assert isinstance(settings, LayerSettings)
        return (Read(*settings.source, "keyed"),)

    def operation(self, scene: Scene, step: Step, quantity: str) -> Operation:
        """See ``LayerOperation``."""
        settings = step.settings
        assert isinstance(settings, LayerSettings)
        return LayerOperation(settings.mode)

    def described(self, scene: Scene, settings: LayerSettings) -> str:
        """What it does, and how many keys it has."""
        count = len(scene.curves[settings.source].keys)
        verb = "adds" if settings.mode == "add" else "replaces by"
        return f"{verb} {count} key{'s' if count != 1 else ''}"

    def trouble(self, scene: Scene, settings: LayerSettings) -> str:
        """See ``StepKind``."""
        return "Look at its keys."
