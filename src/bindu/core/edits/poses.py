"""Edits of whole poses: resetting them, and a part's own default pose."""

from __future__ import annotations

from collections.abc import Iterator, Mapping
from dataclasses import dataclass, replace
from typing import Literal

import numpy as np

from bindu.core.edits.base import found_channel, found_part
from bindu.core.edits.channels import in_range
from bindu.core.edits.keying import KeyValue, SetChannels, part_channels
from bindu.core.evaluation.keyed import keyed_values
from bindu.core.refusal import Refusal
from bindu.core.scene.channels import TRANSFORM_CHANNELS, ChannelRef, layer_channel
from bindu.core.scene.model import Scene

Group = Literal["all", "position", "rotation", "scale", "own channels"]
PREFIXES = {"position": "translation.", "rotation": "rotation.", "scale": "scale."}


@dataclass(frozen=True)
class ResetChannels:
    """Brings channels of parts back to their own default pose, or to their defaults, on a
    frame."""

    parts: tuple[str, ...]
    group: Group
    frame: float
    defaults: bool = False
    layer: str | None = None
    key: bool = False
    do: Literal["reset channels"] = "reset channels"

    def label(self, scene: Scene) -> str:
        """See ``Edit``."""
        return f"reset {self.group} of {named_parts(scene, self.parts)}"

    def apply(self, scene: Scene) -> Scene:
        """See ``Edit``."""
        values = []
        for part_id in self.parts:
            part = found_part(scene, part_id)
            pose = {} if self.defaults else part.pose
            for ref in channels_of_group(scene, part_id, self.group):
                value = pose.get(ref.channel, scene.default(ref))
                if ref.channel not in part.locked and self._reaches(scene, ref, value):
                    values.append((*ref, value))
        return given_values(scene, self.frame, values, self.layer, self.key)

    def _reaches(self, scene: Scene, ref: ChannelRef, value: float) -> bool:
        """Whether there is something to reset: a layer does not take on what it does not hold and
        what is at its default already."""
        if self.layer is None or self.key:
            return True
        if ChannelRef(ref.part, layer_channel(self.layer, ref.channel)) in scene.curves:
            return True
        now = keyed_values(scene, ref, np.array([float(self.frame)]))[0]
        return bool(abs(now - value) > 1e-12)


@dataclass(frozen=True)
class SetDefaultPose:
    """Makes the keyed values on a frame the parts' own default pose, or these values by channel;
    with neither, they have none any more."""

    parts: tuple[str, ...]
    frame: float | None = None
    values: Mapping[str, float] | None = None
    do: Literal["set default pose"] = "set default pose"

    def label(self, scene: Scene) -> str:
        """See ``Edit``."""
        verb = "clear" if self.frame is None and self.values is None else "set"
        return f"{verb} default pose of {named_parts(scene, self.parts)}"

    def apply(self, scene: Scene) -> Scene:
        """See ``Edit``."""
        parts = dict(scene.parts)
        for part_id in self.parts:
            part = found_part(scene, part_id)
            parts[part_id] = replace(part, pose=self._pose(scene, part_id))
        return replace(scene, parts=parts)

    def _pose(self, scene: Scene, part: str) -> dict[str, float]:
        if self.values is not None:
            refs = {c: found_channel(scene, part, c) for c in self.values}
            return {c: in_range(scene, refs[c], v) for c, v in self.values.items()}
        if self.frame is None:
            return {}
        at = np.array([float(self.frame)])
        found = {r: float(keyed_values(scene, r, at)[0]) for r in part_channels(scene, part)}
        return {r.channel: v for r, v in found.items() if v != scene.default(r)}


PoseEdit = ResetChannels | SetDefaultPose


def channels_of_group(scene: Scene, part: str, group: Group) -> Iterator[ChannelRef]:
    """The channels of a part that belong to a group of its pose."""
    for ref in part_channels(scene, part):
        own = ref.channel not in (*TRANSFORM_CHANNELS, "visible")
        in_group = (
            own if group == "own channels" else ref.channel.startswith(PREFIXES.get(group, ""))
        )
        if in_group:
            yield ref


def given_values(
    scene: Scene, frame: float, values: list[tuple[str, str, float]], layer: str | None, key: bool
) -> Scene:
    """The scene with values given by hand; with ``key``, as keys on every channel.

    Raises:
        Refusal: when no channel can take one.
    """
    if not values:
        raise Refusal("there is no channel to change here.", code="unknown")
    if key:
        return KeyValue(frame, tuple(values), layer).apply(scene)
    return SetChannels(frame, tuple(values), layer).apply(scene)


def named_parts(scene: Scene, parts: tuple[str, ...]) -> str:
    """Some parts for a label."""
    if not parts:
        return "nothing"
    more = f" and {len(parts) - 1} more" if len(parts) > 1 else ""
    return found_part(scene, parts[0]).name + more
