"""Keys where they are heard: on a channel's own curve, or on a layer that replaces it."""

from __future__ import annotations

import numpy as np

from bindu.core.curves.model import Array
from bindu.core.evaluation.keyed import own_values, weight_values
from bindu.core.nodes.operation import Indices
from bindu.core.placing.own_channels import heard_curve
from bindu.core.scene.channels import ChannelRef
from bindu.core.scene.model import Scene

SMALLEST = 1e-9
"""The weight of a layer below which its keys are not heard."""


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
