"""Where a node stands among others that could as well be computed next: by zone, then by the
parts' order in the tree, then by the steps' listed order."""

from __future__ import annotations

from bindu.core.nodes.identity import QUATERNION, SOLVE, WORLD_QUANTITIES, NodeId, Stage, tap_of
from bindu.core.scene.channels import GROUPS, zone_index
from bindu.core.scene.model import Scene
from bindu.core.scene.parts import Step
from bindu.core.steps.registry import solve_of

BEFORE_STEPS, AFTER_STEPS, ONE_BACK = -1, 1_000_000, 1_000_001
"""The places of shared solves, of groups and world values, and of values one frame back among the
steps of their zone."""

WHOLE = frozenset((*GROUPS, QUATERNION, *WORLD_QUANTITIES, SOLVE))
"""Quantities that are no channels."""

Ties = tuple[int, int, int, NodeId]


def ties_of(scene: Scene, node_id: NodeId) -> Ties:
    """What orders nodes of which any could come next; the identity comes last."""
    part, quantity, stage = node_id
    place, step = scene.tree_order[part], step_around(scene, stage)
    if step is not None:
        return zone_index(step.zone), place, step.position, node_id
    if quantity == SOLVE:
        zone = solve_of(scene, stage.name).zone
        return zone_index(zone), place, BEFORE_STEPS, node_id
    tap = tap_of(stage)
    if tap is None:
        return 0, place, AFTER_STEPS if quantity in WHOLE else 0, node_id
    back = stage.kind == "back"
    return zone_index(tap), place, ONE_BACK if back else AFTER_STEPS, node_id


def step_made(scene: Scene, node_id: NodeId) -> Step | None:
    """The step right after which a value is; None where it is at another stage."""
    return scene.step(node_id.stage.name) if node_id.stage.kind == "step" else None


def step_around(scene: Scene, stage: Stage) -> Step | None:
    """The step right after or before which a stage is."""
    return scene.step(stage.name) if stage.kind in ("step", "before") else None
