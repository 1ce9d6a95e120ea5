"""Shared solves: what is solved once for several parts, from which each picks. The stage says who
owns it."""

from __future__ import annotations

from bindu.core.graph.kinds.stepped import Find
from bindu.core.nodes.identity import NodeId
from bindu.core.nodes.node import Node
from bindu.core.scene.model import Scene
from bindu.core.steps.registry import solve_of


def made(scene: Scene, node_id: NodeId, find: Find) -> Node:
    """What the owner solves for all its members, before their steps."""
    owner = node_id.stage.name
    solve = solve_of(scene, owner)
    inputs = tuple(find(read) for read in solve.reads(scene, owner))
    return Node(node_id, inputs, solve.operation(scene, owner), len(inputs))
