"""Edits that move keys by degrees, and thin them."""

from __future__ import annotations

from dataclasses import dataclass, replace
from typing import Literal, Protocol

import numpy as np

from bindu.core.clips.mirroring import mirrored_from
from bindu.core.curves.degrees import Toward, moved_toward, thinned
from bindu.core.curves.evaluate import curve_values
from bindu.core.curves.keys import with_keys
from bindu.core.curves.model import Array, Curve
from bindu.core.edits.base import finite
from bindu.core.edits.retime import Picks, changed_curves, counted_keys
from bindu.core.evaluation.keyed import keyed_values, own_values
from bindu.core.refusal import Refusal
from bindu.core.scene.channels import ChannelRef, layer_and_channel
from bindu.core.scene.model import Scene

FARTHEST = 10.0
SIDES = ("left", "right")


class Going(Protocol):
    """What goes toward something by a degree."""

    @property
    def toward(self) -> str:
        """Toward what."""

    @property
    def degree(self) -> float:
        """By which share of the way."""

    @property
    def frame(self) -> float | None:
        """Toward which frame, where it is a frame."""


def by_degrees(going: Going) -> str:
    """How far it goes toward what, in words."""
    toward = f"the {going.toward} one" if going.toward in SIDES else f"the {going.toward}"
    if going.toward == "frame":
        toward = "a frame" if going.frame is None else f"frame {going.frame:g}"
    return f"{100.0 * going.degree:.0f} % toward {toward}"


def check_degrees(going: Going) -> None:
    """Refuses a degree that goes too far, and a frame that is not given.

    Raises:
        Refusal: with the field at fault.
    """
    if abs(finite(going.degree, "degree")) > FARTHEST:
        text = f"it goes from {-FARTHEST:g} to {FARTHEST:g}, not to {going.degree:g}."
        raise Refusal(text, code="number", place="degree")
    if going.toward == "frame" and going.frame is None:
        raise Refusal("say toward which frame.", code="choice", place="frame")


@dataclass(frozen=True)
class KeptCurve:
    """A curve as it was when it was kept to be looked at beside what it became."""

    part: str
    channel: str
    curve: Curve


@dataclass(frozen=True)
class ByDegrees:
    """Moves the values of chosen keys by a share of the way toward something: below 0 away from it,
    above 1 beyond it. See ``targets``.

    Attributes:
        degree: 1 is all of the way.
        frame: whose values they go toward, of ``frame``.
        kept: the curves that they go toward, of ``reference``.
    """

    picks: Picks
    toward: Toward
    degree: float
    frame: float | None = None
    kept: tuple[KeptCurve, ...] = ()
    do: Literal["by degrees"] = "by degrees"

    def label(self, scene: Scene) -> str:
        """See ``Edit``."""
        return f"{counted_keys(scene, self.picks)} {by_degrees(self)}"

    def apply(self, scene: Scene) -> Scene:
        """See ``Edit``."""
        check_degrees(self)

        def moved(curve: Curve, chosen: tuple[float, ...], ref: ChannelRef) -> Curve:
            given = self._given(scene, ref, np.array(sorted(set(chosen))))
            return moved_toward(curve, chosen, self.toward, self.degree, given)

        return changed_curves(scene, self.picks, moved)

    def _given(self, scene: Scene, ref: ChannelRef, frames: Array) -> float | Array:
        """What keys on these frames go toward, where that lies outside their curve."""
        _, channel = layer_and_channel(ref.channel)
        if self.toward == "frame":
            return own_values(scene, ref, np.array([float(self.frame or 0.0)]))
        if self.toward == "default":
            pose = scene.parts[ref.part].pose
            return pose.get(ref.channel, scene.default(ref)) if ref.channel == channel else 0.0
        if self.toward == "mirrored":
            source, sign = mirrored_from(scene, ref)
            return sign * keyed_values(scene, source, frames)
        if self.toward == "reference":
            return self._as_kept(ref, frames)
        return 0.0

    def _as_kept(self, ref: ChannelRef, frames: Array) -> Array:
        """The values of the kept curve of a channel."""
        for one in self.kept:
            if (one.part, one.channel) == (ref.part, ref.channel):
                keys = with_keys(replace(one.curve, keys=()), one.curve.keys)
                return curve_values(keys, frames)
        text = "it had no keys when the reference was kept."
        raise Refusal(text, code="choice", place="reference")


@dataclass(frozen=True)
class ThinKeys:
    """Takes away chosen keys without which their curves stay within a tolerance of what they
    were."""

    picks: Picks
    tolerance: float
    do: Literal["thin keys"] = "thin keys"

    def label(self, scene: Scene) -> str:
        """See ``Edit``."""
        before = sum(len(curve.keys) for curve in scene.curves.values())
        after = sum(len(curve.keys) for curve in self.apply(scene).curves.values())
        return f"{before - after} keys go, within {self.tolerance:g}"

    def apply(self, scene: Scene) -> Scene:
        """See ``Edit``."""
        if finite(self.tolerance, "tolerance") < 0.0:
            raise Refusal("it cannot be negative.", code="number", place="tolerance")
        tolerance = self.tolerance
        return changed_curves(
            scene, self.picks, lambda curve, chosen, ref: thinned(curve, chosen, tolerance)
        )


DegreeEdit = ByDegrees | ThinKeys
