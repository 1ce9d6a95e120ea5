"""What is said about a loop: its chain, why it is one, where it matters, what would break it."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from dataclasses import dataclass, replace
from itertools import islice
from typing import Literal

import numpy as np

from bindu.core.account.labels import node_label, read_and_written, read_label
from bindu.core.edits import AnyEdit, applied
from bindu.core.edits.rereading import rereading
from bindu.core.edits.steps import ChangeStep
from bindu.core.evaluation import Evaluation
from bindu.core.graph.kinds.stepped import step_nodes
from bindu.core.graph.kinds.ties import step_made
from bindu.core.graph.loops import Loop, feeds_from
from bindu.core.graph.reads import read_node
from bindu.core.graph.still_looped import feeding_of, still_looped
from bindu.core.nodes.identity import SOLVE, NodeId, Read, at_tap, tap_of
from bindu.core.refusal import Refusal
from bindu.core.scene.channels import TAPS
from bindu.core.scene.model import Scene
from bindu.core.scene.parts import Step
from bindu.core.steps.registry import kind_of, solve_of

RemedyKind = Literal["earlier tap", "one frame back", "mute"]
MOST_REMEDIES = 20
MOST_LOOPS = 100
"""So many loops are told in full; the rest as a number."""
DIFFERENT = 1e-9


@dataclass(frozen=True)
class Remedy:
    """A change that breaks a loop; ``tap`` is the one that is read then."""

    kind: RemedyKind
    text: str
    step: str
    edits: tuple[AnyEdit, ...]
    tap: str | None = None


@dataclass(frozen=True)
class LoopReport:
    """A loop for people.

    Attributes:
        parts: which take part, in the order of the chain.
        chain: the nodes of the shortest way round, as labels.
        why: one sentence for each read on the way round.
        held: what is taken instead of what.
        frames: on how many frames that makes a difference, and on which first.
        remedies: each breaks the loop, or says that other ways round stay.
    """

    loop: Loop
    parts: tuple[str, ...]
    chain: tuple[str, ...]
    why: tuple[str, ...]
    held: str
    frames: int
    first: int | None
    remedies: tuple[Remedy, ...]


@dataclass(frozen=True)
class _WayStep:
    """A step on the way round, and what it reads of the node before."""

    step: Step
    read: Read


def loop_reports(evaluation: Evaluation) -> tuple[LoopReport, ...]:
    """The loops of a scene, as they were found."""
    return tuple(_report(evaluation, loop) for loop in evaluation.graph.loops[:MOST_LOOPS])


def _report(evaluation: Evaluation, loop: Loop) -> LoopReport:
    scene = evaluation.scene
    links = list(_links(scene, loop))
    frames, first = _difference(evaluation, loop)
    reader = step_made(scene, loop.reader)
    held = f"{node_label(scene, loop.held)} in place of {node_label(scene, loop.chain[-2])}"
    who = f"“{reader.name}” of {scene.parts[reader.part].name}" if reader else "it"
    if loop.reader.quantity == SOLVE:
        who = node_label(scene, loop.reader)
    return LoopReport(
        loop,
        tuple(dict.fromkeys(node.part for node in loop.chain)),
        tuple(node_label(scene, node) for node in loop.chain),
        tuple(read_and_written(scene, link.step, link.read) for link in links),
        f"{who} takes {held}, so that the rest still runs.{_others(loop)}",
        frames,
        first,
        tuple(islice(_remedies(evaluation, loop, links), MOST_REMEDIES)),
    )


def _others(loop: Loop) -> str:
    if not loop.more:
        return ""
    return f" There are other ways round; {loop.more} more reads are held for them."


def _links(scene: Scene, loop: Loop) -> Iterator[_WayStep]:
    """The reads that the chain goes along."""
    for source, node in zip(loop.chain, loop.chain[1:], strict=False):
        if node.quantity == SOLVE and node.stage.name in scene.limbs:
            yield from _limb_links(scene, node.stage.name, source)
        step = step_made(scene, node)
        if step is None or node not in step_nodes(step):
            continue
        for read in kind_of(step.settings).reads(scene, step, node.quantity):
            if read_node(scene, read) == source:
                yield _WayStep(step, read)
                break


def _limb_links(scene: Scene, limb: str, source: NodeId) -> Iterator[_WayStep]:
    """What a limb's solution reads of a node, told of the base of its chain."""
    base = scene.members_of[limb][scene.limbs[limb].chain[0]]
    for read in solve_of(scene, limb).reads(scene, limb):
        if read_node(scene, read) == source:
            yield _WayStep(base, read)
            return


def _difference(evaluation: Evaluation, loop: Loop) -> tuple[int, int | None]:
    """On how many frames the held value is another one than what it stands for."""
    source = loop.chain[-2]
    if loop.held not in evaluation.results:
        return 0, None
    if source.quantity == "world position" and source.stage == at_tap("final"):
        # Where only the loop read it, it is not computed apart from the world matrix.
        wanted = evaluation.world(source.part)[:, :, 3]
    elif source in evaluation.results:
        wanted = evaluation.result(source).values
    else:
        return 0, None
    taken = evaluation.result(loop.held).values
    if wanted.shape[1:] != taken.shape[1:]:
        return 0, None
    apart = np.abs(wanted - taken).reshape(max(len(wanted), len(taken)), -1).max(axis=1)
    frames = np.flatnonzero(apart > DIFFERENT)
    if not len(frames):
        return 0, None
    count = len(frames) if len(apart) > 1 else len(evaluation.times.frames)
    return count, evaluation.times.first + int(frames[0])


def _remedies(evaluation: Evaluation, loop: Loop, links: Sequence[_WayStep]) -> Iterator[Remedy]:
    """Changes that open the way round, see ``_best``."""
    scene = evaluation.scene
    feeding = feeding_of(evaluation.graph, loop)
    found: list[tuple[int, Remedy]] = []
    kept: set[tuple[str, RemedyKind]] = set()

    def keep(remedy: Remedy) -> None:
        kept.add((remedy.step, remedy.kind))
        left = still_looped(loop, feeding, applied(scene, remedy.edits))
        found.append((len(left), remedy))

    members = set(loop.members)
    for link in links:
        if len(found) >= MOST_REMEDIES:
            break
        for remedy, new in _read_remedies(scene, link):
            # Of the earlier taps only the nearest that opens the way is offered.
            known = (remedy.step, remedy.kind) in kept
            if (
                not known
                and read_node(scene, new) not in members
                and _opens(scene, loop, remedy, new)
            ):
                keep(remedy)
        step = scene.steps.get(link.step.id)
        if step is not None and (step.id, "mute") not in kept:
            mute = (ChangeStep(step.id, on=False),)
            name = scene.parts[step.part].name
            keep(Remedy("mute", f"mute “{step.name}” of {name}", step.id, mute))
    yield from _best(found, len(members))


def _best(found: Sequence[tuple[int, Remedy]], members: int) -> Iterator[Remedy]:
    """The remedies that leave nothing in a loop; where there is none, those that take something
    out of it, the most first; else those that open but one of several ways round."""
    least = min((left for left, _ in found), default=0)
    if least == 0:
        yield from (remedy for left, remedy in found if left == 0)
        return
    for left, remedy in sorted(found, key=lambda one: one[0]):
        if left < members or least == members:
            yield replace(remedy, text=f"{remedy.text}; other ways round stay")


def _read_remedies(scene: Scene, link: _WayStep) -> Iterator[tuple[Remedy, Read]]:
    """Other reads in the place of one, as remedies."""
    owner, what = scene.parts[link.step.part].name, read_label(scene, link.read)
    now = tap_of(link.read.tap)
    if now is not None:
        for tap in reversed(TAPS[: TAPS.index(now)]):
            new = link.read._replace(tap=tap)
            edits = tuple(rereading(scene, link.step, link.read, new))
            if edits:
                text = f"let {owner} read {what} at {tap}"
                yield Remedy("earlier tap", text, link.step.id, edits, tap), new
    new = link.read._replace(back=True)
    edits = tuple(rereading(scene, link.step, link.read, new))
    if edits:
        text = f"let {owner} read {what} one frame back"
        yield Remedy("one frame back", text, link.step.id, edits), new


def _opens(scene: Scene, loop: Loop, remedy: Remedy, new: Read) -> bool:
    """Whether what is read instead is not made of the loop again."""
    try:
        changed = applied(scene, remedy.edits)
    except Refusal:
        return False
    return new.back or not feeds_from(changed, read_node(changed, new), set(loop.members))
