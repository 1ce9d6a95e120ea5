"""Which clip plays when: moves are made as their causes come to pass."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from bindu.core.clips.motion import MotionClip
from bindu.core.curves.model import Array
from bindu.core.scene.receivers import ANY, Move, Setup
from bindu.receiver.setup import Inputs

SLACK = 1e-9


@dataclass(frozen=True)
class Stretch:
    """A clip, from the frame on which it was moved to, to the next move.

    Attributes:
        clip: the place of the clip.
        first, end: frames of the receiver, the end not included.
        blend: over how many seconds it comes in from what was shown before.
    """

    clip: int
    first: int
    end: int
    blend: float


@dataclass(frozen=True)
class Chase:
    """Moves that chase each other within one frame, from a first frame to a last one; none of them
    was made there."""

    first: int
    last: int
    clips: tuple[str, ...]


def stretches(
    clips: Sequence[MotionClip], setup: Setup, inputs: Inputs, times: Array
) -> tuple[list[Stretch], list[Chase]]:
    """The clips that play, one after the other, over all frames; and moves that chase each other.

    Args:
        times: of the receiver's frames, seconds, shape (F,).
    """
    place = {clip.name: n for n, clip in enumerate(clips)}
    ready = [_ready(move, inputs, times) for move in setup.moves]
    now = place[setup.start] if setup.start is not None else 0
    began, blend = 0, 0.0
    found: list[Stretch] = []
    chases: list[Chase] = []
    for frame, time in enumerate(times):
        seen, last = [now], None
        lasted = float(time - times[began])
        while (move := _next(setup.moves, ready, clips[seen[-1]], lasted, frame)) is not None:
            to, lasted, last = place[move.to], 0.0, move
            if to in seen:
                names = tuple(clips[n].name for n in (*seen[seen.index(to) :], to))
                if not chases or (chases[-1].last, chases[-1].clips) != (frame - 1, names):
                    chases.append(Chase(frame, frame, names))
                chases[-1] = Chase(chases[-1].first, frame, names)
                # None of them is made: else it would go to and fro on every frame.
                seen, last = seen[:1], None
                break
            seen.append(to)
        if last is not None:
            if frame > began:
                found.append(Stretch(now, began, frame, blend))
                began, blend = frame, last.blend
            now = seen[-1]
    found.append(Stretch(now, began, len(times), blend))
    return found, chases


def _ready(move: Move, inputs: Inputs, times: Array) -> Array:
    """On which frames a move's cause is given, but for the end of a clip, shape (F,)."""
    if move.input is None or move.cause == "end":
        return np.ones(len(times), dtype=bool)
    values = inputs.at(move.input, times)
    if move.cause == "over":
        return np.asarray(values > move.value)
    if move.cause == "under":
        return np.asarray(values <= move.value)
    pressed = values > 0.0
    return np.asarray(pressed & ~np.concatenate([[False], pressed[:-1]]))


def _next(
    moves: Sequence[Move], ready: Sequence[Array], clip: MotionClip, lasted: float, frame: int
) -> Move | None:
    """The first move of the table that is to be made now."""
    for move, given in zip(moves, ready, strict=True):
        if move.start not in (ANY, clip.name) or move.to == clip.name or not given[frame]:
            continue
        if move.cause == "end" and lasted < length_of(clip) - SLACK:
            continue
        return move
    return None


def length_of(clip: MotionClip) -> float:
    """How long a clip is, from its first frame to its last, seconds."""
    return float((clip.frames[-1] - clip.frames[0]) / clip.fps)
