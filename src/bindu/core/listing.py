"""Nodes and loops in the words that people use."""

from __future__ import annotations

from typing import Any

from bindu.core.graph.build import WORLD_QUANTITIES
from bindu.core.graph.loops import Loop
from bindu.core.graph.node import NodeId
from bindu.core.scene.channels import GROUPS, ChannelRef
from bindu.core.scene.model import Scene
from bindu.core.scene.names import full_name


def node_label(scene: Scene, node_id: NodeId) -> str:
    """What people call a node: part, quantity and tap, and the step that makes it."""
    part = scene.parts[node_id.part].name
    if node_id.quantity in WORLD_QUANTITIES or node_id.quantity in GROUPS:
        return f"{part}.{node_id.quantity} @{node_id.stage}"
    ref = ChannelRef(node_id.part, node_id.quantity)
    name = full_name(scene, ref)
    step = scene.step(node_id.stage)
    if step is None and node_id.stage == "own":
        layered = any(step.zone == "keyed" for step in scene.writers(ref))
        return f"{name} @keyed · base keys" if layered else f"{name} @keyed"
    if step is None:
        return f"{name} @{node_id.stage}"
    return f"{name} @{step.zone} · {step.name}"


def loop_lines(scene: Scene, loop: Loop) -> dict[str, Any]:
    """A loop's chain, the step that is held and what it takes instead, as labels."""
    return {
        "chain": [node_label(scene, node_id) for node_id in loop.chain],
        "reader": node_label(scene, loop.reader),
        "held": node_label(scene, loop.held),
    }
