"""How rotations go over from angles to quaternions, and are shown as angles again."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

from bindu.core.curves.model import Array
from bindu.core.geometry.angles import Shown, shown_angles
from bindu.core.geometry.rotation import angles_quaternion
from bindu.core.nodes.operation import Reach, Running, Times
from bindu.core.nodes.running import KeptRunning
from bindu.core.scene.model import RotationOrder


@dataclass(frozen=True)
class AnglesToQuaternion:
    """A rotation as it is held from Bound on."""

    order: RotationOrder
    reach: Reach = "this frame"

    @property
    def digest(self) -> str:
        return f"quaternion {self.order}"

    def compute(self, inputs: Sequence[Array], times: Times) -> Array:
        """Shape (F, 4) or (1, 4), x, y, z, w; input: angles."""
        return angles_quaternion(inputs[0], self.order)


@dataclass(frozen=True)
class ContinuousAngles:
    """A quaternion shown as angles; see ``shown_angles``, to which the driven angles are plain."""

    order: RotationOrder
    reach: Reach = "frames before"

    @property
    def digest(self) -> str:
        return f"angles {self.order}"

    def compute(self, inputs: Sequence[Array], times: Times) -> Array:
        """Shape (F, 3) or (1, 3), degrees; inputs: quaternions, driven angles."""
        return self._made(inputs, times, None)[0]

    def running(self) -> Running:
        """See ``OverTime``."""
        return KeptRunning(self._made)

    def _made(
        self, inputs: Sequence[Array], times: Times, before: Shown | None
    ) -> tuple[Array, Shown]:
        return shown_angles(inputs[0], inputs[1], self.order, before)
