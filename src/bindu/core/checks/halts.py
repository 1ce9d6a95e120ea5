"""Motions that halt at a key on their way."""

from __future__ import annotations

import math
from collections.abc import Iterable, Iterator, Mapping, Sequence

import numpy as np

from bindu.core.checks.check import Check, Finding, Looked, Offer
from bindu.core.curves.evaluate import values_of_many
from bindu.core.curves.keys import without_keys
from bindu.core.curves.model import Curve
from bindu.core.edits.keys import ChangeKeys, KeyChange
from bindu.core.evaluation import Evaluation
from bindu.core.scene.channels import ChannelRef
from bindu.core.scene.names import full_name

LEVEL = 1e-6
"""Degrees of a tangent up to which it is level."""


class Halts(Check):
    """A key that a curve passes on its way up or down with a level tangent on both sides: the
    motion stands there for a moment. See ``Check``."""

    name = "halt"
    why = "A motion that stops for a moment on its way looks as if it had run into something."

    def found(
        self, evaluation: Evaluation, limits: Mapping[str, float], looked: Looked
    ) -> Iterator[Finding]:
        """One for each curve."""
        scene = evaluation.scene
        halts = {
            ref: frames
            for ref, curve in scene.curves.items()
            if (
                frames := looked.once(
                    (self.name, curve.digest),
                    lambda curve=curve: halting(curve),  # type: ignore[misc]
                )
            )
        }
        for ref, frames in sorted(halts.items()):
            shown = [f for f in frames if scene.first <= f <= scene.last]
            if not shown:
                continue
            name = full_name(scene, ref)
            text = f"{name} halts on its way at {', '.join(f'{f:g}' for f in shown[:4])}: its "
            text += "tangents are level there. Let them follow the neighbours."
            yield Finding(
                self.name,
                self.severity,
                ref.part,
                ref.channel,
                name.removeprefix(f"{scene.parts[ref.part].name}."),
                text,
                float(len(shown)),
                "keys",
                None,
                tuple((int(f), int(f)) for f in shown),
                int(shown[0]),
            )

    def offers(self, evaluation: Evaluation, finding: Finding) -> Sequence[Offer]:
        """Tangents that follow the neighbours, of keys where they are or where they are passed."""
        scene = evaluation.scene
        curve = scene.curves.get(ChannelRef(finding.part, finding.channel))
        frames = halting(curve) if curve else ()
        if curve is None or not frames:
            return ()

        def edit(changes: Iterable[KeyChange]) -> ChangeKeys:
            return ChangeKeys(finding.part, finding.channel, tuple(changes))

        its, it = ("its", "it") if len(frames) == 1 else ("their", "them")
        follow = f"{its} tangents follow the neighbours"
        still = edit(KeyChange(frame, mode="smart") for frame in frames)
        offers = [Offer("pass", "let it pass", follow, (still,))]
        to = on_the_way(curve, frames, (scene.first, scene.last))
        moved = [f"{old:g} → {new:g}" for old, new in to.items() if new != old]
        if moved:
            what = "move the key" if len(moved) == 1 else f"move {len(moved)} keys"
            value = "value" if len(frames) == 1 else "values"
            where = f"where the curve has {its} {value} without {it}"
            cost = f"{', '.join(moved[:4])}: {where}; {follow}"
            made = edit(KeyChange(old, to_frame=new, mode="smart") for old, new in to.items())
            offers.append(Offer("move", what, cost, (made,)))
        return offers


def on_the_way(
    curve: Curve, frames: Sequence[float], within: tuple[int, int]
) -> dict[float, float]:
    """Where keys would lie without being in the way: for each the whole frame between its
    neighbours, and within a range, on which the curve without all of them is nearest to its value;
    else where it is."""
    plain = without_keys(curve, frames)
    to: dict[float, float] = {}
    for before, key, following in zip(curve.keys, curve.keys[1:], curve.keys[2:], strict=False):
        if key.frame not in frames:
            continue
        first = max(math.floor(to.get(before.frame, before.frame)) + 1, within[0])
        end = min(math.ceil(following.frame), within[1] + 1)
        between = np.arange(first, end, dtype=float)
        to[key.frame] = key.frame
        if len(between):
            away = np.abs(values_of_many((plain,), between)[0] - key.value)
            to[key.frame] = float(between[away.argmin()])
    return to


def halting(curve: Curve) -> tuple[float, ...]:
    """The frames of the keys at which a curve halts on its way."""
    found = []
    for before, key, following in zip(curve.keys, curve.keys[1:], curve.keys[2:], strict=False):
        smooth = before.interpolation == "smooth" and key.interpolation == "smooth"
        onward = (key.value - before.value) * (following.value - key.value) > 0.0
        level = max(abs(key.left.angle), abs(key.right.angle)) < LEVEL
        if smooth and onward and level and key.mode != "smart":
            found.append(key.frame)
    return tuple(found)
