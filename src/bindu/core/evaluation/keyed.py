"""A channel's keyed value: its own curve or value, and the layers over it."""

from __future__ import annotations

import numpy as np

from bindu.core.curves.evaluate import curve_values
from bindu.core.curves.model import Array
from bindu.core.evaluation.asking import evaluated
from bindu.core.scene.channels import ChannelRef, layer_and_channel
from bindu.core.scene.model import Scene
from bindu.core.scene.settings import LayerSettings
from bindu.core.scene.things import Layer


def keyed_values(scene: Scene, ref: ChannelRef, frames: Array, below: Layer | None = None) -> Array:
    """A channel's values from its keys alone.

    Args:
        scene: the scene.
        ref: a channel, or its curve on a layer.
        frames: any real frames, shape (F,).
        below: only what lies under this layer; None: all layers that are on.

    Returns:
        Shape (F,), in the channel's unit.
    """
    values = own_values(scene, ref, frames)
    for step in scene.writers(ref):
        settings = step.settings
        if not isinstance(settings, LayerSettings):
            break
        layer = scene.layers[layer_and_channel(settings.source.channel)[0] or ""]
        if below is not None and (layer.position, layer.id) >= (below.position, below.id):
            break
        if step.on:
            made = own_values(scene, settings.source, frames)
            target = values + made if settings.mode == "add" else made
            values = values + weight_values(scene, layer, frames) * (target - values)
    return values


def own_values(scene: Scene, ref: ChannelRef, frames: Array) -> Array:
    """The values of a curve, or of a channel without one, shape (F,)."""
    curve = scene.curves.get(ref)
    return curve_values(curve, frames) if curve else np.full(frames.shape, scene.set_value(ref))


def weight_values(scene: Scene, layer: Layer, frames: Array) -> Array:
    """A layer's weight, 0 to 1, shape (F,). Where steps write it, between whole frames of the
    range it is taken to be straight."""
    ref = ChannelRef(layer.part, f"{layer.id}.weight")
    if any(step.on for step in scene.writers(ref)):
        evaluation = evaluated(scene)
        grid = evaluation.times.frames
        found = np.broadcast_to(evaluation.channel(ref, "final"), grid.shape)
        return np.clip(np.interp(frames, grid, found), 0.0, 1.0)
    return np.clip(own_values(scene, ref, frames), 0.0, 1.0)
