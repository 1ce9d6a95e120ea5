"""A document as the edits that make its scene."""

from __future__ import annotations

from collections import Counter
from collections.abc import Iterator
from dataclasses import dataclass, replace

from bindu.core.curves.model import Key, Tangent
from bindu.core.edits import AnyEdit
from bindu.core.edits.channels import AddChannel, SetValue
from bindu.core.edits.keys import PutKeys, SetOutside
from bindu.core.edits.parts import AddPart, LockChannels
from bindu.core.edits.scene import ChangeScene
from bindu.core.edits.steps import AddStep, ChangeStep
from bindu.core.refusal import Refusal, nearest_names
from bindu.core.scene.channels import BUILT_IN_CHANNELS, weight_channel
from bindu.core.scene.model import FormulaSettings, LimitSettings, Rest, Shape, StepSettings
from bindu.formats.document import (
    AnyStepEntry,
    FormulaEntry,
    KeyEntry,
    PartEntry,
    SceneDocument,
    TangentEntry,
)

Placed = tuple[str, AnyEdit]
"""Where in the document an edit comes from, and the edit."""


@dataclass(frozen=True)
class _Named:
    """A part of the document with the identities of all that it holds."""

    entry: PartEntry
    place: str
    id: str
    channels: dict[str, str]
    steps: list[str]


def scene_edits(document: SceneDocument) -> Iterator[Placed]:
    """The edits that make the document's scene from an empty one.

    Formulas may refer to anything, so steps are added first and get their formulas last.

    Raises:
        Refusal: when a name in the document stands for nothing.
    """
    first, last = document.range
    yield "scene", ChangeScene(name=document.name, fps=document.fps, first=first, last=last)
    named = _with_identities(document)
    yield from _parts(named)
    for part in named:
        yield from _channels(part)
    for part in named:
        for step, step_id in zip(part.entry.steps, part.steps, strict=True):
            settings = _settings(part, step)
            if isinstance(settings, FormulaSettings):
                settings = replace(settings, text="0")
            place = f"{part.place}.steps ({step.name})"
            yield place, AddStep(part.id, step.name, settings, step.zone, step_id)
    for part in named:
        yield from _curves(part)
    for part in named:
        yield from _finished_steps(part)
        if part.entry.locked:
            locked = tuple(_channel(part, c, "locked") for c in part.entry.locked)
            yield f"{part.place}.locked", LockChannels(part.id, locked)


def _with_identities(document: SceneDocument) -> list[_Named]:
    parts, channels, steps = _Ids("p"), _Ids("c"), _Ids("s")
    for entry in document.parts:
        parts.reserve(entry.id)
        for channel in entry.channels:
            channels.reserve(channel.id)
        for step in entry.steps:
            steps.reserve(step.id)
    found = []
    for n, entry in enumerate(document.parts):
        step_ids = [steps.given_or_new(step.id) for step in entry.steps]
        own = {c.name: channels.given_or_new(c.id) for c in entry.channels}
        weights = {
            f"{step.name}.weight": weight_channel(i)
            for step, i in zip(entry.steps, step_ids, strict=True)
        }
        known = {**{c: c for c in BUILT_IN_CHANNELS}, **own, **weights}
        place = f"parts[{n}] ({entry.name[:40]})"
        found.append(_Named(entry, place, parts.given_or_new(entry.id), known, step_ids))
    return found


class _Ids:
    """Gives out identities that the document does not use itself."""

    def __init__(self, prefix: str) -> None:
        self._prefix, self._taken, self._next = prefix, set[str](), 1

    def reserve(self, given: str | None) -> None:
        if given is not None:
            self._taken.add(given)

    def given_or_new(self, given: str | None) -> str:
        if given is not None:
            return given
        while f"{self._prefix}{self._next}" in self._taken:
            self._next += 1
        self._next += 1
        return f"{self._prefix}{self._next - 1}"


def _parts(named: list[_Named]) -> Iterator[Placed]:
    by_name = {part.entry.name: part.id for part in named}
    seen: set[str] = set()
    for part in named:
        entry = part.entry
        if entry.parent is not None and entry.parent not in seen:
            if entry.parent in by_name:
                text = "a parent must stand before its children; a part is never its own ancestor."
                raise Refusal(text, place=f"{part.place}.parent")
            near = nearest_names(entry.parent, by_name)
            raise Refusal(
                f"there is no part {entry.parent!r}.", place=f"{part.place}.parent", nearest=near
            )
        seen.add(entry.name)
        yield (
            part.place,
            AddPart(
                entry.name,
                by_name[entry.parent] if entry.parent is not None else None,
                entry.role,
                entry.side,
                Rest(entry.rest.translation, entry.rest.rotation),
                entry.rotation_order,
                Shape(entry.shape.kind, entry.shape.size, entry.shape.offset, entry.shape.colour),
                part.id,
            ),
        )


def _channels(part: _Named) -> Iterator[Placed]:
    for channel in part.entry.channels:
        yield (
            f"{part.place}.channels",
            AddChannel(
                part.id,
                channel.name,
                channel.kind,
                channel.default,
                channel.low,
                channel.high,
                channel.unit,
                tuple(channel.options),
                part.channels[channel.name],
            ),
        )


def _curves(part: _Named) -> Iterator[Placed]:
    for name, value in part.entry.values.items():
        yield f"{part.place}.values", SetValue(part.id, _channel(part, name, "values"), value)
    for name, curve in part.entry.curves.items():
        channel = _channel(part, name, "curves")
        place = f"{part.place}.curves ({name})"
        frames = [key.frame for key in curve.keys]
        twice, count = Counter(frames).most_common(1)[0]
        if count > 1:
            raise Refusal(f"two keys stand at frame {twice:g}.", place=place)
        yield place, PutKeys(part.id, channel, tuple(_key(key) for key in curve.keys))
        yield place, SetOutside(part.id, channel, curve.before, curve.after)


def _finished_steps(part: _Named) -> Iterator[Placed]:
    for step, step_id in zip(part.entry.steps, part.steps, strict=True):
        place = f"{part.place}.steps ({step.name})"
        yield place, ChangeStep(step_id, settings=_settings(part, step), on=step.on)


def _settings(part: _Named, step: AnyStepEntry) -> StepSettings:
    channel = _channel(part, step.channel, f"steps ({step.name}).channel")
    if isinstance(step, FormulaEntry):
        return FormulaSettings(channel, step.formula, step.mode)
    return LimitSettings(channel, step.low, step.high)


def _channel(part: _Named, name: str, field: str) -> str:
    if name not in part.channels:
        raise Refusal(
            f"{part.entry.name} has no channel {name!r}.",
            place=f"{part.place}.{field}",
            nearest=nearest_names(name, part.channels),
        )
    return part.channels[name]


def _key(key: KeyEntry) -> Key:
    left, right = _tangent(key.left), _tangent(key.right)
    return Key(key.frame, key.value, key.interpolation, left, right, key.tangents)


def _tangent(entry: TangentEntry | None) -> Tangent:
    return Tangent(entry.angle, entry.length) if entry else Tangent()
