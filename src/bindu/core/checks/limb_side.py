"""Limbs that bend to the other side from one frame to the next."""

from __future__ import annotations

from collections.abc import Iterator, Mapping, Sequence
from dataclasses import replace

import numpy as np

from bindu.core.account.limbs import limb_account
from bindu.core.checks.check import Check, Finding, Looked, Offer, Threshold
from bindu.core.checks.limb_reach import limbs_of
from bindu.core.curves.model import Array
from bindu.core.edits.limbs import put_again
from bindu.core.evaluation import Evaluation
from bindu.core.scene.things import Limb


class OtherSide(Check):
    """Of limbs of two segments: the pose that comes in is bent to one side on a frame and to the
    other one on the next, and so is the limb, by IK. See ``Check``."""

    name = "other side"
    why = "A limb that bends to the other side at once turns over, though its pole may hide where."
    thresholds = (Threshold("degrees", 5.0, "°", "over {}° at once", 0.1, 360.0),)

    def found(
        self, evaluation: Evaluation, limits: Mapping[str, float], looked: Looked
    ) -> Iterator[Finding]:
        """One for each limb."""
        scene, first = evaluation.scene, evaluation.times.first
        for limb in limbs_of(scene):
            amounts = _turned_over(evaluation, limb)
            rows = np.flatnonzero(amounts > limits["degrees"])
            if not len(rows):
                continue
            worst = int(np.argmax(amounts))
            middle = scene.parts[limb.chain[1]].name
            text = f"{limb.name}: {middle} bends to the other side on {first + worst}, by "
            text += (
                f"{amounts[worst]:.3g}° since the frame before, as the pose that comes in does. "
            )
            text += "Key its FK pose bent to one side, or limit the bend."
            yield Finding(
                self.name,
                self.severity,
                limb.chain[1],
                "rotation.x",
                limb.name,
                text,
                float(amounts[worst]),
                "°",
                None,
                tuple((first + int(row), first + int(row)) for row in rows),
                first + worst,
                amounts,
                limits["degrees"],
                limb.id,
            )

    def offers(self, evaluation: Evaluation, finding: Finding) -> Sequence[Offer]:
        """Limits of the bend to the side to which it bends on most frames."""
        limb = evaluation.scene.limbs.get(finding.key)
        if limb is None:
            return ()
        said = limb_account(evaluation, limb)
        own = float(np.sign(said.bend[said.blend > 0.0]).sum()) >= 0.0
        low, high = limb.limits or (-180.0, 180.0)
        kept = (max(low, 0.0), high) if own else (low, min(high, 0.0))
        text = f"limit its bend to {kept[0]:g} … {kept[1]:g}°"
        cost = "the FK pose may bend as it does; by IK the limb stays on one side"
        return (Offer("one side", text, cost, (replace(put_again(limb), limits=kept),)),)


def _turned_over(evaluation: Evaluation, limb: Limb) -> Array:
    """By how many degrees the bend goes from one side to the other since the frame before, where IK
    is on, shape (F,)."""
    frames = len(evaluation.times.frames)
    amounts = np.zeros(frames)
    if len(limb.chain) == 3:
        said = limb_account(evaluation, limb)
        on = (said.blend[1:] > 0.0) & (said.blend[:-1] > 0.0)
        over = on & (said.bend[1:] * said.bend[:-1] < 0.0)
        amounts[1:] = np.where(over, np.abs(np.diff(said.bend)), 0.0)
    return amounts
