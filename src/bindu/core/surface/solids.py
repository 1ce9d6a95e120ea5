"""Cages in the form of simple solids."""

from __future__ import annotations

from typing import Literal

import numpy as np

from bindu.core.curves.model import Array
from bindu.core.scene.settings import Vector
from bindu.core.scene.surfaces import Face

Solid = Literal["box", "tube", "ball", "sheet"]


def solid_cage(
    solid: Solid, size: Vector, middle: Vector, divisions: Vector
) -> tuple[tuple[Vector, ...], tuple[Face, ...]]:
    """A cage of quads, but for the two ends of a tube, which are one face each.

    Args:
        solid: a box; a tube along x, round about it; a ball; a sheet in x and z, without thickness.
        size: along x, y, z, metres.
        middle: of the cage, metres.
        divisions: whole numbers of faces along x, y, z; of a tube y is how many sides it has.

    Returns:
        Points and faces.
    """
    along, up, across = (int(n) for n in divisions)
    if solid == "sheet":
        points, faces = _sheet(along, across)
    elif solid == "tube":
        points, faces = _tube(along, max(up, 3))
    else:
        points, faces = _box(along, up, across)
        if solid == "ball":
            points = _on_a_ball(points)
    placed = points * np.array(size) + np.array(middle)
    return tuple((x, y, z) for x, y, z in np.round(placed, 12).tolist()), faces


def _sheet(along: int, across: int) -> tuple[Array, tuple[Face, ...]]:
    x, z = np.meshgrid(np.linspace(-0.5, 0.5, along + 1), np.linspace(-0.5, 0.5, across + 1))
    points = np.stack([x.ravel(), np.zeros(x.size), z.ravel()], axis=1)
    wide = along + 1
    faces = tuple(
        (n, n + wide, n + wide + 1, n + 1)
        for row in range(across)
        for n in range(row * wide, row * wide + along)
    )
    return points, faces


def _tube(along: int, sides: int) -> tuple[Array, tuple[Face, ...]]:
    angle = 2.0 * np.pi * np.arange(sides) / sides
    ring = np.stack([np.cos(angle), np.sin(angle)], axis=1) * 0.5
    points = np.concatenate(
        [np.column_stack([np.full(sides, x), ring]) for x in np.linspace(-0.5, 0.5, along + 1)]
    )
    faces: list[Face] = [tuple(reversed(range(sides)))]
    for row in range(along):
        for n in range(sides):
            a, b = row * sides + n, row * sides + (n + 1) % sides
            faces.append((a, b, b + sides, a + sides))
    faces.append(tuple(along * sides + n for n in range(sides)))
    return points, tuple(faces)


def _box(*divisions: int) -> tuple[Array, tuple[Face, ...]]:
    """The rim of a lattice of blocks, each of whose faces that looks out is one face."""
    shape = tuple(n + 1 for n in divisions)
    numbers = np.arange(int(np.prod(shape))).reshape(shape)
    faces: list[list[int]] = []
    for axis in range(3):
        for end in (0, divisions[axis]):
            plane = np.take(numbers, end, axis=axis)
            quads = np.stack(
                [plane[:-1, :-1], plane[1:, :-1], plane[1:, 1:], plane[:-1, 1:]], axis=-1
            ).reshape(-1, 4)
            # Seen from outside they go against the clock; y lies the other way round than x and z.
            outward = (end > 0) != (axis == 1)
            faces.extend((quads if outward else quads[:, ::-1]).tolist())
    used = sorted({p for face in faces for p in face})
    place = {p: n for n, p in enumerate(used)}
    axes = [np.linspace(-0.5, 0.5, n + 1) for n in divisions]
    lattice = np.stack(np.meshgrid(*axes, indexing="ij"), axis=-1).reshape(-1, 3)
    return lattice[used], tuple(tuple(place[p] for p in face) for face in faces)


def _on_a_ball(points: Array) -> Array:
    """Points on the rim of a cube put on the ball within it, spread more evenly than by their
    directions alone.

    Source: P. Nowell, Mapping a cube to a sphere (2005).
    """
    square = (2.0 * points) ** 2
    made = np.empty_like(points)
    for n in range(3):
        a, b = square[:, (n + 1) % 3], square[:, (n + 2) % 3]
        made[:, n] = points[:, n] * np.sqrt(1.0 - a / 2.0 - b / 2.0 + a * b / 3.0)
    return made
