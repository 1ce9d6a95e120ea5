"""Dividing faces in four.

Source: E. Catmull and J. Clark, Recursively generated B-spline surfaces on arbitrary topological
meshes, Computer-Aided Design 10 (1978). At a rim: an edge's point is its middle, and a point on the
rim goes by the cubic B-spline along the rim.
"""

from __future__ import annotations

from functools import lru_cache

import numpy as np
import numpy.typing as npt
from scipy.sparse import csr_array, vstack

from bindu.core.curves.model import Array
from bindu.core.scene.surfaces import Face
from bindu.core.surface.mesh import Mesh, Sparse, Whole, mesh_of, sparse


@lru_cache(maxsize=64)
def divided(mesh: Mesh) -> tuple[Mesh, Sparse, Sparse]:
    """A mesh with every face in four, P points to Q: first those that it had, then one on each
    edge, then one in each face.

    Returns:
        The new mesh; the shares of the old points that make the new ones round, shape (Q, P); and
        those that leave the surface as it is: middles of faces and edges.
    """
    face, point, ahead = mesh.corners
    edges, of_corner = mesh.edges
    points, middles, centres = mesh.count, len(edges), len(mesh.faces)
    in_face = sparse(1.0 / np.bincount(face)[face], face, point, (centres, points))
    on_edge = sparse(
        np.full(2 * middles, 0.5),
        np.repeat(np.arange(middles), 2),
        edges.reshape(-1),
        (middles, points),
    )
    faces_on = np.bincount(of_corner, minlength=middles)
    beside = sparse(np.ones(len(face)), of_corner, face, (middles, centres))
    inner = faces_on == 2
    half = sparse(np.where(inner, 0.5, 1.0), np.arange(middles), np.arange(middles), (middles,) * 2)
    quarter = sparse(
        np.where(inner, 0.25, 0.0), np.arange(middles), np.arange(middles), (middles,) * 2
    )
    round_edges = csr_array(half @ on_edge + quarter @ beside @ in_face)
    kept = sparse(np.ones(points), np.arange(points), np.arange(points), (points, points))
    round_points = _rounded(mesh, in_face, on_edge, inner)
    smooth = _stacked(round_points, round_edges, in_face)
    flat = _stacked(kept, on_edge, in_face)
    return mesh_of(points + middles + centres, _quads(mesh, of_corner)), smooth, flat


def _rounded(mesh: Mesh, in_face: Sparse, on_edge: Sparse, inner: npt.NDArray[np.bool_]) -> Sparse:
    """The shares that make the points that were there, shape (P, P)."""
    face, point, _ = mesh.corners
    edges, _ = mesh.edges
    count, every = mesh.count, np.arange(mesh.count)
    valence = np.bincount(edges.reshape(-1), minlength=count).astype(np.float64)
    at_rim = np.bincount(edges[~inner].reshape(-1), minlength=count)

    def scaled(values: Array) -> Sparse:
        return sparse(values, every, every, (count, count))

    free = at_rim == 0
    around = np.bincount(point, minlength=count)
    faces_at = sparse(1.0 / around[point], point, face, (count, len(mesh.faces)))
    ends, numbers = edges.reshape(-1), np.repeat(np.arange(len(edges)), 2)
    edges_at = sparse(1.0 / valence[ends], ends, numbers, (count, len(edges)))
    with np.errstate(divide="ignore"):
        share = np.where(free, 1.0 / valence, 0.0)
    inside = scaled(share) @ faces_at @ in_face + scaled(2.0 * share) @ edges_at @ on_edge
    # Where two rims meet in a point it stays where it is.
    on_rim = at_rim == 2
    own = np.where(free, 1.0 - 3.0 * share, np.where(on_rim, 0.75, 1.0))
    rim = edges[~inner]
    both = np.concatenate([rim, rim[:, ::-1]])
    both = both[on_rim[both[:, 0]]]
    along = sparse(np.full(len(both), 0.125), both[:, 0], both[:, 1], (count, count))
    return csr_array(inside + scaled(own) + along)


def _quads(mesh: Mesh, of_corner: Whole) -> tuple[Face, ...]:
    """The new faces: for each corner the point, the middle ahead, the centre, the one behind."""
    face, point, _ = mesh.corners
    behind = np.arange(len(face)) - 1
    firsts = np.flatnonzero(np.diff(face, prepend=-1))
    lasts = np.append(firsts[1:], len(face)) - 1
    behind[firsts] = lasts
    middles, centres = mesh.count + of_corner, mesh.count + len(mesh.edges[0]) + face
    quads = np.stack([point, middles, centres, middles[behind]], axis=1)
    return tuple((a, b, c, d) for a, b, c, d in quads.tolist())


def _stacked(*rows: Sparse) -> Sparse:
    return csr_array(vstack(rows, format="csr"))
