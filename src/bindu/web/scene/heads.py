"""Surfaces in a scene's header: what they are, without their many numbers."""

from __future__ import annotations

from bindu.core.scene.surfaces import (
    AnyDeform,
    BendByJoints,
    BlendShapes,
    Displace,
    Subdivide,
    Surface,
)
from bindu.web.scene.schemas import DeformHead, SurfaceHead


def surface_head(surface: Surface) -> SurfaceHead:
    """A surface without its points."""
    return SurfaceHead(
        id=surface.id,
        name=surface.name,
        part=surface.part,
        colour=surface.colour,
        points=len(surface.points),
        faces=len(surface.faces),
        steps=[_deform(step) for step in surface.steps],
    )


def _deform(step: AnyDeform) -> DeformHead:
    head = DeformHead(id=step.id, kind=step.kind, name=step.name, on=step.on, shapes=[], joints=[])
    if isinstance(step, BlendShapes):
        head.shapes = [(one.id, one.name, len(one.offsets)) for one in step.shapes]
    elif isinstance(step, BendByJoints):
        head.joints = [one.joint for one in step.joints]
    elif isinstance(step, Displace):
        head.form, head.axis, head.seed = step.form, step.axis, step.seed
    elif isinstance(step, Subdivide):
        head.rounds = step.rounds
    return head
