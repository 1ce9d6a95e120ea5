"""The heron walks: along a bent shore by rule; it slows, stands, and goes on."""

from __future__ import annotations

from collections.abc import Iterator

import numpy as np

from bindu.core.curves.model import Key
from bindu.core.edits import AnyEdit, applied
from bindu.core.edits.channels import SetValue
from bindu.core.edits.feet import AddFootPoints, MakeFoot
from bindu.core.edits.keys import PutKeys
from bindu.core.edits.make_gait import MakeGait
from bindu.core.edits.make_limb import MakeLimb
from bindu.core.edits.probes import PutProbe
from bindu.core.scene.channels import step_channel
from bindu.core.scene.model import Scene
from bindu.demo.heron import heron_rig
from bindu.demo.pinned import pinned

JOINTS = ("knee", "ankle", "toes")
"""The thigh is held; below it a limb reaches for the ground."""
LAST = 240
PACE = (
    (6, 0.0),
    (30, 0.024),
    (84, 0.024),
    (108, 0.0),
    (144, 0.0),
    (168, 0.03),
    (210, 0.03),
    (234, 0.0),
)
"""Frames, and metres a frame; straight from one to the next."""
STYLE = {"step length": 0.32, "lift": 0.11, "width": 0.16, "toe roll": 35.0, "hip turn": 4.0}
BEND = 0.16
"""Radians of the shore's bend a metre."""


def the_heron_walks() -> Scene:
    """Its root is keyed along the shore every sixth frame; all the rest is a gait."""
    scene = heron_rig("The heron walks", LAST)
    ids = scene.part_ids
    chain = tuple(ids[f"left {joint}"] for joint in JOINTS)
    scene = applied(scene, [MakeLimb("left leg", ids["body"], chain, 0, mirror=True)])
    for limb in tuple(scene.limbs):
        scene = applied(scene, [AddFootPoints(limb, 0, 0.2, 0.02), MakeFoot(limb, 0)])
    ids = scene.part_ids
    feet = ((ids["left leg goal"], 0.0), (ids["right leg goal"], 0.5))
    root = ids["heron"]
    scene = applied(scene, [MakeGait("walk", root, feet, hips=ids["body"])])
    (gait,) = scene.gaits
    style = [SetValue(root, step_channel(gait, key), value) for key, value in STYLE.items()]
    low = SetValue(ids["body"], "translation.y", -0.06)
    beats = pinned("metronome", "metronome.wav", 30.0)
    return applied(scene, [low, *style, *_way(root), *_around(scene), beats])


def _way(root: str) -> Iterator[AnyEdit]:
    """Keys of the root along a circle, at its pace."""
    frames = np.arange(0.0, LAST + 1.0)
    at, paces = zip(*PACE, strict=True)
    speed = np.interp(frames, np.array(at), np.array(paces))
    angle = BEND * np.concatenate([[0.0], np.cumsum((speed[1:] + speed[:-1]) / 2.0)])
    along = np.sin(angle) / BEND - 1.4
    aside = (1.0 - np.cos(angle)) / BEND
    keyed = range(0, LAST + 1, 6)
    for channel, values in (
        ("translation.z", along),
        ("translation.x", aside),
        ("rotation.y", np.degrees(angle)),
    ):
        keys = tuple(Key(float(f), round(float(values[f]), 4)) for f in keyed)
        yield PutKeys(root, channel, keys)


def _around(scene: Scene) -> Iterator[AnyEdit]:
    """Poles that go along with the body, and a probe under each foot."""
    for limb in scene.limbs.values():
        assert limb.pole is not None
        space = next(step for step in scene.steps_of[limb.pole] if step.settings.kind == "space")
        yield SetValue(limb.pole, f"{space.id}.space", 1.0)
    for side in ("left", "right"):
        toes = scene.part_ids[f"{side} toes"]
        yield PutProbe(f"{side} sole", toes, (0.0, -0.02, 0.06))
