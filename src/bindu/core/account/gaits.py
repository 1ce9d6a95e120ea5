"""What a gait does and costs."""

from __future__ import annotations

import numpy as np

from bindu.core.account.ledger import step_cost
from bindu.core.edits.gaits import gait_formulas
from bindu.core.evaluation import Evaluation
from bindu.core.geometry.continuity import Flags
from bindu.core.graph.reads import read_node
from bindu.core.scene.things import Gait
from bindu.core.steps.bound.walk import PHASE, SWING, gait_read


def gait_cost(evaluation: Evaluation, gait: Gait) -> tuple[float, float]:
    """How long a gait took when it was last computed, seconds: its prints and feet; the formulas
    that go by it. What is muted costs nothing."""
    scene = evaluation.scene
    feet = [step for step in scene.members_of.get(gait.id, {}).values() if step.on]
    solved = evaluation.results.get(read_node(scene, gait_read(gait)))
    walking = sum(step_cost(evaluation, step) for step in feet)
    walking += solved.seconds if solved is not None and feet else 0.0
    formulas = [scene.steps[i] for i in gait_formulas(scene, gait)]
    return walking, sum(step_cost(evaluation, step) for step in formulas if step.on)


def feet_in_the_air(evaluation: Evaluation, gait: Gait) -> dict[str, Flags]:
    """For each foot whose step is not muted, on which frames it is off the ground, shape (F,)."""
    scene = evaluation.scene
    solved = evaluation.results.get(read_node(scene, gait_read(gait)))
    if solved is None:
        return {}
    walking = {step.part for step in scene.members_of.get(gait.id, {}).values() if step.on}
    air = np.broadcast_to(
        solved.values[:, :PHASE, SWING] > 0.0, (len(evaluation.times.frames), len(gait.feet))
    )
    return {foot.part: air[:, n] for n, foot in enumerate(gait.feet) if foot.part in walking}
