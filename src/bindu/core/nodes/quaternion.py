"""How rotations go over from angles to quaternions, and are shown as angles again."""

from __future__ import annotations

from collections.abc import Hashable, Sequence
from dataclasses import dataclass

from bindu.core.curves.model import Array
from bindu.core.geometry.angles import ShownAngles, shown_angles
from bindu.core.geometry.rotation import angles_quaternion
from bindu.core.nodes.batches import InBatches
from bindu.core.nodes.operation import OverTime, Running, Times
from bindu.core.nodes.running import KeptRunning
from bindu.core.scene.parts import RotationOrder


@dataclass(frozen=True)
class AnglesToQuaternion(InBatches):
    """A rotation as it is held from Bound on."""

    order: RotationOrder

    @property
    def digest(self) -> str:
        return f"quaternion {self.order}"

    @property
    def alike(self) -> Hashable:
        """See ``InBatches``."""
        return self.order

    @classmethod
    def compute_many(
        cls, operations: Sequence[AnglesToQuaternion], inputs: Sequence[Array], times: Times
    ) -> Array:
        """Shape (B, F, 4) or (B, 1, 4), x, y, z, w; input: angles."""
        return angles_quaternion(inputs[0], operations[0].order)


@dataclass(frozen=True)
class ContinuousAngles(InBatches, OverTime):
    """A quaternion shown as angles; see ``shown_angles``, to which the driven angles are plain."""

    order: RotationOrder

    @property
    def digest(self) -> str:
        return f"angles {self.order}"

    @property
    def alike(self) -> Hashable:
        """See ``InBatches``."""
        return self.order

    @classmethod
    def compute_many(
        cls, operations: Sequence[ContinuousAngles], inputs: Sequence[Array], times: Times
    ) -> Array:
        """Shape (B, F, 3) or (B, 1, 3), degrees; inputs: quaternions, driven angles."""
        return shown_angles(inputs[0], inputs[1], operations[0].order)[0]

    def running(self) -> Running:
        """See ``OverTime``."""
        return KeptRunning(self._following)

    def _following(
        self, inputs: Sequence[Array], times: Times, before: ShownAngles | None
    ) -> tuple[Array, ShownAngles]:
        return shown_angles(inputs[0], inputs[1], self.order, before)
