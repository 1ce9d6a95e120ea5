"""The data of a scene. Everything is frozen; a change makes a new scene that shares the rest."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field
from functools import cached_property
from typing import Literal

from bindu.core.curves.model import Curve
from bindu.core.scene.channels import (
    BUILT_IN_CHANNELS,
    DEFAULTS,
    ChannelRef,
    Zone,
    weight_channel,
    zone_index,
)

Vector = tuple[float, float, float]
Role = Literal["control", "joint", "helper", "prop"]
Side = Literal["left", "right", "centre"]
RotationOrder = Literal["xyz", "xzy", "yxz", "yzx", "zxy", "zyx"]
ShapeKind = Literal["none", "box", "ball", "rod", "wheel", "ring", "axes"]
ChannelKind = Literal["number", "switch", "choice"]
FormulaMode = Literal["set", "add", "scale"]


@dataclass(frozen=True)
class Rest:
    """Where a part is with all channels at default: metres, and degrees in its rotation order."""

    translation: Vector = (0.0, 0.0, 0.0)
    rotation: Vector = (0.0, 0.0, 0.0)


@dataclass(frozen=True)
class Shape:
    """A simple solid drawn for a part: size along x, y, z in metres, offset of its centre."""

    kind: ShapeKind = "none"
    size: Vector = (1.0, 1.0, 1.0)
    offset: Vector = (0.0, 0.0, 0.0)
    colour: str = "#C9A66B"


@dataclass(frozen=True)
class Part:
    """Anything with a transform. ``values`` holds what channels without a curve are set to."""

    id: str
    name: str
    parent: str | None = None
    position: int = 0
    role: Role = "control"
    side: Side = "centre"
    rest: Rest = Rest()
    rotation_order: RotationOrder = "xyz"
    shape: Shape = Shape()
    values: Mapping[str, float] = field(default_factory=dict)
    locked: tuple[str, ...] = ()


@dataclass(frozen=True)
class OwnChannel:
    """A channel of a part beside its transform. A switch is 0 or 1, a choice counts from 0."""

    id: str
    part: str
    name: str
    position: int = 0
    kind: ChannelKind = "number"
    default: float = 0.0
    low: float | None = None
    high: float | None = None
    unit: str = ""
    options: tuple[str, ...] = ()


@dataclass(frozen=True)
class FormulaSettings:
    """A formula that sets, adds to or scales a channel; references in ``text`` are identities."""

    channel: str
    text: str
    mode: FormulaMode = "set"
    kind: Literal["formula"] = "formula"


@dataclass(frozen=True)
class LimitSettings:
    """Keeps a channel between two numbers; None leaves that end open."""

    channel: str
    low: float | None = None
    high: float | None = None
    kind: Literal["limit"] = "limit"


StepSettings = FormulaSettings | LimitSettings


@dataclass(frozen=True)
class Step:
    """Whatever writes a channel during evaluation, apart from the channel's own curve."""

    id: str
    part: str
    name: str
    zone: Zone
    settings: StepSettings
    position: int = 0
    on: bool = True


@dataclass(frozen=True)
class Scene:
    """One document. Curves are found by the channel that they belong to."""

    name: str = "scene"
    fps: float = 24.0
    first: int = 0
    last: int = 120
    parts: Mapping[str, Part] = field(default_factory=dict)
    channels: Mapping[str, OwnChannel] = field(default_factory=dict)
    curves: Mapping[ChannelRef, Curve] = field(default_factory=dict)
    steps: Mapping[str, Step] = field(default_factory=dict)

    @cached_property
    def children(self) -> Mapping[str | None, tuple[str, ...]]:
        """Part ids by parent (None: the roots), in the order of the tree."""
        found: dict[str | None, list[Part]] = {}
        for part in self.parts.values():
            found.setdefault(part.parent, []).append(part)
        return {
            parent: tuple(p.id for p in sorted(parts, key=lambda p: (p.position, p.id)))
            for parent, parts in found.items()
        }

    @cached_property
    def tree_order(self) -> Mapping[str, int]:
        """Each part's place in the tree read from top to bottom, from 0."""
        order: dict[str, int] = {}
        pending = list(reversed(self.children.get(None, ())))
        while pending:
            part = pending.pop()
            order[part] = len(order)
            pending.extend(reversed(self.children.get(part, ())))
        return order

    @cached_property
    def steps_of(self) -> Mapping[str, tuple[Step, ...]]:
        """The steps of each part, in the order of evaluation: by zone, then as listed."""
        found: dict[str, list[Step]] = {}
        for step in self.steps.values():
            found.setdefault(step.part, []).append(step)
        return {
            part: tuple(sorted(steps, key=lambda s: (zone_index(s.zone), s.position, s.id)))
            for part, steps in found.items()
        }

    @cached_property
    def channels_of(self) -> Mapping[str, tuple[OwnChannel, ...]]:
        """The own channels of each part as listed."""
        found: dict[str, list[OwnChannel]] = {}
        for channel in self.channels.values():
            found.setdefault(channel.part, []).append(channel)
        return {
            part: tuple(sorted(channels, key=lambda c: (c.position, c.id)))
            for part, channels in found.items()
        }

    def writers(self, ref: ChannelRef) -> tuple[Step, ...]:
        """The steps that write a channel, muted ones too, in the order of evaluation."""
        return tuple(
            s for s in self.steps_of.get(ref.part, ()) if s.settings.channel == ref.channel
        )

    def channel_ids(self, part: str) -> tuple[str, ...]:
        """All channels of a part: built-in, own, and the weights of its steps."""
        own = (c.id for c in self.channels_of.get(part, ()))
        weights = (weight_channel(s.id) for s in self.steps_of.get(part, ()))
        return (*BUILT_IN_CHANNELS, *own, *weights)

    def default(self, ref: ChannelRef) -> float:
        """What a channel is in the rest pose."""
        own = self.channels.get(ref.channel)
        return own.default if own else DEFAULTS.get(ref.channel, 1.0)

    def set_value(self, ref: ChannelRef) -> float:
        """What a channel without a curve is set to; its default where nobody set it."""
        value = self.parts[ref.part].values.get(ref.channel)
        return self.default(ref) if value is None else value
