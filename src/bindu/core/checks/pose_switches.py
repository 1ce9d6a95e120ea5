"""Switches that belong to the poses of a set, but have no key in some of them."""

from __future__ import annotations

from collections import Counter
from collections.abc import Iterator, Mapping, Sequence

from bindu.core.checks.check import Check, Finding, Looked, Offer
from bindu.core.counted import counted
from bindu.core.edits.keying import KeyChannels
from bindu.core.evaluation import Evaluation
from bindu.core.scene.channels import TRANSFORM_CHANNELS, ChannelRef, step_channel
from bindu.core.scene.model import Scene
from bindu.core.scene.names import full_name
from bindu.core.scene.things import PartSet

POSE = 0.5
"""On which share of a set's keyed channels a frame has a key to hold a pose of it."""


class PoseSwitches(Check):
    """A set is a key scope. A frame with keys on half of its keyed channels or more holds a pose of
    it; a space, a blend, a leader or a choice that belongs to the set and changes should have a key
    in each, or the pose comes out otherwise where it is copied or moved to. See ``Check``."""

    name = "switch without key"
    why = "A pose that is copied or moved without its switches comes out otherwise than it was."
    severity = "untidy"

    def found(
        self, evaluation: Evaluation, limits: Mapping[str, float], looked: Looked
    ) -> Iterator[Finding]:
        """One for each set and switch."""
        scene = evaluation.scene
        switches = set(_switches(scene)) if scene.sets else set[ChannelRef]()
        for one in sorted(scene.sets.values(), key=lambda one: one.id):
            poses = _poses(scene, one)
            for ref in sorted(switches):
                if not (ref in one.channels or ref.part in one.parts) or not _changes(scene, ref):
                    continue
                frames = [f for f in poses if scene.curves[ref].key_at(f) is None]
                if frames:
                    yield _finding(scene, one, ref, frames)

    def offers(self, evaluation: Evaluation, finding: Finding) -> Sequence[Offer]:
        """Keys with the values that it has there."""
        scene = evaluation.scene
        ref = ChannelRef(finding.part, finding.channel)
        poses = _poses(scene, scene.sets[finding.key])
        frames = [f for f in poses if scene.curves[ref].key_at(f) is None]
        edits = tuple(KeyChannels(frame, (ref,)) for frame in frames)
        text = f"key it on {counted(len(frames), 'frame')}"
        return (Offer("key", text, "its curve stays as it is", edits),)


def _switches(scene: Scene) -> Iterator[ChannelRef]:
    """All channels that choose: own switches and choices, spaces, leaders, blends of limbs."""
    for own in scene.channels.values():
        if own.kind in ("switch", "choice"):
            yield ChannelRef(own.part, own.id)
    for step in scene.steps.values():
        for one in step.settings.inputs:
            if one.options:
                yield ChannelRef(step.part, step_channel(step.id, one.key))
    for lead in scene.leads.values():
        for one in lead.inputs:
            if one.options:
                yield ChannelRef(lead.part, step_channel(lead.id, one.key))
    for limb in scene.limbs.values():
        yield ChannelRef(limb.part, step_channel(limb.id, "blend"))


def _poses(scene: Scene, one: PartSet) -> list[float]:
    """The whole frames of the range that hold a pose of a set."""
    refs = {ref for ref in one.channels if ref.channel in TRANSFORM_CHANNELS}
    refs |= {ChannelRef(part, channel) for part in one.parts for channel in TRANSFORM_CHANNELS}
    curves = [scene.curves[ref] for ref in refs if ref in scene.curves]
    counted = Counter(key.frame for curve in curves for key in curve.keys)
    least = max(2.0, POSE * len(curves))
    return sorted(
        frame
        for frame, count in counted.items()
        if count >= least and scene.first <= frame <= scene.last
    )


def _changes(scene: Scene, ref: ChannelRef) -> bool:
    curve = scene.curves.get(ref)
    return curve is not None and len({key.value for key in curve.keys}) > 1


def _finding(scene: Scene, one: PartSet, ref: ChannelRef, frames: Sequence[float]) -> Finding:
    count = len(frames)
    name = full_name(scene, ref)
    text = f"{name} has no key in {counted(count, 'pose')} of “{one.name}”, "
    text += f"first on {frames[0]:g}, though it changes. Key it there, so that the pose keeps it."
    spans = tuple((int(f), int(f)) for f in frames)
    return Finding(
        "switch without key",
        "untidy",
        ref.part,
        ref.channel,
        f"{one.name}: {name}",
        text,
        float(count),
        "poses",
        None,
        spans,
        spans[0][0],
        key=one.id,
    )
