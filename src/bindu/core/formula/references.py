"""References in a formula: checked against a scene, and rewritten between names and identities.

A stored formula holds identities in its braces, so renaming breaks none. What people see and
write holds names.
"""

from __future__ import annotations

import re
from collections.abc import Callable, Iterator, Mapping

from bindu.core.formula.parser import parse, read_braces
from bindu.core.formula.tree import Call, Measure, Reference, Tree
from bindu.core.nodes.identity import Read
from bindu.core.refusal import Refusal, nearest_names
from bindu.core.scene.channels import ChannelRef
from bindu.core.scene.model import Scene
from bindu.core.scene.names import channel_name, channel_names, parts_by_name

BRACES = re.compile(r"\{([^{}]*)\}")


def references(tree: Tree) -> Iterator[tuple[Reference, bool]]:
    """All references in a tree in the order of the text, each with whether it is measured."""
    pending = [tree]
    while pending:
        node = pending.pop()
        if isinstance(node, Reference):
            yield node, False
        elif isinstance(node, Measure):
            yield from ((part, True) for part in node.parts)
        elif isinstance(node, Call):
            pending.extend(reversed(node.arguments))


def to_identities(scene: Scene, text: str) -> str:
    """A formula written with names, with identities in its braces.

    Raises:
        Refusal: with the column and the nearest names, when it does not parse or names what is
            not there.
    """
    for reference, measured in references(parse(text)):
        if reference.channel is None and not measured:
            raise Refusal(
                "this names a part; name a channel of it, or measure it as in travelled({part}).",
                column=reference.column,
                nearest=_some_channels(scene, reference.part),
            )
    return _rewritten(text, lambda ref: _identity(scene, ref))


def to_names(scene: Scene, text: str) -> str:
    """A stored formula as people see it."""

    def named(ref: Reference) -> str:
        part = scene.parts[ref.part]
        if ref.channel is None:
            return part.name
        return f"{part.name}.{channel_name(scene, ChannelRef(ref.part, ref.channel))}"

    return _rewritten(text, named)


def parts_read(text: str) -> set[str]:
    """The ids of the parts that a stored formula reads."""
    return {reference.part for reference, _ in references(parse(text))}


def channels_read(text: str) -> set[ChannelRef]:
    """The channels that a stored formula reads."""
    return {
        ChannelRef(reference.part, reference.channel)
        for reference, _ in references(parse(text))
        if reference.channel is not None
    }


def with_other_parts(scene: Scene, text: str, others: Mapping[str, str]) -> str:
    """A stored formula that reads other parts in the place of some, each at the channel of the
    same name.

    Raises:
        Refusal: when one of them has no such channel.
    """

    def path(ref: Reference) -> str:
        part = others.get(ref.part, ref.part)
        if ref.channel is None or part == ref.part:
            return part if ref.channel is None else f"{part}.{ref.channel}"
        name = channel_name(scene, ChannelRef(ref.part, ref.channel))
        names = channel_names(scene, part)
        if name not in names:
            near = nearest_names(name, names)
            place = scene.parts[part].name
            raise Refusal(f"it has no channel {name!r}.", code="unknown", place=place, nearest=near)
        return f"{part}.{names[name]}"

    return _rewritten(text, path)


def _rewritten(text: str, path: Callable[[Reference], str]) -> str:
    def replaced(match: re.Match[str]) -> str:
        reference = read_braces(match[1], match.start() + 1)
        _, at, tap = match[1].partition("@")
        return f"{{{path(reference)}{at}{' '.join(tap.split())}}}"

    return BRACES.sub(replaced, text)


def _identity(scene: Scene, reference: Reference) -> str:
    parts = parts_by_name(scene)
    part = parts.get(reference.part)
    if part is None:
        raise Refusal(
            f"there is no part {reference.part!r}.",
            code="unknown",
            column=reference.column + 1,
            nearest=nearest_names(reference.part, parts),
        )
    if reference.channel is None:
        return part
    names = channel_names(scene, part)
    if reference.channel not in names:
        near = nearest_names(reference.channel, names)
        raise Refusal(
            f"{reference.part} has no channel {reference.channel!r}.",
            code="unknown",
            column=reference.column + len(reference.part) + 2,
            nearest=[f"{reference.part}.{name}" for name in near],
        )
    return f"{part}.{names[reference.channel]}"


def _some_channels(scene: Scene, part_name: str) -> list[str]:
    part = parts_by_name(scene).get(part_name)
    own = [c.name for c in scene.channels_of.get(part, ())] if part else []
    return [f"{part_name}.{name}" for name in [*own, "translation.x"][:3]]


def with_other_reads(text: str, old: Read, new: Read) -> str:
    """A stored formula in which one of its reads is taken at another tap, or one frame back."""

    def replaced(match: re.Match[str]) -> str:
        reference = read_braces(match[1], match.start() + 1)
        same = (reference.part, reference.tap, reference.back) == (old.part, old.tap, old.back)
        if not same or reference.channel not in (None, old.quantity):
            return match[0]
        path, _, _ = match[1].partition("@")
        at = f"@{new.tap}" if new.tap != "final" else ""
        back = f"{' ' if at else '@'}back" if new.back else ""
        return f"{{{path.strip()}{at}{back}}}"

    return BRACES.sub(replaced, text)
