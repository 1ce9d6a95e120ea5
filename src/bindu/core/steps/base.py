"""What every kind of step offers."""

from __future__ import annotations

from collections.abc import Hashable, Sequence
from dataclasses import dataclass
from typing import Any, Protocol, cast

import numpy as np

from bindu.core.curves.model import Array
from bindu.core.geometry.rotation import between
from bindu.core.nodes.batches import InBatches, batch_key, computed_together
from bindu.core.nodes.identity import Read
from bindu.core.nodes.operation import Operation, OverTime, Reach, Running, Times
from bindu.core.scene.channels import ChannelRef, Zone
from bindu.core.scene.model import Scene
from bindu.core.scene.names import channel_name, channel_named
from bindu.core.scene.parts import Step


class StepKind:
    """A kind of step, and all that is its own. ``Any`` stands for the kind's own settings."""

    name: str
    zones: tuple[Zone, ...]
    zone_reason: str
    """Why it has no meaning in other zones, as the end of a sentence."""

    def checked(self, scene: Scene, part: str, settings: Any) -> Any:
        """Settings given by a person, with names, as they are stored, with identities.

        Raises:
            Refusal: naming the field and, in a text, the column.
        """
        raise NotImplementedError

    def shown(self, scene: Scene, settings: Any) -> Any:
        """Stored settings with names in place of identities, where people write names."""
        return settings

    def reads(self, scene: Scene, step: Step, quantity: str) -> tuple[Read, ...]:
        """What it reads besides the quantity (a channel, or a group) that it writes, in the
        order of the inputs."""
        raise NotImplementedError

    def operation(self, scene: Scene, step: Step, quantity: str) -> Operation:
        """How it computes a quantity. Inputs: the value that comes in, then an array for each
        read."""
        raise NotImplementedError

    def reread(self, scene: Scene, step: Step, old: Read, new: Read) -> Any:
        """Settings, as people give them, with something read at another tap, or one frame back,
        wherever it is read; None where this kind cannot do it.

        Args:
            scene: the scene.
            step: one of its steps.
            old: one of the step's reads.
            new: the same part and quantity.
        """
        return None

    def described(self, scene: Scene, settings: Any) -> str:
        """One line for the ledger."""
        raise NotImplementedError

    def port(self, scene: Scene, step: Step) -> str:
        """Its label on a card of the wiring."""
        if step.settings.groups:
            return self.name
        return channel_name(scene, ChannelRef(step.part, step.settings.writes[0]))

    def trouble(self, scene: Scene, settings: Any) -> str:
        """Why it may make no finite number, and what to do."""
        raise NotImplementedError


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
class Weighted(InBatches, OverTime):
    """A step at a weight: the value that comes in, moved toward what the step makes of it,
    straight or, where it ``turns``, the shortest way. At weight 0 nothing is changed, not even
    where the step makes no finite number; at weight 1 it is what the step makes, to the last bit.

    The weight is the last input, shape (F,) or (1,), and is kept between 0 and 1.
    """

    step: Operation
    turns: bool

    @property
    def digest(self) -> str:
        """See ``Operation``."""
        return f"weighted {self.turns} {self.step.digest}"

    @property
    def reach(self) -> Reach:
        """That of the step itself."""
        return self.step.reach

    @property
    def moves(self) -> bool:
        """Whether the step itself does."""
        return self.step.moves

    @property
    def calculations(self) -> int:
        """See ``Operation``."""
        return 8 + self.step.calculations

    @property
    def alike(self) -> Hashable:
        """See ``InBatches``."""
        return self.turns, batch_key(self.step)

    def taken(self, inputs: Sequence[Array]) -> list[Array]:
        """Those of the step itself."""
        return self.step.taken(inputs[:-1])

    @classmethod
    def compute_many(
        cls, operations: Sequence[Weighted], inputs: Sequence[Array], times: Times
    ) -> Array:
        """Shape (B, F, …) or (B, 1, …) as what comes in."""
        made = computed_together([one.step for one in operations], inputs[:-1], times)
        return weighed(inputs[0], made, inputs[-1], operations[0].turns)

    def running(self) -> Running:
        """See ``OverTime``."""
        return _WeightedRunning(cast(OverTime, self.step).running(), self.turns)


def weighed(incoming: Array, made: Array, weight: Array, turns: bool) -> Array:
    """What comes in, moved toward what is made of it; see ``Weighted``.

    Args:
        incoming, made: shape (…, F, 3) or the like, (…, F) of channels.
        weight: shape (…, F).
        turns: they are quaternions.
    """
    share = np.clip(weight, 0.0, 1.0)
    whole = share.reshape(*share.shape, *[1] * (incoming.ndim - share.ndim))
    if np.all(whole == 1.0):
        shape = np.broadcast_shapes(incoming.shape, made.shape, whole.shape)
        return made if made.shape == shape else np.broadcast_to(made, shape)
    mixed = between(incoming, made, share) if turns else (1.0 - whole) * incoming + whole * made
    return np.where(whole == 0.0, incoming, np.where(whole == 1.0, made, mixed))


class _WeightedRunning:
    def __init__(self, step: Running, turns: bool) -> None:
        self._step, self._turns = step, turns

    def following(self, inputs: Sequence[Array], times: Times) -> Array:
        made = self._step.following(inputs[:-1], times)
        return weighed(inputs[0], made, inputs[-1], self._turns)


def kind_checks_channel(scene: Scene, part: str, channel: str) -> str:
    """The channel's id, given its id or its name within the part.

    Raises:
        Refusal: with the nearest names, when the part has no such channel.
    """
    if channel in scene.channel_ids(part):
        return channel
    ref: ChannelRef = channel_named(scene, f"{scene.parts[part].name}.{channel}")
    return ref.channel
