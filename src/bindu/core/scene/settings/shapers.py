"""Shapers: steps that change the shape of a curve."""

from __future__ import annotations

from dataclasses import dataclass, replace
from typing import Literal, Self

from bindu.core.scene.settings.base import ChannelSettings, Followed, StepInput

WIDEST = 200.0
"""Frames of a smooth's width at most."""
MOST_OCTAVES = 8


@dataclass(frozen=True)
class WaveSettings(ChannelSettings):
    """Adds a sine wave."""

    channel: str
    kind: Literal["wave"] = "wave"

    @property
    def inputs(self) -> tuple[StepInput, ...]:
        """How far it goes, in the channel's unit; its length in frames; where it begins, turns."""
        return (
            StepInput("amplitude", 1.0, None, None),
            StepInput("period", 24.0, 0.001, None, in_frames=True),
            StepInput("phase", 0.0, None, None),
        )

    def followed(self, to: Followed) -> Self:
        """See ``Settings``."""
        return replace(self, channel=to.channel(self.channel))


@dataclass(frozen=True)
class NoiseSettings(ChannelSettings):
    """Adds a smooth noise, the same on every machine.

    Attributes:
        seed: which noise.
        octaves: of how many noises, each twice as fast and half as large as the one before.
    """

    channel: str
    seed: int = 0
    octaves: int = 1
    kind: Literal["noise"] = "noise"

    @property
    def inputs(self) -> tuple[StepInput, ...]:
        """How far it goes, in the channel's unit, and over how many frames it changes."""
        return (
            StepInput("amplitude", 1.0, None, None),
            StepInput("period", 12.0, 0.001, None, in_frames=True),
        )

    def followed(self, to: Followed) -> Self:
        """See ``Settings``."""
        return replace(self, channel=to.channel(self.channel))


@dataclass(frozen=True)
class SmoothSettings(ChannelSettings):
    """Takes the mean of the frames around, by Gaussian weights."""

    channel: str
    kind: Literal["smooth"] = "smooth"

    @property
    def inputs(self) -> tuple[StepInput, ...]:
        """The standard deviation of the weights, frames."""
        return (StepInput("width", 2.0, 0.0, WIDEST, in_frames=True),)

    def followed(self, to: Followed) -> Self:
        """See ``Settings``."""
        return replace(self, channel=to.channel(self.channel))


@dataclass(frozen=True)
class NthsSettings(ChannelSettings):
    """Holds the value of every so-many-th frame."""

    channel: str
    kind: Literal["on nths"] = "on nths"

    @property
    def inputs(self) -> tuple[StepInput, ...]:
        """How many frames each value is held."""
        return (StepInput("n", 2.0, 1.0, 1000.0, in_frames=True),)

    def followed(self, to: Followed) -> Self:
        """See ``Settings``."""
        return replace(self, channel=to.channel(self.channel))


@dataclass(frozen=True)
class ShiftSettings(ChannelSettings):
    """Takes the value of some whole frames earlier or later."""

    channel: str
    kind: Literal["shift"] = "shift"

    @property
    def inputs(self) -> tuple[StepInput, ...]:
        """How many frames later all comes; earlier where it is negative."""
        return (StepInput("frames", 0.0, -100_000.0, 100_000.0, in_frames=True),)

    def followed(self, to: Followed) -> Self:
        """See ``Settings``."""
        return replace(self, channel=to.channel(self.channel))


@dataclass(frozen=True)
class StrengthSettings(ChannelSettings):
    """Makes what goes away from a value larger or smaller."""

    channel: str
    kind: Literal["strength"] = "strength"

    @property
    def inputs(self) -> tuple[StepInput, ...]:
        """The value that stays, in the channel's unit, and the factor."""
        return StepInput("pivot", 0.0, None, None), StepInput("factor", 1.0, None, None)

    def followed(self, to: Followed) -> Self:
        """See ``Settings``."""
        return replace(self, channel=to.channel(self.channel))


ShaperSettings = (
    WaveSettings | NoiseSettings | SmoothSettings | NthsSettings | ShiftSettings | StrengthSettings
)
SHAPERS: dict[str, type[ShaperSettings]] = {
    "wave": WaveSettings,
    "noise": NoiseSettings,
    "smooth": SmoothSettings,
    "on nths": NthsSettings,
    "shift": ShiftSettings,
    "strength": StrengthSettings,
}
