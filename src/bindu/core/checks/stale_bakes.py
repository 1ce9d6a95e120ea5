"""Bakes whose source has changed."""

from __future__ import annotations

from collections.abc import Iterator, Mapping, Sequence
from functools import partial

from bindu.core.checks.check import Check, Finding, Looked, Offer, Threshold, said
from bindu.core.clips.baking import source_digest
from bindu.core.clips.standing import Standing, standing
from bindu.core.edits.bakes import TakeOver, what_changes
from bindu.core.evaluation import Evaluation
from bindu.core.refusal import Refusal
from bindu.core.scene.bakes import Bake


class StaleBakes(Check):
    """Bakes that are not what their source is now, by metres or degrees, or of other parts and
    frames. Those that follow are left out: they leave as their source is. See ``Check``."""

    name = "stale bake"
    why = "What leaves with it is not what is seen here."
    thresholds = (
        Threshold("millimetres", 0.01, "mm", "over {} mm apart", 0.0, 1e6),
        Threshold("degrees", 0.01, "°", "or over {}°", 0.0, 360.0),
    )

    def found(
        self, evaluation: Evaluation, limits: Mapping[str, float], looked: Looked
    ) -> Iterator[Finding]:
        """One for each bake."""
        for bake in sorted(evaluation.scene.bakes.values(), key=lambda one: one.name):
            if bake.follows:
                continue
            try:
                now = source_digest(evaluation, bake)
                key = (self.name, bake.id, bake.made.digest if bake.made else "", now)
                stands = looked.once(key, partial(standing, evaluation, bake))
            except Refusal as refusal:
                yield self._told(evaluation, bake, None, refusal.message, 0.0)
                continue
            gap = stands.gap
            far = 0.0 if gap is None else 1e3 * float(gap.places.max())
            turned = 0.0 if gap is None else float(gap.turns.max())
            if stands.state == "asks":
                yield self._told(evaluation, bake, stands, what_changes(stands), far)
            elif stands.state == "stale" and (
                far > limits["millimetres"] or turned > limits["degrees"]
            ):
                text = f"it is up to {said(far)} mm and {said(turned)}° from its source"
                text += f", most on {stands.frame}."
                yield self._told(evaluation, bake, stands, text, far)

    def _told(
        self, evaluation: Evaluation, bake: Bake, stands: Standing | None, text: str, far: float
    ) -> Finding:
        scene = evaluation.scene
        known = (
            [part.part for part in bake.made.parts if part.part in scene.parts] if bake.made else []
        )
        part = known[0] if known else next(iter(scene.tree_order), "")
        frame = stands.frame if stands is not None else None
        return Finding(
            self.name,
            self.severity,
            part,
            "translation.x",
            bake.name,
            f"the bake {bake.name}: {text}",
            far,
            "mm",
            frame=frame,
            key=bake.id,
        )

    def offers(self, evaluation: Evaluation, finding: Finding) -> Sequence[Offer]:
        """Taking it over."""
        bake = evaluation.scene.bakes[finding.key]
        edit = TakeOver(bake.id, agreed=True)
        try:
            edit.apply(evaluation.scene)
        except Refusal:
            return ()
        cost = "what it wrote out before is lost, but for undo"
        return (Offer("take over", f"take {bake.name} over from its source", cost, (edit,)),)
