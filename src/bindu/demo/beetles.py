"""Water beetles: six legs each, a large one and a small one behind it that shares its gait."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import replace

from bindu.core.curves.model import Key
from bindu.core.edits import AnyEdit, applied
from bindu.core.edits.channels import SetValue
from bindu.core.edits.keys import PutKeys
from bindu.core.edits.make_gait import MakeGait
from bindu.core.edits.make_limb import MakeLimb
from bindu.core.edits.parts import AddPart
from bindu.core.edits.probes import PutProbe
from bindu.core.edits.scene import ChangeScene
from bindu.core.edits.steps import AddStep
from bindu.core.scene.channels import step_channel
from bindu.core.scene.model import Scene
from bindu.core.scene.parts import Rest, Shape, Side
from bindu.core.scene.settings import FormulaSettings, Vector

LAST = 192
THIGH, SHIN = 0.172, 0.233
"""Metres: out and up from the shell, then down to the water."""
TILTS = {"hip": -54.5, "knee": -100.0, "tip": 0.0}
"""Degrees, of the left side."""
ROWS = {"front": 0.16, "middle": 0.0, "hind": -0.16}
SIDES: tuple[tuple[Side, float], ...] = (("left", 1.0), ("right", -1.0))
DARK, PALE, BONE = "#3B4650", "#5E7A6B", "#C9A66B"
SHARED = {"step length": 0.65, "lift": 0.5, "stance": 1.0, "hip rise": 0.5, "hip turn": 1.0}
"""What the small one takes from the large one, and which share of it."""
STYLE = {"step length": 0.13, "lift": 0.05, "hip rise": 0.006, "hip sway": 0.004, "hip turn": 3.0}


def the_water_beetles() -> Scene:
    """Each has a root that is keyed along a bend; one gait's numbers walk them both."""
    scene = applied(Scene(), [ChangeScene(name="The water beetles", fps=24.0, first=0, last=LAST)])
    scene = _beetle(scene, "beetle", 1.0)
    scene = _beetle(scene, "small beetle", 0.5)
    large, small = (scene.part_ids[name] for name in ("beetle", "small beetle"))
    gaits = {one.part: one for one in scene.gaits.values()}
    edits: list[AnyEdit] = [
        SetValue(large, step_channel(gaits[large].id, key), value) for key, value in STYLE.items()
    ]
    for key, share in SHARED.items():
        text = f"{share:g} * {{beetle.walk.{key}}}"
        channel = step_channel(gaits[small].id, key)
        edits.append(AddStep(small, f"{key} as hers", FormulaSettings(channel, text)))
    return applied(scene, [*edits, *_way(large, 0.0, 0.0), *_way(small, -0.55, 12.0)])


def _way(root: str, behind: float, late: float) -> Iterator[AnyEdit]:
    """Keys along a bend: slowly at first, a rest, then on."""
    ways = ((0.0, 0.0), (24.0, 0.0), (84.0, 0.4), (108.0, 0.4), (168.0, 0.9), (192.0, 0.9))
    along = tuple(Key(min(f + late, LAST) if f else f, behind + way) for f, way in ways)
    aside = tuple(Key(min(f + late, LAST) if f else f, 0.25 * way**2) for f, way in ways)
    turns = tuple(Key(min(f + late, LAST) if f else f, 22.0 * way) for f, way in ways)
    for channel, keys in (
        ("translation.z", along), ("translation.x", aside), ("rotation.y", turns),
    ):  # fmt: skip
        yield PutKeys(root, channel, tuple({key.frame: key for key in keys}.values()))


def _beetle(scene: Scene, name: str, size: float) -> Scene:
    """A beetle of a size, standing, with limbs and its gait."""
    before = "" if size == 1.0 else "small "
    for part in _parts(name, before):
        above = scene.part_ids[part.parent] if part.parent else None
        scene = applied(scene, [replace(_sized(part, size), parent=above)])
    ids, feet = scene.part_ids, []
    shell = ids[f"{before}shell"]
    for n, row in enumerate(ROWS):
        for m, (side, _) in enumerate(SIDES):
            leg = f"{before}{side} {row}"
            chain = tuple(ids[f"{leg} {joint}"] for joint in ("hip", "knee", "tip"))
            scene = applied(scene, [MakeLimb(f"{leg} leg", shell, chain, 0)])
            limb = next(one for one in scene.limbs.values() if one.name == f"{leg} leg")
            assert limb.pole is not None
            space = next(s for s in scene.steps_of[limb.pole] if s.settings.kind == "space")
            probe = PutProbe(f"{leg} sole", chain[-1])
            scene = applied(scene, [SetValue(limb.pole, f"{space.id}.space", 1.0), probe])
            feet.append((limb.goal, 0.5 * ((n + m) % 2)))
    return applied(scene, [MakeGait(f"{before}walk", ids[name], tuple(feet), hips=shell)])


def _sized(part: AddPart, size: float) -> AddPart:
    """The part at a size: where it rests, and what is drawn of it."""

    def scaled(vector: Vector) -> Vector:
        x, y, z = (round(size * number, 6) for number in vector)
        return x, y, z

    shape = part.shape
    shape = replace(shape, size=scaled(shape.size), offset=scaled(shape.offset))
    return replace(part, rest=Rest(scaled(part.rest.translation), part.rest.rotation), shape=shape)


def _parts(name: str, before: str) -> Iterator[AddPart]:
    """Its parts at full size; parents by their names."""
    ring = Shape("ring", (0.62, 0.62, 0.0), colour=PALE)
    yield AddPart(name, None, "control", shape=ring)
    back = Shape("ball", (0.24, 0.11, 0.46), colour=DARK)
    yield AddPart(f"{before}shell", name, "control", rest=Rest((0.0, 0.12, 0.0)), shape=back)
    face = Shape("ball", (0.14, 0.08, 0.12), colour=PALE)
    yield AddPart(f"{before}head", f"{before}shell", rest=Rest((0.0, 0.0, 0.26)), shape=face)
    for row, z in ROWS.items():
        for side, sign in SIDES:
            leg = f"{before}{side} {row}"
            thigh = Shape("rod", (0.028, THIGH, 0.028), (0.0, THIGH / 2.0, 0.0), BONE)
            shin = Shape("rod", (0.02, SHIN, 0.02), (0.0, SHIN / 2.0, 0.0), BONE)
            tip = Shape("ball", (0.03, 0.03, 0.03), colour=PALE)
            above = f"{before}shell"
            for joint, at, shape in (
                ("hip", (sign * 0.1, -0.01, z), thigh),
                ("knee", (0.0, THIGH, 0.0), shin),
                ("tip", (0.0, SHIN, 0.0), tip),
            ):
                rest = Rest(at, (0.0, 0.0, sign * TILTS[joint]))
                yield AddPart(f"{leg} {joint}", above, "joint", side, rest, shape=shape)
                above = f"{leg} {joint}"
