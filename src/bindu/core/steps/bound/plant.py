"""Plants: a part that stands still in the world while what carries it moves."""

from __future__ import annotations

from collections.abc import Hashable, Sequence
from dataclasses import dataclass, replace
from functools import cached_property

import numpy as np

from bindu.core.curves.model import Array
from bindu.core.geometry.local_frame import LocalFrame
from bindu.core.geometry.places import (
    points_inside,
    points_outside,
    turned_inside,
    turned_outside,
    within,
)
from bindu.core.geometry.rotation import between
from bindu.core.nodes.batches import InBatches
from bindu.core.nodes.identity import QUATERNION, Read
from bindu.core.nodes.operation import Operation, Reach, Times
from bindu.core.refusal import Refusal
from bindu.core.scene.channels import Zone
from bindu.core.scene.model import Scene
from bindu.core.scene.parts import Step
from bindu.core.scene.settings import PlantSettings, PlantSpan
from bindu.core.steps.base import StepKind
from bindu.core.steps.bound.checks import checked_tap
from bindu.core.steps.bound.rereads import surroundings_reread
from bindu.core.steps.bound.targets import owner_frame, rests_of

MOST_SPANS = 1000
LONGEST_JOIN = 10_000


@dataclass(frozen=True)
class PlantOperation(InBatches):
    """One group of a plant. Inputs: incoming, the parent's world matrix if there is one.

    In a span the part is where it came in on the frame that is kept. Before and after it goes
    there, and back, by a share that rises as 3s² - 2s³, so that value and slope are continuous.
    Several spans are planted one after the other.
    """

    quantity: str
    local: LocalFrame
    spans: tuple[PlantSpan, ...]
    height: bool

    @cached_property
    def digest(self) -> str:
        """See ``Operation``."""
        return f"plant {self!r}"

    @property
    def reach(self) -> Reach:
        """Any frame may be the one that is kept."""
        return "all frames"

    @property
    def alike(self) -> Hashable:
        """See ``InBatches``."""
        return (self.quantity, self.spans, self.height)

    @classmethod
    def compute_many(
        cls, operations: Sequence[PlantOperation], inputs: Sequence[Array], times: Times
    ) -> Array:
        """Shape (B, F, 3); of the rotation quaternions, (B, F, 4)."""
        one, count = operations[0], len(times.frames)
        incoming, *parents = inputs
        if not one.spans:
            return incoming
        place = rests_of([each.local for each in operations])
        if parents:
            place = within(parents[0], place)
        turns = one.quantity == "quaternion"
        came = turned_outside(place, incoming) if turns else points_outside(place, incoming)
        came = np.broadcast_to(came, (len(operations), count, came.shape[-1]))
        made = came
        for span in one.spans:
            share = shares(times, span)
            row = int(np.clip(span.keep - times.first, 0, count - 1))
            kept = came[:, row : row + 1]
            if turns:
                made = between(made, np.broadcast_to(kept, made.shape), share)
            else:
                if one.height:
                    kept = np.concatenate([made[..., :1], kept[..., 1:2] + 0.0 * made[..., :1],
                                           made[..., 2:]], axis=-1)  # fmt: skip
                made = made + share[:, None] * (kept - made)
                made = np.where(share[:, None] == 1.0, kept, made)
        back = turned_inside(place, made) if turns else points_inside(place, made)
        # Where nothing is planted what comes in goes out, to the last bit.
        planted = np.any([shares(times, span) > 0.0 for span in one.spans], axis=0)
        planted = np.broadcast_to(planted, (count,))
        return np.where(planted[:, None], back, np.broadcast_to(incoming, back.shape))


def shares(times: Times, span: PlantSpan) -> Array:
    """How far a part is planted on each frame, 0 to 1, shape (F,)."""
    frames = np.asarray(times.frames, dtype=float)
    before = (frames - (span.first - span.entry)) / max(span.entry, 1e-9)
    behind = (span.last + span.exit - frames) / max(span.exit, 1e-9)
    share = np.clip(np.minimum(before, behind), 0.0, 1.0)
    inside = (frames >= span.first) & (frames <= span.last)
    return np.where(inside, 1.0, share * share * (3.0 - 2.0 * share))


class PlantStepKind(StepKind):
    """See ``StepKind``."""

    name = "plant"
    zones: tuple[Zone, ...] = ("bound", "late")
    zone_reason = "it works on whole transforms, after the driven values"

    def checked(self, scene: Scene, part: str, settings: PlantSettings) -> PlantSettings:
        """See ``StepKind``."""
        if len(settings.spans) > MOST_SPANS:
            raise Refusal(f"a plant has at most {MOST_SPANS:,} spans.", code="too much")
        checked_tap(settings.tap, "tap")
        for span in settings.spans:
            place = f"span {span.first} … {span.last}"
            if span.last < span.first:
                raise Refusal("it ends before it begins.", code="number", place=place)
            if not 0 <= min(span.entry, span.exit) <= max(span.entry, span.exit) <= LONGEST_JOIN:
                text = f"it joins and leaves over 0 to {LONGEST_JOIN:,} frames."
                raise Refusal(text, code="number", place=place)
        ordered = tuple(sorted(settings.spans, key=lambda span: span.first))
        for one, following in zip(ordered, ordered[1:], strict=False):
            if following.first <= one.last:
                place = f"spans {one.first} … {one.last} and {following.first} … {following.last}"
                raise Refusal("they overlap; make one of them, or shorten one.", place=place)
        return replace(settings, spans=ordered)

    def reads(self, scene: Scene, step: Step, quantity: str) -> tuple[Read, ...]:
        """What carries the part."""
        assert isinstance(step.settings, PlantSettings)
        parent = scene.parts[step.part].parent
        return (Read(parent, "world matrix", step.settings.tap),) if parent is not None else ()

    def operation(self, scene: Scene, step: Step, quantity: str) -> Operation:
        """See ``PlantOperation``."""
        settings = step.settings
        assert isinstance(settings, PlantSettings)
        local = owner_frame(scene, step.part)
        return PlantOperation(quantity, local, settings.spans, settings.plants == "height")

    def reread(self, scene: Scene, step: Step, old: Read, new: Read) -> PlantSettings | None:
        """See ``StepKind``: what carries the part."""
        settings = step.settings
        assert isinstance(settings, PlantSettings)
        tap = surroundings_reread(self.reads(scene, step, QUATERNION), settings.tap, old, new)
        return None if tap is None else replace(settings, tap=tap)

    def described(self, scene: Scene, settings: PlantSettings) -> str:
        """When it stands, and on which frame's place."""
        said = [f"{one.first} … {one.last} as on {one.keep}" for one in settings.spans[:3]]
        more = f" and {len(settings.spans) - 3} more" if len(settings.spans) > 3 else ""
        return f"{settings.plants} stands still: {', '.join(said) or 'nowhere yet'}{more}"

    def trouble(self, scene: Scene, settings: PlantSettings) -> str:
        """See ``StepKind``."""
        return "What carries it is scaled to nothing there; scale it less."
