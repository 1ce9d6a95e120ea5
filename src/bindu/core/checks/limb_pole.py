"""Limbs whose pole says no side."""

from __future__ import annotations

from collections.abc import Iterator, Mapping, Sequence

import numpy as np

from bindu.core.account.limbs import limb_account
from bindu.core.checks.check import Check, Finding, Looked, Offer, Span, said_frames, spans_of
from bindu.core.checks.limb_reach import limbs_of
from bindu.core.edits import AnyEdit, applied
from bindu.core.edits.carry import CarryChange
from bindu.core.edits.place import PlacePart
from bindu.core.evaluation import Evaluation
from bindu.core.evaluation.keyed import own_values
from bindu.core.placing.matching import clear_pole
from bindu.core.refusal import Refusal
from bindu.core.scene.channels import AXES, ChannelRef
from bindu.core.scene.model import Scene
from bindu.core.scene.things import Limb

FADE = 6
"""Over how many frames a pole that was moved goes where it went, before and after."""
ON_THE_LINE = 1e-3
"""Which share of the reach a pole must be off the line from base to goal to say a side."""


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

    def offers(self, evaluation: Evaluation, finding: Finding) -> Sequence[Offer]:
        """Moving the pole off the line, to the side to which FK bends."""
        scene = evaluation.scene
        limb = scene.limbs.get(finding.key)
        if limb is None or limb.pole is None:
            return ()
        try:
            edits = _moved_off(evaluation, limb, finding.spans)
        except Refusal:
            return ()
        name = scene.parts[limb.pole].name
        text = f"move {name} off the line, to the side to which FK bends"
        cost = f"keys of it around {said_frames(finding.spans)}"
        if not _is_keyed(scene, limb.pole):
            cost = "it has no keys, so it stands there on all frames"
        return (Offer("move the pole", text, cost, edits),)


def _moved_off(evaluation: Evaluation, limb: Limb, spans: Sequence[Span]) -> tuple[AnyEdit, ...]:
    """The edits that move a pole off the line on spans of frames; one that has no keys is moved
    once."""
    assert limb.pole is not None
    made, edits = evaluation.scene, list[AnyEdit]()
    for first, last in spans:
        # A key at the beginning is one that the carried move needs there anyway.
        frame = first
        row = evaluation.index(frame)
        now = evaluation.world(limb.pole)[..., 3]
        way = clear_pole(evaluation, limb, row) - now[min(row, len(now) - 1)]
        x, y, z = (float(one) for one in way)
        one: list[AnyEdit] = [PlacePart((limb.pole,), float(frame), (x, y, z))]
        if _is_keyed(made, limb.pole):
            before = tuple(
                (limb.pole, channel, float(own_values(made, ref, np.array([float(frame)]))[0]))
                for channel in (f"translation.{axis}" for axis in AXES)
                for ref in (ChannelRef(limb.pole, channel),)
            )
            one.append(CarryChange(frame, before, first, last, FADE, FADE, "in the world"))
        made = applied(made, one)
        edits += one
        if not _is_keyed(made, limb.pole):
            break
    return tuple(edits)


def _is_keyed(scene: Scene, part: str) -> bool:
    return any(ChannelRef(part, f"translation.{axis}") in scene.curves for axis in AXES)
