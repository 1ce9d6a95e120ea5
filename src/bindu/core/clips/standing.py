"""How a bake stands to what it came from: fresh, stale and by how much, or of other parts."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal

import numpy as np

from bindu.core.clips.baking import (
    baked_clip,
    baked_frames,
    leaving,
    source_clip,
    source_digest,
    worlds_on,
)
from bindu.core.clips.motion import Gap, MotionClip, gap_between
from bindu.core.evaluation import Evaluation
from bindu.core.nodes.operation import Indices
from bindu.core.scene.bakes import Bake, Baked

State = Literal["fresh", "stale", "asks"]
SAME = 1e-9
"""Metres, degrees and numbers below which nothing has changed."""


@dataclass(frozen=True)
class Standing:
    """How a bake stands to its source.

    Attributes:
        state: *asks* where its length or its parts have changed.
        cut, added: names of parts that would go, or come.
        shorter, longer: frames that would go, or come.
        gap: how far apart source and bake are where both have something; None where fresh.
        parts: the names of the parts that the gap is told of.
        frames: that were looked at.
        frame: where it is worst.
    """

    state: State
    cut: tuple[str, ...] = ()
    added: tuple[str, ...] = ()
    shorter: int = 0
    longer: int = 0
    gap: Gap | None = None
    parts: tuple[str, ...] = ()
    frames: tuple[int, ...] = ()
    frame: int | None = None


def standing(evaluation: Evaluation, bake: Bake) -> Standing:
    """How a bake stands to its source.

    Raises:
        Refusal: when it wrote nothing yet, or what leaves is gone.
    """
    made = bake.made
    if made is not None and made.digest == source_digest(evaluation, bake):
        return Standing("fresh")
    clip = baked_clip(bake)
    assert made is not None
    ids, now = leaving(evaluation.scene, bake), evaluation.scene.parts
    old = [part.part for part in made.parts]
    cut = tuple(part.name for part in made.parts if part.part not in ids)
    added = tuple(now[part].name for part in ids if part not in old)
    gone = _count(made.first, made.last) - _shared(made, bake)
    come = _count(bake.first, bake.last) - _shared(made, bake)
    both = [part for part in ids if part in old]
    low, high = max(made.first, evaluation.scene.first), min(made.last, evaluation.scene.last)
    low, high = max(low, bake.first), min(high, bake.last)
    state: State = "asks" if cut or added or gone or come else "stale"
    if not both or high < low:
        return Standing(state, cut, added, gone, come)
    # Between frames that are left out by the step it is straight on purpose.
    frames = np.array(
        [f for f in baked_frames(bake.first, bake.last, bake.step) if low <= f <= high]
    )
    rows = frames - made.first
    ours = clip.worlds[[old.index(part) for part in both]][:, rows]
    gap = gap_between(worlds_on(evaluation, both, frames), ours)
    frame = int(frames[gap.frames[gap.worst]])
    names = tuple(now[part].name for part in both)
    near = max(SAME, bake.tolerance)
    still = state == "stale" and gap.places.max() <= near and gap.turns.max() <= near
    if still and _same_beside(source_clip(evaluation, bake), clip, rows, near):
        return Standing("fresh")
    return Standing(state, cut, added, gone, come, gap, names, tuple(frames.tolist()), frame)


def _same_beside(now: MotionClip, clip: MotionClip, rows: Indices, near: float) -> bool:
    """Whether all that is told of parts beside their motion is as it was."""
    before = {name: values[rows] for name, values in clip.channels.items()}
    return (
        (now.fps, now.events) == (clip.fps, clip.events)
        and [(p.name, p.parent, p.role) for p in now.parts]
        == [(p.name, p.parent, p.role) for p in clip.parts]
        and now.channels.keys() == before.keys()
        and all(np.allclose(v, before[k], 0.0, near) for k, v in now.channels.items())
    )


def _count(first: int, last: int) -> int:
    return last - first + 1


def _shared(made: Baked, bake: Bake) -> int:
    return max(0, _count(max(made.first, bake.first), min(made.last, bake.last)))
