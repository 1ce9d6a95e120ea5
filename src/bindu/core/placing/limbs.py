"""How a limb is made from the pose that its chain is in."""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np

from bindu.core.curves.model import Array
from bindu.core.evaluation import evaluated_nodes, row_at
from bindu.core.geometry.angles import nearest_angles
from bindu.core.geometry.chain import bend_side, middle_of
from bindu.core.geometry.places import directions_inside, rotation_of, seen_from, signs_of
from bindu.core.geometry.rotation import inverse, product
from bindu.core.geometry.vectors import cross, length, normalized
from bindu.core.nodes.identity import NodeId, at_tap
from bindu.core.placing.place import vector
from bindu.core.refusal import Refusal
from bindu.core.scene.model import Scene
from bindu.core.scene.settings import Vector

STRAIGHT = 1e-4
"""How little, as a share of its length, the middle is off the line of a chain that is straight."""


def bend_axis(scene: Scene, chain: Sequence[str], pole: str | None, frame: int) -> Vector:
    """The bend axis of a chain, in the middle part's own axes: across the plane in which it is bent
    on a frame, or, where it is straight, so that it bends toward the pole.

    Raises:
        Refusal: where it is straight and there is no pole, or that is on its line.
    """
    places = _places(scene, (*chain, *([pole] if pole else [])), chain[0], frame)
    points = [places[part][..., 3] for part in chain]
    segments = [end - start for start, end in zip(points[:-1], points[1:], strict=True)]
    out = points[-1] - points[0]
    line = normalized(np.where(length(out)[..., None] > 0.0, out, segments[0]))
    side = bend_side(segments, np.zeros((1, 3)))
    if pole is not None and length(side)[0] <= STRAIGHT * _size(segments):
        side = places[pole][..., 3] - points[0]
    axis = cross(side, line)
    if not length(axis)[0] > STRAIGHT * max(float(length(side)[0]), 1e-12):
        raise Refusal(
            "the chain is straight there, so that nothing says how it bends; bend it a little, or "
            "give it a pole beside it, or a bend axis.",
            code="choice",
            place="bend axis",
        )
    middle = places[chain[middle_of(len(chain))]]
    return vector(normalized(directions_inside(middle, axis))[0])


def end_offset(scene: Scene, chain: Sequence[str], goal: str, frame: int) -> Vector:
    """The rotation of a chain's end as seen from its goal on a frame, degrees in the end's rotation
    order; both are seen from what the base hangs on."""
    end = chain[-1]
    places = _places(scene, (end, goal), chain[0], frame)
    scales = _on(scene, (end, goal), "scale", frame)
    one, other = (rotation_of(places[part], signs_of(scales[part])) for part in (end, goal))
    turn = product(inverse(other), one)
    return vector(nearest_angles(turn, scene.parts[end].rotation_order, np.zeros(3))[0])


def world_on(scene: Scene, part: str, frame: int) -> Array:
    """A part's world matrix on a frame, shape (1, 3, 4)."""
    return worlds_on(scene, [part], frame)[part]


def worlds_on(scene: Scene, parts: Sequence[str], frame: int) -> dict[str, Array]:
    """The world matrices of parts on a frame, each of shape (1, 3, 4)."""
    return _on(scene, parts, "world matrix", frame)


def _on(scene: Scene, parts: Sequence[str], quantity: str, frame: int) -> dict[str, Array]:
    """What parts are at last on a frame, each of one row; evaluated once for all of them."""
    nodes = {part: NodeId(part, quantity, at_tap("final")) for part in parts}
    evaluation = evaluated_nodes(scene, list(nodes.values()))
    place = evaluation.index(frame)
    return {part: row_at(evaluation.result(node).values, place) for part, node in nodes.items()}


def _places(scene: Scene, parts: Sequence[str], base: str, frame: int) -> dict[str, Array]:
    """Where parts are, seen from what a chain's base hangs on."""
    above = scene.parts[base].parent
    if above is None:
        return worlds_on(scene, parts, frame)
    worlds = worlds_on(scene, [*parts, above], frame)
    return {part: seen_from(worlds[above], worlds[part]) for part in parts}


def _size(segments: Sequence[Array]) -> float:
    return float(sum(length(one)[0] for one in segments))
