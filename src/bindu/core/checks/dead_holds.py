"""Holds between two motions in which a part does not move at all."""

from __future__ import annotations

from collections.abc import Iterator, Mapping, Sequence

import numpy as np

from bindu.core.checks.check import Check, Finding, Looked, Offer, Span, Threshold, spans_of
from bindu.core.checks.motion import Moving, moving_groups
from bindu.core.edits import AnyEdit
from bindu.core.edits.keys import ChangeKeys, KeyChange
from bindu.core.evaluation import Evaluation
from bindu.core.scene.channels import AXES, ChannelRef

STILL = 1e-9
"""Metres or degrees from a frame to the next up to which a part stands."""
DRIFT = 0.04
"""Which share of the motion before it a hold goes on by, when a little life is put into it."""


class DeadHolds(Check):
    """A group that is keyed stands, to the last bit, for some frames between two motions. Machines
    may; so it looks only when asked. See ``Check``."""

    name = "dead hold"
    why = "What stands without any life between two motions looks as if the film had stopped."
    severity = "untidy"
    on = False
    thresholds = (Threshold("frames", 12.0, "frames", "{} frames or longer", 2.0, 10_000.0),)

    def found(
        self, evaluation: Evaluation, limits: Mapping[str, float], looked: Looked
    ) -> Iterator[Finding]:
        """One for each part and group."""
        scene, first = evaluation.scene, evaluation.times.first
        keyed = {(ref.part, ref.channel[: ref.channel.find(".")]) for ref in scene.curves}
        for group in ("translation", "rotation"):
            parts = [part for part in scene.parts if (part, group) in keyed]
            for moving in moving_groups(evaluation, looked, group, "final", parts):
                spans = looked.once(
                    (self.name, first, limits["frames"], moving.key),
                    lambda moving=moving: held_spans(moving, first, limits["frames"]),  # type: ignore[misc]
                )
                if not spans:
                    continue
                longest = max(spans, key=lambda span: span[1] - span[0])
                count = longest[1] - longest[0] + 1
                text = f"{scene.parts[moving.part].name}: its {group} stands quite still for "
                text += f"{count} frames, {longest[0]} … {longest[1]}, between two motions. Let "
                text += "it drift a little, or accept it for what is a machine."
                yield Finding(
                    self.name,
                    self.severity,
                    moving.part,
                    f"{group}.x",
                    group,
                    text,
                    float(count),
                    "frames",
                    None,
                    spans,
                    longest[0],
                    key=group,
                )

    def offers(self, evaluation: Evaluation, finding: Finding) -> Sequence[Offer]:
        """A little drift: the key that ends a hold goes on a little the way of the motion that led
        to it."""
        edits = tuple(_drifts(evaluation, finding))
        if not edits:
            return ()
        cost = f"the end of each hold goes on by {DRIFT:.0%} of the motion before it"
        return (Offer("drift", "let it drift a little", cost, edits),)


def held_spans(moving: Moving, first: int, least: float) -> tuple[Span, ...]:
    """The spans of so many frames or more on which a group stands between two motions."""
    step = np.abs(np.diff(moving.values, axis=0)).max(axis=1)
    moves = np.flatnonzero(step > STILL)
    if len(moves) < 2:
        return ()
    held = spans_of(np.flatnonzero(step <= STILL), first)
    inside = ((a, b + 1) for a, b in held if moves[0] + first < a and b < moves[-1] + first)
    return tuple((a, b) for a, b in inside if b - a + 1 >= least)


def _drifts(evaluation: Evaluation, finding: Finding) -> Iterator[AnyEdit]:
    scene = evaluation.scene
    for axis in AXES:
        ref = ChannelRef(finding.part, f"{finding.key}.{axis}")
        curve = scene.curves.get(ref)
        if curve is None or ref.channel in scene.parts[ref.part].locked:
            continue
        changes: list[KeyChange] = []
        for before, start, end in zip(curve.keys, curve.keys[1:], curve.keys[2:], strict=False):
            inside = any(a <= start.frame + 1 and end.frame - 1 <= b for a, b in finding.spans)
            came = start.value - before.value
            if not inside or end.value != start.value or came == 0.0:
                continue
            if start.interpolation == "hold":
                changes.append(KeyChange(start.frame, interpolation="linear"))
            changes.append(KeyChange(end.frame, value=end.value + DRIFT * came))
        if changes:
            yield ChangeKeys(*ref, tuple(changes))
