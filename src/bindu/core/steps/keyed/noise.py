"""Noises."""

from __future__ import annotations

from collections.abc import Hashable, Sequence
from dataclasses import dataclass, replace

import numpy as np
import numpy.typing as npt

from bindu.core.curves.model import Array
from bindu.core.nodes.batches import InBatches
from bindu.core.nodes.operation import Operation, Times
from bindu.core.refusal import Refusal
from bindu.core.scene.model import Scene
from bindu.core.scene.parts import Step
from bindu.core.scene.settings import MOST_OCTAVES, NoiseSettings
from bindu.core.steps.keyed.shaper import ShaperKind


@dataclass(frozen=True)
class NoiseOperation(InBatches):
    """v + amplitude · n(frame / period). Inputs: incoming, amplitude, period."""

    seed: int
    octaves: int

    @property
    def digest(self) -> str:
        """See ``Operation``."""
        return f"noise {self.seed} {self.octaves}"

    @property
    def moves(self) -> bool:
        """By the frame."""
        return True

    @property
    def alike(self) -> Hashable:
        """See ``InBatches``."""
        return self.seed, self.octaves

    @classmethod
    def compute_many(
        cls, operations: Sequence[NoiseOperation], inputs: Sequence[Array], times: Times
    ) -> Array:
        """Shape (B, F)."""
        incoming, amplitude, period = inputs
        with np.errstate(invalid="ignore"):
            at = times.frames / period
        one = operations[0]
        return np.asarray(incoming + amplitude * value_noise(at, one.seed, one.octaves))


class NoiseKind(ShaperKind):
    """See ``StepKind``."""

    name = "noise"

    def checked(self, scene: Scene, part: str, settings: NoiseSettings) -> NoiseSettings:
        """Settings with as many octaves as there may be.

        Raises:
            Refusal: when octaves or seed are not what they may be.
        """
        if not 1 <= settings.octaves <= MOST_OCTAVES:
            text = f"it has 1 to {MOST_OCTAVES} octaves, not {settings.octaves}."
            raise Refusal(text, code="number", place="octaves")
        if not 0 <= settings.seed < 2**31:
            raise Refusal("it is a whole number from 0 to 2147483647.", code="number", place="seed")
        made: NoiseSettings = super().checked(scene, part, settings)
        return replace(made, seed=int(settings.seed), octaves=int(settings.octaves))

    def operation(self, scene: Scene, step: Step, quantity: str) -> Operation:
        """See ``NoiseOperation``."""
        assert isinstance(step.settings, NoiseSettings)
        return NoiseOperation(step.settings.seed, step.settings.octaves)

    def described(self, scene: Scene, settings: NoiseSettings) -> str:
        """What it does."""
        many = f", {settings.octaves} octaves" if settings.octaves > 1 else ""
        return f"adds a smooth noise, seed {settings.seed}{many}"


def value_noise(at: Array, seed: int, octaves: int) -> Array:
    """A smooth value noise between -1 and 1: at whole numbers a random value of its own each, in
    between 3s² - 2s³ of the way from one to the next (value noise after K. Perlin, "An image
    synthesizer", SIGGRAPH 1985, with values in place of slopes). Each octave is twice as fast and
    half as large.

    Args:
        at: any shape.
        seed: which noise.
        octaves: at least 1.
    """
    made, whole = np.zeros(np.shape(at)), 0.0
    for octave in range(octaves):
        share = 0.5**octave
        x = at * 2.0**octave
        with np.errstate(invalid="ignore"):
            low = np.floor(x)
            s = x - low
            n = np.where(np.isfinite(low), low, 0.0).astype(np.int64)
        a, b = _random(n, seed, octave), _random(n + 1, seed, octave)
        made = made + share * (a + s * s * (3.0 - 2.0 * s) * (b - a))
        whole += share
    return np.asarray(made / whole)


def _random(n: npt.NDArray[np.int64], seed: int, octave: int) -> Array:
    """A value from -1 to 1 for each whole number: the mixing of SplitMix64 (G. Steele, D. Lea, C.
    Flood, "Fast splittable pseudorandom number generators", OOPSLA 2014)."""
    start = (seed * 0x9E3779B97F4A7C15 + octave * 0xD1B54A32D192ED03) % 2**64
    with np.errstate(over="ignore"):
        z = n.astype(np.uint64) * np.uint64(0x9E3779B97F4A7C15) + np.uint64(start)
        z = (z ^ (z >> np.uint64(30))) * np.uint64(0xBF58476D1CE4E5B9)
        z = (z ^ (z >> np.uint64(27))) * np.uint64(0x94D049BB133111EB)
        z = z ^ (z >> np.uint64(31))
    return np.asarray((z >> np.uint64(11)).astype(np.float64) / 2.0**52 - 1.0)
