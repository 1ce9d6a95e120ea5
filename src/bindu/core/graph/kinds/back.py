"""Values as they were one frame back. The stage says at which tap."""

from __future__ import annotations

from bindu.core.graph.kinds.stepped import Find
from bindu.core.nodes.back import Delayed
from bindu.core.nodes.identity import NodeId, Read, tap_of
from bindu.core.nodes.node import Node
from bindu.core.scene.model import Scene


def made(scene: Scene, node_id: NodeId, find: Find) -> Node:
    """A value one frame back; on the first frame, its driven value."""
    part, quantity, stage = node_id
    tap = tap_of(stage)
    assert tap is not None
    inputs = (find(Read(part, quantity, tap)), find(Read(part, quantity, "driven")))
    return Node(node_id, inputs, Delayed(), 1, delayed=True)
