"""Points that slide while they stand."""

from __future__ import annotations

from collections.abc import Iterator, Mapping, Sequence

import numpy as np

from bindu.core.account.limbs import limb_account
from bindu.core.checks.check import Check, Finding, Looked, Offer, Threshold, said, spans_of
from bindu.core.checks.limb_reach import limbs_of, reach_after
from bindu.core.checks.probes import probes_of
from bindu.core.curves.model import Array
from bindu.core.drivers.slip import slip_of
from bindu.core.edits.plants import PlantPart
from bindu.core.evaluation import Evaluation
from bindu.core.geometry.angles import Flags
from bindu.core.placing.matching import control_of
from bindu.core.placing.place import inverted, square
from bindu.core.scene.things import Probe

SHORTEST = 3
"""How many frames something stands at least to count as standing."""


class Slide(Check):
    """Contact is where the point of a slip probe that does not roll is said to stand, or is within
    a height of its ground and slower than what could be a step, and neither rises nor sinks: there
    it stands, and its way along the ground is its slide. See ``Check``."""

    name = "slide"
    why = "A foot that stands and still moves against the ground takes the weight out of a figure."
    severity = "wrong"
    thresholds = (
        Threshold("slide", 2.0, "mm", "over {} mm a frame", 0.0, 1e6),
        Threshold("height", 20.0, "mm", "up to {} mm above its ground", 0.0, 1e6),
        Threshold("fast", 60.0, "mm", "slower than {} mm a frame", 0.0, 1e6),
    )

    def found(
        self, evaluation: Evaluation, limits: Mapping[str, float], looked: Looked
    ) -> Iterator[Finding]:
        """One for each span of contact."""
        scene, first = evaluation.scene, evaluation.times.first
        for probe in probes_of(evaluation, rolling=False):
            slip = slip_of(evaluation, probe)
            way = 1000.0 * slip.amounts
            along = 1000.0 * np.hypot(slip.vectors[:, 0], slip.vectors[:, 2])
            height = 1000.0 * heights(evaluation, probe, slip.points)
            rises = 1000.0 * np.abs(slip.vectors[:, 1])
            stands = (height <= limits["height"]) & (way <= limits["fast"])
            stands &= rises <= limits["slide"]
            said_so = _said(evaluation, probe)
            stands |= said_so
            for a, b in spans_of(np.flatnonzero(stands), first):
                inside = slice(a - first + 1, b - first + 1)
                short = b - a + 1 < SHORTEST and not said_so[a - first : b - first + 1].all()
                if short or b == a or along[inside].max() <= limits["slide"]:
                    continue
                total, worst = float(along[inside].sum()), a + 1 + int(np.argmax(along[inside]))
                amounts = np.zeros(len(along))
                amounts[inside] = along[inside]
                name = scene.parts[probe.part].name
                text = f"{name} slides {said(total)} mm while it stands ({probe.name}), most on "
                text += f"{worst}: {said(along[worst - first])} mm in one frame. Plant it."
                yield Finding(
                    self.name,
                    self.severity,
                    probe.part,
                    "translation.x",
                    probe.name,
                    text,
                    total,
                    "mm",
                    None,
                    ((a, b),),
                    worst,
                    amounts,
                    limits["slide"],
                    probe.id,
                )

    def offers(self, evaluation: Evaluation, finding: Finding) -> Sequence[Offer]:
        """Planting what steers the point: the goal of the limb that it ends, else its part; as it
        is at the end of the span, or at its beginning."""
        part = planted_part(evaluation, finding)
        if part is None:
            return ()
        name = evaluation.scene.parts[part].name
        (first, last), found = finding.spans[0], []
        for kind, keep in (("as it ends", last), ("as it begins", first)):
            edit = PlantPart(part, first, last, keep)
            cost = f"keeps the place of frame {keep}, joins and leaves over 3 frames"
            cost += reach_after(evaluation, edit, part, finding.spans[0])
            found.append(Offer(kind, f"plant {name} {first} … {last} as on {keep}", cost, (edit,)))
        return tuple(found)


def planted_part(evaluation: Evaluation, finding: Finding) -> str | None:
    """The part to be planted so that a point stands still: the control of the goal of a limb whose
    end is the point's part, or above it, while IK is on; None where FK moves it."""
    scene, first = evaluation.scene, evaluation.times.first
    above: list[str] = []
    part: str | None = finding.part
    while part is not None:
        above.append(part)
        part = scene.parts[part].parent
    for limb in limbs_of(scene):
        if limb.chain[-1] in above and not set(limb.chain[:-1]).isdisjoint(above):
            a, b = finding.spans[0]
            blend = limb_account(evaluation, limb).blend[a - first : b - first + 1]
            return control_of(scene, limb.goal) if blend.min() >= 1.0 else None
    return finding.part


def _said(evaluation: Evaluation, probe: Probe) -> Flags:
    """On which frames a probe is said to stand, shape (F,)."""
    frames = evaluation.times.frames
    found = np.zeros(len(frames), dtype=bool)
    for a, b in probe.stands:
        found |= (frames >= a) & (frames <= b)
    return found


def heights(evaluation: Evaluation, probe: Probe, points: Array) -> Array:
    """How high the point of a probe is over the level of its ground's origin, along the ground's y,
    metres, shape (F,).

    Args:
        evaluation: of the scene.
        probe: the probe.
        points: where its point is in the world, shape (F, 3).
    """
    if probe.ground is None:
        return points[:, 1]
    name = evaluation.scene.parts[probe.ground].name
    back = np.broadcast_to(
        inverted(square(evaluation.world(probe.ground)), name), (len(points), 4, 4)
    )
    local = np.einsum("fij,fj->fi", back[:, :3, :3], points) + back[:, :3, 3]
    return np.asarray(local[:, 1])
