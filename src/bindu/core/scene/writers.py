"""Which steps write the channels of a part."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from typing import NamedTuple

from bindu.core.scene.channels import TAPS, Tap, zone_index
from bindu.core.scene.parts import Step


class Writers(NamedTuple):
    """The steps that write the channels of a part. Channels that none writes, not even a muted
    one, are left out.

    Attributes:
        steps: by channel, muted ones too, in the order of evaluation.
        last: by channel and tap the last one that is on up to there.
        before: by channel and step the last one that is on before it.
        groups: translation, rotation and scale where a channel of them is written.
        whole: those that a step writes as a whole.
    """

    steps: Mapping[str, tuple[Step, ...]]
    last: Mapping[str, Mapping[str, Step | None]]
    before: Mapping[tuple[str, str], Step | None]
    groups: frozenset[str] = frozenset()
    whole: frozenset[str] = frozenset()


NOBODY = Writers({}, {}, {})
"""Of a part without steps, as most parts of a large scene are."""


def writers_among(steps: Sequence[Step]) -> Writers:
    """The writers among the steps of a part, which are given in the order of evaluation."""
    found: dict[str, tuple[Step, ...]] = {}
    last: dict[str, dict[str, Step | None]] = {}
    before: dict[tuple[str, str], Step | None] = {}
    for step in steps:
        for channel in step.settings.writes:
            found[channel] = (*found.get(channel, ()), step)
            row = last.setdefault(channel, dict.fromkeys(TAPS))
            before[channel, step.id] = row["final"]
            if step.on:
                row.update(dict.fromkeys(_taps_from(step), step))
    groups = frozenset(channel.partition(".")[0] for channel in found)
    whole = frozenset(group for step in steps for group in step.settings.groups)
    return Writers(found, last, before, groups, whole)


def _taps_from(step: Step) -> Sequence[Tap]:
    return TAPS[zone_index(step.zone) :]
