"""Stops sheets and slip probes in the form that the browser takes."""

from __future__ import annotations

import numpy as np

from bindu.core.curves.model import Array
from bindu.core.drivers.sheets import Sheet
from bindu.core.drivers.slip import Fit, Slip
from bindu.core.nodes.operation import Times
from bindu.web.drivers.schemas import FitView, RowSheetView, SheetFindingView, SheetView, SlipView


def slip_view(slip: Slip, times: Times, span: tuple[int, int], fit: Fit | None) -> SlipView:
    """A probe's slip for the browser; sum and worst are over the span of frames."""
    first, last = (min(max(f - times.first, 0), len(times.frames) - 1) for f in span)
    amounts = slip.amounts
    inside = amounts[first + 1 : last + 1] if last > first else amounts[:1]
    worst = int(inside.argmax()) if len(inside) else 0
    fitted = None
    if fit is not None:
        fitted = FitView(
            factor=fit.factor,
            text=fit.text,
            place=fit.place,
            value=fit.value,
            alike=fit.alike,
            exact=fit.exact,
            before=fit.before,
            after=fit.after,
            reasons=list(fit.reasons),
        )
    return SlipView(
        first=times.first,
        amounts=amounts.tolist(),
        points=slip.points.ravel().tolist(),
        vectors=slip.vectors.ravel().tolist(),
        sum=float(inside.sum()),
        worst=float(inside[worst]),
        worst_frame=times.first + first + 1 + worst,
        fit=fitted,
    )


def sheet_view(sheet: Sheet) -> SheetView:
    """A sheet of driven keys for the browser."""

    def numbers(values: Array) -> list[float | None]:
        return [float(v) if np.isfinite(v) else None for v in values]

    return SheetView(
        driven=sheet.driven.id,
        inputs=sheet.inputs.tolist(),
        driver=numbers(sheet.driver),
        at=sheet.at,
        rows=[
            RowSheetView(row=row.row.id, values=numbers(row.values), now=row.now)
            for row in sheet.rows
        ],
        findings=[SheetFindingView(row=f.row, text=f.text) for f in sheet.findings],
    )
