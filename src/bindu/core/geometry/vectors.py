"""Vectors and small matrices, many at a time.

Whatever is made here has its last dimensions, of three or four, far apart in memory and the frames
next to each other (``frames_last``): so each component is one long run of numbers, of all members
of a stack together, and NumPy works on it several times as fast. Shapes are not touched by that.
"""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np

from bindu.core.curves.model import Array


def frames_last(shape: Sequence[int], dimensions: int) -> Array:
    """An array to be filled, shape (…, F, 3) or the like, whose frames are next to each other.

    Args:
        shape: the whole shape.
        dimensions: how many of the last dimensions are those of one vector or matrix.
    """
    made = np.empty((*shape[-dimensions:], *shape[:-dimensions]))
    axes = range(len(shape))
    return made.transpose(*axes[dimensions:], *axes[:dimensions])


def _common(*shapes: tuple[int, ...]) -> tuple[int, ...]:
    """The shape that all are brought to; most often they are alike, and small arrays feel it when
    NumPy is asked."""
    first = shapes[0]
    return first if all(one == first for one in shapes) else np.broadcast_shapes(*shapes)


def vectors_of(components: Sequence[Array]) -> Array:
    """Vectors from their components, shape (…, F, N) from N arrays of shape (…, F)."""
    made = frames_last((*_common(*(c.shape for c in components)), len(components)), 1)
    for n, component in enumerate(components):
        made[..., n] = component
    return made


def columns_of(columns: Sequence[Array]) -> Array:
    """Matrices from their columns, shape (…, F, 3, N) from N arrays of shape (…, F, 3)."""
    made = frames_last((*_common(*(c.shape for c in columns)), len(columns)), 2)
    for n, column in enumerate(columns):
        made[..., n] = column
    return made


def matrix_product(first: Array, second: Array) -> Array:
    """Products of matrices, shape (…, F, 3, N) from (…, F, 3, 3) and (…, F, 3, N)."""
    outer = _common(first.shape[:-2], second.shape[:-2])
    made = frames_last((*outer, 3, second.shape[-1]), 2)
    for i in range(3):
        row = made[..., i, :]
        np.multiply(first[..., i, :1], second[..., 0, :], out=row)
        row += first[..., i, 1:2] * second[..., 1, :]
        row += first[..., i, 2:] * second[..., 2, :]
    return made


def transformed(matrices: Array, vectors: Array) -> Array:
    """Vectors multiplied by matrices, shape (…, F, 3) from (…, F, 3, 3) and (…, F, 3)."""
    return vectors_of([dot(matrices[..., i, :], vectors) for i in range(3)])


def cross(first: Array, second: Array) -> Array:
    """Cross products of vectors, shape (…, 3)."""
    a, b, c = first[..., 0], first[..., 1], first[..., 2]
    x, y, z = second[..., 0], second[..., 1], second[..., 2]
    return vectors_of([b * z - c * y, c * x - a * z, a * y - b * x])


def dot(first: Array, second: Array) -> Array:
    """Scalar products, shape (…) from (…, N)."""
    made = first[..., 0] * second[..., 0]
    for n in range(1, first.shape[-1]):
        made = made + first[..., n] * second[..., n]
    return np.asarray(made)


def length(vectors: Array) -> Array:
    """Lengths, shape (…) from (…, N)."""
    return np.asarray(np.sqrt(dot(vectors, vectors)))


def normalized(vectors: Array) -> Array:
    """Vectors of length 1, shape (…, 3); not finite where there is none."""
    with np.errstate(divide="ignore", invalid="ignore"):
        return np.asarray(vectors / length(vectors)[..., None])


def where_finite(values: Array, dimensions: int) -> np.ndarray:
    """Where all numbers of the last dimensions are finite, shape (…)."""
    good = np.isfinite(values)
    if good.all():
        return np.ones(values.shape[:-dimensions], dtype=bool)
    return np.asarray(good.all(axis=tuple(range(-dimensions, 0))))
