"""What can be done about a pop."""

from __future__ import annotations

from collections.abc import Iterator

from bindu.core.checks.check import Finding, Offer
from bindu.core.checks.handover_remedies import blend_offer, handovers_of_pop, moved_offer
from bindu.core.checks.limb_reach import is_free
from bindu.core.counted import counted
from bindu.core.edits.channels import SetValue
from bindu.core.edits.retime import DeleteKeys, KeyPick
from bindu.core.evaluation import Evaluation
from bindu.core.scene.channels import AXES, ChannelRef, step_channel
from bindu.core.scene.model import Scene

AROUND = 3
"""Over how many frames on each side a jump is smoothed."""
SOFT = 0.1


def pop_offers(evaluation: Evaluation, finding: Finding) -> Iterator[Offer]:
    """Remedies of a pop, the one that changes least first."""
    scene, frame = evaluation.scene, float(finding.frame or 0)
    for state in handovers_of_pop(evaluation, finding.part, finding.key, int(frame)):
        yield from filter(None, (blend_offer(evaluation, state), moved_offer(evaluation, state)))
    near = _keys(scene, finding, frame - 1.0, frame + 1.0)
    if near:
        count = sum(len(pick.frames or ()) for pick in near)
        text = f"take away the keys around {frame:g}"
        go = counted(count, "key goes", "keys go")
        cost = f"{go}; the curve runs from the one before to the one after"
        yield Offer("take away", text, cost, (DeleteKeys(near),))
    first, last = frame - 1.0 - AROUND, frame + AROUND
    wide = _keys(scene, finding, first + 0.5, last - 0.5)
    if wide and wide != near:
        count = sum(len(pick.frames or ()) for pick in wide)
        text = f"smooth it from {first:g} to {last:g}"
        go = counted(count, "key between goes", "keys between go")
        cost = f"{go}; it gets there over {last - first:g} frames"
        yield Offer("smooth", text, cost, (DeleteKeys(wide),))
    for limb in sorted(scene.limbs.values(), key=lambda one: one.name):
        ref = ChannelRef(limb.part, step_channel(limb.id, "soft"))
        if finding.part not in limb.chain or not is_free(scene, limb, "soft"):
            continue
        if scene.set_value(ref) < SOFT:
            text = f"let {limb.name} reach softly"
            cost = f"within {100 * SOFT:g} % of its reach it no longer meets its goal quite"
            yield Offer("soft", text, cost, (SetValue(*ref, SOFT),))


def _keys(scene: Scene, finding: Finding, first: float, last: float) -> tuple[KeyPick, ...]:
    """The keys of a group between two frames, of the curves that go on beside them."""
    found = []
    for axis in AXES:
        ref = ChannelRef(finding.part, f"{finding.key}.{axis}")
        curve = scene.curves.get(ref)
        if curve is None or ref.channel in scene.parts[ref.part].locked:
            continue
        near = tuple(key.frame for key in curve.keys if first <= key.frame <= last)
        if near and len(near) < len(curve.keys):
            found.append(KeyPick(ref.part, ref.channel, near))
    return tuple(found)
