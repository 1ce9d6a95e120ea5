"""Heron at the shallows: a wading bird automaton, keyed by hand on two layers."""

from __future__ import annotations

from collections.abc import Iterable, Iterator

from bindu.core.curves.model import Interpolation, Key
from bindu.core.edits import AnyEdit, applied
from bindu.core.edits.channels import AddChannel, SetValue
from bindu.core.edits.driven import AddDriven
from bindu.core.edits.keys import PutKeys
from bindu.core.edits.layers import AddLayer
from bindu.core.edits.parts import AddPart
from bindu.core.edits.rows import AddRows, Cell, PutCells
from bindu.core.edits.rules import ApplyRules, NameRule
from bindu.core.edits.scene import ChangeScene
from bindu.core.edits.sets import PutMarker, PutSet
from bindu.core.scene.channels import ChannelRef, layer_channel
from bindu.core.scene.model import Scene
from bindu.core.scene.parts import Rest, Role, Shape, Side
from bindu.core.scene.settings import Vector
from bindu.demo.catch import catch
from bindu.demo.pinned import pinned
from bindu.demo.wading import with_wading_legs

SLATE, PALE, BONE, REED, WATER = "#8A97A6", "#C9D0D6", "#D9B45B", "#7E8B4A", "#A9C4C6"
SIDES: tuple[tuple[Side, float], ...] = (("left", 1.0), ("right", -1.0))
NECK_REST = (35.0, -40.0, -25.0, 15.0, 25.0)
FEATHERS = 6

Pose = dict[str, float]
"""Values by ``part.channel``; what is not given stays as it was."""


def heron_at_the_shallows() -> Scene:
    """It looks, takes a step, strikes at the water and shakes itself.

    The layer *blocking* holds the poses one after the other; *flow* replaces them by smooth
    curves. Mute *flow* to see the blocking.
    """
    scene = heron_rig("Heron at the shallows", 144)
    names = {part.name: part.id for part in scene.parts.values()}
    scene = applied(scene, [*_motion(names), *_sets(names), *_wiring(names)])
    scene = with_wading_legs(applied(scene, list(catch(names))))
    drawings = (("stands", 0.0, 37.0), ("strides", 38.0, 71.0), ("bends", 72.0, None))
    return applied(scene, [pinned(name, f"heron-{name}.png", *span) for name, *span in drawings])


def heron_rig(name: str, last: int) -> Scene:
    """The heron and its shore, nothing of it moving yet."""
    return applied(
        Scene(),
        [
            ChangeScene(name=name, fps=24.0, first=0, last=last),
            *_body(),
            *(edit for side, sign in SIDES for edit in (*_leg(side, sign), *_wing(side, sign))),
            *_shore(),
        ],
    )


class _PartIds:
    """Identities of parts by name, given in the order of asking."""

    def __init__(self) -> None:
        self._known: dict[str, str] = {}

    def __getitem__(self, name: str) -> str:
        return self._known.setdefault(name, f"p{len(self._known) + 1}")


def _part(
    ids: _PartIds,
    name: str,
    parent: str | None,
    at: Vector,
    shape: Shape,
    turn: Vector = (0.0, 0.0, 0.0),
    role: Role = "joint",
    side: Side = "centre",
) -> AddPart:
    above = ids[parent] if parent else None
    return AddPart(name, above, role, side, Rest(at, turn), "xyz", shape, ids[name])


IDS = (
    "heron", "body", *(f"neck {n}" for n in range(1, 6)), "head", "beak", "lower beak", "crest",
    "tail", "left tail feather", "right tail feather",
)  # fmt: skip


def _numbered() -> _PartIds:
    ids = _PartIds()
    for name in IDS:
        ids[name]
    for side, _ in SIDES:
        for name in ("hip", "knee", "ankle", "toes", "foot", "shoulder", "wing"):
            ids[f"{side} {name}"]
        for n in range(1, FEATHERS + 1):
            ids[f"{side} feather {n}"]
    return ids


def _body() -> Iterator[AnyEdit]:
    ids = _numbered()
    ring = Shape("ring", (0.9, 0.9, 0.0), colour=SLATE)
    yield _part(ids, "heron", None, (0.0, 0.0, 0.0), ring, role="control")
    trunk = Shape("ball", (0.3, 0.3, 0.62), colour=SLATE)
    yield _part(ids, "body", "heron", (0.0, 1.06, 0.0), trunk, role="control")
    above, at = "body", (0.0, 0.1, 0.24)
    for n, bend in enumerate(NECK_REST, start=1):
        rod = Shape("rod", (0.09 - 0.006 * n, 0.18, 0.09 - 0.006 * n), (0.0, 0.09, 0.0), PALE)
        yield _part(ids, f"neck {n}", above, at, rod, (bend, 0.0, 0.0), "control")
        above, at = f"neck {n}", (0.0, 0.18, 0.0)
    skull = Shape("ball", (0.1, 0.1, 0.17), (0.0, 0.0, 0.04), PALE)
    yield _part(ids, "head", above, at, skull, (-8.0, 0.0, 0.0), "control")
    bill = Shape("box", (0.035, 0.025, 0.3), (0.0, 0.0, 0.15), BONE)
    yield _part(ids, "beak", "head", (0.0, 0.0, 0.1), bill)
    lower = Shape("box", (0.03, 0.02, 0.27), (0.0, 0.0, 0.135), BONE)
    yield _part(ids, "lower beak", "head", (0.0, -0.025, 0.1), lower, role="control")
    plume = Shape("box", (0.02, 0.012, 0.22), (0.0, 0.0, -0.11), "#3B4650")
    yield _part(ids, "crest", "head", (0.0, 0.05, -0.02), plume, (-20.0, 0.0, 0.0), "control")
    stump = Shape("wing", (0.16, 0.02, 0.26), (0.0, 0.0, -0.12), SLATE)
    yield _part(ids, "tail", "body", (0.0, 0.02, -0.28), stump, (12.0, 0.0, 0.0), "control")
    for side, sign in SIDES:
        name = f"{side} tail feather"
        vane = Shape("plate", (0.07, 0.02, 0.24), (0.0, 0.0, -0.12), PALE)
        at = (0.04 * sign, 0.0, -0.05)
        yield _part(ids, name, "tail", at, vane, (0.0, -14.0 * sign, 0.0), side=side)
    yield AddChannel(ids["body"], "spread", low=0.0, high=1.0, id="c1")
    yield AddChannel(ids["body"], "crouch", low=0.0, high=1.0, id="c2")


def _leg(side: Side, sign: float) -> Iterator[AnyEdit]:
    ids = _numbered()

    def bone(length: float, thick: float, colour: str = BONE) -> Shape:
        return Shape("rod", (thick, length, thick), (0.0, -length / 2.0, 0.0), colour)

    joints = (
        ("hip", "body", (0.11 * sign, -0.08, -0.02), bone(0.3, 0.09, SLATE), -20.0),
        ("knee", f"{side} hip", (0.0, -0.3, 0.0), bone(0.38, 0.035), 50.0),
        ("ankle", f"{side} knee", (0.0, -0.38, 0.0), bone(0.34, 0.03), -30.0),
    )
    for name, parent, at, shape, bend in joints:
        turn = (bend, 0.0, 0.0)
        yield _part(ids, f"{side} {name}", parent, at, shape, turn, "control", side)
    toes = Shape("foot", (0.2, 0.02, 0.22), (0.0, -0.01, 0.06), BONE)
    yield _part(ids, f"{side} toes", f"{side} ankle", (0.0, -0.34, 0.0), toes, side=side)
    outline = Shape("plate", (0.26, 0.01, 0.3), (0.0, 0.0, 0.05), PALE)
    goal = (0.11 * sign, 0.0, -0.1)
    foot = f"{side} foot"
    yield _part(ids, foot, "heron", goal, outline, role="control", side=side)
    planted = "c3" if side == "left" else "c4"
    yield AddChannel(ids[foot], "planted", kind="switch", default=1.0, id=planted)


def _wing(side: Side, sign: float) -> Iterator[AnyEdit]:
    ids = _numbered()
    at = (0.15 * sign, 0.08, 0.14)
    yield _part(
        ids,
        f"{side} shoulder",
        "body",
        at,
        Shape("axes", (0.1, 0.1, 0.1)),
        role="helper",
        side=side,
    )
    arm = Shape("box", (0.05, 0.05, 0.3), (0.0, 0.0, -0.15), SLATE)
    yield _part(
        ids,
        f"{side} wing",
        f"{side} shoulder",
        (0.0, 0.0, 0.0),
        arm,
        (0.0, 0.0, 20.0 * sign),
        "control",
        side,
    )
    for n in range(1, FEATHERS + 1):
        vane = Shape("wing", (0.1 * sign, 0.012, 0.34 - 0.02 * n), (0.0, 0.0, -0.17), PALE)
        place = (0.012 * n * sign, -0.012 * n, -0.05 * n)
        turn = (6.0, -2.0 * n * sign, 0.0)
        yield _part(ids, f"{side} feather {n}", f"{side} wing", place, vane, turn, side=side)


def _shore() -> Iterator[AnyEdit]:
    pond = Shape("plate", (6.0, 0.02, 6.0), (0.0, -0.02, 0.0), WATER)
    yield AddPart("water", role="prop", shape=pond)
    for n, (x, z, height) in enumerate(((-1.4, -0.8, 1.5), (-1.1, -1.3, 1.9), (1.5, -1.0, 1.7)), 1):
        stem = Shape("rod", (0.03, height, 0.03), (0.0, height / 2.0, 0.0), REED)
        yield AddPart(
            f"reed {n}", role="prop", rest=Rest((x, 0.0, z), (0.0, 0.0, 4.0 * n - 8.0)), shape=stem
        )
    ring = Shape("ring", (0.5, 0.5, 0.0), colour="#5E8A8F")
    yield AddPart("ripple", role="prop", rest=Rest((0.0, 0.0, 1.05)), shape=ring)


def _poses() -> dict[int, Pose]:
    """The key poses by frame: look, step, strike, shake."""
    still: Pose = {
        "heron.translation.z": 0.0,
        "body.translation.y": 0.0,
        "body.rotation.x": 0.0,
        "body.rotation.z": 0.0,
        "head.rotation.y": 0.0,
        "head.rotation.x": 0.0,
        "lower beak.rotation.x": 0.0,
        "crest.rotation.x": 0.0,
        "tail.rotation.x": 0.0,
        **{f"neck {n}.rotation.x": 0.0 for n in range(1, 6)},
        **{f"{s} wing.rotation.y": 0.0 for s, _ in SIDES},
        **{f"{s} wing.rotation.z": 0.0 for s, _ in SIDES},
    }
    standing: Pose = {
        f"{s} {j}.rotation.x": 0.0 for s, _ in SIDES for j in ("hip", "knee", "ankle", "toes")
    }
    # The body leans by 24 degrees; the hips turn back by as much, so that the feet stay down.
    bent = {"hip": -38.0, "knee": 26.0, "ankle": -12.0}
    crouched = {f"{s} {j}.rotation.x": bend for s, _ in SIDES for j, bend in bent.items()}
    reach = {
        "neck 1.rotation.x": 30.0, "neck 2.rotation.x": 62.0, "neck 3.rotation.x": 40.0,
        "neck 4.rotation.x": -10.0, "neck 5.rotation.x": -30.0, "head.rotation.x": -58.0,
        "body.rotation.x": 24.0, "body.translation.y": -0.09, **crouched,
    }  # fmt: skip
    shaken = ("body.rotation.z", "head.rotation.y", "tail.rotation.x")
    calm = {name: 0.0 for name in still if name in shaken or " wing." in name}
    home = {name: (still | standing)[name] for name in reach}
    return {
        0: still | standing,
        12: {"head.rotation.y": 38.0, "neck 5.rotation.x": -6.0, "crest.rotation.x": -12.0},
        26: {"head.rotation.y": -34.0, "head.rotation.x": 8.0},
        38: {
            "head.rotation.y": 0.0, "head.rotation.x": 12.0, "neck 5.rotation.x": 0.0,
            "heron.translation.z": 0.0, "body.translation.y": 0.0, "neck 1.rotation.x": 0.0,
            **standing,
        },
        48: {
            "left hip.rotation.x": -46.0, "left knee.rotation.x": 62.0,
            "left ankle.rotation.x": -30.0, "left toes.rotation.x": 38.0,
            "body.translation.y": -0.01, "neck 1.rotation.x": -8.0,
        },
        60: {
            "heron.translation.z": 0.16, "left hip.rotation.x": -24.0,
            "left knee.rotation.x": 10.0, "left ankle.rotation.x": 8.0,
            "left toes.rotation.x": 6.0, "right hip.rotation.x": 10.0, "neck 1.rotation.x": 8.0,
        },
        72: {
            "heron.translation.z": 0.32, "neck 1.rotation.x": 0.0, "body.translation.y": 0.0,
            **standing,
        },
        84: {
            "neck 1.rotation.x": -22.0, "neck 2.rotation.x": -16.0, "neck 3.rotation.x": 0.0,
            "neck 4.rotation.x": 0.0, "neck 5.rotation.x": 0.0, "crest.rotation.x": 10.0,
            "head.rotation.x": 20.0, "body.rotation.x": -4.0, "body.translation.y": 0.0,
            **standing,
        },
        92: {**reach, "lower beak.rotation.x": 14.0},
        97: {"lower beak.rotation.x": 2.0},
        108: home | calm | {"head.rotation.x": -14.0, "lower beak.rotation.x": 0.0},
        114: {
            "body.rotation.z": 7.0, "head.rotation.y": 24.0, "tail.rotation.x": 18.0,
            "left wing.rotation.y": 26.0, "right wing.rotation.y": -26.0,
            "left wing.rotation.z": 22.0, "right wing.rotation.z": -22.0,
        },
        119: {"body.rotation.z": -7.0, "head.rotation.y": -24.0, "tail.rotation.x": -8.0},
        124: {"body.rotation.z": 6.0, "head.rotation.y": 18.0, "tail.rotation.x": 12.0},
        129: {"body.rotation.z": -4.0, "head.rotation.y": -10.0, "tail.rotation.x": -4.0},
        140: still | standing | {"heron.translation.z": 0.32},
    }  # fmt: skip


def _motion(names: dict[str, str]) -> Iterator[AnyEdit]:
    heron = names["heron"]
    yield AddLayer("blocking", heron, "replace", "l1")
    yield AddLayer("flow", heron, "replace", "l2")
    keyed: dict[str, list[tuple[int, float]]] = {}
    for frame, pose in _poses().items():
        for name, value in pose.items():
            keyed.setdefault(name, []).append((frame, value))
    kinds: tuple[tuple[str, Interpolation], ...] = (("l1", "hold"), ("l2", "smooth"))
    for layer, kind in kinds:
        for name, places in keyed.items():
            if len({value for _, value in places}) == 1:
                continue
            part, _, channel = name.partition(".")
            keys = tuple(Key(float(frame), value, kind) for frame, value in places)
            yield PutKeys(names[part], layer_channel(layer, channel), keys)
    seen = (Key(0.0, 0.0, "hold"), Key(93.0, 1.0, "hold"), Key(112.0, 0.0, "hold"))
    yield PutKeys(names["ripple"], "visible", seen)
    grow = (Key(93.0, 0.3, "ease out"), Key(111.0, 1.8))
    for axis in "xz":
        yield PutKeys(names["ripple"], f"scale.{axis}", grow)
    planted = (Key(0.0, 1.0, "hold"), Key(42.0, 0.0, "hold"), Key(64.0, 1.0, "hold"))
    yield PutKeys(names["left foot"], "c3", planted)
    yield SetValue(names["crest"], "rotation.x", 0.0)


def _wiring(names: dict[str, str]) -> Iterator[AnyEdit]:
    """``spread`` fans the feathers by rules of names; ``crouch`` bends legs, neck and tail."""
    yield ApplyRules(
        (
            NameRule("fan", "left feather [1-6]", "rotation.y", "-9 * <1> * {body.spread}"),
            NameRule("fan back", "right feather [1-6]", "rotation.y", "9 * <1> * {body.spread}"),
        )
    )
    body = names["body"]
    yield PutKeys(body, "c1", (Key(108.0, 0.0), Key(114.0, 1.0), Key(129.0, 0.7), Key(140.0, 0.0)))
    yield PutKeys(body, "c2", (Key(28.0, 0.0), Key(36.0, 0.35), Key(44.0, 0.0)))
    yield AddDriven("crouch", "{body.crouch}", 0.0, 1.0, (0.0, 0.5, 1.0), "d1")
    rows = {
        "body.translation.y": (0.0, -0.09, -0.3),
        "neck 1.rotation.x": (0.0, -10.0, -26.0),
        "neck 2.rotation.x": (0.0, -6.0, -18.0),
        "neck 4.rotation.x": (0.0, 8.0, 22.0),
        "tail.rotation.x": (0.0, -4.0, -14.0),
        **{f"{side} hip.rotation.x": (0.0, -22.0, -46.0) for side, _ in SIDES},
        **{f"{side} knee.rotation.x": (0.0, 40.0, 84.0) for side, _ in SIDES},
        **{f"{side} ankle.rotation.x": (0.0, -18.0, -38.0) for side, _ in SIDES},
    }
    refs = [ChannelRef(names[part], channel) for part, channel in _split(rows)]
    yield AddRows("d1", tuple(refs))
    cells = [
        Cell(f"s{n}", stop, value)
        for n, values in enumerate(rows.values(), start=2 * FEATHERS + 1)
        for stop, value in zip((0.0, 0.5, 1.0), values, strict=True)
    ]
    yield PutCells(tuple(cells))


def _split(names: Iterable[str]) -> Iterator[tuple[str, str]]:
    for name in names:
        part, _, channel = name.partition(".")
        yield part, channel


def _sets(names: dict[str, str]) -> Iterator[AnyEdit]:
    neck = [names[f"neck {n}"] for n in range(1, 6)]
    yield PutSet("neck", "#C9D0D6", (*neck, names["head"]))
    for side, colour in (("left", "#7FA08A"), ("right", "#B08A9C")):
        joints = tuple(names[f"{side} {joint}"] for joint in ("hip", "knee", "ankle", "toes"))
        switch = ChannelRef(names[f"{side} foot"], "c3" if side == "left" else "c4")
        yield PutSet(f"{side} leg", colour, joints, (switch,))
        wing = (names[f"{side} wing"], *(names[f"{side} feather {n}"] for n in range(1, 7)))
        yield PutSet(f"{side} wing", colour, wing)
    for frame, label in ((0, "look"), (40, "step"), (84, "strike"), (108, "shake")):
        yield PutMarker(float(frame), label)
