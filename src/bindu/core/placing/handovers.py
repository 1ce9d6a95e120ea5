"""The handovers of space steps as they are now: from where to where, and how far a part jumps."""

from __future__ import annotations

from collections.abc import Iterable, Iterator, Sequence
from dataclasses import dataclass, replace

import numpy as np

from bindu.core.evaluation import Evaluation
from bindu.core.geometry.places import points_outside, turned_outside
from bindu.core.geometry.rotation import inverse, product
from bindu.core.placing.spaces import (
    active_space,
    moved_inside,
    offset_before,
    own_rows,
    parent_place,
    space_place,
    space_settings,
)
from bindu.core.scene.parts import Step
from bindu.core.scene.settings import Handover, Keep

JUMP_METRES = 1e-6
JUMP_DEGREES = 1e-4


@dataclass(frozen=True)
class HandoverState:
    """A change of spaces as it is now.

    Attributes:
        source, target: the spaces before and after.
        keep: how the place is kept; None where nothing is recorded.
        metres, degrees: how far the part jumps.
    """

    step: Step
    frame: int
    source: str
    target: str
    keep: Keep | None
    blend: int
    metres: float
    degrees: float

    @property
    def jumps(self) -> bool:
        """Whether the eye, or a later computation, could see it jump, and nobody meant it to. What
        keys of the part do there is up to them."""
        meant = self.blend > 0 or self.keep in ("keys", "jump")
        return not meant and (self.metres > JUMP_METRES or self.degrees > JUMP_DEGREES)

    @property
    def kept(self) -> bool:
        """Whether anything is recorded for it."""
        return self.keep is not None


@dataclass(frozen=True)
class _Change:
    """A change between two places in the list of spaces, and the offsets on both sides."""

    step: Step
    frame: int
    old: int
    new: int
    before: Handover
    record: Handover | None


def handover_states(evaluation: Evaluation, steps: Iterable[Step]) -> list[HandoverState]:
    """Each change of the active space of space steps over the range, by step and frame, and how
    far the part jumps there."""
    return _states(evaluation, [list(_changes(evaluation, step)) for step in steps])


def handover_elsewhere(
    evaluation: Evaluation, state: HandoverState, frames: Iterable[int]
) -> list[HandoverState]:
    """What a handover would be if it came on other frames, none of them beyond its neighbours, and
    what is recorded for it stayed as it is."""
    change = next(one for one in _changes(evaluation, state.step) if one.frame == state.frame)
    return _states(evaluation, [[replace(change, frame=frame) for frame in frames]])


def _states(evaluation: Evaluation, found: Sequence[Sequence[_Change]]) -> list[HandoverState]:
    """How far parts jump at changes, listed by step; all are computed at once."""
    changes = [change for listed in found for change in listed]
    if not changes:
        return []
    own = [own_rows(evaluation, c[0].step, [one.frame for one in c]) for c in found if c]
    rests, moved, turned = (np.concatenate(arrays) for arrays in zip(*own, strict=True))
    positions, rotations = points_outside(rests, moved), turned_outside(rests, turned)
    before = np.concatenate([space_place(evaluation, c.step, c.frame, c.old) for c in changes])
    after = np.concatenate([space_place(evaluation, c.step, c.frame, c.new) for c in changes])
    old = moved_inside(before, [c.before for c in changes], positions, rotations)
    new = moved_inside(after, [c.record or c.before for c in changes], positions, rotations)
    around = np.concatenate([parent_place(evaluation, c.step, c.frame) for c in changes])
    apart = np.matmul(around[:, :, :3], (new[0] - old[0])[:, :, None])
    metres = np.linalg.norm(apart[:, :, 0], axis=1)
    turns = product(inverse(old[1]), new[1])
    angles = 2.0 * np.arctan2(np.linalg.norm(turns[:, :3], axis=1), np.abs(turns[:, 3]))
    degrees = np.degrees(angles)
    return [_state(c, float(metres[n]), float(degrees[n])) for n, c in enumerate(changes)]


def _changes(evaluation: Evaluation, step: Step) -> Iterator[_Change]:
    settings = space_settings(step)
    active = active_space(evaluation, step)
    records = {one.frame: one for one in settings.handovers}
    first, last = evaluation.times.first, evaluation.times.last
    frames = {int(n) + 1 + first for n in np.flatnonzero(np.diff(active))}
    frames |= {int(f) for f in records if f == int(f) and first < f <= last}
    for frame in sorted(frames):
        old, new = int(active[frame - first - 1]), int(active[frame - first])
        before = offset_before(settings, frame)
        yield _Change(step, frame, old, new, before, records.get(frame))


def _state(change: _Change, metres: float, degrees: float) -> HandoverState:
    settings = space_settings(change.step)
    return HandoverState(
        change.step,
        change.frame,
        settings.spaces[change.old],
        settings.spaces[change.new],
        change.record.keep if change.record else None,
        change.record.blend if change.record else 0,
        # Nothing jumps that the space does not carry.
        0.0 if settings.carries == "rotation" else metres,
        0.0 if settings.carries == "position" else degrees,
    )
