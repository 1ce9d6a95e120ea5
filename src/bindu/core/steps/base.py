"""What every kind of step offers."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Any, Protocol

import numpy as np

from bindu.core.curves.model import Array
from bindu.core.graph.node import Operation, Read, Times
from bindu.core.rotation import between
from bindu.core.scene.channels import ChannelRef, Zone
from bindu.core.scene.model import Scene, Step


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

    def reads(self, scene: Scene, step: Step, quantity: str) -> tuple[Read, ...]:
        """What it reads besides the quantity (a channel, or a group) that it writes, in the
        order of the inputs."""

    def operation(self, scene: Scene, step: Step, quantity: str) -> Operation:
        """How it computes a quantity. Inputs: the value that comes in, then an array for each
        read."""

    def described(self, scene: Scene, settings: Any) -> str:
        """One line for the ledger."""

    def trouble(self, scene: Scene, settings: Any) -> str:
        """Why it may make no finite number, and what to do."""


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


@dataclass(frozen=True)
class WeightedVector:
    """See ``Weighted``: of a translation or a scale."""

    step: Operation

    @property
    def digest(self) -> str:
        return f"weighted vector {self.step.digest}"

    @property
    def over_time(self) -> bool:
        """Whether a frame depends on those before it."""
        return bool(getattr(self.step, "over_time", False))

    def compute(self, inputs: Sequence[Array], times: Times) -> Array:
        """Shape (F, 3) or (1, 3)."""
        *own, weight = inputs
        made = self.step.compute(own, times)
        share = np.clip(weight, 0.0, 1.0)[:, None]
        return np.asarray(own[0] + share * (made - own[0]))


@dataclass(frozen=True)
class WeightedRotation:
    """See ``Weighted``: of a rotation, the shortest way."""

    step: Operation

    @property
    def digest(self) -> str:
        return f"weighted rotation {self.step.digest}"

    @property
    def over_time(self) -> bool:
        """Whether a frame depends on those before it."""
        return bool(getattr(self.step, "over_time", False))

    def compute(self, inputs: Sequence[Array], times: Times) -> Array:
        """Shape (F, 4) or (1, 4)."""
        *own, weight = inputs
        made = self.step.compute(own, times)
        return between(own[0], made, np.clip(weight, 0.0, 1.0))


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
