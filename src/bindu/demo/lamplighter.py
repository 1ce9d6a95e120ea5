"""The lamplighter: a small figure climbs a ladder of reeds, leans out to light the lantern, and
comes down in a leap. Its limbs change between IK and FK as it holds on and lets go."""

from __future__ import annotations

from collections.abc import Iterator, Mapping

from bindu.core.curves.model import Key
from bindu.core.edits import AnyEdit, applied
from bindu.core.edits.channels import AddChannel, SetValue
from bindu.core.edits.keys import PutKeys
from bindu.core.edits.make_limb import MakeLimb
from bindu.core.edits.matching import SwitchLimbs
from bindu.core.edits.parts import AddPart
from bindu.core.edits.scene import ChangeScene
from bindu.core.edits.sets import PutMarker
from bindu.core.edits.spaces import SwitchSpace
from bindu.core.scene.channels import AXES
from bindu.core.scene.model import Scene
from bindu.core.scene.parts import Rest, Shape, Side
from bindu.core.scene.settings import SpaceSettings, Vector

COAT, SKIN, REED, IRON, GLOW = "#5B6E8C", "#C9A98B", "#8A8F4A", "#4A4F55", "#E3B341"
SIDES: tuple[tuple[Side, float], ...] = (("left", 1.0), ("right", -1.0))
GROUND, LADDER = 0.06, 0.3
"""The height of an ankle over the ground, and how far in front the ladder stands, metres."""
CHAINS = {"leg": ("hip", "knee", "ankle"), "arm": ("shoulder", "elbow", "wrist")}

Way = Mapping[int, Vector]
"""Places in the world, metres, by frame."""


def the_lamplighter() -> Scene:
    """It stands, climbs, lights the lantern, leaps and lands."""
    edits = [
        ChangeScene(name="The lamplighter", fps=24.0, first=0, last=160),
        *_trunk(),
        *(edit for side, sign in SIDES for edit in (*_leg(side, sign), *_arm(side, sign))),
        *_ladder(),
    ]
    scene = applied(Scene(), edits)
    ids = scene.part_ids
    for what, joints in (
        ("leg", ("hip", "knee", "ankle")),
        ("arm", ("shoulder", "elbow", "wrist")),
    ):
        chain = tuple(ids[f"left {joint}"] for joint in joints)
        scene = applied(scene, [MakeLimb(f"left {what}", ids["hips"], chain, 0, mirror=True)])
    scene = applied(scene, [_keyed(*ref, values) for ref, values in BODY.items()])
    scene = _poles_along(scene)
    scene = _climbing(scene)
    scene = _lighting(scene)
    return _leaping(scene)


def _part(
    name: str,
    parent: str | None,
    at: Vector,
    shape: Shape,
    side: Side = "centre",
) -> AddPart:
    ids = {"lamplighter": "root"}
    key = ids.get(name, _key(name))
    above = None if parent is None else ids.get(parent, _key(parent))
    return AddPart(name, above, "control", side, Rest(at), shape=shape, id=key)


def _key(name: str) -> str:
    return name.replace(" ", "")


def _rod(length: float, thick: float, colour: str) -> Shape:
    return Shape("rod", (thick, length, thick), (0.0, -length / 2.0, 0.0), colour)


def _ball(size: float, colour: str) -> Shape:
    return Shape("ball", (size, size, size), colour=colour)


def _trunk() -> Iterator[AnyEdit]:
    ring = Shape("ring", (0.6, 0.6, 0.0), colour=COAT)
    yield _part("lamplighter", None, (0.0, 0.0, 0.0), ring)
    yield _part(
        "hips", "lamplighter", (0.0, 0.56, 0.0), Shape("box", (0.19, 0.1, 0.11), colour=COAT)
    )
    chest = Shape("box", (0.21, 0.2, 0.12), (0.0, 0.06, 0.0), COAT)
    yield _part("chest", "hips", (0.0, 0.16, 0.0), chest)
    yield _part("neck", "chest", (0.0, 0.17, 0.0), Shape("rod", (0.05, 0.05, 0.05), colour=SKIN))
    head = Shape("ball", (0.14, 0.17, 0.15), (0.0, 0.07, 0.01), SKIN)
    yield _part("head", "neck", (0.0, 0.03, 0.0), head)
    hat = Shape("wheel", (0.19, 0.09, 0.19), (0.0, 0.04, 0.0), COAT)
    yield _part("hat", "head", (0.0, 0.13, 0.0), hat)


def _leg(side: Side, sign: float) -> Iterator[AnyEdit]:
    joints = (
        ("hip", "hips", (0.07 * sign, -0.02, 0.0), _rod(0.24, 0.07, COAT)),
        ("knee", f"{side} hip", (0.0, -0.24, 0.012), _rod(0.24, 0.055, COAT)),
        (
            "ankle",
            f"{side} knee",
            (0.0, -0.24, -0.012),
            Shape("ball", (0.06, 0.06, 0.06), colour=IRON),
        ),
    )
    for name, parent, at, shape in joints:
        yield _part(f"{side} {name}", parent, at, shape, side)
    sole = Shape("foot", (0.08, 0.03, 0.13), (0.0, 0.0, 0.03), IRON)
    yield _part(f"{side} toes", f"{side} ankle", (0.0, -0.045, 0.04), sole, side)


def _arm(side: Side, sign: float) -> Iterator[AnyEdit]:
    joints = (
        ("shoulder", "chest", (0.13 * sign, 0.12, 0.0), _rod(0.2, 0.055, COAT)),
        ("elbow", f"{side} shoulder", (0.0, -0.2, -0.012), _rod(0.2, 0.045, COAT)),
        (
            "wrist",
            f"{side} elbow",
            (0.0, -0.2, 0.012),
            Shape("ball", (0.05, 0.05, 0.05), colour=SKIN),
        ),
    )
    for name, parent, at, shape in joints:
        yield _part(f"{side} {name}", parent, at, shape, side)
    for n, x in enumerate((0.012, -0.012), start=1):
        finger = _rod(0.06, 0.016, SKIN)
        yield _part(f"{side} finger {n}", f"{side} wrist", (x, -0.02, 0.0), finger, side)


def _ladder() -> Iterator[AnyEdit]:
    for n, x in enumerate((-0.2, 0.2), start=1):
        rail = Shape("rod", (0.035, 2.1, 0.035), (0.0, 1.05, 0.0), REED)
        yield AddPart(f"rail {n}", role="prop", rest=Rest((x, 0.0, LADDER)), shape=rail)
    for n in range(1, 11):
        rung = Shape("box", (0.4, 0.025, 0.025), colour=REED)
        place = Rest((0.0, 0.2 * n, LADDER))
        yield AddPart(f"rung {n}", role="prop", rest=place, shape=rung)
    post = Shape("rod", (0.05, 2.3, 0.05), (0.0, 1.15, 0.0), IRON)
    yield AddPart("lamp post", role="prop", rest=Rest((0.55, 0.0, LADDER)), shape=post, id="post")
    lamp = Shape("ball", (0.16, 0.2, 0.16), colour=GLOW)
    yield AddPart(
        "lantern", "post", "prop", rest=Rest((-0.08, 1.86, 0.0)), shape=lamp, id="lantern"
    )
    yield AddChannel(
        "lantern", "light", default=0.35, low=0.0, high=1.0, id="light", shows="brightness"
    )
    yield PutKeys("lantern", "light", (Key(0.0, 0.35, "hold"), Key(104.0, 0.35), Key(110.0, 1.0)))
    for frame, label in ((0, "stand"), (24, "climb"), (88, "light"), (120, "leap"), (142, "land")):
        yield PutMarker(float(frame), label)


def _keyed(part: str, channel: str, values: Mapping[int, float]) -> PutKeys:
    keys = tuple(Key(float(frame), value) for frame, value in values.items())
    return PutKeys(part, channel, keys)


BODY: Mapping[tuple[str, str], Mapping[int, float]] = {
    ("root", "translation.y"): {
        0: -0.03, 36: -0.03, 46: 0.12, 54: 0.15, 62: 0.44, 72: 0.52, 82: 0.8, 120: 0.8, 129: 1.0,
        140: 0.02, 143: -0.1, 154: -0.03,
    },
    ("root", "translation.z"): {
        0: 0.0, 24: 0.0, 84: 0.06, 120: 0.06, 129: -0.2, 140: -0.5, 154: -0.5,
    },
    ("root", "translation.x"): {0: 0.0, 84: 0.0, 98: 0.1, 112: 0.1, 119: 0.0},
    ("chest", "rotation.z"): {0: 0.0, 84: 0.0, 98: -16.0, 112: -16.0, 119: 0.0},
    ("chest", "rotation.x"): {0: 0.0, 120: 0.0, 129: 14.0, 143: 26.0, 156: 0.0},
    ("head", "rotation.x"): {
        0: 0.0, 20: -16.0, 84: -20.0, 98: -8.0, 126: 16.0, 143: 8.0, 156: 0.0,
    },
    ("head", "rotation.y"): {0: 0.0, 88: 0.0, 98: 34.0, 112: 34.0, 119: 0.0},
}  # fmt: skip
"""The way of the whole figure, and what chest and head do; metres and degrees by frame."""
GRIPS = {12: 5, 26: 5, 32: 6, 46: 6, 52: 7, 64: 7, 70: 9}
"""Which rung a hand holds, by the frames since it began to move."""
TREADS = {7: 1, 18: 1, 25: 3, 36: 3, 43: 5}
"""Which rung a foot stands on, by the frames since it left the ground."""


def _goes(scene: Scene, limb: str, way: Way) -> list[AnyEdit]:
    """Keys that put the goal of a limb at places in the world."""
    goal = scene.part_ids[f"{limb} goal"]
    rest = scene.parts[goal].rest.translation
    return [
        _keyed(goal, f"translation.{axis}", {f: p[n] - rest[n] for f, p in way.items()})
        for n, axis in enumerate(AXES)
    ]


def _limb(scene: Scene, name: str) -> str:
    return next(limb.id for limb in scene.limbs.values() if limb.name == name)


def _switched(scene: Scene, way: str, frame: int, *names: str) -> Scene:
    limbs = tuple(_limb(scene, name) for name in names)
    return applied(scene, [SwitchLimbs(limbs, way, frame)])  # type: ignore[arg-type]


def _poles_along(scene: Scene) -> Scene:
    """Knees point ahead and elbows out wherever the body goes: the poles move with it, far enough
    away from where goals come to be."""
    edits: list[AnyEdit] = [
        SetValue(scene.part_ids[f"{side} {limb} pole"], f"translation.{axis}", value)
        for side, sign in SIDES
        for limb, axis, value in (("leg", "y", 0.5), ("leg", "z", 0.7), ("arm", "x", 0.6 * sign))
    ]
    edits += [
        SwitchSpace(step.id, 1, step.settings.spaces[-1])
        for limb in scene.limbs.values()
        for step in scene.steps_of.get(limb.pole or "", ())
        if isinstance(step.settings, SpaceSettings)
    ]
    return applied(scene, edits)


def _climbing(scene: Scene) -> Scene:
    """Arms that hang by FK take hold of the ladder, one after the other; then hands and feet go
    up."""
    for side, sign in SIDES:
        start = 10 if side == "right" else 16
        arm = scene.limbs[_limb(scene, f"{side} arm")]
        hangs = [
            PutKeys(arm.part, f"{arm.id}.blend", (Key(0.0, 0.0, "hold"),)),
            _keyed(f"{side}shoulder", "rotation.x", {0: 0.0, start: -4.0, start + 8: -78.0}),
            _keyed(f"{side}elbow", "rotation.x", {0: 0.0, start: -6.0, start + 8: -40.0}),
        ]
        scene = _switched(applied(scene, hangs), "ik", start + 8, f"{side} arm")
        hand, foot = 0.13 * sign, 0.07 * sign
        holds = {start + f: (hand, 0.2 * n - 0.02, LADDER - 0.03) for f, n in GRIPS.items()}
        scene = applied(scene, _goes(scene, f"{side} arm", holds))
        start = 28 if side == "right" else 36
        stands = (foot, GROUND, 0.0)
        steps = {start + f: (foot, 0.2 * n + GROUND, LADDER - 0.08) for f, n in TREADS.items()}
        scene = applied(scene, _goes(scene, f"{side} leg", {0: stands, start: stands, **steps}))
    return scene


def _lighting(scene: Scene) -> Scene:
    """The left hand lets go, swings out by FK, and is held to the lantern by IK."""
    scene = _switched(scene, "fk", 88, "left arm")
    swing = [
        _keyed("leftshoulder", "rotation.z", {95: 75.0}),
        _keyed("leftelbow", "rotation.x", {95: -35.0}),
    ]
    scene = _switched(applied(scene, swing), "ik", 97, "left arm")
    flame = (0.4, 1.84, LADDER - 0.06)
    touch = _goes(scene, "left arm", {102: flame, 110: flame})
    scene = _switched(applied(scene, touch), "fk", 111, "left arm")
    back = {"x": -60.0, "y": 0.0, "z": 10.0}
    return applied(
        scene, [_keyed("leftshoulder", f"rotation.{a}", {119: v}) for a, v in back.items()]
    )


def _leaping(scene: Scene) -> Scene:
    """All lets go; it flies by FK, and stands by IK again where its feet come down."""
    scene = _switched(scene, "fk", 121, "right arm", "left leg", "right leg")
    flight: list[AnyEdit] = []
    for side, _ in SIDES:
        flight += [
            _keyed(f"{side}hip", "rotation.x", {130: -50.0, 140: -22.0}),
            _keyed(f"{side}knee", "rotation.x", {130: 80.0, 140: 34.0}),
            _keyed(f"{side}ankle", "rotation.x", {130: 20.0, 140: -12.0}),
            _keyed(f"{side}shoulder", "rotation.x", {130: -120.0, 140: -50.0, 154: 0.0}),
            _keyed(f"{side}elbow", "rotation.x", {130: -20.0, 154: -8.0}),
        ]
        flight += [
            _keyed(f"{side}{j}", f"rotation.{a}", {130: 0.0})
            for j in ("hip", "shoulder")
            for a in "yz"
        ]
    scene = _switched(applied(scene, flight), "ik", 140, "left leg", "right leg")
    for side, sign in SIDES:
        stands = (0.07 * sign, GROUND, -0.5)
        scene = applied(scene, _goes(scene, f"{side} leg", {143: stands, 160: stands}))
        goal = scene.part_ids[f"{side} leg goal"]
        scene = applied(scene, [_keyed(goal, f"rotation.{a}", {143: 0.0}) for a in AXES])
    return scene
