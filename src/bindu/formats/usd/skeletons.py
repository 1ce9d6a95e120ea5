"""The joints of a layer's skeletons, moved by the animation that is bound to each.

Source: Pixar, Universal Scene Description, UsdSkel schemas.
"""

from __future__ import annotations

from dataclasses import dataclass
from typing import Any

import numpy as np

from bindu.formats.usd.found import Refused, UsdParts, rows_of


@dataclass(frozen=True)
class Skeleton:
    """A skeleton, and the library's way to ask it."""

    prim: Any
    query: Any

    @property
    def joints(self) -> list[str]:
        """The paths of its joints, parents first."""
        return [str(joint) for joint in self.query.GetJointOrder()]

    def samples(self) -> list[float]:
        """The time codes on which its animation has samples."""
        animation = self.query.GetAnimQuery()
        return list(animation.GetJointTransformTimeSamples()) if animation else []


def skeletons_in(stage: Any) -> list[Skeleton]:
    """All skeletons that can be asked, in the order of the stage."""
    from pxr import Usd, UsdSkel

    cache = UsdSkel.Cache()
    for prim in stage.Traverse():
        if prim.IsA(UsdSkel.Root):
            cache.Populate(UsdSkel.Root(prim), Usd.PrimDefaultPredicate)
    found = []
    for prim in stage.Traverse():
        if prim.IsA(UsdSkel.Skeleton):
            query = cache.GetSkelQuery(UsdSkel.Skeleton(prim))
            if query:
                found.append(Skeleton(prim, query))
    return found


def joint_count(skeletons: list[Skeleton]) -> int:
    """How many joints there are."""
    return sum(len(one.joints) for one in skeletons)


def read_joints(
    found: UsdParts, skeletons: list[Skeleton], place: dict[Any, int], frames: Any
) -> None:
    """Adds the joints, each below its parent or below the skeleton's own transform.

    Raises:
        Refused: where a joint comes before its parent.
    """
    for one in skeletons:
        first, topology = len(found.parts), one.query.GetTopology()
        local, rests = _places(one, frames)
        for n, joint in enumerate(one.joints):
            above = topology.GetParent(n)
            if above >= n:
                raise Refused(f"the joint {joint[:80]!r} comes before its parent.")
            found.parts.append({
                "name": joint.rsplit("/", 1)[-1],
                "parent": first + above if above >= 0 else place[one.prim.GetPath()],
                "role": "joint",
                "order": "",
                "type": "",
                "reset": False,
            })  # fmt: skip
            found.local.append(local[:, n])
            found.rests.append(rests[n])


def _places(one: Skeleton, frames: Any) -> tuple[Any, Any]:
    """Joints as seen from their parents, over frames and at rest, shapes (F, J, 3, 4) and
    (J, 3, 4)."""
    from pxr import Usd

    def at(time: Any, rest: bool) -> Any:
        matrices = one.query.ComputeJointLocalTransforms(time, rest)
        if matrices is None or len(matrices) != len(one.joints):
            raise Refused(f"the skeleton {one.prim.GetName()} has no place for each joint.")
        return np.stack([rows_of(matrix) for matrix in matrices])

    rests = at(Usd.TimeCode.Default(), True)
    if not one.samples():
        moved = at(Usd.TimeCode(float(frames[0])), False)
        return np.broadcast_to(moved, (len(frames), *moved.shape)), rests
    return np.stack([at(Usd.TimeCode(float(frame)), False) for frame in frames]), rests
