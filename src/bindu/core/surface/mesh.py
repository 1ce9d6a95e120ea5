"""Points and faces: what a cage must be, how its parts hang together, and which way it faces."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from functools import cached_property, lru_cache
from typing import Any

import numpy as np
import numpy.typing as npt
from scipy.sparse import coo_array, csr_array

from bindu.core.curves.model import Array
from bindu.core.refusal import Refusal
from bindu.core.scene.settings import Vector
from bindu.core.scene.surfaces import Face

MOST_POINTS = 2_000
MOST_FACES = 4_000
MOST_CORNERS = 16
Whole = npt.NDArray[np.int64]
Sparse = csr_array
"""Shares of points, one row for each that is made."""


@dataclass(frozen=True)
class Mesh:
    """How points hang together; places come from elsewhere.

    Attributes:
        count: how many points there are, P.
        faces: the numbers of their corners.
    """

    count: int
    faces: tuple[Face, ...]

    @cached_property
    def corners(self) -> tuple[Whole, Whole, Whole]:
        """Face, point and next point of each corner, shape (C,) each, face by face."""
        sizes = np.array([len(face) for face in self.faces], dtype=np.int64)
        point = np.fromiter((p for face in self.faces for p in face), dtype=np.int64)
        ahead = np.fromiter(
            (p for face in self.faces for p in (*face[1:], face[0])), dtype=np.int64
        )
        return np.repeat(np.arange(len(sizes)), sizes), point, ahead

    @cached_property
    def edges(self) -> tuple[Whole, Whole]:
        """The two points of each edge, lower first, shape (E, 2); and the edge that leaves each
        corner towards the next one, shape (C,)."""
        _, point, ahead = self.corners
        pairs = np.sort(np.stack([point, ahead], axis=1), axis=1)
        edges, of_corner = np.unique(pairs, axis=0, return_inverse=True)
        return edges, of_corner.reshape(-1)

    @cached_property
    def neighbours(self) -> Sparse:
        """1 where two points share an edge, shape (P, P)."""
        edges, _ = self.edges
        rows = np.concatenate([edges[:, 0], edges[:, 1]])
        columns = np.concatenate([edges[:, 1], edges[:, 0]])
        return sparse(np.ones(len(rows)), rows, columns, (self.count, self.count))

    @cached_property
    def _around(self) -> Sparse:
        """For each point the corners of all faces around it, shape (P, C)."""
        face, point, _ = self.corners
        members = sparse(np.ones(len(face)), point, face, (self.count, len(self.faces)))
        whole = sparse(np.ones(len(face)), face, np.arange(len(face)), (len(self.faces), len(face)))
        return csr_array(members @ whole)

    @cached_property
    def triangles(self) -> Whole:
        """Faces as fans of triangles, shape (T, 3)."""
        fans = [(f[0], f[n], f[n + 1]) for f in self.faces for n in range(1, len(f) - 1)]
        return np.array(fans, dtype=np.int64)

    def normals(self, points: Array) -> Array:
        """Which way the surface faces at each point: the sum of the areas of the faces around it,
        made to length 1; zero where these cancel.

        Args:
            points: shape (F, P, 3).

        Returns:
            Shape (F, P, 3).

        Source: Newell's method for the area of a polygon that is not flat.
        """
        _, point, ahead = self.corners
        areas = np.cross(points[:, point], points[:, ahead])
        summed = mixed(self._around, areas)
        length = np.linalg.norm(summed, axis=2, keepdims=True)
        with np.errstate(invalid="ignore", divide="ignore"):
            return np.asarray(np.where(length > 1e-300, summed / length, 0.0))


@lru_cache(maxsize=64)
def mesh_of(count: int, faces: tuple[Face, ...]) -> Mesh:
    """The mesh of these faces; what it knows of itself is kept for the next frame."""
    return Mesh(count, faces)


def sparse(values: Array, rows: Any, columns: Any, shape: tuple[int, int]) -> Sparse:
    """A sparse matrix from its entries; those of one place are added."""
    return csr_array(coo_array((values, (rows, columns)), shape=shape))


def mixed(shares: Sparse, points: Array) -> Array:
    """Points made of shares of others: shape (F, P, 3) to (F, Q, 3), with shares (Q, P)."""
    frames, count, width = points.shape
    flat = points.transpose(1, 0, 2).reshape(count, frames * width)
    made = np.asarray(shares @ flat)
    return made.reshape(-1, frames, width).transpose(1, 0, 2)


def checked_cage(
    points: Sequence[Vector], faces: Sequence[Sequence[int]]
) -> tuple[tuple[Vector, ...], tuple[Face, ...]]:
    """A cage as it may be: every edge between at most two faces, which pass it in opposite
    directions; no point on its own. It may have holes, and lie in several pieces.

    Raises:
        Refusal: that names the point, face or edge at fault.
    """
    if not points:
        raise Refusal("a cage has at least three points.", code="number", place="points")
    for what, count, most in (("points", points, MOST_POINTS), ("faces", faces, MOST_FACES)):
        if len(count) > most:
            text = f"a cage has at most {most:,} {what}, not {len(count):,}."
            raise Refusal(text, code="too much", place=what)
    flat = np.array(points, dtype=np.float64)
    if not np.all(np.isfinite(flat)) or np.any(np.abs(flat) > 1e6):
        worst = int(np.argmax(~np.all(np.abs(flat) <= 1e6, axis=1)))
        text = "its numbers must be within ±1,000,000 m."
        raise Refusal(text, code="number", place=f"point {worst}")
    made = tuple(_checked_face(face, n, len(points)) for n, face in enumerate(faces))
    _check_edges(made)
    lone = set(range(len(points))).difference(*made)
    if lone:
        text = "it belongs to no face; leave it out, or make a face with it."
        raise Refusal(text, code="choice", place=f"point {min(lone)}")
    return tuple((float(x), float(y), float(z)) for x, y, z in points), made


def _checked_face(face: Sequence[int], n: int, count: int) -> Face:
    place = f"face {n}"
    if not 3 <= len(face) <= MOST_CORNERS:
        text = f"a face has 3 to {MOST_CORNERS} corners, not {len(face)}."
        raise Refusal(text, code="number", place=place)
    for point in face:
        if not 0 <= point < count:
            text = f"there is no point {point}: they count from 0 to {count - 1}."
            raise Refusal(text, code="number", place=place)
    if len(set(face)) < len(face):
        raise Refusal("one point is two corners of it.", code="choice", place=place)
    return tuple(int(point) for point in face)


def _check_edges(faces: Sequence[Face]) -> None:
    """Refuses edges of three faces, and faces that are turned against each other."""
    passed: dict[tuple[int, int], int] = {}
    around: dict[frozenset[int], int] = {}
    for n, face in enumerate(faces):
        for a, b in zip(face, (*face[1:], face[0]), strict=True):
            edge = frozenset((a, b))
            around[edge] = around.get(edge, 0) + 1
            if around[edge] > 2:
                text = "it belongs to three faces or more; take one of them off, "
                text += "or give it points of its own."
                raise Refusal(text, code="choice", place=f"edge {min(edge)} – {max(edge)}")
            if (a, b) in passed:
                text = f"it is turned against face {passed[a, b]}: both pass the edge {a} – {b} "
                text += "in one direction. Name the corners of one of them the other way round."
                raise Refusal(text, code="choice", place=f"face {n}")
            passed[a, b] = n
