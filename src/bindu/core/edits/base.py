"""What all edits share: identities, lookups and checks."""

from __future__ import annotations

import re
from collections.abc import Callable, Collection, Iterable, Mapping, Sequence
from dataclasses import replace
from typing import Protocol, TypeVar

from bindu.core.formula.compiler import compiled
from bindu.core.nodes.identity import Read
from bindu.core.refusal import Refusal
from bindu.core.scene.channels import (
    BUILT_IN_CHANNELS,
    ChannelRef,
    below_layers,
    layer_and_channel,
    step_channel,
    weight_channel,
)
from bindu.core.scene.model import WEIGHT, Scene, listed_order
from bindu.core.scene.names import channel_name, full_name, known_channel
from bindu.core.scene.parts import Part, Step
from bindu.core.scene.things import DrivenKeys, PartSet
from bindu.core.steps.registry import reads_of

T = TypeVar("T")
LARGEST = 1e9
"""The largest number that anything may be set to."""
IDENTITY = re.compile(r"[a-z][a-z0-9]{0,19}")


class Edit(Protocol):
    """One change that a person asks for."""

    def label(self, scene: Scene) -> str:
        """What it does, in a few words; ``scene`` is the one before it."""

    def apply(self, scene: Scene) -> Scene:
        """The scene after it.

        Raises:
            Refusal: when it cannot be done; nothing has changed then.
        """


def new_id(
    prefix: str,
    taken: Collection[str],
    wanted: str | None = None,
    others: Sequence[Collection[str]] = (),
) -> str:
    """An identity that is not taken: the wanted one, or the prefix and the next number.

    Args:
        prefix: what identities of this kind begin with where nobody chose one.
        taken: the identities of this kind.
        wanted: one that somebody chose.
        others: those of other kinds that it must differ from too; see ``identities``.

    Raises:
        Refusal: when the wanted one is taken or no identity.
    """
    tables = (taken, *others)
    if wanted is not None:
        if not IDENTITY.fullmatch(wanted):
            raise Refusal(
                f"{wanted!r} is no identity: a letter, then letters and digits.", code="text"
            )
        if wanted in BUILT_IN_CHANNELS or any(wanted in table for table in tables):
            raise Refusal(f"the identity {wanted!r} stands for two things.", code="taken")
        return wanted
    numbers = (int(i[len(prefix) :]) for i in taken if re.fullmatch(prefix + r"[0-9]{1,9}", i))
    number = max(numbers, default=0) + 1
    while any(f"{prefix}{number}" in table for table in tables):
        number += 1
    return f"{prefix}{number}"


def identities(scene: Scene) -> tuple[Collection[str], ...]:
    """The identities of all that channels and formulas refer to: one namespace, so that no
    reference can be taken for another."""
    return scene.parts, scene.channels, scene.steps, scene.layers, scene.owners, scene.driven


def found_part(scene: Scene, part: str) -> Part:
    """The part with this id.

    Raises:
        Refusal: when there is none any more.
    """
    if part not in scene.parts:
        raise Refusal(f"there is no part with the identity {part!r} any more.", code="gone")
    return scene.parts[part]


def found_step(scene: Scene, step: str) -> Step:
    """The step with this id.

    Raises:
        Refusal: when there is none any more.
    """
    if step not in scene.steps:
        raise Refusal(f"there is no step with the identity {step!r} any more.", code="gone")
    return scene.steps[step]


def found_channel(scene: Scene, part: str, channel: str) -> ChannelRef:
    """The reference to a channel that is there.

    Raises:
        Refusal: when the part or the channel is gone, or the channel is on no such layer.
    """
    ref = ChannelRef(part, channel)
    found_part(scene, part)
    layer, below = layer_and_channel(channel)
    if layer is not None and below == weight_channel(layer):
        text = "a layer cannot weigh itself; the weight has its keys under all layers."
        raise Refusal(text, place=full_name(scene, ChannelRef(part, below)))
    if not known_channel(scene, ref):
        raise Refusal(f"{scene.parts[part].name} has no channel {channel!r} any more.", code="gone")
    return ref


def unlocked(scene: Scene, ref: ChannelRef) -> ChannelRef:
    """The reference, if the channel may be edited by hand.

    Raises:
        Refusal: when it is locked.
    """
    _, channel = layer_and_channel(ref.channel)
    if channel in scene.parts[ref.part].locked:
        raise Refusal(
            "it is locked; unlock it to edit it by hand.",
            code="locked",
            place=full_name(scene, ref),
        )
    return ref


def finite(number: float, what: str) -> float:
    """The number, if it is one and within ±1e9.

    Raises:
        Refusal: when it is not.
    """
    if not abs(number) <= LARGEST:  # no number is never less
        raise Refusal(f"must be a number within ±1e9, not {number}.", code="number", place=what)
    return number


def without_members(
    sets: Mapping[str, PartSet], gone: Callable[[ChannelRef], bool]
) -> Mapping[str, PartSet]:
    """The sets without members that go away; a whole part counts as a reference to channel ""."""
    found = {}
    for key, one in sets.items():
        parts = tuple(p for p in one.parts if not gone(ChannelRef(p, "")))
        channels = tuple(c for c in one.channels if not gone(c))
        same = parts == one.parts and channels == one.channels
        found[key] = one if same else replace(one, parts=parts, channels=channels)
    return found


def within(mapping: Mapping[str, T], key: str, value: T) -> dict[str, T]:
    """The mapping with one entry more or changed."""
    return {**mapping, key: value}


def refuse_readers(
    scene: Scene, parts: set[str], channels: set[ChannelRef], leaving: set[str], what: str
) -> None:
    """Refuses to take something away that steps still read.

    Args:
        parts: parts that go.
        channels: single channels that go.
        leaving: steps that go as well, whose reads do not count.
        what: the name of what goes.
    """
    staying = (s for s in scene.steps.values() if s.id not in leaving)
    found = sorted(
        (s for s in staying if _reads_any(scene, s, parts, channels)),
        key=lambda s: (scene.tree_order[s.part], listed_order(s)),
    )
    drivers = [] if parts else sets_reading(scene, parts, channels, leaving)
    if found or drivers:
        readers = ", ".join(
            [f"“{s.name}” of {written_name(scene, s)}" for s in found]
            + [f"the driver of “{driven.name}”" for driven in drivers]
        )
        raise Refusal(
            f"it is read by {readers}; change or delete that first.", code="in use", place=what
        )


def sets_reading(
    scene: Scene, parts: set[str], channels: set[ChannelRef], leaving: set[str]
) -> list[DrivenKeys]:
    """The sets of driven keys whose driver reads what goes, and whose rows all go as well."""
    return [
        driven
        for driven in sorted(scene.driven.values(), key=lambda one: (one.name, one.id))
        if leaving.issuperset(row.id for row in scene.rows_of.get(driven.id, ()))
        and _any_read(compiled(driven.driver).reads, parts, channels)
    ]


def with_readers(scene: Scene, parts: set[str], steps: set[str]) -> set[str]:
    """The steps, and all that read these parts or the weights of steps that go."""
    found = set(steps)
    while True:
        weights = weights_of(scene, found)
        more = {
            s.id
            for s in scene.steps.values()
            if s.id not in found
            and (not weights.isdisjoint(written(s)) or _reads_any(scene, s, parts, weights))
        }
        if not more:
            return found
        found |= more


def weights_of(scene: Scene, steps: Iterable[str]) -> set[ChannelRef]:
    """The channels that are the weights of these steps, and all others of their own."""
    return {
        ChannelRef(scene.steps[s].part, step_channel(s, one.key))
        for s in steps
        for one in (WEIGHT, *scene.steps[s].settings.inputs)
    }


def writers_of(scene: Scene, channels: Collection[ChannelRef]) -> set[str]:
    """The steps that write these channels, those that write what belongs to these steps, and so
    on: all that goes when the channels go."""
    found: set[str] = set()
    wanted = set(channels)
    while wanted:
        new = {s.id for s in scene.steps.values() if not wanted.isdisjoint(written(s))} - found
        found |= new
        wanted = weights_of(scene, new)
    return found


def without_steps(scene: Scene, steps: set[str]) -> Scene:
    """The scene without these steps and their weights."""
    left = without_channels(scene, weights_of(scene, steps))
    return replace(left, steps={i: s for i, s in scene.steps.items() if i not in steps})


def without_channels(scene: Scene, gone: Collection[ChannelRef]) -> Scene:
    """The scene without all that is said of these channels: curves on all layers, values, poses,
    locks, and places in sets."""
    parts = dict(scene.parts)
    for owner in {ref.part for ref in gone} & parts.keys():
        part, lost = parts[owner], {ref.channel for ref in gone if ref.part == owner}
        if lost.isdisjoint((*part.values, *part.pose, *part.locked)):
            continue
        parts[owner] = replace(
            part,
            values={c: v for c, v in part.values.items() if c not in lost},
            pose={c: v for c, v in part.pose.items() if c not in lost},
            locked=tuple(c for c in part.locked if c not in lost),
        )
    return replace(
        scene,
        parts=parts,
        curves={r: c for r, c in scene.curves.items() if below_layers(r) not in gone},
        sets=without_members(scene.sets, gone.__contains__),
    )


def _reads_any(scene: Scene, step: Step, parts: set[str], channels: set[ChannelRef]) -> bool:
    return _any_read(reads_of(scene, step), parts, channels)


def _any_read(reads: Iterable[Read], parts: set[str], channels: set[ChannelRef]) -> bool:
    return any(r.part in parts or ChannelRef(r.part, r.quantity) in channels for r in reads)


def written(step: Step) -> tuple[ChannelRef, ...]:
    """The channels that a step writes."""
    return tuple(ChannelRef(step.part, channel) for channel in step.settings.writes)


def written_name(scene: Scene, step: Step) -> str:
    """What a step writes, for a label: a channel, or the part."""
    if step.settings.groups:
        return scene.parts[step.part].name
    return named(scene, written(step)[0])


def named(scene: Scene, ref: ChannelRef) -> str:
    """A channel's name for a label, also where its part has gone."""
    return full_name(scene, ref) if ref.part in scene.parts else channel_name(scene, ref)
