"""What every check is: it looks for one kind of trouble in a scene, and offers remedies."""

from __future__ import annotations

from abc import ABC, abstractmethod
from collections.abc import Callable, Hashable, Iterable, Iterator, Mapping, Sequence
from dataclasses import dataclass, field
from typing import ClassVar, Literal, TypeVar, cast

import numpy as np

from bindu.core.curves.model import Array
from bindu.core.edits import AnyEdit
from bindu.core.evaluation import Evaluation

Severity = Literal["wrong", "doubtful", "untidy"]
Span = tuple[int, int]
"""First and last frame."""
T = TypeVar("T")


@dataclass(frozen=True)
class Threshold:
    """From where on something counts as trouble, in words that a number goes into: ``over {} mm``.

    Attributes:
        key: by which settings name it.
        default: in ``unit``.
        low, high: what it may be.
    """

    key: str
    default: float
    unit: str
    words: str
    low: float = 0.0
    high: float = 1e6


@dataclass(frozen=True)
class Finding:
    """One trouble.

    Attributes:
        check: the check that found it.
        part: where; with ``channel`` the ledger that accounts for it.
        what: what of the part it concerns, by name: a channel, a step, a limb, a probe.
        text: what is wrong, how much, and what to do.
        amount: how much, in ``unit``; more is worse.
        step: the step that it comes from.
        spans: on which frames; none: it concerns all.
        frame: the worst one.
        amounts: the amount on every frame, shape (F,), where there is such a curve.
        level: from which amount on it counts.
        key: what a remedy needs to know beside that, in the check's own terms.
    """

    check: str
    severity: Severity
    part: str
    channel: str
    what: str
    text: str
    amount: float = 0.0
    unit: str = ""
    step: str | None = None
    spans: tuple[Span, ...] = ()
    frame: int | None = None
    amounts: Array | None = field(default=None, compare=False, repr=False)
    level: float | None = None
    key: str = ""

    @property
    def cause(self) -> str:
        """What it comes from, by identities: the same while the cause is, whatever it is called
        and on whatever frames it shows."""
        return f"{self.channel} {self.step or '-'} {self.key or '-'}"

    @property
    def id(self) -> str:
        """By which it is told from others in one state of a scene."""
        at = self.spans[0][0] if self.spans else "all"
        return f"{self.check} {self.part} {self.cause} {at}"


@dataclass(frozen=True)
class Offer:
    """A remedy.

    Attributes:
        kind: by which it is told from the other remedies of its check, and found again among those
            of other findings.
        text: what it does.
        cost: what it costs, or changes beside that.
    """

    kind: str
    text: str
    cost: str
    edits: tuple[AnyEdit, ...]


@dataclass(frozen=True)
class Way:
    """A way through the world that shows what is wrong, or what it should be.

    Attributes:
        name: whose it is, in words.
        points: shape (N, 3), metres.
        dashed: it is one that is not gone.
    """

    name: str
    points: Array = field(compare=False, repr=False)
    dashed: bool = False


class Looked:
    """What checks came to see of values, kept by what the values were made of, so that after an
    edit only what it reached is looked at again. What was not asked for since the last
    ``turn`` is let go."""

    def __init__(self) -> None:
        self._now: dict[Hashable, object] = {}
        self._before: dict[Hashable, object] = {}
        self._once: dict[Hashable, object] = {}

    def turn(self) -> None:
        """Begins another look at a scene."""
        self._before, self._now, self._once = self._now, {}, {}

    def this_time(self, key: Hashable, work: Callable[[], T]) -> T:
        """What the work comes to, done once in this look at a scene, for all checks."""
        if key not in self._once:
            self._once[key] = work()
        return cast("T", self._once[key])

    def once(self, key: Hashable, work: Callable[[], T]) -> T:
        """What the work comes to, done once for a key."""
        if key in self._now:
            return cast("T", self._now[key])
        made = cast("T", self._before[key]) if key in self._before else work()
        self._now[key] = made
        return made

    def _knows(self, key: Hashable) -> bool:
        return key in self._now or key in self._before

    def each(
        self, keys: Sequence[Hashable], work: Callable[[Sequence[int]], Sequence[T]]
    ) -> list[T]:
        """What the work comes to for each of some keys, done together for those of which it is not
        known.

        Args:
            keys: of all.
            work: for the places of some of them, in the same order.
        """
        missing = [n for n, key in enumerate(keys) if not self._knows(key)]
        made = dict(zip(missing, work(missing), strict=True)) if missing else {}
        return [self.once(key, lambda n=n: made[n]) for n, key in enumerate(keys)]  # type: ignore[misc]


class Check(ABC):
    """Looks for one kind of trouble.

    Attributes:
        name: one word or two, as people call it.
        why: one sentence on why it matters.
        severity: of what it finds.
        thresholds: what a person can set.
        on: whether it looks where nobody said.
    """

    name: ClassVar[str]
    why: ClassVar[str]
    severity: ClassVar[Severity] = "doubtful"
    thresholds: ClassVar[tuple[Threshold, ...]] = ()
    on: ClassVar[bool] = True

    @abstractmethod
    def found(
        self, evaluation: Evaluation, limits: Mapping[str, float], looked: Looked
    ) -> Iterator[Finding]:
        """All trouble of this kind in a scene.

        Args:
            evaluation: of the scene.
            limits: the thresholds by their keys.
            looked: what was seen before.
        """

    def offers(self, evaluation: Evaluation, finding: Finding) -> Sequence[Offer]:
        """Remedies of a finding, the best first."""
        return ()

    def ways(self, evaluation: Evaluation, finding: Finding) -> Sequence[Way]:
        """Ways through the world that show it, to be drawn in the view."""
        return ()


def spans_of(rows: Iterable[int], first: int) -> tuple[Span, ...]:
    """Frames put together to spans.

    Args:
        rows: counted from the range's first frame, ascending.
        first: that frame.
    """
    spans: list[Span] = []
    for row in rows:
        frame = first + int(row)
        if spans and frame - spans[-1][1] <= 1:
            spans[-1] = spans[-1][0], frame
        else:
            spans.append((frame, frame))
    return tuple(spans)


def spread(evaluation: Evaluation, values: Array) -> Array:
    """Values over all frames, where they may have stood still."""
    return np.broadcast_to(values, (len(evaluation.times.frames), *values.shape[1:]))


def said(amount: float) -> str:
    """An amount in a text: three digits, and no powers of ten."""
    return f"{amount:.0f}" if abs(amount) >= 100.0 else f"{amount:.3g}"


def said_frames(spans: Sequence[Span]) -> str:
    """Spans in words: frames 3 … 9 and 12."""
    if not spans:
        return "all frames"
    parts = [f"{a}" if a == b else f"{a} … {b}" for a, b in spans[:4]]
    more = f" and {len(spans) - 4} more" if len(spans) > 4 else ""
    word = "frame" if len(spans) == 1 and spans[0][0] == spans[0][1] else "frames"
    return f"{word} {', '.join(parts)}{more}"
