"""Keys of a limb that are never seen: its goal is keyed while FK is on, its chain while IK is."""

from __future__ import annotations

from collections.abc import Iterator, Mapping, Sequence

import numpy as np

from bindu.core.account.limbs import limb_account
from bindu.core.checks.check import Check, Finding, Looked, Offer, Span, spans_of
from bindu.core.checks.limb_reach import limbs_of
from bindu.core.checks.unkeyed import never_switched
from bindu.core.counted import counted
from bindu.core.curves.spans import key_reach
from bindu.core.curves.spare import spare_keys
from bindu.core.edits import applied
from bindu.core.edits.retime import DeleteKeys, KeyPick, Picks
from bindu.core.edits.trees import subtree
from bindu.core.evaluation import Evaluation, evaluate_after
from bindu.core.graph.kinds.world import world_node
from bindu.core.placing.matching import control_of
from bindu.core.scene.channels import TRANSFORM_CHANNELS, ChannelRef, below_layers
from bindu.core.scene.model import Scene
from bindu.core.scene.names import full_name
from bindu.core.scene.things import Limb

NEAR = 1e-7
"""Metres, and lengths of axes, by which a part may stand otherwise when unseen keys are gone."""


Unseen = tuple[Picks, tuple[Span, ...]]
"""Keys, and the frames that they reach."""


class UnseenKeys(Check):
    """A key shapes its curve between its neighbours. Where the limb is FK on all of these frames, a
    key of goal or pole is not seen, and where it is IK, one of its chain. That they change nothing
    is tried: without them every part stands as it does, but for the controls that carry them. See
    ``Check``."""

    name = "unseen keys"
    why = "Keys of the way that is off look like work that counts, and nobody will ever see them."
    severity = "untidy"

    def found(
        self, evaluation: Evaluation, limits: Mapping[str, float], looked: Looked
    ) -> Iterator[Finding]:
        """One for each limb and way."""
        scene = evaluation.scene
        for limb in limbs_of(scene):
            if never_switched(scene, limb):
                continue
            for way in ("FK", "IK"):
                picks, spans = _unseen(evaluation, limb, way)
                if picks and _changes_nothing(evaluation, limb, picks, looked):
                    yield _finding(evaluation, limb, way, picks, spans)

    def offers(self, evaluation: Evaluation, finding: Finding) -> Sequence[Offer]:
        """Taking them away."""
        limb, _, way = finding.key.partition(" ")
        picks, _ = _unseen(evaluation, evaluation.scene.limbs[limb], way)
        text = f"take away {finding.amount:g} keys"
        cost = "every part stands as it does; only the controls that carry the keys rest"
        return (Offer("take away", text, cost, (DeleteKeys(picks),)),)


def _unseen(
    evaluation: Evaluation, limb: Limb, way: str
) -> tuple[tuple[KeyPick, ...], tuple[Span, ...]]:
    """The keys that are not seen since the limb is only FK, or only IK, around them."""
    scene, first = evaluation.scene, evaluation.times.first
    blend = limb_account(evaluation, limb).blend
    off = blend <= 0.0 if way == "FK" else blend >= 1.0
    parts = _steers(scene, limb) if way == "FK" else set(limb.chain)
    shown = first + np.arange(len(blend))
    found, rows = [], set[int]()
    for ref, curve in sorted(scene.curves.items()):
        base = below_layers(ref)
        if base.part not in parts or base.channel not in TRANSFORM_CHANNELS:
            continue
        if base.channel in scene.parts[base.part].locked or len(curve.keys) < 2:
            continue
        spare = set(spare_keys(curve, 0.0))
        frames = []
        for n, key in enumerate(curve.keys):
            low, high = key_reach(curve, n)
            reach = np.flatnonzero((shown > low) & (shown < high))
            # The key beside a frame that is seen was put there by a switch, to hold it.
            beside = np.flatnonzero(~off & (np.abs(shown - key.frame) <= 1.0))
            if len(reach) and off[reach].all() and not len(beside) and key.frame not in spare:
                frames.append(key.frame)
                rows.update(reach.tolist())
        if frames:
            found.append(KeyPick(*ref, tuple(frames)))
    return tuple(found), spans_of(sorted(rows), first)


def _steers(scene: Scene, limb: Limb) -> set[str]:
    """Goal and pole, and what a hand takes hold of to move them."""
    ends = [limb.goal] if limb.pole is None else [limb.goal, limb.pole]
    return {*ends, *(control_of(scene, end) for end in ends)}


def _changes_nothing(evaluation: Evaluation, limb: Limb, picks: Picks, looked: Looked) -> bool:
    """Whether all that is not merely a control below goal or pole stands as before without them."""
    scene = evaluation.scene
    steers = _steers(scene, limb)
    below = set[str]().union(*(subtree(scene, steer) for steer in steers))
    carries = {part for part in below if scene.parts[part].role in ("control", "helper")}
    seen = [part for part in scene.parts if part not in carries]

    def tried() -> bool:
        without = evaluate_after(evaluation, applied(scene, [DeleteKeys(picks)]))
        pairs = ((evaluation.world(part), without.world(part)) for part in seen)
        return all(a is b or bool(np.abs(a - b).max() <= NEAR) for a, b in pairs)

    made = [scene.curves[ChannelRef(pick.part, pick.channel)].digest for pick in picks]
    made += [evaluation.result(world_node(part)).key for part in seen]
    return looked.once(("unseen keys", limb.id, picks, *made), tried)


def _finding(
    evaluation: Evaluation,
    limb: Limb,
    way: str,
    picks: Picks,
    spans: tuple[Span, ...],
) -> Finding:
    scene = evaluation.scene
    count = sum(len(pick.frames or ()) for pick in picks)
    lead = full_name(scene, ChannelRef(picks[0].part, picks[0].channel))
    text = f"{limb.name}: {counted(count, 'key')}, first {lead} at "
    text += f"{(picks[0].frames or (0,))[0]:g}, are not seen: it is {way} wherever they reach. "
    text += "Take them away, or switch it where they should be seen."
    return Finding(
        "unseen keys",
        "untidy",
        limb.part,
        f"{limb.id}.blend",
        limb.name,
        text,
        float(count),
        "keys",
        None,
        tuple(spans),
        spans[0][0],
        key=f"{limb.id} {way}",
    )
