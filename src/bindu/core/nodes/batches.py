"""Operations of which many are computed at once."""

from __future__ import annotations

from collections.abc import Hashable, Sequence
from typing import Any

import numpy as np

from bindu.core.curves.model import Array
from bindu.core.nodes.operation import Operation, Times


class InBatches(Operation):
    """An operation that computes many nodes by one call over a stack of their inputs.

    What a node comes to never depends on the others in its stack, to the last bit: a node that is
    computed alone after an edit is the same as among all others.
    """

    @property
    def alike(self) -> Hashable:
        """Operations of one class that have this in common can be computed together: they differ
        only in numbers that ``compute_many`` stacks."""
        return ()

    @classmethod
    def compute_many(
        cls, operations: Sequence[Any], inputs: Sequence[Array], times: Times
    ) -> Array:
        """The values of B nodes.

        Args:
            operations: B operations of this class that are alike.
            inputs: for each input of the operations a stack, shape (B, F, …), or (B, 1, …) where
                it stands still.
            times: the frames.

        Returns:
            Shape (B, F, …), or (B, 1, …) where nothing changes over time.
        """
        raise NotImplementedError

    def compute(self, inputs: Sequence[Array], times: Times) -> Array:
        """See ``Operation``."""
        made = self.compute_many([self], [one[None] for one in inputs], times)
        return np.asarray(made[0])


def batch_key(operation: Operation) -> Hashable:
    """What operations have in common that can be computed together, whatever their inputs."""
    if isinstance(operation, InBatches):
        return type(operation), operation.alike
    return type(operation), operation.digest


def computed_together(
    operations: Sequence[Operation], inputs: Sequence[Array], times: Times
) -> Array:
    """See ``InBatches.compute_many``; of operations with the same ``batch_key``."""
    first = operations[0]
    if isinstance(first, InBatches):
        return first.compute_many(operations, inputs, times)
    made = [
        operation.compute([stack[n] for stack in inputs], times)
        for n, operation in enumerate(operations)
    ]
    return made[0][None] if len(made) == 1 else np.stack(np.broadcast_arrays(*made))


def stacked(values: Sequence[Any]) -> Array:
    """One number, vector or matrix for each operation of a stack, to go with (B, F, …)."""
    return np.array(values, dtype=np.float64)[:, None]
