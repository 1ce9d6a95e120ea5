"""Limbs that jump where they switch."""

from __future__ import annotations

from collections.abc import Iterator, Mapping, Sequence

from bindu.core.account.limbs import switches
from bindu.core.checks.check import Check, Finding, Looked, Offer
from bindu.core.checks.limb_reach import limbs_of
from bindu.core.edits.matching import MendSwitch
from bindu.core.evaluation import Evaluation


class JumpingSwitch(Check):
    """See ``Check``."""

    name = "switch"
    why = "Between FK and IK the pose should stay as it is; here it jumps."
    severity = "wrong"

    def found(
        self, evaluation: Evaluation, limits: Mapping[str, float], looked: Looked
    ) -> Iterator[Finding]:
        """One for each switch."""
        for limb in limbs_of(evaluation.scene):
            for one in switches(evaluation, limb):
                if not one.jumps:
                    continue
                text = f"{limb.name}: the pose jumps {one.metres:.3g} m and {one.degrees:.3g}° "
                text += f"where it switches on frame {one.frame}. Match it there on its lane."
                yield Finding(
                    self.name,
                    self.severity,
                    limb.part,
                    f"{limb.id}.blend",
                    limb.name,
                    text,
                    one.metres * 1000.0,
                    "mm",
                    None,
                    ((one.frame, one.frame),),
                    one.frame,
                    key=limb.id,
                )

    def offers(self, evaluation: Evaluation, finding: Finding) -> Sequence[Offer]:
        """Matching it there."""
        if finding.frame is None:
            return ()
        edit = MendSwitch(finding.key, finding.frame)
        return (
            Offer("match", "match it there", "what it switches to goes on from the pose", (edit,)),
        )
