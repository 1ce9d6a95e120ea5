"""Who has the last word on a channel: the step that decided its value, on each frame."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from bindu.core.account.ledger import effect, ledger_of
from bindu.core.evaluation import Evaluation
from bindu.core.scene.channels import ChannelRef


@dataclass(frozen=True)
class Word:
    """A stretch of frames, both ends included, and the bead that decided the value there:
    its place in the ledger, its name and zone, and its step (None: the channel's own)."""

    first: int
    last: int
    bead: int
    name: str
    zone: str
    step: str | None


def last_words(evaluation: Evaluation, ref: ChannelRef) -> tuple[Word, ...]:
    """The last bead that changed a channel's value, over the range."""
    beads = ledger_of(evaluation, ref).beads
    frames = len(evaluation.times.frames)
    decided = np.zeros(frames, dtype=int)
    for n, bead in enumerate(beads):
        changes = effect(evaluation, bead)
        if changes is not None:
            decided[np.broadcast_to(changes, frames)] = n
    starts = [0, *(np.flatnonzero(np.diff(decided)) + 1), frames]
    first = evaluation.times.first
    words = []
    for start, end in zip(starts, starts[1:], strict=False):
        bead = beads[decided[start]]
        step = bead.step.id if bead.step else None
        words.append(
            Word(
                first + int(start),
                first + int(end) - 1,
                int(decided[start]),
                bead.name,
                bead.zone,
                step,
            )
        )
    return tuple(words)
