"""Parts that get one motion by two ways."""

from __future__ import annotations

from collections.abc import Iterator, Mapping, Sequence

import numpy as np

from bindu.core.checks.check import Check, Finding, Looked, Offer
from bindu.core.curves.model import Array
from bindu.core.edits.retime import DeleteKeys, KeyPick
from bindu.core.edits.steps import ChangeStep
from bindu.core.evaluation import Evaluation
from bindu.core.evaluation.keyed import own_values
from bindu.core.graph.kinds.channel import channel_before
from bindu.core.nodes.identity import NodeId, after
from bindu.core.scene.channels import AXES, ChannelRef, layer_and_channel
from bindu.core.scene.names import full_name
from bindu.core.scene.settings import FormulaSettings

MOVES = 1e-6
"""How much something must move to count."""
ALIKE = 1e-6
"""By which share of a motion two may differ to be one."""


class MovedTwice(Check):
    """A layer that adds what the base does already; a formula that adds what the part's parent does
    on the same channel, and so carries it there once more. See ``Check``."""

    name = "moved twice"
    why = "What goes twice as far as anybody meant gets one motion by two ways."

    def found(
        self, evaluation: Evaluation, limits: Mapping[str, float], looked: Looked
    ) -> Iterator[Finding]:
        """One for each layered curve, and for each formula."""
        yield from self._by_layers(evaluation)
        yield from self._by_formulas(evaluation)

    def offers(self, evaluation: Evaluation, finding: Finding) -> Sequence[Offer]:
        """Muting the formula, or taking the keys off the layer."""
        if finding.step is not None:
            edit = ChangeStep(finding.step, on=False)
            return (
                Offer("mute", f"mute “{finding.what}”", "its parent alone carries it", (edit,)),
            )
        keys = DeleteKeys((KeyPick(finding.part, finding.key),))
        return (
            Offer("take away", "take the keys off the layer", "the base alone moves it", (keys,)),
        )

    def _by_layers(self, evaluation: Evaluation) -> Iterator[Finding]:
        scene, frames = evaluation.scene, evaluation.times.frames.astype(float)
        for ref in sorted(scene.curves) if scene.layers else ():
            layer, channel = layer_and_channel(ref.channel)
            base = ChannelRef(ref.part, channel)
            if layer is None or base not in scene.curves or scene.layers[layer].mode != "add":
                continue
            own, added = own_values(scene, base, frames), own_values(scene, ref, frames)
            if _one_motion(own, added):
                text = f"{full_name(scene, base)} moves on {scene.layers[layer].name} as it does "
                text += "on the base: it goes twice as far."
                what = scene.layers[layer].name
                yield _finding(ref.part, channel, what, text, np.ptp(added), None, ref.channel)

    def _by_formulas(self, evaluation: Evaluation) -> Iterator[Finding]:
        scene = evaluation.scene
        for step in scene.steps.values():
            settings, parent = step.settings, scene.parts[step.part].parent
            if not step.on or not isinstance(settings, FormulaSettings) or parent is None:
                continue
            if settings.mode != "add" or settings.channel not in TRANSLATIONS:
                continue
            written = ChannelRef(step.part, settings.channel)
            came = evaluation.result(channel_before(scene, written, step)).values
            went = evaluation.result(NodeId(step.part, settings.channel, after(step))).values
            above = evaluation.channel(ChannelRef(parent, settings.channel), "final")
            if _one_motion(above, went - came):
                text = f"{scene.parts[step.part].name}: “{step.name}” adds to {settings.channel} "
                text += f"what its parent {scene.parts[parent].name} carries it by already."
                amount = np.ptp(went - came)
                yield _finding(step.part, settings.channel, step.name, text, amount, step.id, "")


TRANSLATIONS = tuple(f"translation.{axis}" for axis in AXES)


def _one_motion(one: Array, other: Array) -> bool:
    """Whether two values move alike, but for a constant."""
    size = float(np.ptp(one))
    if size <= MOVES or float(np.ptp(other)) <= MOVES:
        return False
    apart = one - other
    return float(np.ptp(apart)) <= ALIKE * size


def _finding(
    part: str, channel: str, what: str, text: str, amount: float, step: str | None, key: str
) -> Finding:
    return Finding(
        "moved twice", "doubtful", part, channel, what, text, float(amount), "", step, key=key
    )
