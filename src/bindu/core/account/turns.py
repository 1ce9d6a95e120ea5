"""Parts that read each other by turns, without a loop: at which turn each of their nodes comes."""

from __future__ import annotations

from collections.abc import Mapping, Sequence, Set

from bindu.core.graph.graph import Graph
from bindu.core.graph.kinds.stepped import step_nodes
from bindu.core.graph.reads import read_node
from bindu.core.nodes.identity import SOLVE, NodeId, Read
from bindu.core.scene.parts import Step


def turns_of(graph: Graph, parts: Set[str]) -> Mapping[NodeId, int]:
    """For each node of these parts how often, on the way to it, one of them was read by another.

    A node that reads one of another part of them, directly or through others, comes at a later turn
    than that: so what stands at one turn of a part can be drawn as one, and all reads go onwards.
    """
    found: dict[NodeId, int] = {}
    # Of each node, the latest turn by the part that was passed last on the way to it.
    passed: dict[NodeId, dict[str, int]] = {}
    for node in sorted(graph.nodes, key=lambda one: graph.ranks[one]):
        latest: dict[str, int] = {}
        for source in graph.nodes[node].inputs:
            for part, turn in passed.get(source, {}).items():
                latest[part] = max(latest.get(part, 0), turn)
        if node.part in parts:
            turn = max((t + (p != node.part) for p, t in latest.items()), default=0)
            found[node], latest = turn, {node.part: turn}
        if latest:
            passed[node] = latest
    return found


class Turns:
    """Which card a step or a value stands on: parts that read each other by turns, without a true
    loop, have one for each turn, ``<part>/before`` for those before the last."""

    def __init__(self, graph: Graph, groups: Sequence[Set[str]], reads: Sequence[Read]) -> None:
        self._graph = graph
        self._split = {part for group in groups for part in group}
        self._turns: dict[NodeId, int] = {}
        for group in groups:
            self._turns.update(turns_of(graph, group))
        self._of_part: dict[str, set[int]] = {}
        for read in reads:
            if read.quantity != SOLVE:
                self._note(read.part, self._at(self._node(read)))
        for steps in graph.scene.steps_of.values():
            for step in steps:
                self._note(step.part, self._of_step(step))

    def step(self, step: Step) -> str:
        """The card of a step."""
        return self._card(step.part, self._of_step(step))

    def value(self, read: Read) -> str:
        """The card of a value that is read."""
        return self._card(read.part, self._at(self._node(read)))

    def _node(self, read: Read) -> NodeId:
        return read_node(self._graph.scene, read._replace(back=False))

    def _note(self, part: str, turn: int | None) -> None:
        if turn is not None:
            self._of_part.setdefault(part, set()).add(turn)

    def _at(self, node: NodeId) -> int | None:
        # What nothing computes is there from the beginning.
        return self._turns.get(node, 0) if node.part in self._split else None

    def _of_step(self, step: Step) -> int | None:
        return max((self._turns[n] for n in step_nodes(step) if n in self._turns), default=None)

    def _card(self, part: str, turn: int | None) -> str:
        turns = sorted(self._of_part.get(part, ()))
        if turn is None or turn == turns[-1]:
            return part
        place = turns.index(turn)
        return f"{part}/before" if place == 0 else f"{part}/before {place + 1}"
