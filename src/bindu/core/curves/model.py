"""Keys, tangents and curves."""

from __future__ import annotations

import hashlib
import math
from dataclasses import dataclass
from functools import cached_property
from typing import Literal

import numpy as np
import numpy.typing as npt

Array = npt.NDArray[np.float64]
Interpolation = Literal[
    "hold",
    "linear",
    "smooth",
    "ease in",
    "ease out",
    "ease both",
    "overshoot",
    "bounce",
    "spring",
]
Outside = Literal["hold", "straight on", "repeat", "repeat with offset", "mirror"]
TangentMode = Literal["smart", "joined", "broken"]


@dataclass(frozen=True, slots=True)
class Tangent:
    """A handle in polar form: the angle in degrees from the time axis, from -90 to 90, and the
    length, both in the plane of (frame, value). A left handle points back along its angle."""

    angle: float = 0.0
    length: float = 1.0

    @property
    def reach(self) -> tuple[float, float]:
        """How far the handle reaches: frames (not negative) and value, toward its right."""
        radians = math.radians(self.angle)
        return max(self.length * math.cos(radians), 0.0), self.length * math.sin(radians)

    @staticmethod
    def reaching(frames: float, value: float) -> Tangent:
        """The tangent whose handle reaches so far in frames and value."""
        return Tangent(math.degrees(math.atan2(value, frames)), math.hypot(frames, value))


@dataclass(frozen=True, slots=True)
class Tint:
    """A mark that people give to keys to find them again: a word, and a colour as #RRGGBB."""

    word: str
    colour: str


@dataclass(frozen=True, slots=True)
class Key:
    """A value at a frame, its tangents, and the interpolation of the segment to its right.

    The tangents of a *smart* key follow its neighbours when keys are edited; those of a
    *joined* key share one angle; those of a *broken* key are free.
    """

    frame: float
    value: float
    interpolation: Interpolation = "smooth"
    left: Tangent = Tangent()
    right: Tangent = Tangent()
    mode: TangentMode = "smart"
    tint: Tint | None = None


@dataclass(frozen=True)
class Curve:
    """Keys in the order of their frames, and what the curve does outside them."""

    keys: tuple[Key, ...]
    before: Outside = "hold"
    after: Outside = "hold"

    @cached_property
    def frames(self) -> Array:
        """The keys' frames, shape (K,)."""
        return np.ascontiguousarray(self.numbers[:, 0])

    @cached_property
    def numbers(self) -> Array:
        """Each key's frame, value, and the angle and length of its left and its right tangent,
        shape (K, 6)."""
        return np.array(
            [
                (k.frame, k.value, k.left.angle, k.left.length, k.right.angle, k.right.length)
                for k in self.keys
            ]
        )

    @cached_property
    def kinds(self) -> frozenset[Interpolation]:
        """The interpolations of its segments; of a single key, hold."""
        return frozenset(key.interpolation for key in self.keys[:-1]) or frozenset({"hold"})

    @property
    def holds_outside(self) -> bool:
        """Whether it stands still before its first and after its last key."""
        return len(self.keys) == 1 or self.before == self.after == "hold"

    @cached_property
    def digest(self) -> str:
        """A short text that is the same for equal curves only."""
        words: list[str] = [self.before, self.after]
        for key in self.keys:
            words += (key.interpolation, key.mode)
            if key.tint:
                words += (key.tint.word, key.tint.colour)
        made = hashlib.blake2b("\n".join(words).encode(), digest_size=16)
        made.update(self.numbers.tobytes())
        return made.hexdigest()

    def key_at(self, frame: float) -> Key | None:
        """The key on exactly this frame, if any."""
        return self._by_frame.get(frame)

    @cached_property
    def _by_frame(self) -> dict[float, Key]:
        return {key.frame: key for key in self.keys}
