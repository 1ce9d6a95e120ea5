"""Limbs that are nearly straight."""

from __future__ import annotations

from collections.abc import Iterator, Mapping, Sequence

import numpy as np

from bindu.core.account.limbs import LimbAccount, limb_account
from bindu.core.checks.check import Check, Finding, Looked, Offer, Threshold, spans_of
from bindu.core.checks.limb_reach import is_free, limbs_of
from bindu.core.edits.channels import SetValue
from bindu.core.evaluation import Evaluation
from bindu.core.scene.channels import step_channel


class Straight(Check):
    """See ``Check``."""

    name = "straight"
    why = "Just before it is straight a limb's middle moves fastest: it snaps and pops."
    thresholds = (Threshold("share", 98.0, "%", "over {} % of its reach", 50.0, 100.0),)

    def found(
        self, evaluation: Evaluation, limits: Mapping[str, float], looked: Looked
    ) -> Iterator[Finding]:
        """One for each limb, where IK is on and the goal is within reach."""
        scene, first = evaluation.scene, evaluation.times.first
        for limb in limbs_of(scene):
            said = limb_account(evaluation, limb)
            share = _share(said)
            rows = np.flatnonzero((share > limits["share"]) & (share <= 100.0 + 1e-9))
            if not len(rows):
                continue
            spans = spans_of(rows, first)
            worst = int(rows[np.argmax(share[rows])])
            text = f"{limb.name}: goes to {share[worst]:.2f} % of its reach, most on "
            text += f"{first + worst}; its middle snaps there. Soften it, or keep the goal nearer."
            yield Finding(
                self.name,
                self.severity,
                limb.chain[-1],
                "translation.x",
                limb.name,
                text,
                float(share[worst]),
                "%",
                None,
                spans,
                first + worst,
                share,
                limits["share"],
                limb.id,
            )

    def offers(self, evaluation: Evaluation, finding: Finding) -> Sequence[Offer]:
        """Softness, where nothing steers that."""
        scene = evaluation.scene
        limb = scene.limbs.get(finding.key)
        if limb is None or not is_free(scene, limb, "soft"):
            return ()
        edit = SetValue(limb.part, step_channel(limb.id, "soft"), 0.1)
        return (
            Offer("soften", "soften it: soft 0.1", "it falls short of far goals a little", (edit,)),
        )


def _share(said: LimbAccount) -> np.ndarray[tuple[int, ...], np.dtype[np.float64]]:
    """How much of its reach a limb's goal takes, per cent, where IK is on; else 0."""
    reach = np.where(said.reach > 0.0, said.reach, 1.0)
    return np.asarray(np.where(said.blend > 0.0, 100.0 * said.distance / reach, 0.0))
