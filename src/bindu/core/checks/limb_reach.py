"""Limbs whose end misses its goal."""

from __future__ import annotations

from collections.abc import Iterator, Mapping, Sequence

import numpy as np

from bindu.core.account.limbs import limb_account
from bindu.core.checks.check import Check, Finding, Looked, Offer, Span, Threshold, spans_of
from bindu.core.edits import AnyEdit, applied
from bindu.core.edits.channels import SetValue
from bindu.core.evaluation import Evaluation, evaluate_after
from bindu.core.placing.matching import control_of
from bindu.core.refusal import Refusal
from bindu.core.scene.channels import ChannelRef, step_channel
from bindu.core.scene.model import Scene
from bindu.core.scene.things import Limb


class Reach(Check):
    """See ``Check``."""

    name = "reach"
    why = "A limb that does not come to its goal slides off what it should hold or stand on."
    thresholds = (Threshold("missed", 0.1, "mm", "over {} mm", 0.0, 1e6),)

    def found(
        self, evaluation: Evaluation, limits: Mapping[str, float], looked: Looked
    ) -> Iterator[Finding]:
        """One for each limb, where IK is on."""
        scene, first = evaluation.scene, evaluation.times.first
        for limb in limbs_of(scene):
            said = limb_account(evaluation, limb)
            missed = np.where(said.blend > 0.0, said.missed, 0.0)
            spans = spans_of(np.flatnonzero(missed > limits["missed"] / 1000.0), first)
            if not spans:
                continue
            worst = int(np.argmax(missed))
            end, goal = (scene.parts[part].name for part in (limb.chain[-1], limb.goal))
            frames = sum(b - a + 1 for a, b in spans)
            text = f"{limb.name}: {end} misses {goal} by up to {missed[worst]:.3g} m on {frames} "
            text += f"frames, most on {first + worst} ({said.branch_name(worst)}). Move the goal "
            text += "nearer, let it stretch, or switch to FK."
            yield Finding(
                self.name,
                self.severity,
                limb.chain[-1],
                "translation.x",
                limb.name,
                text,
                float(missed[worst]) * 1000.0,
                "mm",
                None,
                spans,
                first + worst,
                missed * 1000.0,
                limits["missed"],
                limb.id,
            )

    def offers(self, evaluation: Evaluation, finding: Finding) -> Sequence[Offer]:
        """Letting it stretch, where nothing steers that."""
        limb = evaluation.scene.limbs.get(finding.key)
        if limb is None or not is_free(evaluation.scene, limb, "stretch"):
            return ()
        edit = SetValue(limb.part, step_channel(limb.id, "stretch"), 1.0)
        cost = "its parts move apart where the goal is too far"
        return (Offer("stretch", "let it stretch", cost, (edit,)),)


def limbs_of(scene: Scene) -> list[Limb]:
    """The limbs by name."""
    return sorted(scene.limbs.values(), key=lambda one: (one.name, one.id))


def is_free(scene: Scene, limb: Limb, key: str) -> bool:
    """Whether a channel of a limb has neither keys nor writers, and is not locked."""
    ref = ChannelRef(limb.part, step_channel(limb.id, key))
    locked = ref.channel in scene.parts[limb.part].locked
    return ref not in scene.curves and not scene.writers(ref) and not locked


def reach_after(evaluation: Evaluation, edit: AnyEdit, steer: str, span: Span) -> str:
    """How far the limbs that a part steers would reach on a span after an edit, as the end of a
    sentence; empty where it steers none, or where the edit cannot be done."""
    scene, first = evaluation.scene, evaluation.times.first
    steered = [x for x in limbs_of(scene) if steer in (x.goal, control_of(scene, x.goal))]
    if not steered:
        return ""
    try:
        after = evaluate_after(evaluation, applied(scene, [edit]))
    except Refusal:
        return ""
    rows = slice(span[0] - first, span[1] - first + 1)
    text = ""
    for limb in steered:
        said = limb_account(after, after.scene.limbs[limb.id])
        far = float((said.distance[rows] / np.maximum(said.reach[rows], 1e-12)).max())
        missed = 1000.0 * float(said.missed[rows].max())
        text += f"; {limb.name} is stretched out to {100.0 * far:.0f} % of its reach at most"
        text += f", its goal missed by {missed:.0f} mm" if missed >= 1.0 else ""
    return text
