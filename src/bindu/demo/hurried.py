"""The hurried heron: the heron's body sped up after the fact, and what else goes wrong in a hurry.
Each finding of it is planted on purpose; the guide lists them with their cures."""

from __future__ import annotations

from bindu.core.curves.model import Key
from bindu.core.edits import AnyEdit, applied
from bindu.core.edits.channels import SetValue
from bindu.core.edits.keys import PutKeys
from bindu.core.edits.probes import PutProbe
from bindu.core.edits.scene import ChangeScene
from bindu.core.edits.spaces import SwitchSpace
from bindu.core.edits.steps import AddStep, ChangeStep
from bindu.core.scene.model import Scene
from bindu.core.scene.settings import FormulaSettings, SpaceSettings
from bindu.demo.heron import heron_at_the_shallows

SPED_UP = 74
"""From when on the feet go with the body that hurries."""


def the_hurried_heron() -> Scene:
    """All of it, made by edits."""
    scene = applied(heron_at_the_shallows(), [ChangeScene(name="The hurried heron")])
    scene = applied(scene, _probes(scene))
    scene = _sped_up(scene)
    for made in (_jumps(scene), _angles(scene), _leavings(scene)):
        scene = applied(scene, made)
    return scene


def _probes(scene: Scene) -> list[AnyEdit]:
    """A point below the toes of each foot, that should stick to the ground."""
    return [
        PutProbe(f"{side} sole", scene.part_ids[f"{side} toes"], (0.0, -0.029, 0.0))
        for side in ("left", "right")
    ]


def _sped_up(scene: Scene) -> Scene:
    """Both goals are handed over to the heron, which then goes on by a hand's breadth: the feet
    that stood slide along."""
    ids = scene.part_ids
    edits: list[AnyEdit] = []
    for side in ("left", "right"):
        for step in scene.steps_of[ids[f"{side} leg goal"]]:
            if isinstance(step.settings, SpaceSettings):
                spaces = SpaceSettings((*step.settings.spaces, ids["heron"]))
                edits.append(ChangeStep(step.id, settings=spaces))
                edits.append(SwitchSpace(step.id, SPED_UP, ids["heron"]))
    hurry = PutKeys(
        ids["heron"],
        "l2:translation.z",
        (Key(74.0, 0.32), Key(82.0, 0.42), Key(140.0, 0.42)),
    )
    return applied(scene, [*edits, hurry])


def _jumps(scene: Scene) -> list[AnyEdit]:
    """A stray key of the crest; a goal out of reach; a fish whose handover jumps, and a switch that
    does, since keys before them were changed afterwards."""
    ids = scene.part_ids
    return [
        PutKeys(ids["crest"], "l2:rotation.x", (Key(29.0, 2.0), Key(30.0, 40.0), Key(31.0, 2.0))),
        PutKeys(ids["left hip"], "l2:rotation.x", (Key(71.0, 12.0), Key(72.0, 12.0))),
        PutKeys(ids["right leg goal"], "translation.y", (Key(128.0, 0.0), Key(134.0, 0.3))),
        PutKeys(ids["right leg goal"], "translation.z", (Key(128.0, 0.32), Key(134.0, 1.3))),
        SetValue(ids["beak"], "translation.y", 0.05),
    ]


def _angles(scene: Scene) -> list[AnyEdit]:
    """A reed that comes to gimbal lock, one whose angle jumps by a turn, a ripple that is tilted
    and wobbles."""
    ids = scene.part_ids
    edits: list[AnyEdit] = []
    poses = {
        "reed 1": {20.0: (0.0, 10.0, 0.0), 60.0: (30.0, 88.0, -20.0), 100.0: (0.0, 20.0, 0.0)},
        "reed 2": {10.0: (0.0, 4.0, 170.0), 40.0: (0.0, 8.0, -170.0), 70.0: (0.0, 4.0, 170.0)},
        "reed 3": {10.0: (-60.0, 10.0, 0.0), 50.0: (40.0, 80.0, 70.0)},
    }
    for name, frames in poses.items():
        for n, axis in enumerate("xyz"):
            keys = tuple(Key(frame, angles[n]) for frame, angles in frames.items())
            edits.append(PutKeys(ids[name], f"rotation.{axis}", keys))
    return edits


def _leavings(scene: Scene) -> list[AnyEdit]:
    """What stays behind: keys that change nothing, keys between frames, a motion that halts on its
    way, a motion by two ways; a fish that falls on purpose."""
    ids = scene.part_ids
    level = tuple(Key(float(f), 0.06) for f in (0, 24, 48, 96))
    halting = (
        Key(100.0, 0.0),
        Key(110.0, 0.3, mode="joined"),
        Key(120.0, 0.6),
    )
    twice = FormulaSettings("translation.y", "{body.translation.y}", "add")
    return [
        PutKeys(ids["left shoulder"], "translation.x", level),
        PutKeys(ids["water"], "translation.x", (Key(12.25, 0.0), Key(36.5, 0.02), Key(60.0, 0.0))),
        PutKeys(ids["nest"], "translation.y", halting),
        AddStep(ids["right shoulder"], "carried along", twice),
    ]
