"""Bakes and reports in the form that the browser takes."""

from __future__ import annotations

from dataclasses import asdict

import numpy as np

from bindu.core.clips.standing import Standing, standing
from bindu.core.edits.bakes import what_changes
from bindu.core.evaluation import Evaluation
from bindu.core.refusal import Refusal
from bindu.core.scene.bakes import Bake
from bindu.formats.report import Report
from bindu.web.deliver.schemas import BakesView, BakeView, PartGapView, ReportView

MOST_GAPS = 20


def bakes_view(evaluation: Evaluation, revision: int) -> BakesView:
    """All bakes with their states."""
    bakes = sorted(evaluation.scene.bakes.values(), key=lambda one: (one.first, one.name))
    return BakesView(revision=revision, bakes=[_bake(evaluation, bake) for bake in bakes])


def _bake(evaluation: Evaluation, bake: Bake) -> BakeView:
    made = bake.made
    stands, problem = None, None
    try:
        stands = standing(evaluation, bake)
    except Refusal as refusal:
        problem = str(refusal)
    if stands is not None and stands.state == "asks":
        problem = what_changes(stands)
    gaps = _gaps(stands) if stands is not None else []
    gap = stands.gap if stands is not None else None
    return BakeView(
        id=bake.id,
        name=bake.name,
        first=bake.first,
        last=bake.last,
        by=bake.by,
        set=bake.set,
        parts=list(bake.parts),
        own_channels=bake.own_channels,
        step=bake.step,
        tolerance=bake.tolerance,
        follows=bake.follows,
        leaving=[part.part for part in made.parts] if made else [],
        keys=sum(len(c.unpacked()[0]) for p in made.parts for c in p.curves) if made else 0,
        state=stands.state if stands is not None else None,
        problem=problem,
        places=float(gap.places.max()) if gap is not None else None,
        turns=float(gap.turns.max()) if gap is not None else None,
        frame=stands.frame if stands is not None else None,
        gaps=gaps,
    )


def _gaps(stands: Standing) -> list[PartGapView]:
    gap = stands.gap
    if gap is None:
        return []
    order = np.lexsort((-gap.turns, -gap.places))[:MOST_GAPS]
    return [
        PartGapView(
            part=stands.parts[n],
            places=float(gap.places[n]),
            turns=float(gap.turns[n]),
            frame=int(stands.frames[gap.frames[n]]),
        )
        for n in order
        if gap.places[n] > 1e-9 or gap.turns[n] > 1e-9
    ]


def report_view(report: Report) -> ReportView:
    """A report."""
    return ReportView(**asdict(report))
