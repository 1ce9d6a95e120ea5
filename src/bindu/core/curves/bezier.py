"""Cubic Bézier segments that are functions of time."""

from __future__ import annotations

import numpy as np

from bindu.core.curves.model import Array

NEWTON_STEPS = 8
BISECTIONS = 60
TOLERANCE = 1e-14
LONGEST_SHARE = 4.0 / 3.0  # no monotonic segment has a longer handle


def limited(right: Array, left: Array, span: Array) -> tuple[Array, Array]:
    """The two handles of each segment, shortened so that it stays a function of time.

    With u and w the handles' reach as shares of the span, the derivative of time has the
    Bernstein coefficients u, 1 - u - w, w. A quadratic is nowhere negative on [0, 1] exactly
    when its outer coefficients are not and the middle one is at least minus the root of their
    product, so the segment is monotonic in time where u + w - sqrt(u·w) <= 1. Handles beyond
    that keep their direction and are shortened together until it holds; a part of a monotonic
    segment is never shortened, so dividing one keeps its shape.

    Args:
        right, left: handles, shape (S, 2): frames (not negative) and value.
        span: length of the segments in frames, shape (S,).
    """
    right, left = (_no_longer_than(handle, LONGEST_SHARE * span) for handle in (right, left))
    u, w = right[:, 0] / span, left[:, 0] / span
    excess = u + w - np.sqrt(u * w)
    factor = np.divide(1.0, excess, out=np.ones_like(excess), where=excess > 1.0)[:, None]
    return right * factor, left * factor


def _no_longer_than(handle: Array, reach: Array) -> Array:
    frames = handle[:, 0]
    factor = np.divide(reach, frames, out=np.ones_like(reach), where=frames > reach)
    return np.asarray(handle * factor[:, None])


def solve_time(share: Array, first: Array, second: Array) -> Array:
    """The parameter at which a monotonic cubic from 0 to 1 reaches a given share of its span.

    Solves ``3(1-s)²s·first + 3(1-s)s²·second + s³ = share`` by Newton's method, and by
    bisection wherever that has not converged (near a vertical tangent).

    Args:
        share: how far along the span each wanted time is, 0 to 1, shape (N,).
        first, second: the inner control points' times as shares of the span, (N,).

    Returns:
        The parameters, 0 to 1, shape (N,).
    """
    c, b, a = _powers(first, second)
    s = share.copy()
    error = ((a * s + b) * s + c) * s - share
    # Each one goes its own way until it is there, whatever the others still need.
    far = np.abs(error) > TOLERANCE
    if not far.any():
        return s
    a, b, c, wanted, error, found = a[far], b[far], c[far], share[far], error[far], s[far]
    for _ in range(NEWTON_STEPS):
        slope = (3.0 * a * found + 2.0 * b) * found + c
        step = np.divide(error, slope, out=np.zeros_like(error), where=slope > 1e-9)
        found = np.where(np.abs(error) > TOLERANCE, np.clip(found - step, 0.0, 1.0), found)
        error = ((a * found + b) * found + c) * found - wanted
    stubborn = np.abs(error) > TOLERANCE
    if np.any(stubborn):
        found[stubborn] = _bisect(wanted[stubborn], a[stubborn], b[stubborn], c[stubborn])
    s[far] = found
    return s


def at_an_even_pace(first: Array, second: Array) -> bool:
    """Whether time goes so evenly along all these segments that ``solve_time`` gives the shares
    themselves: the handles reach a third of the way, as smart tangents do."""
    c, b, a = _powers(first, second)
    return bool(np.all(np.abs(c - 1.0) + np.abs(b) + np.abs(a) <= TOLERANCE / 2.0))


def _powers(first: Array, second: Array) -> tuple[Array, Array, Array]:
    """The factors of s, s² and s³ in the time of a segment as a share of its span."""
    return 3.0 * first, 3.0 * second - 6.0 * first, 1.0 + 3.0 * first - 3.0 * second


def _bisect(share: Array, a: Array, b: Array, c: Array) -> Array:
    low, high = np.zeros_like(share), np.ones_like(share)
    for _ in range(BISECTIONS):
        middle = 0.5 * (low + high)
        below = ((a * middle + b) * middle + c) * middle < share
        low = np.where(below, middle, low)
        high = np.where(below, high, middle)
    return 0.5 * (low + high)


def cubic(s: Array, p0: Array, p1: Array, p2: Array, p3: Array) -> Array:
    """The Bernstein form of a cubic at parameter ``s``; all of shape (N,)."""
    r = 1.0 - s
    return r * r * (r * p0 + 3.0 * s * p1) + s * s * (3.0 * r * p2 + s * p3)
