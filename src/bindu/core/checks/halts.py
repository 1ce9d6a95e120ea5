"""Motions that halt at a key on their way."""

from __future__ import annotations

from collections.abc import Iterator, Mapping, Sequence

from bindu.core.checks.check import Check, Finding, Looked, Offer
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
        """Tangents that follow the neighbours."""
        curve = evaluation.scene.curves.get(ChannelRef(finding.part, finding.channel))
        frames = halting(curve) if curve else ()
        if not frames:
            return ()
        changes = tuple(KeyChange(frame, mode="smart") for frame in frames)
        edit = ChangeKeys(finding.part, finding.channel, changes)
        return (
            Offer(
                "pass", "let it pass", "the tangents of these keys follow the neighbours", (edit,)
            ),
        )


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
