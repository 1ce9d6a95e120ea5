"""The picture of what reads what: parts as cards with ports, and the reads between them."""

from __future__ import annotations

from collections.abc import Iterator, Mapping
from dataclasses import dataclass
from typing import Literal

import networkx as nx

from bindu.core.account.labels import ledger_channel, read_label, read_sentence
from bindu.core.graph.graph import Graph, downstream
from bindu.core.graph.kinds.stepped import step_nodes
from bindu.core.graph.reads import read_node
from bindu.core.nodes.identity import SOLVE, NodeId, Read
from bindu.core.scene.model import Scene
from bindu.core.scene.parts import Step
from bindu.core.scene.settings import LimbSettings
from bindu.core.steps.registry import kind_of, reads_of
from bindu.core.steps.solved.limb import steered_by

PortSide = Literal["step", "source"]


@dataclass(frozen=True)
class Port:
    """A step of a part, or a value of it that others read.

    Attributes:
        id: unique in the picture.
        channel: the channel whose ledger accounts for it.
        tap: a step's zone; the tap at which a value is read.
        step: the step's identity.
        held: it is in a loop or downstream of one.
    """

    id: str
    side: PortSide
    label: str
    part: str
    channel: str
    tap: str
    step: str | None
    on: bool
    held: bool


@dataclass
class Card:
    """A part, or, where parts read each other without a loop, one of the two halves of it: what
    is read before its steps run, and the rest."""

    id: str
    part: str
    column: int
    ports: list[Port]


@dataclass(frozen=True)
class Wire:
    """A read: at which tap, by a step of which zone. ``looped``: it is part of a loop."""

    source: str
    target: str
    source_card: str
    target_card: str
    tap: str
    zone: str
    back: bool
    looped: bool
    text: str


@dataclass(frozen=True)
class Wiring:
    """The whole picture, columns from 0."""

    cards: tuple[Card, ...]
    wires: tuple[Wire, ...]


def wiring_of(graph: Graph) -> Wiring:
    """The wiring of a scene: only parts that read, or are read, have cards."""
    scene = graph.scene
    reads = list(_reads(scene))
    ports = _ports(graph, reads)
    sources = {_source_id(read): read for _, read in reads}
    made = {part: _made_by_steps(graph, part) for part in _split_parts(graph, reads)}
    home = {key: _card_of(graph, port.part, sources.get(key), made) for key, port in ports.items()}
    cards: dict[str, Card] = {}
    for port in ports.values():
        card = cards.setdefault(home[port.id], Card(home[port.id], port.part, 0, []))
        card.ports.append(port)
    for card in cards.values():
        # Steps in their order, then values.
        card.ports.sort(key=lambda port: (port.step is None, "" if port.step else port.id))
    loops = [{node.part for node in loop.members} for loop in graph.loops]
    wires = []
    for step, read in reads:
        source, target = _source_id(read), _step_id(step)
        looped = any({step.part, read.part} <= parts for parts in loops)
        looped = looped and _in_loop(graph, step, read)
        wires.append(
            Wire(
                source,
                target,
                home[source],
                home[target],
                str(read.tap),
                step.zone,
                read.back,
                looped,
                read_sentence(scene, step, read),
            )
        )
    _place_columns(scene, cards, wires)
    order = scene.tree_order
    listed = sorted(cards.values(), key=lambda c: (c.column, order[c.part], c.id))
    return Wiring(tuple(listed), tuple(wires))


def _reads(scene: Scene) -> Iterator[tuple[Step, Read]]:
    """All reads but weights and what a step reads of its own channels' making."""
    for part in scene.tree_order:
        for step in scene.steps_of.get(part, ()):
            if step.id not in scene.steps:
                continue
            for read in reads_of(scene, step):
                # Where a bound part is itself, and its step's own channels, go without saying.
                own = read.part == step.part
                own = own and (bool(step.settings.groups) or read.quantity.startswith(step.id))
                if not own and read.quantity != SOLVE:
                    yield step, read
            if step.settings.kind == "lead":
                lead = scene.leads[step.settings.lead]
                others = (member for member in lead.members if member != step.part)
                yield from ((step, Read(m, "world matrix", "driven")) for m in others)
            if isinstance(step.settings, LimbSettings):
                yield from ((step, read) for read in steered_by(scene, step))


def _ports(graph: Graph, reads: list[tuple[Step, Read]]) -> Mapping[str, Port]:
    scene = graph.scene
    ports: dict[str, Port] = {}
    for step in (step for steps in scene.steps_of.values() for step in steps):
        if step.id in scene.steps:
            port = _step_port(graph, step)
            ports[port.id] = port
    for _, read in reads:
        ports.setdefault(_source_id(read), _source_port(graph, read))
    return ports


def _step_port(graph: Graph, step: Step) -> Port:
    scene, channel = graph.scene, step.settings.writes[0]
    label = kind_of(step.settings).port(scene, step)
    held = step.on and any(node in graph.held for node in step_nodes(step))
    return Port(
        _step_id(step), "step", label, step.part, channel, step.zone, step.id, step.on, held
    )


def _source_port(graph: Graph, read: Read) -> Port:
    scene = graph.scene
    label = read_label(scene, read._replace(back=False))
    label = label.removeprefix(scene.parts[read.part].name).lstrip(". ")
    channel = ledger_channel(scene, read.part, read.quantity).channel
    held = read_node(scene, read) in graph.held
    return Port(
        _source_id(read), "source", label, read.part, channel, str(read.tap), None, True, held
    )


def _split_parts(graph: Graph, reads: list[tuple[Step, Read]]) -> set[str]:
    """The parts that read each other, round about, without a true loop."""
    pairs: nx.DiGraph[str] = nx.DiGraph()
    pairs.add_edges_from((r.part, s.part) for s, r in reads if r.part != s.part and not r.back)
    looped = [{node.part for node in loop.members} for loop in graph.loops]
    groups = [g for g in nx.strongly_connected_components(pairs) if len(g) > 1]
    return {part for g in groups if not any(g & parts for parts in looped) for part in g}


def _made_by_steps(graph: Graph, part: str) -> set[NodeId]:
    """What a part's steps make, and all that is computed from it."""
    scene = graph.scene
    steps = [s for s in scene.steps_of.get(part, ()) if s.on and s.id in scene.steps]
    made = {node for step in steps for node in step_nodes(step) if node in graph.nodes}
    return downstream(graph.dependents, made)


def _card_of(graph: Graph, part: str, read: Read | None, made: Mapping[str, set[NodeId]]) -> str:
    """The card of a step (no read) or of a value that is read; of a split part, the first half
    where no step of it comes before."""
    if read is None or part not in made:
        return part
    now = read_node(graph.scene, read._replace(back=False))
    return part if now in made[part] else f"{part}/before"


def _in_loop(graph: Graph, step: Step, read: Read) -> bool:
    nodes, source = set(step_nodes(step)), read_node(graph.scene, read)
    return any(
        nodes & set(loop.members) and source in {*loop.members, *loop.chain} for loop in graph.loops
    )


def _place_columns(scene: Scene, cards: Mapping[str, Card], wires: list[Wire]) -> None:
    """Each card one column right of all that it reads; parts in a loop by the tree."""
    graph: nx.DiGraph[str] = nx.DiGraph()
    graph.add_nodes_from(cards)
    for wire in wires:
        if wire.source_card != wire.target_card and not wire.back:
            graph.add_edge(wire.source_card, wire.target_card)
    for group in list(nx.strongly_connected_components(graph)):
        order = {card: (scene.tree_order[cards[card].part], card) for card in group}
        backward = [
            (a, b) for a, b in graph.edges if a in group and b in group and order[a] >= order[b]
        ]
        graph.remove_edges_from(backward)
    for card in nx.topological_sort(graph):
        before = [cards[source].column + 1 for source in graph.predecessors(card)]
        cards[card].column = max(before, default=0)


def _source_id(read: Read) -> str:
    return f"{read.part}/{read.quantity}@{read.tap}"


def _step_id(step: Step) -> str:
    return f"{step.part}/{step.id}"
