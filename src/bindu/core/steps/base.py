"""What every kind of step offers."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Any, Protocol

import numpy as np

from bindu.core.curves.model import Array
from bindu.core.graph.node import Operation, Read, Times
from bindu.core.scene.channels import ChannelRef, Zone
from bindu.core.scene.model import Scene


class StepKind(Protocol):
    """A kind of step. ``Any`` stands for the kind's own settings."""

    name: str
    zones: tuple[Zone, ...]
    zone_reason: str
    """Why it has no meaning in other zones, as the end of a sentence."""

    def checked(self, scene: Scene, part: str, settings: Any) -> Any:
        """Settings given by a person, with names, as they are stored, with identities.

        Raises:
            Refusal: naming the field and, in a text, the column.
        """

    def shown(self, scene: Scene, settings: Any) -> Any:
        """Stored settings with names in place of identities."""

    def reads(self, scene: Scene, settings: Any) -> tuple[Read, ...]:
        """What it reads besides the channel that it writes, in the order of the inputs."""

    def operation(self, scene: Scene, settings: Any) -> Operation:
        """What it computes. Inputs: the value that comes in, then an array for each read."""

    def described(self, scene: Scene, settings: Any) -> str:
        """One line for the ledger."""


@dataclass(frozen=True)
class Weighted:
    """A step at a weight: the value that comes in, moved toward what the step makes of it.

    The weight is the last input, shape (F,) or (1,), and is kept between 0 and 1.
    """

    step: Operation

    @property
    def digest(self) -> str:
        return f"weighted {self.step.digest}"

    def compute(self, inputs: Sequence[Array], times: Times) -> Array:
        """Shape (F,) or (1,)."""
        *own, weight = inputs
        made = self.step.compute(own, times)
        share = np.clip(weight, 0.0, 1.0)
        return np.asarray(own[0] + share * (made - own[0]))


def kind_checks_channel(scene: Scene, part: str, channel: str) -> str:
    """The channel's id, given its id or its name within the part.

    Raises:
        Refusal: with the nearest names, when the part has no such channel.
    """
    from bindu.core.scene.names import channel_named

    if channel in scene.channel_ids(part):
        return channel
    ref: ChannelRef = channel_named(scene, f"{scene.parts[part].name}.{channel}")
    return ref.channel
