"""Edits of layers."""

from __future__ import annotations

from dataclasses import dataclass, replace
from typing import Literal

from bindu.core.curves.combine import fitted
from bindu.core.curves.model import Array, Curve, Key
from bindu.core.edits.base import (
    found_channel,
    found_part,
    identities,
    named,
    new_id,
    refuse_readers,
    unlocked,
    weights_of,
    within,
    without_channels,
    without_steps,
    writers_of,
)
from bindu.core.edits.keying import key_on_layer
from bindu.core.edits.keys import without_curve
from bindu.core.evaluation.keyed import keyed_values
from bindu.core.refusal import Refusal
from bindu.core.scene.channels import (
    ChannelRef,
    below_layers,
    layer_and_channel,
    layer_channel,
    weight_channel,
)
from bindu.core.scene.model import Scene
from bindu.core.scene.names import channel_names, check_name, full_name
from bindu.core.scene.settings import LayerMode
from bindu.core.scene.things import Layer

MOST_LAYERS = 100


@dataclass(frozen=True)
class AddLayer:
    """Adds a layer on top of the others. Its weight becomes a channel of ``part``."""

    name: str
    part: str
    mode: LayerMode = "add"
    id: str | None = None
    do: Literal["add layer"] = "add layer"

    def label(self, scene: Scene) -> str:
        """See ``Edit``."""
        return f"add layer {self.name}"

    def apply(self, scene: Scene) -> Scene:
        """See ``Edit``."""
        found_part(scene, self.part)
        if len(scene.layers) >= MOST_LAYERS:
            raise Refusal(f"a scene holds at most {MOST_LAYERS} layers.", code="too much")
        name = _free_name(scene, self.part, self.name)
        top = scene.layer_order[-1].position + 1 if scene.layers else 0
        layer = Layer(
            new_id("l", scene.layers, self.id, identities(scene)), name, self.part, top, self.mode
        )
        return replace(scene, layers=within(scene.layers, layer.id, layer))


@dataclass(frozen=True)
class ChangeLayer:
    """Changes what is given of a layer and leaves the rest."""

    layer: str
    name: str | None = None
    mode: LayerMode | None = None
    on: bool | None = None
    solo: bool | None = None
    do: Literal["change layer"] = "change layer"

    def label(self, scene: Scene) -> str:
        """See ``Edit``."""
        name = found_layer(scene, self.layer).name
        if self.on is not None:
            return f"{'unmute' if self.on else 'mute'} layer {name}"
        if self.solo is not None:
            return f"layer {name} {'alone' if self.solo else 'with the others'}"
        if self.mode is not None:
            does = "replace what is below" if self.mode == "replace" else "add to what is below"
            return f"let layer {name} {does}"
        return f"rename layer {name} to {self.name}" if self.name else f"change layer {name}"

    def apply(self, scene: Scene) -> Scene:
        """See ``Edit``."""
        layer = found_layer(scene, self.layer)
        if self.name is not None and self.name != layer.name:
            layer = replace(layer, name=_free_name(scene, layer.part, self.name))
        layer = replace(
            layer,
            mode=self.mode or layer.mode,
            on=layer.on if self.on is None else self.on,
            solo=layer.solo if self.solo is None else self.solo,
        )
        return replace(scene, layers=within(scene.layers, layer.id, layer))


@dataclass(frozen=True)
class MoveLayer:
    """Moves a layer to another place in the pile, counted from the bottom."""

    layer: str
    position: int
    do: Literal["move layer"] = "move layer"

    def label(self, scene: Scene) -> str:
        """See ``Edit``."""
        return f"move layer {found_layer(scene, self.layer).name}"

    def apply(self, scene: Scene) -> Scene:
        """See ``Edit``."""
        moved = found_layer(scene, self.layer)
        others = [layer for layer in scene.layer_order if layer is not moved]
        at = min(max(self.position, 0), len(others))
        listed = [*others[:at], moved, *others[at:]]
        return replace(
            scene, layers={la.id: replace(la, position=n) for n, la in enumerate(listed)}
        )


@dataclass(frozen=True)
class RemoveLayer:
    """Takes a layer away, with its curves and its weight."""

    layer: str
    do: Literal["remove layer"] = "remove layer"

    def label(self, scene: Scene) -> str:
        """See ``Edit``."""
        return f"delete layer {found_layer(scene, self.layer).name}"

    def apply(self, scene: Scene) -> Scene:
        """See ``Edit``."""
        return _without_layer(scene, found_layer(scene, self.layer))


@dataclass(frozen=True)
class HoldChannel:
    """Lets a layer hold a channel, by a key that changes nothing yet, or no longer."""

    layer: str
    part: str
    channel: str
    frame: float = 0.0
    held: bool = True
    do: Literal["hold channel"] = "hold channel"

    def label(self, scene: Scene) -> str:
        """See ``Edit``."""
        layer = found_layer(scene, self.layer)
        name = named(scene, ChannelRef(self.part, self.channel))
        return (
            f"{'put' if self.held else 'take'} {name} {'on' if self.held else 'off'} {layer.name}"
        )

    def apply(self, scene: Scene) -> Scene:
        """See ``Edit``."""
        layer = found_layer(scene, self.layer)
        ref = unlocked(scene, found_channel(scene, self.part, self.channel))
        on_layer = ChannelRef(ref.part, layer_channel(layer.id, ref.channel))
        if not self.held:
            if on_layer not in scene.curves:
                raise Refusal(f"{layer.name} does not hold it.", place=full_name(scene, ref))
            return without_curve(scene, on_layer)
        found_channel(scene, *on_layer)
        return key_on_layer(scene, ref, layer, self.frame)


@dataclass(frozen=True)
class MergeLayer:
    """Merges a layer into the one below it, or into the channels' own curves.

    The values on whole frames of the range stay within 1e-9: on keys where cubic segments can
    hold the sum, on every frame where they cannot.
    """

    layer: str
    do: Literal["merge layer"] = "merge layer"

    def label(self, scene: Scene) -> str:
        """See ``Edit``."""
        return f"merge layer {found_layer(scene, self.layer).name} down"

    def apply(self, scene: Scene) -> Scene:
        """See ``Edit``."""
        layer = found_layer(scene, self.layer)
        order = scene.layer_order
        place = order.index(layer)
        below = order[place - 1] if place else None
        _refuse_uneven(scene, layer, below)
        curves = {
            target: merged
            for ref in scene.curves
            if layer_and_channel(ref.channel)[0] == layer.id
            for target, merged in [_merged(scene, layer, below, below_layers(ref))]
        }
        merged_scene = _without_layer(scene, layer)
        return replace(merged_scene, curves={**merged_scene.curves, **curves})


LayerEdit = AddLayer | ChangeLayer | MoveLayer | RemoveLayer | HoldChannel | MergeLayer


def found_layer(scene: Scene, layer: str) -> Layer:
    """The layer with this id.

    Raises:
        Refusal: when there is none any more.
    """
    if layer not in scene.layers:
        raise Refusal(f"there is no layer with the identity {layer!r} any more.", code="gone")
    return scene.layers[layer]


def _free_name(scene: Scene, part: str, name: str) -> str:
    check_name(name, "layer name")
    if any(layer.name == name for layer in scene.layers.values()):
        raise Refusal("there is a layer with this name already.", code="taken", place=name)
    if f"{name}.weight" in channel_names(scene, part):
        raise Refusal(
            f"{scene.parts[part].name} has a step {name!r} already.", code="taken", place=name
        )
    return name


def _without_layer(scene: Scene, layer: Layer) -> Scene:
    weight = ChannelRef(layer.part, weight_channel(layer.id))
    steps = writers_of(scene, [weight])
    lost = weights_of(scene, steps) | {weight}
    refuse_readers(scene, set(), lost, steps, full_name(scene, weight))
    left = without_channels(without_steps(scene, steps), [weight])
    return replace(
        left,
        layers={i: la for i, la in scene.layers.items() if i != layer.id},
        curves={
            r: c for r, c in left.curves.items() if layer_and_channel(r.channel)[0] != layer.id
        },
    )


def _refuse_uneven(scene: Scene, layer: Layer, below: Layer | None) -> None:
    """Refuses to merge where the pile would come to other values."""
    if not layer.on:
        raise Refusal("it is muted; unmute or delete it.", place=layer.name)
    if any(one.solo for one in scene.layers.values()):
        raise Refusal("a layer is solo; end that first.", place=layer.name)
    if below is None:
        return
    weight = ChannelRef(below.part, weight_channel(below.id))
    plain = scene.set_value(weight) == 1.0 and not scene.writers(weight)
    if not (below.on and plain and weight not in scene.curves):
        text = f"{below.name} below it is muted or has a weight of its own; merge that first."
        raise Refusal(text, place=layer.name)
    if below.mode == "replace" or layer.mode == "add":
        return
    raise Refusal(
        f"{below.name} below it adds, but it replaces; merge {below.name} first.", place=layer.name
    )


def _merged(
    scene: Scene, layer: Layer, below: Layer | None, ref: ChannelRef
) -> tuple[ChannelRef, Curve]:
    """Where the merged curve of a channel goes, and that curve."""
    above = _above(scene, layer)
    target = ChannelRef(ref.part, layer_channel(below.id if below else None, ref.channel))
    source = ChannelRef(ref.part, layer_channel(layer.id, ref.channel))
    subtract = below is not None and below.mode == "add"

    def total(frames: Array) -> Array:
        values = keyed_values(scene, ref, frames, above)
        return values - keyed_values(scene, ref, frames, below) if subtract else values

    weight = ChannelRef(layer.part, weight_channel(layer.id))
    old = scene.curves.get(target)
    frames = {key.frame for r in (target, source, weight) for key in _keys(scene, r)}
    span = scene.first, scene.last
    return target, _going_on(fitted(total, sorted(frames), span), span, old)


def _going_on(curve: Curve, span: tuple[int, int], old: Curve | None) -> Curve:
    """The merged curve, which goes on behind the range as the old one did; where its keys end
    before the range does, nothing moves, and it is held."""
    if old is None:
        return curve
    ends = curve.keys[0].frame, curve.keys[-1].frame
    before = old.before if ends[0] <= span[0] else "hold"
    after = old.after if ends[1] >= span[1] else "hold"
    return replace(curve, before=before, after=after)


def _keys(scene: Scene, ref: ChannelRef) -> tuple[Key, ...]:
    return scene.curves[ref].keys if ref in scene.curves else ()


def _above(scene: Scene, layer: Layer) -> Layer | None:
    order = scene.layer_order
    place = order.index(layer) + 1
    return order[place] if place < len(order) else None
