"""What every kind of step offers."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass
from typing import Any, Protocol, cast

import numpy as np

from bindu.core.curves.model import Array
from bindu.core.geometry.rotation import between
from bindu.core.nodes.identity import Read
from bindu.core.nodes.operation import Operation, OverTime, Reach, Running, Times
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


class SharedSolve(Protocol):
    """What is solved once for several parts: one node with an owner, from which the steps of the
    members pick."""

    zone: Zone

    def reads(self, scene: Scene, owner: str) -> tuple[Read, ...]:
        """What it reads, in the order of the inputs.

        Args:
            scene: the scene.
            owner: the identity of the thing that owns it.
        """

    def operation(self, scene: Scene, owner: str) -> Operation:
        """How it is solved."""


@dataclass(frozen=True)
class Weighted:
    """A step at a weight: the value that comes in, moved toward what the step makes of it,
    straight or, where it ``turns``, the shortest way. At weight 0 nothing is changed, not even
    where the step makes no finite number.

    The weight is the last input, shape (F,) or (1,), and is kept between 0 and 1.
    """

    step: Operation
    turns: bool

    @property
    def digest(self) -> str:
        return f"weighted {self.turns} {self.step.digest}"

    @property
    def reach(self) -> Reach:
        """That of the step itself."""
        return self.step.reach

    def compute(self, inputs: Sequence[Array], times: Times) -> Array:
        """Shape (F, …) or (1, …) as what comes in."""
        return self._mixed(inputs, self.step.compute(inputs[:-1], times))

    def running(self) -> Running:
        """See ``OverTime``."""
        return _WeightedRunning(cast(OverTime, self.step).running(), self._mixed)

    def _mixed(self, inputs: Sequence[Array], made: Array) -> Array:
        incoming, share = inputs[0], np.clip(inputs[-1], 0.0, 1.0)
        whole = share.reshape(-1, *[1] * (incoming.ndim - 1))
        if self.turns:
            mixed = between(incoming, made, share)
        else:
            mixed = (1.0 - whole) * incoming + whole * made
        return np.where(whole == 0.0, incoming, mixed)


class _WeightedRunning:
    def __init__(self, step: Running, mixed: Callable[[Sequence[Array], Array], Array]) -> None:
        self._step, self._mixed = step, mixed

    def following(self, inputs: Sequence[Array], times: Times) -> Array:
        return self._mixed(inputs, self._step.following(inputs[:-1], times))


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
