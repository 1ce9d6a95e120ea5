"""Writing shapers out as keys."""

from __future__ import annotations

from dataclasses import dataclass, replace
from typing import Literal

import numpy as np

from bindu.core.curves.keys import with_keys
from bindu.core.curves.model import Curve, Key
from bindu.core.curves.thin import thinned_places
from bindu.core.edits.base import finite, found_step
from bindu.core.edits.steps import RemoveStep
from bindu.core.evaluation.asking import evaluated
from bindu.core.nodes.identity import NodeId, after
from bindu.core.placing.place import refuse_locked
from bindu.core.refusal import Refusal
from bindu.core.scene.changes import with_curve
from bindu.core.scene.channels import ChannelRef
from bindu.core.scene.model import Scene
from bindu.core.scene.names import full_name
from bindu.core.scene.settings import ShaperSettings


@dataclass(frozen=True)
class WriteOutShaper:
    """Takes a shaper away and gives its channel, in place of its keys, those of what the shaper
    makes: on every frame of the range, or as few as a tolerance allows."""

    step: str
    tolerance: float = 0.0
    do: Literal["write out shaper"] = "write out shaper"

    def label(self, scene: Scene) -> str:
        """See ``Edit``."""
        return f"write “{found_step(scene, self.step).name}” out as keys"

    def apply(self, scene: Scene) -> Scene:
        """See ``Edit``."""
        step = found_step(scene, self.step)
        settings = step.settings
        if not isinstance(settings, ShaperSettings) or step.zone != "keyed":
            text = "only a shaper in zone Keyed is written out; move it there first."
            raise Refusal(text, code="choice", place=step.name)
        if finite(self.tolerance, "tolerance") < 0.0:
            raise Refusal("it cannot be negative.", code="number", place="tolerance")
        ref = ChannelRef(step.part, settings.channel)
        self._refuse_others(scene, ref)
        refuse_locked(scene, ref)
        evaluation = evaluated(scene)
        frames = np.arange(scene.first, scene.last + 1)
        made = evaluation.result(NodeId(*ref, after(step))).values
        values = np.broadcast_to(made, len(frames)) if step.on else None
        left = RemoveStep(step.id).apply(scene)
        if values is None:
            return left
        places = thinned_places(values, self.tolerance) if self.tolerance else range(len(frames))
        keys = [Key(float(frames[n]), float(values[n]), "linear") for n in places]
        old = scene.curves.get(ref)
        return with_curve(left, ref, with_keys(replace(old, keys=()) if old else Curve(()), keys))

    def _refuse_others(self, scene: Scene, ref: ChannelRef) -> None:
        """Refuses where something stands between the keys and the shaper."""
        before = []
        for one in scene.writers(ref):
            if one.id == self.step:
                break
            before.append(f"“{one.name}”")
        if before:
            text = f"{', '.join(before)} comes before it; write that out or merge it first."
            raise Refusal(text, code="in use", place=full_name(scene, ref))
