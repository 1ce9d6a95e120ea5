"""What the steps of a surface must be."""

from __future__ import annotations

import math

from bindu.core.refusal import Refusal
from bindu.core.scene.model import Scene
from bindu.core.scene.surfaces import (
    AnyDeform,
    BendByJoints,
    BlendShapes,
    Displace,
    Subdivide,
    Surface,
)


def check_deform(scene: Scene, surface: Surface, step: AnyDeform) -> None:
    """Refuses a step that cannot be as it is.

    Raises:
        Refusal: that names the step, and the point, joint or field at fault.
    """
    if isinstance(step, BlendShapes):
        _check_shapes(surface, step)
    elif isinstance(step, BendByJoints):
        _check_joints(scene, surface, step)
    elif isinstance(step, Displace):
        if not all(math.isfinite(one) for one in step.axis) or not any(step.axis):
            raise Refusal("its axis has no direction.", code="number", place=step.name)
        if not 0 <= step.seed < 2**31:
            text = "a seed is a whole number from 0 to 2147483647."
            raise Refusal(text, code="number", place=step.name)
    elif isinstance(step, Subdivide) and step.rounds not in (1, 2):
        raise Refusal("it is subdivided once or twice.", code="number", place=step.name)


def _check_shapes(surface: Surface, step: BlendShapes) -> None:
    if len({one.id for one in step.shapes}) < len(step.shapes):
        raise Refusal("an identity stands for two shapes.", code="taken", place=step.name)
    for shape in step.shapes:
        place = f"{step.name}.{shape.name}"
        for point, offset in shape.offsets:
            _check_point(surface, point, place)
            if not all(math.isfinite(one) and abs(one) <= 1e6 for one in offset):
                text = f"the offset of point {point} must be within ±1,000,000 m."
                raise Refusal(text, code="number", place=place)


def _check_joints(scene: Scene, surface: Surface, step: BendByJoints) -> None:
    if len({one.joint for one in step.joints}) < len(step.joints):
        raise Refusal("a part is two joints of it.", code="choice", place=step.name)
    for joint in step.joints:
        if joint.joint not in scene.parts:
            text = f"there is no part with the identity {joint.joint!r} any more."
            raise Refusal(text, code="gone", place=step.name)
        place = f"{step.name}.{scene.parts[joint.joint].name}"
        if len({point for point, _ in joint.weights}) < len(joint.weights):
            raise Refusal("a point has two weights of it.", code="choice", place=place)
        for point, weight in joint.weights:
            _check_point(surface, point, place)
            if not 0.0 <= weight <= 1e6:
                text = f"the weight of point {point} must be a number from 0 up."
                raise Refusal(text, code="number", place=place)


def _check_point(surface: Surface, point: int, place: str) -> None:
    if not 0 <= point < len(surface.points):
        text = f"there is no point {point}: they count from 0 to {len(surface.points) - 1}."
        raise Refusal(text, code="number", place=place)
