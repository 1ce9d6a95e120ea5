"""Limbs that are animated both ways, but never switched."""

from __future__ import annotations

from collections.abc import Iterator, Mapping

import numpy as np

from bindu.core.account.limbs import limb_account
from bindu.core.checks.check import Check, Finding, Looked
from bindu.core.checks.limb_reach import limbs_of
from bindu.core.evaluation import Evaluation
from bindu.core.placing.matching import control_of
from bindu.core.scene.channels import TRANSFORM_CHANNELS, ChannelRef, below_layers, step_channel
from bindu.core.scene.model import Scene
from bindu.core.scene.things import Limb

MOVES = 1e-6
"""How much the keys of a curve must differ to move it."""


class UnkeyedSwitch(Check):
    """See ``Check``."""

    name = "unkeyed switch"
    why = "Where a limb is animated both ways, but its blend has no key, one half is never seen."

    def found(
        self, evaluation: Evaluation, limits: Mapping[str, float], looked: Looked
    ) -> Iterator[Finding]:
        """One for each limb."""
        scene = evaluation.scene
        for limb in limbs_of(scene):
            if not never_switched(scene, limb):
                continue
            blend = ChannelRef(limb.part, step_channel(limb.id, "blend"))
            seen = "IK" if float(np.max(limb_account(evaluation, limb).blend)) > 0.5 else "FK"
            lost = "the joints" if seen == "IK" else "goal and pole"
            text = f"{limb.name}: joints and goal are both keyed, but its blend has no key: it is "
            text += f"{seen} throughout, and the keys of {lost} are not seen. Switch it where it "
            text += "should change, or take those keys away."
            yield Finding(
                self.name,
                self.severity,
                limb.part,
                blend.channel,
                limb.name,
                text,
                1.0,
                "limb",
                key=limb.id,
            )


def never_switched(scene: Scene, limb: Limb) -> bool:
    """Whether a limb is animated both ways, and nothing moves its blend."""
    blend = ChannelRef(limb.part, step_channel(limb.id, "blend"))
    if blend in scene.curves or scene.writers(blend):
        return False
    steers = {control_of(scene, limb.goal), limb.goal, limb.pole} - {None}
    chain = set(limb.chain)
    moved = {
        base.part
        for ref, curve in scene.curves.items()
        if (base := below_layers(ref)).part in chain | steers
        and base.channel in TRANSFORM_CHANNELS
        and np.ptp([key.value for key in curve.keys]) > MOVES
    }
    return not moved.isdisjoint(chain) and not moved.isdisjoint(steers)
