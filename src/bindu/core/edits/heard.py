"""Keys where they are heard: on a channel's own curve, or on a layer that replaces it."""

from __future__ import annotations

import numpy as np

from bindu.core.curves.model import Array
from bindu.core.evaluation.keyed import own_values, weight_values
from bindu.core.nodes.operation import Indices
from bindu.core.placing.own_channels import heard_curve
from bindu.core.scene.channels import ChannelRef
from bindu.core.scene.model import Scene
from bindu.core.scene.settings import LayerSettings

SMALLEST = 1e-9
"""The weight of a layer below which its keys are not heard."""
UNCHANGED = 1e-9
"""By how much, in metres or degrees, a channel that may not be keyed may be off."""


def heard_keys(
    scene: Scene, ref: ChannelRef, wanted: Array, frames: Indices
) -> tuple[ChannelRef, Array]:
    """Where keys of a channel are heard, and what they must be there; see ``heard_curve``.

    Args:
        wanted: what the channel must be, shape (N,).
        frames: on which frames, shape (N,).
    """
    source, layer = heard_curve(scene, ref)
    if layer is None:
        return ref, wanted
    at = frames.astype(float)
    weight = weight_values(scene, layer, at)
    way = (wanted - own_values(scene, ref, at)) / np.where(weight > SMALLEST, weight, 1.0)
    return source, own_values(scene, source, at) + way


def stays_unkeyed(scene: Scene, ref: ChannelRef, wanted: Array) -> bool:
    """Whether a channel stays without keys: it stands still where it must be.

    Args:
        wanted: what the channel must be, shape (N,).
    """
    layered = any(isinstance(step.settings, LayerSettings) for step in scene.writers(ref))
    if ref in scene.curves or layered:
        return False
    return bool(np.all(np.abs(wanted - scene.set_value(ref)) <= UNCHANGED))
