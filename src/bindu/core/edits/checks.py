"""Edits of what checks look for, and of findings that are accepted."""

from __future__ import annotations

from dataclasses import dataclass, replace
from typing import Literal

from bindu.core.edits.base import finite, found_part, new_id, within
from bindu.core.refusal import Refusal
from bindu.core.scene.model import Scene
from bindu.core.scene.names import LONGEST_NAME, check_name
from bindu.core.scene.things import Accepted, CheckSetting

MOST_ACCEPTED = 2000
MOST_LIMITS = 20
LONGEST_REASON = 500
LONGEST_CAUSE = 4 * LONGEST_NAME


@dataclass(frozen=True)
class SetCheck:
    """Turns a check on or off for the scene, and sets its thresholds; those not given are as the
    check has them."""

    check: str
    on: bool = True
    limits: tuple[tuple[str, float], ...] = ()
    do: Literal["set check"] = "set check"

    def label(self, scene: Scene) -> str:
        """See ``Edit``."""
        return f"{'look' if self.on else 'do not look'} for {self.check}"

    def apply(self, scene: Scene) -> Scene:
        """See ``Edit``."""
        check_name(self.check, "check")
        if len(self.limits) > MOST_LIMITS:
            raise Refusal(f"a check has at most {MOST_LIMITS} thresholds.", code="too much")
        for key, value in self.limits:
            check_name(key, self.check)
            if finite(value, f"{self.check}: {key}") < 0.0:
                raise Refusal("it cannot be negative.", code="number", place=key)
        made = CheckSetting(self.check, self.on, tuple(sorted(dict(self.limits).items())))
        return replace(scene, checks=within(scene.checks, self.check, made))


@dataclass(frozen=True)
class AcceptFinding:
    """Leaves a finding as it is, with a reason; it comes back when its amount grows by a quarter.
    What was accepted of the same trouble on frames that meet is replaced."""

    check: str
    part: str
    what: str
    reason: str
    amount: float = 0.0
    span: tuple[int, int] | None = None
    id: str | None = None
    cause: str = ""
    do: Literal["accept finding"] = "accept finding"

    def label(self, scene: Scene) -> str:
        """See ``Edit``."""
        return f"accept {self.check} of {found_part(scene, self.part).name}"

    def apply(self, scene: Scene) -> Scene:
        """See ``Edit``."""
        part = found_part(scene, self.part)
        check_name(self.check, "check")
        _text(self.what, 4 * LONGEST_NAME, "what")
        _text(self.reason.strip(), LONGEST_REASON, "reason")
        if self.cause:
            _text(self.cause, LONGEST_CAUSE, "cause")
        finite(self.amount, "amount")
        if self.span is not None and self.span[1] < self.span[0]:
            raise Refusal("its last frame lies before its first.", code="number", place="span")
        left = {i: one for i, one in scene.accepted.items() if not self._is(one)}
        if len(left) >= MOST_ACCEPTED:
            text = f"a scene holds at most {MOST_ACCEPTED:,} accepted findings."
            raise Refusal(text, code="too much")
        key = new_id("a", scene.accepted, self.id)
        reason = self.reason.strip()
        made = Accepted(
            key, self.check, part.id, self.what, reason, self.amount, self.span, self.cause
        )
        return replace(scene, accepted=within(left, key, made))

    def _is(self, one: Accepted) -> bool:
        if not one.is_of(self.check, self.part, self.what, self.cause):
            return False
        if one.span is None or self.span is None:
            return True
        return one.span[0] <= self.span[1] and one.span[1] >= self.span[0]


@dataclass(frozen=True)
class TakeBackAcceptance:
    """Looks at a finding again that was accepted."""

    id: str
    do: Literal["take back acceptance"] = "take back acceptance"

    def label(self, scene: Scene) -> str:
        """See ``Edit``."""
        one = scene.accepted.get(self.id)
        return f"look at {one.check if one else self.id} again"

    def apply(self, scene: Scene) -> Scene:
        """See ``Edit``."""
        if self.id not in scene.accepted:
            raise Refusal("this is not accepted any more.", code="gone")
        left = {i: one for i, one in scene.accepted.items() if i != self.id}
        return replace(scene, accepted=left)


CheckEdit = SetCheck | AcceptFinding | TakeBackAcceptance


def _text(text: str, longest: int, place: str) -> None:
    if not text or len(text) > longest:
        problem = "is missing; say it" if not text else f"has at most {longest} characters"
        raise Refusal(f"{problem}.", code="text", place=place)
