"""Checks and findings in the form that the browser takes."""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np

from bindu.core.checks.check import Check, Finding
from bindu.core.checks.registry import CHECKS, acceptance, is_on, limits_of, offers_of, ways_of
from bindu.core.evaluation import Evaluation
from bindu.core.refusal import Refusal
from bindu.core.scene.model import Scene
from bindu.web.checks.schemas import (
    ChecksView,
    CheckView,
    FindingDetails,
    FindingView,
    OfferView,
    ThresholdView,
    TriedView,
    WayView,
)

MOVED = 1e-9
"""From how many metres on a part has moved."""
MOST_TOLD = 20


def checks_view(evaluation: Evaluation, found: Sequence[Finding], revision: int) -> ChecksView:
    """All checks, and what they found."""
    scene = evaluation.scene
    return ChecksView(
        revision=revision,
        checks=[_check(scene, check) for check in CHECKS],
        findings=[finding_view(scene, finding) for finding in found],
        accepted=sorted(scene.accepted.values(), key=lambda one: one.id),
    )


def finding_details(evaluation: Evaluation, finding: Finding, revision: int) -> FindingDetails:
    """A finding with its curve and its remedies."""
    return FindingDetails(
        revision=revision,
        finding=finding_view(evaluation.scene, finding),
        first=evaluation.times.first,
        amounts=_amounts(finding),
        level=finding.level,
        ways=[
            WayView(name=way.name, points=way.points.tolist(), dashed=way.dashed)
            for way in ways_of(evaluation, finding)
        ],
        offers=[
            OfferView(kind=one.kind, text=one.text, cost=one.cost, edits=list(one.edits))
            for one in offers_of(evaluation, finding)
        ],
    )


def tried_view(
    finding: Finding,
    before: tuple[Evaluation, Sequence[Finding]],
    after: tuple[Evaluation, Sequence[Finding]],
) -> TriedView:
    """What edits make of a finding, and of the scene around it."""
    (evaluation, old), (made, new) = before, after
    left = next((one for one in new if _same(one, finding)), None)
    come = [one.text for one in new if not any(_same(one, other) for other in old)]
    known, there = {_cause(one) for one in old}, {_cause(one) for one in new}
    return TriedView(
        left=left.text if left else None,
        amounts=_amounts(left) if left else None,
        gone=len(known - there),
        new=come[:MOST_TOLD],
        moved=_moved(evaluation, made)[:MOST_TOLD],
    )


def finding_view(scene: Scene, finding: Finding) -> FindingView:
    """A finding, and by what it is accepted."""
    accepted = acceptance(scene, finding)
    return FindingView(
        id=finding.id,
        check=finding.check,
        severity=finding.severity,
        part=finding.part,
        channel=finding.channel,
        what=finding.what,
        cause=finding.cause,
        text=finding.text,
        amount=finding.amount,
        unit=finding.unit,
        step=finding.step,
        spans=list(finding.spans),
        frame=finding.frame,
        accepted=accepted.id if accepted else None,
    )


def found_finding(found: Sequence[Finding], wanted: str) -> Finding:
    """The finding with this identity.

    Raises:
        Refusal: when there is none (any more).
    """
    finding = next((one for one in found if one.id == wanted), None)
    if finding is None:
        raise Refusal("this is not found any more.", code="gone", place="finding")
    return finding


def _check(scene: Scene, check: Check) -> CheckView:
    limits = limits_of(scene, check)
    return CheckView(
        name=check.name,
        why=check.why,
        severity=check.severity,
        on=is_on(scene, check),
        thresholds=[
            ThresholdView(
                key=one.key,
                value=limits[one.key],
                default=one.default,
                unit=one.unit,
                words=one.words,
                low=one.low,
                high=one.high,
            )
            for one in check.thresholds
        ],
    )


def _amounts(finding: Finding) -> list[float] | None:
    if finding.amounts is None:
        return None
    return [round(float(value), 9) for value in finding.amounts]


def _cause(finding: Finding) -> tuple[str, ...]:
    """What a finding is of, whatever its frames are."""
    return (finding.check, finding.part, finding.cause)


def _same(one: Finding, other: Finding) -> bool:
    """Whether two findings of two states of a scene are of one trouble, on frames that meet; the
    channel may differ: another rotation order has another middle angle."""
    if (one.check, one.part, one.what) != (other.check, other.part, other.what):
        return False
    if (one.step, one.key) != (other.step, other.key):
        return False
    if not one.spans or not other.spans:
        return True
    return any(a <= d and b >= c for a, b in one.spans for c, d in other.spans)


def _moved(before: Evaluation, after: Evaluation) -> list[str]:
    """The names of the parts that are elsewhere on some frame."""
    found = []
    for part in after.scene.tree_order:
        if part in before.scene.parts:
            one, other = before.world(part), after.world(part)
            short = min(len(one), len(other))
            same = len(one) == len(other) or short == 1
            if not same or np.abs(one - other).max() > MOVED:
                found.append(after.scene.parts[part].name)
    return found
