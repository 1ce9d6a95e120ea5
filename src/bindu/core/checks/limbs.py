"""What is wrong with limbs: goals out of reach, poles on the line, switches that jump, and uneven
scales in the chain."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass

import numpy as np

from bindu.core.account.limbs import LimbAccount, limb_account, switches
from bindu.core.evaluation import Evaluation
from bindu.core.graph.kinds.group import group_node
from bindu.core.nodes.identity import at_tap
from bindu.core.scene.things import Limb

MISSED = 1e-4
"""From how far on, in metres, a goal counts as missed."""
ON_THE_LINE = 1e-3
"""Which share of the reach a pole must be off the line from base to goal to say a side."""
UNEVEN = 1e-6
"""By which share the scales of a part may differ to be even."""


@dataclass(frozen=True)
class LimbFault:
    """Something wrong with a limb: where, from which frame on, and in words."""

    limb: Limb
    part: str
    channel: str
    frame: int
    text: str


def limb_faults(evaluation: Evaluation) -> Iterator[LimbFault]:
    """All faults of all limbs, by the limbs' names."""
    scene = evaluation.scene
    for limb in sorted(scene.limbs.values(), key=lambda one: (one.name, one.id)):
        said = limb_account(evaluation, limb)
        yield from _out_of_reach(evaluation, limb, said)
        yield from _on_the_line(evaluation, limb, said)
        yield from _jumps(evaluation, limb)
        yield from _uneven(evaluation, limb)


def _out_of_reach(evaluation: Evaluation, limb: Limb, said: LimbAccount) -> Iterator[LimbFault]:
    """Frames on which IK is on and the end is not on its goal."""
    far = (said.blend > 0.0) & (said.missed > MISSED)
    rows = np.flatnonzero(far)
    if not len(rows):
        return
    worst = int(np.argmax(np.where(far, said.missed, 0.0)))
    first = evaluation.times.first
    end, goal = (evaluation.scene.parts[part].name for part in (limb.chain[-1], limb.goal))
    text = f"{limb.name}: {end} misses {goal} by up to {said.missed[worst]:.3g} m on {len(rows)} "
    text += f"frames, most on {first + worst} ({said.branch_name(worst)}). Move the goal nearer, "
    text += "let it stretch, or switch to FK."
    yield LimbFault(limb, limb.chain[-1], "translation.x", first + worst, text)


def _on_the_line(evaluation: Evaluation, limb: Limb, said: LimbAccount) -> Iterator[LimbFault]:
    """Frames on which the pole says no side."""
    if limb.pole is None:
        return
    rows = np.flatnonzero((said.blend > 0.0) & (said.off_the_line < ON_THE_LINE * said.reach))
    if len(rows):
        first = evaluation.times.first + int(rows[0])
        name = evaluation.scene.parts[limb.pole].name
        text = f"{limb.name}: {name} is on the line from base to goal on {len(rows)} frames, first "
        text += f"on {first}; it says no side there. Move it off the line."
        yield LimbFault(limb, limb.pole, "translation.x", first, text)


def _jumps(evaluation: Evaluation, limb: Limb) -> Iterator[LimbFault]:
    """Switches that change the pose."""
    for one in switches(evaluation, limb):
        if one.jumps:
            text = (
                f"{limb.name}: the pose jumps {one.metres:.3g} m and {one.degrees:.3g}° where it "
            )
            text += f"switches on frame {one.frame}. Match it there on its lane."
            yield LimbFault(limb, limb.part, f"{limb.id}.blend", one.frame, text)


def _uneven(evaluation: Evaluation, limb: Limb) -> Iterator[LimbFault]:
    """Parts of the chain whose scale along the axes differs, so that the end misses its goal."""
    scene = evaluation.scene
    for part in limb.chain[:-1]:
        node = group_node(scene, part, "scale", at_tap("solved"))
        result = evaluation.results.get(node)
        if result is None:
            continue
        sizes = np.abs(result.values)
        apart = (sizes.max(axis=-1) - sizes.min(axis=-1)) > UNEVEN * sizes.max(axis=-1)
        if apart.any():
            frame = evaluation.times.first + int(np.argmax(apart))
            name = scene.parts[part].name
            text = f"{limb.name}: {name} is scaled unevenly, first on {frame}; a limb bends only "
            text += "what is scaled alike along x, y and z. Make that scale even."
            yield LimbFault(limb, part, "scale.x", frame, text)
