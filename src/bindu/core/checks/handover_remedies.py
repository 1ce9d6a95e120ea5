"""What can be done about a handover between spaces at which a part jumps, or goes too fast."""

from __future__ import annotations

from collections.abc import Iterator

from bindu.core.checks.check import Offer, said
from bindu.core.edits.spaces import MoveHandover, SwitchSpace
from bindu.core.evaluation import Evaluation
from bindu.core.placing.handovers import (
    JUMP_DEGREES,
    JUMP_METRES,
    HandoverState,
    handover_elsewhere,
    handover_states,
)
from bindu.core.placing.spaces import space_ref
from bindu.core.scene.settings import SpaceSettings
from bindu.core.steps.bound.space import space_name

AROUND = 24
"""How many frames on each side a better one is looked for."""
LESS = 0.5
"""To which share of itself a jump must come down for a move to be worth it."""
BLEND = 12


def handovers_of_pop(
    evaluation: Evaluation, part: str, group: str, frame: int
) -> Iterator[HandoverState]:
    """The handovers of a part that carry a group of it on a frame from one space to another."""
    steps = [
        step
        for step in evaluation.scene.steps_of.get(part, ())
        if step.on and isinstance(step.settings, SpaceSettings) and group in step.settings.groups
    ]
    for state in handover_states(evaluation, steps):
        if state.frame <= frame <= state.frame + state.blend:
            yield state


def moved_offer(evaluation: Evaluation, state: HandoverState) -> Offer | None:
    """Moving a handover to the frame nearby on which both spaces agree best on where the part is;
    None where no frame is much better."""
    curve = evaluation.scene.curves.get(space_ref(state.step))
    if state.keep == "offset" or curve is None or curve.key_at(state.frame) is None:
        return None
    times, keys = evaluation.times, [key.frame for key in curve.keys]
    low = max([f + 1 for f in keys if f < state.frame] + [times.first + 1, state.frame - AROUND])
    high = min([f - 1 for f in keys if f > state.frame] + [times.last, state.frame + AROUND])
    frames = [f for f in range(int(low), int(high) + 1) if f != state.frame]
    others = handover_elsewhere(evaluation, state, frames)
    best = min(others, key=lambda one: (_size(one), abs(one.frame - state.frame)), default=None)
    if best is None or not _size(best) < LESS * _size(state):
        return None
    text = f"move the handover to frame {best.frame}"
    jump = f"it jumps {said(1000.0 * best.metres)} mm and {said(best.degrees)}°"
    if best.metres <= JUMP_METRES and best.degrees <= JUMP_DEGREES:
        jump = "it does not jump"
    cost = f"both spaces agree best there: {jump}; keys of the part stay where they are"
    return Offer("move", text, cost, (MoveHandover(state.step.id, state.frame, best.frame),))


def blend_offer(evaluation: Evaluation, state: HandoverState) -> Offer | None:
    """Letting a short blend take its time."""
    if not 0 < state.blend < BLEND or state.keep is None:
        return None
    edit = SwitchSpace(state.step.id, state.frame, state.target, state.keep, BLEND)
    target = space_name(evaluation.scene, state.target)
    text = f"let it go over to {target} during {BLEND} frames"
    cost = f"it gets there {BLEND - state.blend} frames later"
    return Offer("blend", text, cost, (edit,))


def _size(state: HandoverState) -> float:
    """How far it jumps; a degree counts as a centimetre."""
    return state.metres + 0.01 * state.degrees
