"""What was changed on a frame between two states of a scene."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from bindu.core.evaluation.keyed import own_values
from bindu.core.scene.channels import ChannelRef
from bindu.core.scene.model import Scene
from bindu.core.scene.names import known_channel

SAME = 1e-9


@dataclass(frozen=True)
class ChangedChannel:
    """A channel, or its curve on a layer, and its own value on a frame before and after."""

    ref: ChannelRef
    before: float
    after: float


def changed_on(before: Scene, after: Scene, frame: float) -> tuple[ChangedChannel, ...]:
    """The channels whose own value on a frame is another one now, in the order of the tree; those
    that are not there any more, or were not yet, are left out."""
    refs = {ref for ref, curve in after.curves.items() if before.curves.get(ref) is not curve}
    refs |= before.curves.keys() - after.curves.keys()
    for part in after.parts.values():
        old = before.parts.get(part.id)
        if old is not None and old.values is not part.values:
            refs |= {ChannelRef(part.id, channel) for channel in {*old.values, *part.values}}
    at, found = np.array([float(frame)]), []
    for ref in sorted(refs, key=lambda ref: (after.tree_order.get(ref.part, 0), ref)):
        if not all(ref.part in s.parts and known_channel(s, ref) for s in (before, after)):
            continue
        was, now = (float(own_values(scene, ref, at)[0]) for scene in (before, after))
        if abs(now - was) > SAME:
            found.append(ChangedChannel(ref, was, now))
    return tuple(found)
