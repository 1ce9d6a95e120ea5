"""All checks, and what they find in a scene."""

from __future__ import annotations

from collections.abc import Collection, Iterable, Mapping, Sequence

from bindu.core.checks.angle_jumps import AngleJumps
from bindu.core.checks.check import Check, Finding, Looked, Offer, Way
from bindu.core.checks.costs import Costs
from bindu.core.checks.dead_holds import DeadHolds
from bindu.core.checks.driven_rows import DrivenRows
from bindu.core.checks.gait_way import GaitWay
from bindu.core.checks.gimbal import Gimbal
from bindu.core.checks.halts import Halts
from bindu.core.checks.jumping_handovers import JumpingHandovers
from bindu.core.checks.limb_pole import PoleOnTheLine
from bindu.core.checks.limb_reach import Reach
from bindu.core.checks.limb_scale import UnevenLimb
from bindu.core.checks.limb_side import OtherSide
from bindu.core.checks.limb_straight import Straight
from bindu.core.checks.limb_switch import JumpingSwitch
from bindu.core.checks.limb_unseen import UnseenKeys
from bindu.core.checks.loops import Loops
from bindu.core.checks.missing import Missing
from bindu.core.checks.moved_twice import MovedTwice
from bindu.core.checks.no_effect import NoEffect
from bindu.core.checks.no_number import NoNumber
from bindu.core.checks.off_grid import OffGrid
from bindu.core.checks.outside_stops import OutsideStops
from bindu.core.checks.poles import AimPoles
from bindu.core.checks.pops import Pops
from bindu.core.checks.pose_switches import PoseSwitches
from bindu.core.checks.shears import Shears
from bindu.core.checks.skin import Skin
from bindu.core.checks.slide import Slide
from bindu.core.checks.slip import Slipping
from bindu.core.checks.spacing import Spacing
from bindu.core.checks.stale_bakes import StaleBakes
from bindu.core.checks.tilted_spin import TiltedSpin
from bindu.core.checks.unkeyed import UnkeyedSwitch
from bindu.core.evaluation import Evaluation
from bindu.core.refusal import Refusal, nearest_names
from bindu.core.scene.model import Scene
from bindu.core.scene.things import Accepted

CHECKS: tuple[Check, ...] = (
    Loops(),
    NoNumber(),
    Slide(),
    Slipping(),
    JumpingSwitch(),
    JumpingHandovers(),
    UnevenLimb(),
    Pops(),
    Reach(),
    Straight(),
    PoleOnTheLine(),
    OtherSide(),
    GaitWay(),
    Skin(),
    UnkeyedSwitch(),
    PoseSwitches(),
    UnseenKeys(),
    AimPoles(),
    Gimbal(),
    AngleJumps(),
    TiltedSpin(),
    Shears(),
    OutsideStops(),
    MovedTwice(),
    Halts(),
    DeadHolds(),
    Spacing(),
    DrivenRows(),
    Missing(),
    NoEffect(),
    OffGrid(),
    StaleBakes(),
    Costs(),
)
GROWN = 1.25
"""By how much an accepted amount may grow until the finding comes back."""


def check_named(name: str) -> Check:
    """The check with this name.

    Raises:
        Refusal: with the nearest names, when there is none.
    """
    known = {check.name: check for check in CHECKS}
    if name not in known:
        near = nearest_names(name, known)
        raise Refusal(f"there is no check {name!r}.", code="unknown", nearest=near)
    return known[name]


def is_on(scene: Scene, check: Check) -> bool:
    """Whether a check looks at a scene."""
    setting = scene.checks.get(check.name)
    return check.on if setting is None else setting.on


def limits_of(scene: Scene, check: Check) -> Mapping[str, float]:
    """The thresholds of a check in a scene, by their keys."""
    setting = scene.checks.get(check.name)
    said = dict(setting.limits) if setting else {}
    return {one.key: said.get(one.key, one.default) for one in check.thresholds}


def findings(
    evaluation: Evaluation, only: Collection[str] | None = None, looked: Looked | None = None
) -> tuple[Finding, ...]:
    """What the checks that are on find, in the order of ``CHECKS`` and of the tree, accepted
    findings among it.

    Args:
        evaluation: of the scene.
        only: the names of checks to look with, whether they are on or not.
        looked: what was seen before; see there.
    """
    scene, seen = evaluation.scene, looked or Looked()
    seen.turn()
    return tuple(
        finding
        for check in CHECKS
        if (is_on(scene, check) if only is None else check.name in only)
        for finding in _in_order(scene, check.found(evaluation, limits_of(scene, check), seen))
    )


def _in_order(scene: Scene, found: Iterable[Finding]) -> list[Finding]:
    """Findings by the parts' order in the tree, in whatever order things were looked at."""
    place = scene.tree_order
    return sorted(
        found,
        key=lambda one: (place.get(one.part, len(place)), one.channel, one.what, one.step or ""),
    )


def offers_of(evaluation: Evaluation, finding: Finding) -> Sequence[Offer]:
    """The remedies of a finding, the best first."""
    return check_named(finding.check).offers(evaluation, finding)


def ways_of(evaluation: Evaluation, finding: Finding) -> Sequence[Way]:
    """Ways through the world that show a finding."""
    return check_named(finding.check).ways(evaluation, finding)


def acceptance(scene: Scene, finding: Finding) -> Accepted | None:
    """By what a finding is accepted: the same trouble of the same thing on frames that meet, whose
    amount has not grown by more than a quarter since."""
    return next(
        (
            one
            for one in scene.accepted.values()
            if one.is_of(finding.check, finding.part, finding.what, finding.cause)
            and finding.amount <= GROWN * one.amount
            and _meets(one, finding)
        ),
        None,
    )


def _meets(one: Accepted, finding: Finding) -> bool:
    if one.span is None or not finding.spans:
        return True
    return any(a <= one.span[1] and b >= one.span[0] for a, b in finding.spans)
