"""A scene. Everything is frozen; a change makes a new scene that shares the rest."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field
from functools import cached_property

from bindu.core.curves.model import Curve
from bindu.core.scene.bakes import Bake
from bindu.core.scene.channels import (
    AXES,
    BUILT_IN_CHANNELS,
    DEFAULTS,
    GROUP_DEFAULTS,
    ChannelRef,
    layer_and_channel,
    step_and_key,
    step_channel,
    weight_channel,
    zone_index,
)
from bindu.core.scene.parts import OwnChannel, Part, Step
from bindu.core.scene.receivers import Setup
from bindu.core.scene.references import Medium, PinnedReference
from bindu.core.scene.settings import LayerSettings, StepInput, Vector
from bindu.core.scene.surfaces import Surface
from bindu.core.scene.things import (
    Accepted,
    CheckSetting,
    DrivenKeys,
    Gait,
    Layer,
    LeadGroup,
    Limb,
    Marker,
    PartSet,
    Probe,
    Units,
    WhatIf,
)
from bindu.core.scene.writers import NOBODY, Writers, writers_among

Owner = LeadGroup | Limb | Gait | Surface
WEIGHT = StepInput("weight")
"""The weight that every step has."""


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
    layers: Mapping[str, Layer] = field(default_factory=dict)
    sets: Mapping[str, PartSet] = field(default_factory=dict)
    markers: Mapping[str, Marker] = field(default_factory=dict)
    driven: Mapping[str, DrivenKeys] = field(default_factory=dict)
    probes: Mapping[str, Probe] = field(default_factory=dict)
    leads: Mapping[str, LeadGroup] = field(default_factory=dict)
    limbs: Mapping[str, Limb] = field(default_factory=dict)
    gaits: Mapping[str, Gait] = field(default_factory=dict)
    surfaces: Mapping[str, Surface] = field(default_factory=dict)
    bakes: Mapping[str, Bake] = field(default_factory=dict)
    receivers: Mapping[str, Setup] = field(default_factory=dict)
    what_ifs: Mapping[str, WhatIf] = field(default_factory=dict)
    checks: Mapping[str, CheckSetting] = field(default_factory=dict)
    accepted: Mapping[str, Accepted] = field(default_factory=dict)
    units: Mapping[str, Units] = field(default_factory=dict)
    media: Mapping[str, Medium] = field(default_factory=dict)
    references: Mapping[str, PinnedReference] = field(default_factory=dict)

    @property
    def looked_at_in(self) -> Units:
        """The units in which people look at it."""
        return next(iter(self.units.values()), Units())

    @cached_property
    def part_ids(self) -> Mapping[str, str]:
        """Part ids by name."""
        return {part.name: part.id for part in self.parts.values()}

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
        for step in (*self.layer_steps.values(), *self.steps.values()):
            found.setdefault(step.part, []).append(step)
        return {part: tuple(sorted(steps, key=listed_order)) for part, steps in found.items()}

    @cached_property
    def layer_steps(self) -> Mapping[str, Step]:
        """A step of zone Keyed for each curve on a layer, by ``<layer>.<part>.<channel>``."""
        if not self.layers:
            return {}
        solo = any(layer.solo for layer in self.layers.values())
        steps = {}
        for ref in self.curves:
            layer_id, channel = layer_and_channel(ref.channel)
            if layer_id is None:
                continue
            layer = self.layers[layer_id]
            step_id = f"{layer_id}.{ref.part}.{channel}"
            settings = LayerSettings(channel, ref, layer.mode)
            on = layer.solo if solo else layer.on
            steps[step_id] = Step(
                step_id, ref.part, layer.name, "keyed", settings, layer.position, on
            )
        return steps

    @cached_property
    def layers_of(self) -> Mapping[str, tuple[Layer, ...]]:
        """The layers whose weights are channels of a part, from the lowest to the highest."""
        found: dict[str, list[Layer]] = {}
        for layer in self.layer_order:
            found.setdefault(layer.part, []).append(layer)
        return {part: tuple(layers) for part, layers in found.items()}

    @cached_property
    def layer_order(self) -> tuple[Layer, ...]:
        """All layers, from the lowest to the highest."""
        return tuple(sorted(self.layers.values(), key=lambda la: (la.position, la.id)))

    @cached_property
    def rows_of(self) -> Mapping[str, tuple[Step, ...]]:
        """The rows of each set of driven keys, by the parts' order in the tree."""
        found: dict[str, list[Step]] = {}
        for step in self.steps.values():
            owner = step.settings.member_of
            if owner is not None and owner in self.driven:
                found.setdefault(owner, []).append(step)
        order = self.tree_order
        return {
            driven: tuple(sorted(rows, key=lambda s: (order[s.part], s.position, s.id)))
            for driven, rows in found.items()
        }

    def step(self, step_id: str) -> Step | None:
        """A step that people added, or the step that a layer makes on a channel."""
        return self.steps.get(step_id) or self.layer_steps.get(step_id)

    def weight_of(self, step: Step) -> ChannelRef:
        """The channel that is a step's weight; on a layer it is the layer's."""
        if isinstance(step.settings, LayerSettings):
            layer_id, _ = layer_and_channel(step.settings.source.channel)
            layer = self.layers[layer_id or ""]
            return ChannelRef(layer.part, weight_channel(layer.id))
        return ChannelRef(step.part, weight_channel(step.id))

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

    def writers_in(self, part: str) -> Writers:
        """The steps that write the channels of a part."""
        found = self._writers.get(part)
        if found is None:
            steps = self.steps_of.get(part)
            found = self._writers[part] = writers_among(steps) if steps else NOBODY
        return found

    @cached_property
    def _writers(self) -> dict[str, Writers]:
        """Those of the parts that were asked for: an edit asks for few."""
        return {}

    def writers(self, ref: ChannelRef) -> tuple[Step, ...]:
        """The steps that write a channel, muted ones too, in the order of evaluation."""
        return self.writers_in(ref.part).steps.get(ref.channel, ())

    def is_written(self, ref: ChannelRef) -> bool:
        """Whether any step writes a channel, a muted one too."""
        return ref.channel in self.writers_in(ref.part).steps

    def writer_before(self, ref: ChannelRef, step: Step) -> Step | None:
        """The last step that is on and writes a channel before a step of the same part."""
        before = self.writers_in(ref.part).before
        if (ref.channel, step.id) in before:
            return before[ref.channel, step.id]
        listed = (
            one for one in self.writers(ref) if one.on and listed_order(one) < listed_order(step)
        )
        return max(listed, key=listed_order, default=None)

    def channel_ids(self, part: str) -> tuple[str, ...]:
        """All channels of a part: built-in, own, and those of its steps, layers and groups."""
        own = (c.id for c in self.channels_of.get(part, ()))
        given = (*own, *(weight_channel(la.id) for la in self.layers_of.get(part, ())))
        return (*BUILT_IN_CHANNELS, *given, *self.inputs_of(part))

    def inputs_of(self, part: str) -> Mapping[str, StepInput]:
        """The channels that a part's steps and the things on it have, by id."""
        found: dict[str, StepInput] = {}
        for step in self.steps_of.get(part, ()):
            if step.id in self.steps:
                for one in (WEIGHT, *step.settings.inputs):
                    found[step_channel(step.id, one.key)] = one
        for owner in self.owners_of.get(part, ()):
            for one in owner.inputs:
                found[step_channel(owner.id, one.key)] = one
        return found

    @cached_property
    def owners(self) -> Mapping[str, Owner]:
        """The things that have channels on a part: lead groups, limbs, gaits and surfaces."""
        return {**self.leads, **self.limbs, **self.gaits, **self.surfaces}

    @cached_property
    def owners_of(self) -> Mapping[str, tuple[Owner, ...]]:
        """The things whose channels are those of a part, by name."""
        found: dict[str, list[Owner]] = {}
        for owner in sorted(self.owners.values(), key=lambda one: (one.name, one.id)):
            found.setdefault(owner.part, []).append(owner)
        return {part: tuple(owners) for part, owners in found.items()}

    @cached_property
    def members_of(self) -> Mapping[str, Mapping[str, Step]]:
        """The steps that make parts members of each lead group, limb and gait, by part."""
        found: dict[str, dict[str, Step]] = {}
        for step in self.steps.values():
            owner = step.settings.member_of
            if owner is not None and owner in self.owners:
                found.setdefault(owner, {})[step.part] = step
        return found

    def input_of(self, channel: str) -> StepInput | None:
        """What a channel is for that a step, a lead group or a limb has of its own."""
        owner, key = step_and_key(channel)
        step, thing = self.steps.get(owner), self.owners.get(owner)
        inputs = step.settings.inputs if step else thing.inputs if thing else ()
        return next((one for one in inputs if one.key == key), None)

    def default(self, ref: ChannelRef) -> float:
        """What a channel is in the rest pose; on an adding layer, what changes nothing."""
        built_in = DEFAULTS.get(ref.channel)
        if built_in is not None:
            return built_in
        layer_id, channel = layer_and_channel(ref.channel)
        if layer_id is not None:
            adds = self.layers[layer_id].mode == "add"
            return 0.0 if adds else self.default(ChannelRef(ref.part, channel))
        own = self.channels.get(ref.channel)
        if own is not None:
            return own.default
        one = self.input_of(ref.channel)
        return one.default if one else 1.0

    def set_value(self, ref: ChannelRef) -> float:
        """What a channel without a curve is set to; its default where nobody set it."""
        value = self.parts[ref.part].values.get(ref.channel)
        return self.default(ref) if value is None else value

    def set_weight(self, ref: ChannelRef) -> float:
        """See ``set_value``: of the weight of a step or a layer."""
        return self.parts[ref.part].values.get(ref.channel, WEIGHT.default)

    def set_vector(self, part: str, group: str) -> Vector:
        """What a group is set to whose channels have no curves; see ``set_value``."""
        if not self.parts[part].values:
            return GROUP_DEFAULTS[group]
        x, y, z = (self.set_value(ChannelRef(part, f"{group}.{axis}")) for axis in AXES)
        return x, y, z


def listed_order(step: Step) -> tuple[int, bool, int, str]:
    """What orders the steps of a part: in zone Keyed layers come before what shapes their sum."""
    shapes = step.zone == "keyed" and not isinstance(step.settings, LayerSettings)
    return zone_index(step.zone), shapes, step.position, step.id
