"""Where a node stands among others that could as well be computed next: by zone, then by the
parts' order in the tree, then by the steps' listed order."""

from __future__ import annotations

from bindu.core.nodes.identity import NodeId, Stage, tap_of
from bindu.core.scene.channels import zone_index
from bindu.core.scene.model import Scene, Step

AFTER_STEPS = 1_000_000
"""The place of groups and world values among the steps of their zone: behind them."""

Ties = tuple[int, int, int]


def step_ties(scene: Scene, step: Step) -> Ties:
    """Where what a step makes stands."""
    return zone_index(step.zone), scene.tree_order[step.part], step.position


def late_ties(scene: Scene, node_id: NodeId) -> Ties:
    """Where what is made of other nodes stands: behind the steps of its zone, or with the step
    whose values it takes."""
    step, tap = step_around(scene, node_id.stage), tap_of(node_id.stage)
    if step is not None:
        return step_ties(scene, step)
    return zone_index(tap) if tap else 0, scene.tree_order[node_id.part], AFTER_STEPS


def step_made(scene: Scene, node_id: NodeId) -> Step | None:
    """The step right after which a value is; None where it is at another stage."""
    return scene.step(node_id.stage.name) if node_id.stage.kind == "step" else None


def step_around(scene: Scene, stage: Stage) -> Step | None:
    """The step right after or before which a stage is."""
    return scene.step(stage.name) if stage.kind in ("step", "before") else None
