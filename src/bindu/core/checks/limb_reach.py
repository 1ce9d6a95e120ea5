"""Limbs whose end misses its goal."""

from __future__ import annotations

from collections.abc import Iterator, Mapping, Sequence

import numpy as np

from bindu.core.account.limbs import limb_account
from bindu.core.checks.check import Check, Finding, Looked, Offer, Threshold, spans_of
from bindu.core.edits.channels import SetValue
from bindu.core.evaluation import Evaluation
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
