"""Turns that bring one direction onto another."""

from __future__ import annotations

import numpy as np

from bindu.core.curves.model import Array
from bindu.core.geometry.rotation import matrices_of
from bindu.core.geometry.vectors import (
    cross,
    dot,
    length,
    normalized,
    transformed,
    vectors_of,
    where_finite,
)

OPPOSITE = 1e-9
"""How near to opposite, as a chord, two directions have no shortest turn between them."""


def turned(turns: Array, vectors: Array) -> Array:
    """Vectors turned by quaternions, shape (…, 3) from (…, 4) and (…, 3)."""
    return transformed(matrices_of(turns), vectors)


def shortest_turn(start: Array, end: Array, about: Array) -> Array:
    """The smallest turn that brings one direction onto another.

    Args:
        start, end: vectors of any length but 0, shape (…, 3); where one has none, nothing turns.
        about: where they are opposite, the axis to turn about, as far as it is across ``start``.

    Returns:
        Quaternions, shape (…, 4).
    """
    one, other = normalized(start), normalized(end)
    good = (where_finite(one, 1) & where_finite(other, 1))[..., None]
    one = np.where(good, one, (1.0, 0.0, 0.0))
    other = np.where(good, other, (1.0, 0.0, 0.0))
    # Half the chords are sine and cosine of half the angle, exact at any angle.
    sine, cosine = length(other - one) / 2.0, length(other + one) / 2.0
    normal = cross(one, other)
    opposite = cosine < OPPOSITE
    if np.any(opposite):
        normal = np.where(opposite[..., None], across(about, one), normal)
    size = length(normal)
    safe = np.where(size > 0.0, size, 1.0)
    axis = normal * (sine / safe)[..., None]
    return vectors_of([axis[..., 0], axis[..., 1], axis[..., 2], cosine])


def across(vectors: Array, line: Array) -> Array:
    """What of vectors is across a line; where nothing is, a direction across it that is always the
    same.

    Args:
        vectors: shape (…, 3).
        line: directions of length 1, shape (…, 3).
    """
    part = vectors - dot(vectors, line)[..., None] * line
    lost = length(part) <= 1e-9 * np.maximum(length(vectors), 1e-300)
    if not np.any(lost):
        return np.asarray(part)
    # Of the axes the one that the line is least along.
    least = np.argmin(np.abs(line), axis=-1)
    axis = np.eye(3)[least]
    return np.where(lost[..., None], cross(line, axis), part)


def turn_about(line: Array, radians: Array) -> Array:
    """Turns about directions of length 1, quaternions of shape (…, 4)."""
    half = radians / 2.0
    axis = line * np.sin(half)[..., None]
    return vectors_of([axis[..., 0], axis[..., 1], axis[..., 2], np.cos(half)])


def angle_about(line: Array, start: Array, end: Array) -> Array:
    """By which angle about a line the half plane of one vector comes onto that of another, radians
    in (-π, π], shape (…); 0 where a vector is along the line.

    Args:
        line: directions of length 1, shape (…, 3).
        start, end: vectors from a point of the line, shape (…, 3).
    """
    one = start - dot(start, line)[..., None] * line
    other = end - dot(end, line)[..., None] * line
    return np.arctan2(dot(line, cross(one, other)), dot(one, other))
