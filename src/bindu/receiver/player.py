"""What a receiver shows: clips blended from one to the next, and what overrides them, in order."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from bindu.core.clips.motion import MotionClip, worlds_of
from bindu.core.curves.model import Array
from bindu.core.refusal import Refusal
from bindu.core.scene.receivers import Override, Setup
from bindu.receiver.moving import Chase, Stretch, stretches
from bindu.receiver.overriding import Show, overridden
from bindu.receiver.poses import Pose, Sampler, matrices, mixed
from bindu.receiver.setup import (
    LONGEST,
    MOST_FRAMES,
    Inputs,
    checked_setup,
    missing_parts,
)
from bindu.receiver.writers import Writer

MOST_NUMBERS = 60_000_000


@dataclass(frozen=True)
class Played:
    """What a receiver showed.

    Attributes:
        times: seconds, shape (F,).
        names, parents: of the parts, P.
        local: shape (P, F, 3, 4).
        writers: in their order: each has its say after those before it.
        stretches: which clip played when.
        chases: moves that were stopped, for they chased each other.
        missing: parts that the setup names and the file has not.
    """

    times: Array
    names: tuple[str, ...]
    parents: tuple[int | None, ...]
    local: Array
    writers: tuple[Writer, ...]
    stretches: tuple[Stretch, ...]
    chases: tuple[Chase, ...]
    missing: tuple[str, ...]

    @property
    def worlds(self) -> Array:
        """Places in the world, shape (P, F, 3, 4)."""
        return worlds_of(self.parents, self.local)

    def last_words(self, part: int) -> Array:
        """Which writer has the last word on a part on each frame, places in ``writers``: the last
        one that goes any way at all, shape (F,)."""
        made = np.full(len(self.times), -1)
        for n, writer in enumerate(self.writers):
            if part in writer.parts:
                made = np.where(writer.shares > 0.0, n, made)
        return made


def play(
    clips: Sequence[MotionClip],
    setup: Setup,
    said: dict[str, tuple[Array, Array]],
    seconds: float,
    rate: float,
) -> Played:
    """Plays for a while.

    Args:
        clips: of one file, with the same parts; what a clip has not stays at rest in it.
        said: what inputs are told, by name: times in seconds and values.
        seconds: how long.
        rate: frames a second, 1 to 240; frame n is shown at exactly n / rate seconds.

    Raises:
        Refusal: when there is nothing to play, or the setup names what is not there.
    """
    if not clips:
        raise Refusal("the file has no clips.", code="choice", place="file")
    if not (0.0 <= seconds <= LONGEST and 1.0 <= rate <= 240.0):
        text = f"play up to {LONGEST:g} seconds at 1 to 240 frames a second."
        raise Refusal(text, code="number", place="seconds")
    checked_setup(setup, clips)
    count = int(np.floor(seconds * rate + 1e-9)) + 1
    names, parents, rests = _all_parts(clips)
    if count > MOST_FRAMES or count * len(names) * 12 > MOST_NUMBERS:
        text = "that is too much at once; play a shorter time, or at a lower rate."
        raise Refusal(text, code="too much", place="seconds")
    times = np.arange(count) / rate
    inputs = Inputs(setup, said)
    found, chases = stretches(clips, setup, inputs, times)
    samplers = [Sampler(clip, names, rests, clip.name in setup.once) for clip in clips]
    pose, shares = _blended(samplers, found, times)
    writers = _clip_writers(clips, found, shares, names)
    local = matrices(pose)
    show = Show(parents, rests, times, inputs, clips, samplers)
    for override in setup.overrides:
        writer = _writer(override, inputs, times, names)
        if writer is None:
            continue
        writers.append(writer)
        local = overridden(override, writer, local, show)
    return Played(
        times, names, parents, local, tuple(writers), tuple(found), tuple(chases),
        tuple(missing_parts(setup, clips)),
    )  # fmt: skip


def _all_parts(
    clips: Sequence[MotionClip],
) -> tuple[tuple[str, ...], tuple[int | None, ...], Array]:
    """The parts of all clips with their rests, parents first."""
    place: dict[str, int] = {}
    parents: list[int | None] = []
    rests: list[Array] = []
    for clip in clips:
        for part in clip.parts:
            if part.name not in place:
                above = None if part.parent is None else place[clip.parts[part.parent].name]
                place[part.name] = len(place)
                parents.append(above)
                rests.append(part.rest)
    return tuple(place), tuple(parents), np.stack(rests)


def _blended(
    samplers: Sequence[Sampler], found: Sequence[Stretch], times: Array
) -> tuple[Pose, list[Array]]:
    """The pose on all frames, and how far each stretch has come in on its own.

    While a clip comes in, the one before goes on; where that was still coming in itself, what was
    shown last stands still under it.
    """
    parts: list[Pose] = []
    shares: list[Array] = []
    for n, one in enumerate(found):
        span = times[one.first : one.end]
        since = span - times[one.first]
        pose = samplers[one.clip].at(since)
        share = np.ones(len(span))
        if n and one.blend > 0.0:
            share = np.clip(since / one.blend, 0.0, 1.0)
            before = found[n - 1]
            settled = shares[-1][-1] >= 1.0 if len(shares[-1]) else True
            if settled:
                old = samplers[before.clip].at(span - times[before.first])
            else:
                old = tuple(np.repeat(v[:, -1:], len(span), axis=1) for v in parts[-1])  # type: ignore[assignment]
            pose = mixed(old, pose, share)
        parts.append(pose)
        shares.append(share)
    made = tuple(np.concatenate([part[k] for part in parts], axis=1) for k in range(3))
    return (made[0], made[1], made[2]), shares


def _clip_writers(
    clips: Sequence[MotionClip],
    found: Sequence[Stretch],
    shares: Sequence[Array],
    names: Sequence[str],
) -> list[Writer]:
    """The clips as writers, and what is still shown of those before, which comes first."""
    count = found[-1].end
    every = tuple(range(len(names)))
    leaving, coming = [np.zeros(count) for _ in clips], [np.zeros(count) for _ in clips]
    for n, (one, share) in enumerate(zip(found, shares, strict=True)):
        coming[one.clip][one.first : one.end] = share
        if n:
            leaving[found[n - 1].clip][one.first : one.end] = 1.0 - share
    return [
        Writer(clip.name, kind, rows[n], every)
        for kind, rows in (("blend", leaving), ("clip", coming))
        for n, clip in enumerate(clips)
        if np.any(rows[n] > 0.0)
    ]


def _writer(
    override: Override, inputs: Inputs, times: Array, names: Sequence[str]
) -> Writer | None:
    """An override as a writer; None where it never goes any way."""
    shares = np.full(len(times), override.weight if override.on else 0.0)
    if override.by is not None:
        shares = shares * np.clip(inputs.at(override.by, times), 0.0, 1.0)
    parts = tuple(n for n, name in enumerate(names) if name in override.parts)
    if override.kind == "add clip" and not override.parts:
        parts = tuple(range(len(names)))
    return (
        Writer(override.name, override.kind, shares, parts)
        if parts and np.any(shares > 0.0)
        else None
    )
