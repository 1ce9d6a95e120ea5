"""Pairs of parts that read each other, and why they are no loop."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass

from bindu.core.account.labels import read_and_written
from bindu.core.graph.graph import Graph
from bindu.core.nodes.identity import SOLVE, Read
from bindu.core.scene.model import Scene
from bindu.core.scene.parts import Step
from bindu.core.steps.registry import reads_of


@dataclass(frozen=True)
class MutualPair:
    """Two parts that read each other; ``reason`` says why nothing feeds itself."""

    one: str
    other: str
    reason: str


def mutual_pairs(graph: Graph) -> tuple[MutualPair, ...]:
    """The pairs of parts that read each other and are in no loop together, by the tree."""
    scene = graph.scene
    found: dict[tuple[str, str], list[tuple[Step, Read]]] = {}
    for part in scene.tree_order:
        for step in scene.steps_of.get(part, ()):
            if step.on:
                for read in _foreign(scene, step):
                    found.setdefault((part, read.part), []).append((step, read))
    looped = [{node.part for node in loop.members} for loop in graph.loops]
    pairs = []
    for one, other in found:
        if scene.tree_order[one] >= scene.tree_order[other] or (other, one) not in found:
            continue
        if any({one, other} <= parts for parts in looped):
            continue
        reason = _reason(scene, found[(one, other)][0], found[(other, one)][0])
        pairs.append(MutualPair(one, other, reason))
    return tuple(pairs)


def _foreign(scene: Scene, step: Step) -> Iterator[Read]:
    """What a step reads of other parts, without the parent that it only moves in."""
    parent = scene.parts[step.part].parent
    reads = [r for r in reads_of(scene, step) if r.part != step.part and r.quantity != SOLVE]
    yield from (r for r in reads if r.part != parent or not step.settings.groups)


def _reason(scene: Scene, one: tuple[Step, Read], other: tuple[Step, Read]) -> str:
    (step, read), (back_step, back_read) = one, other
    if step.settings.kind == back_step.settings.kind == "aim":
        return (
            "They aim at each other. An aim reads a position and writes a rotation, so nothing "
            "feeds itself."
        )
    both = f"{read_and_written(scene, *one)}; {read_and_written(scene, *other)}."
    if read.back or back_read.back:
        return f"{both} One of them reads one frame back."
    return f"{both} Neither writes what the other reads at that tap, so nothing feeds itself."
