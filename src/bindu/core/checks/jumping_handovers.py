"""Handovers between spaces at which a part jumps."""

from __future__ import annotations

from collections.abc import Iterator, Mapping, Sequence

from bindu.core.checks.check import Check, Finding, Looked, Offer
from bindu.core.checks.handover_remedies import moved_offer
from bindu.core.edits.spaces import KeepPlaces
from bindu.core.evaluation import Evaluation
from bindu.core.placing.handovers import (
    JUMP_DEGREES,
    JUMP_METRES,
    HandoverState,
    handover_states,
)
from bindu.core.scene.model import Scene
from bindu.core.scene.settings import SpaceSettings
from bindu.core.steps.bound.space import space_name


class JumpingHandovers(Check):
    """See ``Check``."""

    name = "handover"
    why = "Going from one space to another is not seen when the place is kept; here it jumps."
    severity = "wrong"

    def found(
        self, evaluation: Evaluation, limits: Mapping[str, float], looked: Looked
    ) -> Iterator[Finding]:
        """One for each handover."""
        steps = evaluation.scene.steps.values()
        spaces = [s for s in steps if s.on and isinstance(s.settings, SpaceSettings)]
        for state in handover_states(evaluation, spaces):
            if state.jumps:
                yield _finding(evaluation.scene, state)

    def offers(self, evaluation: Evaluation, finding: Finding) -> Sequence[Offer]:
        """Keeping the place there, or from there on at all handovers; or moving it to a frame on
        which both spaces agree."""
        if finding.step is None or finding.frame is None:
            return ()
        one = KeepPlaces(finding.step, (finding.frame,))
        found = Offer(
            "keep here", "keep the place at this handover", "what follows moves along", (one,)
        )
        every = Offer(
            "keep all", "keep the place at all of its handovers", "", (KeepPlaces(finding.step),)
        )
        step = evaluation.scene.steps[finding.step]
        here = (s for s in handover_states(evaluation, [step]) if s.frame == finding.frame)
        moved = next((moved_offer(evaluation, state) for state in here), None)
        return (found, every, moved) if moved else (found, every)


def _finding(scene: Scene, state: HandoverState) -> Finding:
    part = state.step.part
    source, target = space_name(scene, state.source), space_name(scene, state.target)
    amounts = [f"{state.metres:.3g} m"] * (state.metres > JUMP_METRES)
    amounts += [f"{state.degrees:.3g}°"] * (state.degrees > JUMP_DEGREES)
    text = f"{scene.parts[part].name}: jumps {' and '.join(amounts)} where it goes from {source} "
    text += f"to {target} on frame {state.frame}. Keep the place again on its space lane, or blend."
    moves = state.metres > JUMP_METRES
    return Finding(
        "handover",
        "wrong",
        part,
        f"{state.step.settings.groups[0]}.x",
        state.step.name,
        text,
        state.metres if moves else state.degrees,
        "m" if moves else "°",
        state.step.id,
        ((state.frame, state.frame),),
        state.frame,
    )
