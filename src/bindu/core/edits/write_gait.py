"""Writing a whole gait out as keys."""

from __future__ import annotations

from dataclasses import dataclass, replace
from typing import Literal

import numpy as np

from bindu.core.edits.base import written
from bindu.core.edits.gaits import found_gait, gait_formulas
from bindu.core.edits.relations import WriteOut
from bindu.core.evaluation import evaluated
from bindu.core.nodes.identity import OWN, NodeId
from bindu.core.placing.place import refuse_moved, with_span_keys
from bindu.core.refusal import Refusal
from bindu.core.scene.changes import with_steps
from bindu.core.scene.model import Scene


@dataclass(frozen=True)
class WriteOutGait:
    """Writes what a gait does out as keys on every frame of the range: its feet, and the formulas
    that go by it. All of it is muted, so that it can be taken up again; nothing moves by it."""

    id: str
    do: Literal["write out gait"] = "write out gait"

    def label(self, scene: Scene) -> str:
        """See ``Edit``."""
        return f"write the gait {found_gait(scene, self.id).name} out as keys"

    def apply(self, scene: Scene) -> Scene:
        """See ``Edit``."""
        gait = found_gait(scene, self.id)
        before = evaluated(scene)
        steps = [scene.steps[i] for i in gait_formulas(scene, gait) if scene.steps[i].on]
        silent = with_steps(scene, [replace(step, on=False) for step in steps])
        without = evaluated(silent)
        made, frames = silent, np.arange(scene.first, scene.last + 1)
        for ref in sorted({ref for step in steps for ref in written(step)}):
            own = without.result(NodeId(*ref, OWN)).values
            share = before.channel(ref, "late") - without.channel(ref, "late")
            values = np.broadcast_to(own + share, len(frames))
            made = with_span_keys(made, ref, (scene.first, scene.last), frames, values)
        feet = scene.members_of.get(gait.id, {})
        walking = [part for part in gait.members if part in feet and feet[part].on]
        if not walking and not steps:
            text = "it is written out already: all of it is muted."
            raise Refusal(text, code="choice", place=gait.name)
        for part in walking:
            made = WriteOut(part, scene.first, scene.last).apply(made)
        refuse_moved(before, evaluated(made), rows=frames - scene.first)
        return made
