"""Keys of channels that a step sets, so that nothing shows them."""

from __future__ import annotations

import math
from collections.abc import Iterator, Mapping

from bindu.core.checks.check import Finding, Offer
from bindu.core.counted import counted
from bindu.core.edits.retime import DeleteKeys, KeyPick
from bindu.core.edits.steps import ChangeStep
from bindu.core.evaluation import Evaluation
from bindu.core.graph.kinds.channel import tap_node
from bindu.core.nodes.identity import OWN, NodeId, after
from bindu.core.scene.channels import ChannelRef, layer_and_channel, weight_channel
from bindu.core.scene.model import Scene
from bindu.core.scene.names import full_name
from bindu.core.scene.parts import Step
from bindu.core.scene.settings import DrivenSettings, FormulaSettings

KEYS = "replaced keys"
"""The key of such a finding."""


def replaced(evaluation: Evaluation) -> Mapping[ChannelRef, Step]:
    """The curves of which no key shows on any frame, each with the step that sets its channel: by a
    formula or driven keys, with full weight and finite values on all frames; and nothing reads the
    channel before it."""
    scene = evaluation.scene
    setting = {
        ChannelRef(step.part, step.settings.channel): step
        for step in scene.steps.values()
        if isinstance(step.settings, FormulaSettings | DrivenSettings)
        and step.settings.mode == "set"
        and step.on
        and _takes_all(evaluation, step, step.settings.channel)
    }
    found = {}
    for ref in scene.curves if setting else ():
        step = setting.get(ChannelRef(ref.part, layer_and_channel(ref.channel)[1]))
        free = ref.channel not in scene.parts[ref.part].locked
        if step is not None and free and _only_feeds(evaluation, ref, step):
            found[ref] = step
    return found


def replaced_findings(scene: Scene, found: Mapping[ChannelRef, Step]) -> Iterator[Finding]:
    """One for each step that sets what has keys."""
    for step in dict.fromkeys(found.values()):
        refs = [ref for ref, one in found.items() if one is step]
        frames = sorted({key.frame for ref in refs for key in scene.curves[ref].keys})
        count = sum(len(scene.curves[ref].keys) for ref in refs)
        them = "it" if count == 1 else "them"
        text = f"{full_name(scene, refs[0])}: “{step.name}” sets it on all frames, so that "
        text += f"{counted(count, 'key is', 'keys are')} never seen: take {them} away, or mute it."
        inside = sorted({math.floor(f) for f in frames if scene.first <= f <= scene.last})
        yield Finding(
            "without effect",
            "untidy",
            step.part,
            step.settings.writes[0],
            step.name,
            text,
            float(count),
            "keys",
            step.id,
            tuple((f, f) for f in inside),
            inside[0] if inside else None,
            key=KEYS,
        )


def replaced_offers(found: Mapping[ChannelRef, Step], step: Step) -> Iterator[Offer]:
    """Taking the keys away, or letting them move the channel."""
    picks = tuple(KeyPick(*ref) for ref, one in found.items() if one.id == step.id)
    if picks:
        yield Offer("take away", "take these keys away", "nothing moves", (DeleteKeys(picks),))
        mute = ChangeStep(step.id, on=False)
        yield Offer("mute", f"mute “{step.name}”", "the keys move it again", (mute,))


def _takes_all(evaluation: Evaluation, step: Step, channel: str) -> bool:
    """Whether what comes in to a step plays no part on any frame."""
    scene = evaluation.scene
    weight = tap_node(scene, ChannelRef(step.part, weight_channel(step.id)), "final")
    if not (evaluation.result(weight).values == 1.0).all():
        return False
    return evaluation.result(NodeId(step.part, channel, after(step))).broken_from is None


def _only_feeds(evaluation: Evaluation, ref: ChannelRef, step: Step) -> bool:
    """Whether all that a curve reaches, without passing a step, are values of its own channel, and
    such as nothing else is made of."""
    dependents = evaluation.graph.dependents
    last = NodeId(step.part, step.settings.writes[0], after(step))
    waiting, seen = [NodeId(ref.part, ref.channel, OWN)], {last}
    while waiting:
        node = waiting.pop()
        if node in seen:
            continue
        seen.add(node)
        own = (node.part, node.quantity) in (ref, (ref.part, last.quantity))
        # What stands at the tap keyed alone is looked at, and moves nothing.
        if node.stage.kind == "tap" and node.stage.name != "keyed":
            return False
        if not own and node.stage.kind != "tap":
            return False
        waiting += dependents.get(node, ())
    return True
