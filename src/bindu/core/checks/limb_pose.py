"""Limbs whose pole says no side, that jump where they switch, or that are scaled unevenly."""

from __future__ import annotations

from collections.abc import Iterator, Mapping, Sequence

import numpy as np

from bindu.core.account.limbs import limb_account, switches
from bindu.core.checks.check import Check, Finding, Looked, Offer, spans_of, spread
from bindu.core.checks.limb_reach import limbs_of
from bindu.core.edits.matching import MendSwitch
from bindu.core.evaluation import Evaluation
from bindu.core.graph.kinds.group import group_node
from bindu.core.nodes.identity import at_tap

ON_THE_LINE = 1e-3
"""Which share of the reach a pole must be off the line from base to goal to say a side."""
UNEVEN = 1e-6
"""By which share the scales of a part may differ to be even."""


class PoleOnTheLine(Check):
    """See ``Check``."""

    name = "pole"
    why = "A pole on the line from base to goal says no side; the limb may turn over there."

    def found(
        self, evaluation: Evaluation, limits: Mapping[str, float], looked: Looked
    ) -> Iterator[Finding]:
        """One for each limb, where IK is on."""
        scene, first = evaluation.scene, evaluation.times.first
        for limb in limbs_of(scene):
            if limb.pole is None:
                continue
            said = limb_account(evaluation, limb)
            on = (said.blend > 0.0) & (said.off_the_line < ON_THE_LINE * said.reach)
            spans = spans_of(np.flatnonzero(on), first)
            if spans:
                name, frames = scene.parts[limb.pole].name, int(on.sum())
                text = f"{limb.name}: {name} is on the line from base to goal on {frames} frames, "
                text += f"first on {spans[0][0]}; it says no side there. Move it off the line."
                yield Finding(
                    self.name,
                    self.severity,
                    limb.pole,
                    "translation.x",
                    limb.name,
                    text,
                    float(frames),
                    "frames",
                    None,
                    spans,
                    spans[0][0],
                    key=limb.id,
                )


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
        return (Offer("match it there", "what it switches to goes on from the pose", (edit,)),)


class UnevenLimb(Check):
    """See ``Check``."""

    name = "uneven limb"
    why = "A limb bends only what is scaled alike along x, y and z; else its end misses the goal."
    severity = "wrong"

    def found(
        self, evaluation: Evaluation, limits: Mapping[str, float], looked: Looked
    ) -> Iterator[Finding]:
        """One for each part of a chain but the end."""
        scene, first = evaluation.scene, evaluation.times.first
        for limb in limbs_of(scene):
            for part in limb.chain[:-1]:
                node = group_node(scene, part, "scale", at_tap("solved"))
                result = evaluation.results.get(node)
                if result is None:
                    continue
                sizes = np.abs(result.values)
                share = (sizes.max(-1) - sizes.min(-1)) / np.maximum(sizes.max(-1), 1e-300)
                spans = spans_of(np.flatnonzero(spread(evaluation, share) > UNEVEN), first)
                if spans:
                    name = scene.parts[part].name
                    text = f"{limb.name}: {name} is scaled unevenly, first on {spans[0][0]}; a "
                    text += "limb bends only what is scaled alike along x, y and z. Make that "
                    text += "scale even."
                    yield Finding(
                        self.name,
                        self.severity,
                        part,
                        "scale.x",
                        limb.name,
                        text,
                        100.0 * float(share.max()),
                        "%",
                        None,
                        spans,
                        spans[0][0],
                        key=limb.id,
                    )
