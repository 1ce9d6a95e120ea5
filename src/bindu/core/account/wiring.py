"""The picture of what reads what: parts, limbs and surfaces as cards with ports, and the reads
between them."""

from __future__ import annotations

from collections.abc import Iterator, Mapping
from dataclasses import dataclass
from typing import Literal

import networkx as nx

from bindu.core.account.labels import ledger_channel, read_label, read_sentence
from bindu.core.account.surface_wiring import SurfaceRead, surface_reads
from bindu.core.account.turns import Turns
from bindu.core.graph.graph import Graph
from bindu.core.graph.kinds.stepped import step_nodes
from bindu.core.graph.reads import read_node
from bindu.core.nodes.identity import SOLVE, NodeId, Read, at_tap
from bindu.core.scene.channels import ChannelRef, step_channel
from bindu.core.scene.model import Scene
from bindu.core.scene.parts import Step
from bindu.core.scene.settings import LimbSettings
from bindu.core.scene.surfaces import Surface
from bindu.core.scene.things import Limb
from bindu.core.steps.registry import kind_of, reads_of
from bindu.core.steps.solved.limb import solution_read, steered_by

PortSide = Literal["step", "source"]
CardKind = Literal["part", "limb", "surface"]


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
    """A part, or, where parts read each other by turns without a loop, what of it comes at one
    turn. Or a limb or a surface, by its identity, whose channels stand on the part."""

    id: str
    part: str
    column: int
    ports: list[Port]
    kind: CardKind
    thing: str | None = None


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
    of_surfaces = list(surface_reads(scene))
    offered = [*(read for _, read in reads), *(one.read for one in of_surfaces)]
    ports = _ports(graph, offered)
    sources = {_source_id(read): read for read in offered}
    cards_of = Turns(graph, _groups(graph, reads), offered)
    home = {
        key: cards_of.step(scene.steps[port.step])
        if port.step is not None
        else cards_of.value(sources[key])
        for key, port in ports.items()
    }
    cards: dict[str, Card] = {}
    of_things = [limb_card(graph, limb) for limb in scene.limbs.values()]
    reading = {one.surface.id: one.surface for one in of_surfaces}
    of_things += [_surface_card(surface) for surface in reading.values()]
    for card in of_things:
        cards[card.id] = card
        home.update((port.id, card.id) for port in card.ports)
    for port in ports.values():
        if home[port.id] not in cards:
            cards[home[port.id]] = Card(home[port.id], port.part, 0, [], "part")
        cards[home[port.id]].ports.append(port)
    for card in cards.values():
        # Steps in their order, then values.
        card.ports.sort(key=lambda port: port.id if port.side == "source" else "")
    wires = list(_wires(graph, reads, home))
    wires += [_surface_wire(one, home) for one in of_surfaces]
    _place_columns(scene, cards, wires)
    order = scene.tree_order
    listed = sorted(cards.values(), key=lambda c: (c.column, order[c.part], c.id))
    return Wiring(tuple(listed), tuple(wires))


def _wires(graph: Graph, reads: list[tuple[Step, Read]], home: Mapping[str, str]) -> Iterator[Wire]:
    """The reads of steps, from card to card."""
    scene = graph.scene
    loops = [{node.part for node in loop.members} for loop in graph.loops]
    for step, read in reads:
        source, target = _source_id(read), _target_id(scene, step, read)
        reader = _reading(scene, step, read)
        looped = any({reader[0].part, read.part} <= parts for parts in loops)
        yield Wire(
            source,
            target,
            home[source],
            home[target],
            "solved" if read.quantity == SOLVE else str(read.tap),
            step.zone,
            read.back,
            looped and _in_loop(graph, reader, read),
            _sentence(scene, step, read),
        )


def _reads(scene: Scene) -> Iterator[tuple[Step, Read]]:
    """All reads but weights and what a step reads of its own channels' making."""
    for part in scene.tree_order:
        for step in scene.steps_of.get(part, ()):
            if step.id not in scene.steps:
                continue
            if isinstance(step.settings, LimbSettings):
                limb = scene.limbs[step.settings.limb]
                yield step, solution_read(limb)
                if step.settings.base:
                    yield from ((step, read) for read in _steering(scene, limb))
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
            if step.settings.kind == "walk":
                gait = scene.gaits[step.settings.gait]
                walked = (gait.part, *((gait.ground,) if gait.ground else ()))
                yield from ((step, Read(p, "world matrix", "final")) for p in walked)


def _steering(scene: Scene, limb: Limb) -> Iterator[Read]:
    """What a limb goes by: its goal, its pole, and those of its channels that steps write."""
    yield from steered_by(limb)
    for one in limb.inputs:
        ref = ChannelRef(limb.part, step_channel(limb.id, one.key))
        if scene.writers(ref):
            yield Read(*ref, at_tap("final"))


def _ports(graph: Graph, offered: list[Read]) -> Mapping[str, Port]:
    scene = graph.scene
    ports: dict[str, Port] = {}
    for step in (step for steps in scene.steps_of.values() for step in steps):
        if step.id in scene.steps:
            port = _step_port(graph, step)
            ports[port.id] = port
    for read in offered:
        if read.quantity != SOLVE:
            ports.setdefault(_source_id(read), _source_port(graph, read))
    return ports


def limb_card(graph: Graph, limb: Limb) -> Card:
    """A limb: what it reaches for goes in, its solution goes out."""
    scene = graph.scene
    members = [scene.members_of[limb.id][part] for part in limb.chain]
    on = any(step.on for step in members)
    solution = solution_read(limb)
    held = on and read_node(scene, solution) in graph.held
    label = "goal and pole" if limb.pole is not None else "goal"
    blend = step_channel(limb.id, "blend")
    goes_in = _limb_port(limb, members[0])
    ports = [
        Port(goes_in, "step", label, limb.part, blend, "solved", None, on, held),
        Port(_source_id(solution), "source", "solution", limb.chain[0], "rotation.x", "solved",
             None, on, held),
    ]  # fmt: skip
    return Card(f"limb {limb.id}", limb.part, 0, ports, "limb", limb.id)


def _surface_card(surface: Surface) -> Card:
    """A surface: a port for each of its steps, in their order. Nothing reads it."""
    ports = []
    for step in surface.steps:
        weight = step_channel(surface.id, f"{step.id}.weight")
        ports.append(
            Port(f"{surface.id}/{step.id}", "step", step.name, surface.part, weight, "final",
                 None, step.on, False)
        )  # fmt: skip
    return Card(f"surface {surface.id}", surface.part, 0, ports, "surface", surface.id)


def _surface_wire(one: SurfaceRead, home: Mapping[str, str]) -> Wire:
    source, target = _source_id(one.read), f"{one.surface.id}/{one.step.id}"
    tap = str(one.read.tap)
    return Wire(source, target, home[source], home[target], tap, "final", False, False, one.text)


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


def _groups(graph: Graph, reads: list[tuple[Step, Read]]) -> list[set[str]]:
    """The parts that read each other, round about, without a true loop."""
    pairs: nx.DiGraph[str] = nx.DiGraph()
    for step, read in reads:
        if isinstance(step.settings, LimbSettings):
            steers = _steering(graph.scene, graph.scene.limbs[step.settings.limb])
            pairs.add_edges_from((r.part, step.part) for r in steers if not r.back)
        elif read.part != step.part and not read.back:
            pairs.add_edge(read.part, step.part)
    looped = [{node.part for node in loop.members} for loop in graph.loops]
    groups = [g for g in nx.strongly_connected_components(pairs) if len(g) > 1]
    return [g for g in groups if not any(g & parts for parts in looped)]


def _reading(scene: Scene, step: Step, read: Read) -> list[NodeId]:
    """The nodes for which a step reads something: of what steers a limb, its solution."""
    if _steers(step, read):
        assert isinstance(step.settings, LimbSettings)
        return [read_node(scene, solution_read(scene.limbs[step.settings.limb]))]
    return list(step_nodes(step))


def _in_loop(graph: Graph, reader: list[NodeId], read: Read) -> bool:
    nodes, source = set(reader), read_node(graph.scene, read)
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


def _target_id(scene: Scene, step: Step, read: Read) -> str:
    """The port that a read goes to: what steers a limb goes to the limb's own."""
    if _steers(step, read):
        assert isinstance(step.settings, LimbSettings)
        return _limb_port(scene.limbs[step.settings.limb], step)
    return _step_id(step)


def _steers(step: Step, read: Read) -> bool:
    """Whether a read is of what steers a limb."""
    return isinstance(step.settings, LimbSettings) and read.quantity != SOLVE


def _sentence(scene: Scene, step: Step, read: Read) -> str:
    if not isinstance(step.settings, LimbSettings):
        return read_sentence(scene, step, read)
    limb, part = scene.limbs[step.settings.limb], scene.parts[step.part].name
    if _steers(step, read):
        return f"the limb “{limb.name}” (solved) reads {read_label(scene, read)} at {read.tap}"
    return f"“{step.name}” (solved) of {part} takes its share of what the limb solves"


def _limb_port(limb: Limb, base: Step) -> str:
    return f"{limb.id}/{base.id}"


def _step_id(step: Step) -> str:
    return f"{step.part}/{step.id}"
