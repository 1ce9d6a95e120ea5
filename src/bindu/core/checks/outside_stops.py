"""Drivers beyond their stops, limits that cut, weights beyond 0 and 1."""

from __future__ import annotations

from collections.abc import Iterator, Mapping, Sequence

import numpy as np

from bindu.core.checks.check import Check, Finding, Looked, Offer, spans_of, spread
from bindu.core.counted import counted
from bindu.core.curves.model import Array
from bindu.core.drivers.sheets import driver_values
from bindu.core.edits.driven import PutStop
from bindu.core.edits.steps import ChangeStep
from bindu.core.evaluation import Evaluation
from bindu.core.graph.kinds.channel import channel_before, tap_node
from bindu.core.scene.channels import ChannelRef, weight_channel
from bindu.core.scene.parts import Step
from bindu.core.scene.settings import DrivenSettings, LimitSettings
from bindu.core.scene.things import DrivenKeys

LEAST = 1e-9


class OutsideStops(Check):
    """See ``Check``."""

    name = "outside stops"
    why = "Where a driver leaves its stops or a limit cuts, what moved smoothly stands still."

    def found(
        self, evaluation: Evaluation, limits: Mapping[str, float], looked: Looked
    ) -> Iterator[Finding]:
        """One for each set of driven keys, limit and weight."""
        scene = evaluation.scene
        for driven in sorted(scene.driven.values(), key=lambda one: (one.name, one.id)):
            rows = scene.rows_of.get(driven.id, ())
            if rows:
                low, high = driven.stops[0], driven.stops[-1]
                over = _beyond(driver_values(evaluation, driven), low, high)
                what = f"the driver of {driven.name} leaves its stops {low:g} … {high:g}"
                yield from _finding(evaluation, rows[0], driven.name, what, over, "")
        for step in scene.steps.values():
            if not step.on:
                continue
            settings = step.settings
            if isinstance(settings, LimitSettings):
                ref = ChannelRef(step.part, settings.channel)
                came = evaluation.result(channel_before(scene, ref, step)).values
                low = -np.inf if settings.low is None else settings.low
                high = np.inf if settings.high is None else settings.high
                what = f"“{step.name}” cuts {settings.channel}"
                over = _beyond(came, low, high)
                yield from _finding(evaluation, step, step.name, what, over, "limit")
            weight = tap_node(scene, ChannelRef(step.part, weight_channel(step.id)), "final")
            over = _beyond(evaluation.result(weight).values, 0.0, 1.0)
            what = f"the weight of “{step.name}” leaves 0 … 1"
            yield from _finding(evaluation, step, step.name, what, over, "weight")

    def offers(self, evaluation: Evaluation, finding: Finding) -> Sequence[Offer]:
        """A wider limit; of driven keys, stops as far as the driver goes."""
        step = evaluation.scene.steps.get(finding.step or "")
        if step is None or finding.key == "weight":
            return ()
        if isinstance(step.settings, LimitSettings):
            return (_wider(evaluation, step, step.settings),)
        if isinstance(step.settings, DrivenSettings):
            return (_more_stops(evaluation, evaluation.scene.driven[step.settings.driven]),)
        return ()


def _wider(evaluation: Evaluation, step: Step, settings: LimitSettings) -> Offer:
    ref = ChannelRef(step.part, settings.channel)
    came = evaluation.result(channel_before(evaluation.scene, ref, step)).values
    low, high = settings.low, settings.high
    low = None if low is None else min(low, float(came.min()))
    high = None if high is None else max(high, float(came.max()))
    edit = ChangeStep(step.id, settings=LimitSettings(settings.channel, low, high))
    return Offer("widen", "widen the limit", "what it cut is let through", (edit,))


def _more_stops(evaluation: Evaluation, driven: DrivenKeys) -> Offer:
    values = driver_values(evaluation, driven)
    ends = [float(values.min()), float(values.max())]
    new = [end for end in ends if not driven.stops[0] <= end <= driven.stops[-1]]
    stops = " and ".join(f"{end:g}" for end in new)
    text = f"add {'a stop' if len(new) == 1 else 'stops'} at {stops} to {driven.name}"
    edits = tuple(PutStop(driven.id, end) for end in new)
    return Offer("extend", text, "nothing moves otherwise until these cells are changed", edits)


def _beyond(values: Array, low: float, high: float) -> Array:
    """By how much values are beyond two ends, shape (F,) or (1,)."""
    return np.asarray(np.maximum(np.maximum(low - values, values - high), 0.0))


def _finding(
    evaluation: Evaluation, step: Step, name: str, what: str, over: Array, key: str
) -> Iterator[Finding]:
    first = evaluation.times.first
    amounts = spread(evaluation, over)
    rows = np.flatnonzero(amounts > LEAST)
    if not len(rows):
        return
    worst = int(np.argmax(amounts))
    part = evaluation.scene.parts[step.part].name
    text = (
        f"{part}: {what} by up to {amounts[worst]:.3g} on {counted(len(rows), 'frame')}, most on "
    )
    text += f"{first + worst}."
    yield Finding(
        "outside stops",
        "untidy" if key == "limit" else "doubtful",
        step.part,
        step.settings.writes[0],
        name,
        text,
        float(amounts[worst]),
        "",
        step.id,
        spans_of(rows, first),
        first + worst,
        amounts,
        0.0,
        key,
    )
