"""Keys, curves and steps that change nothing."""

from __future__ import annotations

from collections.abc import Collection, Iterator, Mapping, Sequence

import numpy as np

from bindu.core.checks.check import Check, Finding, Looked, Offer, Threshold
from bindu.core.checks.replaced_keys import KEYS, replaced, replaced_findings, replaced_offers
from bindu.core.counted import counted
from bindu.core.curves.spare import spare_keys
from bindu.core.edits.retime import DeleteKeys, KeyPick
from bindu.core.edits.steps import ChangeStep, RemoveStep
from bindu.core.evaluation import Evaluation
from bindu.core.formula.compiler import compiled
from bindu.core.graph.kinds.channel import channel_before, tap_node
from bindu.core.nodes.identity import NodeId, after
from bindu.core.scene.channels import ChannelRef, layer_and_channel, weight_channel
from bindu.core.scene.model import Scene
from bindu.core.scene.names import full_name
from bindu.core.scene.parts import Step
from bindu.core.scene.settings import FormulaSettings


class NoEffect(Check):
    """A curve all of whose keys and tangents are level; keys that lie on the line or the hold
    between their neighbours; keys of channels that a step sets; steps whose weight is 0
    throughout; formulas that add 0. See ``Check``."""

    name = "without effect"
    why = "What changes nothing stands in the way of those who look for what does."
    severity = "untidy"
    thresholds = (Threshold("tolerance", 0.000001, "", "within {}", 0.0, 1000.0),)

    def found(
        self, evaluation: Evaluation, limits: Mapping[str, float], looked: Looked
    ) -> Iterator[Finding]:
        """One for each curve and step."""
        tolerance = limits["tolerance"]
        scene, unseen = evaluation.scene, replaced(evaluation)
        yield from replaced_findings(scene, unseen)
        for part, refs in _spare(scene, tolerance, looked, unseen).items():
            yield _of_curves(scene, part, refs)
        for step in evaluation.scene.steps.values():
            if step.on and (why := _idle(evaluation, step, tolerance)):
                yield _of_step(evaluation.scene, step, why)

    def offers(self, evaluation: Evaluation, finding: Finding) -> Sequence[Offer]:
        """Taking it away, or muting it."""
        scene = evaluation.scene
        step, unseen = scene.steps.get(finding.step or ""), replaced(evaluation)
        if step is not None and finding.key == KEYS:
            return tuple(replaced_offers(unseen, step))
        if step is not None:
            mute = ChangeStep(step.id, on=False)
            gone = RemoveStep(step.id)
            return (
                Offer("delete", f"delete “{step.name}”", "nothing moves by it", (gone,)),
                Offer("mute", f"mute “{step.name}”", "it can be let in again", (mute,)),
            )
        limits = scene.checks.get(self.name)
        tolerance = dict(limits.limits).get("tolerance") if limits else None
        tolerance = self.thresholds[0].default if tolerance is None else tolerance
        refs = _spare(scene, tolerance, Looked(), unseen).get(finding.part, {})
        if not refs:
            return ()
        picks = tuple(KeyPick(*ref, spare) for ref, spare in refs.items())
        count = sum(len(spare) for spare in refs.values())
        whole = sum(len(spare) == len(scene.curves[ref].keys) for ref, spare in refs.items())
        still = counted(whole, "becomes a constant", "become constants")
        cost = f"all curves stay as they are; {still}" if whole else ""
        text = f"take away {counted(count, 'key')}"
        return (Offer("take away", text, cost, (DeleteKeys(picks),)),)


def _spare(
    scene: Scene, tolerance: float, looked: Looked, without: Collection[ChannelRef]
) -> dict[str, dict[ChannelRef, tuple[float, ...]]]:
    """By part the channels with keys that are spare, and the frames of these; without some."""
    found: dict[str, dict[ChannelRef, tuple[float, ...]]] = {}
    spares = {
        ref: spare
        for ref, curve in scene.curves.items()
        if len(curve.keys) > 1
        and ref not in without
        and (
            spare := looked.once(
                ("without effect", tolerance, curve.digest),
                lambda curve=curve: spare_keys(curve, tolerance),  # type: ignore[misc]
            )
        )
    }
    for ref, spare in sorted(spares.items()):
        curve = scene.curves[ref]
        if ref.channel in scene.parts[ref.part].locked:
            continue
        if layer_and_channel(ref.channel)[0] is not None and len(spare) == len(curve.keys):
            # A layer without a key would not hold the channel any more.
            spare = spare[1:]
        if spare:
            found.setdefault(ref.part, {})[ref] = spare
    return found


def _of_curves(scene: Scene, part: str, refs: Mapping[ChannelRef, tuple[float, ...]]) -> Finding:
    ref, spare = next(iter(refs.items()))
    count = sum(len(frames) for frames in refs.values())
    change, them = ("changes", "it") if count == 1 else ("change", "them")
    text = f"{scene.parts[part].name}: {counted(count, 'key')} on {counted(len(refs), 'channel')} "
    text += f"{change} nothing, first {full_name(scene, ref)} at {spare[0]:g}: take {them} away."
    every = {int(np.floor(f)) for frames in refs.values() for f in frames}
    inside = sorted(f for f in every if scene.first <= f <= scene.last)
    return Finding(
        "without effect",
        "untidy",
        part,
        ref.channel,
        "keys",
        text,
        float(count),
        "keys",
        None,
        tuple((f, f) for f in inside),
        inside[0] if inside else None,
    )


def _of_step(scene: Scene, step: Step, why: str) -> Finding:
    name = scene.parts[step.part].name
    text = f"{name}: “{step.name}” {why}: delete it, or mute it."
    return Finding(
        "without effect",
        "untidy",
        step.part,
        step.settings.writes[0],
        step.name,
        text,
        1.0,
        "step",
        step.id,
    )


def _idle(evaluation: Evaluation, step: Step, tolerance: float) -> str:
    """Why a step does nothing on any frame; empty where it does something."""
    scene, ref = evaluation.scene, ChannelRef(step.part, weight_channel(step.id))
    if np.abs(evaluation.result(tap_node(scene, ref, "final")).values).max() <= tolerance:
        return "has the weight 0 on all frames"
    settings = step.settings
    if not isinstance(settings, FormulaSettings) or settings.mode != "add":
        return ""
    written = ChannelRef(step.part, settings.channel)
    came = evaluation.result(channel_before(scene, written, step)).values
    went = evaluation.result(NodeId(step.part, settings.channel, after(step))).values
    if np.abs(went - came).max() > tolerance:
        return ""
    # What adds nothing since nothing moves it yet waits to be used.
    reads = [evaluation.read(read) for read in compiled(settings.text).reads]
    waits = reads and all(len(values) == 1 for values in reads)
    return "" if waits else "adds 0 on all frames"
