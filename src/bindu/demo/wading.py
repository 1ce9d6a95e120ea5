"""The heron's legs by IK: goals that stand on the ground, feet that roll, and FK where it steps."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import replace

from bindu.core.curves.model import Key
from bindu.core.edits import AnyEdit, applied
from bindu.core.edits.checks import AcceptFinding
from bindu.core.edits.feet import AddFootPoints, MakeFoot
from bindu.core.edits.keys import PutKeys
from bindu.core.edits.make_limb import MakeLimb
from bindu.core.edits.matching import MatchLimbs, SwitchLimbs
from bindu.core.edits.sets import PutSet
from bindu.core.scene.channels import ChannelRef, step_channel
from bindu.core.scene.model import Scene

JOINTS = ("hip", "knee", "ankle", "toes")
STEP, LANDED = 40, 72
"""When the left foot leaves the ground, and when it stands again."""


def with_wading_legs(scene: Scene) -> Scene:
    """The heron with a limb for each leg: the keys of its joints are the FK side, which the left
    leg shows while it steps; goals and poles are keyed where the keyed poses have the feet."""
    ids = scene.part_ids
    chain = tuple(ids[f"left {joint}"] for joint in JOINTS)
    scene = applied(scene, [MakeLimb("left leg", ids["body"], chain, 0, mirror=True)])
    for one in tuple(scene.sets.values()):
        if one.name.endswith("leg 2"):
            name = one.name.replace("leg 2", "leg IK")
            scene = applied(scene, [PutSet(name, one.colour, one.parts, one.channels, one.id)])
    limbs = tuple(scene.limbs)
    for limb in limbs:
        scene = applied(scene, [AddFootPoints(limb, 0, 0.2, 0.02), MakeFoot(limb, 0)])
    scene = applied(scene, [MatchLimbs(limbs, "ik", scene.first, scene.last, on="keys")])
    scene = applied(scene, list(_on_the_ground(scene)))
    left = next(limb for limb in scene.limbs.values() if limb.name == "left leg")
    scene = applied(scene, [SwitchLimbs((left.id,), "fk", STEP)])
    scene = applied(scene, [SwitchLimbs((left.id,), "ik", LANDED)])
    goal = scene.part_ids["right leg goal"]
    roll = next(one.id for one in scene.channels_of[goal] if one.name == "roll")
    heel = (Key(48.0, 0.0), Key(60.0, 22.0), Key(72.0, 0.0))
    right = next(limb for limb in scene.limbs.values() if limb.name == "right leg")
    why = "its joints keep the blocking that its goal was matched to"
    cause = f"{step_channel(right.id, 'blend')} - {right.id}"
    kept = AcceptFinding("unkeyed switch", right.part, right.name, why, 1.0, cause=cause)
    return applied(scene, [PutKeys(goal, roll, heel), kept])


def _on_the_ground(scene: Scene) -> Iterator[AnyEdit]:
    """The goals stand on the ground where the keyed poses nearly do; while a foot steps its height
    stays."""
    for side, steps in (("left", (STEP, LANDED)), ("right", (LANDED, LANDED))):
        ref = ChannelRef(scene.part_ids[f"{side} leg goal"], "translation.y")
        keys = scene.curves[ref].keys
        down = tuple(replace(k, value=0.0) for k in keys if not steps[0] <= k.frame <= steps[1])
        yield PutKeys(*ref, down)
