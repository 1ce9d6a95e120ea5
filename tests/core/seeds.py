"""Small scenes that hold the kinds of things that random edits seldom make, as beginnings for
property tests; each says what it holds, so that a test can say how often it drew what."""

from __future__ import annotations

from collections.abc import Callable, Mapping

import numpy as np

from bindu.core.curves.model import Curve, Key
from bindu.core.edits import AnyEdit, applied
from bindu.core.edits.bakes import PutBake
from bindu.core.edits.channels import AddChannel, SetValue
from bindu.core.edits.deforms import AddDeform, PutShape
from bindu.core.edits.driven import AddDriven
from bindu.core.edits.keying import KeyValue
from bindu.core.edits.keys import PutKeys, SetOutside
from bindu.core.edits.layers import AddLayer
from bindu.core.edits.leads import KeyLead, PutLead
from bindu.core.edits.limbs import PutLimb
from bindu.core.edits.parts import AddPart, ChangePart
from bindu.core.edits.receivers import PutReceiver
from bindu.core.edits.rows import AddRows
from bindu.core.edits.scene import ChangeScene
from bindu.core.edits.sets import PairParts, PutMarker
from bindu.core.edits.spaces import SwitchSpace
from bindu.core.edits.steps import AddStep
from bindu.core.edits.surfaces import MakeSurface
from bindu.core.evaluation import answering
from bindu.core.scene.channels import AXES, ChannelRef
from bindu.core.scene.model import Scene
from bindu.core.scene.parts import Rest
from bindu.core.scene.receivers import Override, Setup
from bindu.core.scene.settings import (
    SHAPERS,
    AimSettings,
    ConstraintSettings,
    FollowSettings,
    FormulaSettings,
    LimitSettings,
    PathPoint,
    PathSettings,
    PlantSettings,
    PlantSpan,
    SpaceSettings,
    Target,
)
from tests.evaluated import Evaluated

LAST = 12
Random = np.random.Generator
PARTS = ("p1", "p2", "p3", "p4", "p5")


def formula(part: str, channel: str, text: str, step: str, mode: str = "set") -> AddStep:
    """A formula on a channel."""
    return AddStep(part, f"formula {step}", FormulaSettings(channel, text, mode), id=step)  # type: ignore[arg-type]


def ground(random: Random) -> list[AnyEdit]:
    """Five parts, p3 and p4 below p2, all keyed: some keys at fractions of frames, some curves that
    repeat, some scales mirrored, uneven or 0."""
    orders = ["xyz", "xzy", "yxz", "yzx", "zxy", "zyx"]
    edits: list[AnyEdit] = [ChangeScene(name="seed", first=0, last=LAST)]
    for part, parent in zip(PARTS, (None, None, "p2", "p2", None), strict=True):
        numbers = [float(n) for n in random.uniform(-90, 90, 6)]
        rest = Rest(tuple(n / 50 for n in numbers[:3]), tuple(numbers[3:]))  # type: ignore[arg-type]
        order = str(random.choice(orders))
        edits.append(AddPart(f"part {part}", parent, rest=rest, rotation_order=order, id=part))  # type: ignore[arg-type]
        for group, size in (("translation", 3.0), ("rotation", 170.0)):
            for axis in AXES:
                edits += curve(random, part, f"{group}.{axis}", size)
    sizes = random.uniform(0.5, 2.0, 3) * random.choice([-1.0, 1.0], 3)
    edits += [SetValue("p2", f"scale.{a}", float(s)) for a, s in zip(AXES, sizes, strict=True)]
    return edits


def curve(random: Random, part: str, channel: str, size: float) -> list[AnyEdit]:
    """Three to five keys, maybe at fractions of frames, and what the curve does outside them."""
    count = int(random.integers(2, 5))
    frames = np.sort(random.choice(np.arange(4 * LAST), count, replace=False)) / 4.0
    kinds = ["hold", "linear", "smooth", "smooth", "ease in", "bounce"]
    keys = tuple(
        Key(float(f), float(random.uniform(-size, size)), str(random.choice(kinds)))  # type: ignore[arg-type]
        for f in frames
    )
    outside = ["hold", "straight on", "repeat", "repeat with offset", "mirror"]
    ends = [str(random.choice(outside)) for _ in range(2)]
    return [PutKeys(part, channel, keys), SetOutside(part, channel, ends[0], ends[1])]  # type: ignore[arg-type]


def bindings(random: Random) -> list[AnyEdit]:
    """A step of each binding kind, one of them late."""
    targets = (Target("p3"), Target("p5"))
    kinds = [ConstraintSettings(targets, kind=k) for k in ("position", "rotation", "scale", "full")]  # type: ignore[arg-type]
    kinds.append(ConstraintSettings(targets, ("y",), kind="rotation"))
    points = (PathPoint("p4"), PathPoint(point=(3.0, 0.0, 1.0)), PathPoint("p5"))
    others = [
        AimSettings((Target("p4"),)),
        PathSettings(points),
        FollowSettings(("translation", "rotation", "scale")),
        SpaceSettings(("", "0", "p5")),
        PlantSettings(spans=(PlantSpan(3, 6, 4, 2, 3), PlantSpan(9, 10, 2, 1, 0))),
    ]
    edits: list[AnyEdit] = []
    for n in random.choice(len(kinds) + 4, 3, replace=False):
        settings = [*kinds, *others[:2], *others[3:]][n]
        zone = "late" if random.random() < 0.3 else "bound"
        edits.append(AddStep("p1", f"step {n}", settings, zone, f"b{n}"))  # type: ignore[arg-type]
        edits.append(SetValue("p1", f"b{n}.weight", float(random.choice([0.0, 0.5, 1.0]))))
    edits.append(AddStep("p3", "follow", others[2], id="b9"))
    return edits


def loops(random: Random) -> list[AnyEdit]:
    """Two parts that pull at each other, a formula that reads itself, and two that bind each
    other."""
    return [
        formula("p1", "translation.x", "{part p5.translation.x} * 0.5 + 1", "e1"),
        formula("p5", "translation.x", "{part p1.translation.x} * 0.5", "e2", "add"),
        formula("p5", "rotation.z", "{part p5.rotation.z} + 1", "e3", "add"),
        AddStep("p1", "with", ConstraintSettings((Target("p5"),), kind="position"), id="e4"),
        AddStep("p5", "with", ConstraintSettings((Target("p1"),), kind="full"), id="e5"),
    ]


def backs(random: Random) -> list[AnyEdit]:
    """A group that reads itself one frame back, with a way, a speed, an aim and a path in it."""
    return [
        formula(
            "p1",
            "translation.x",
            "0.5 * {part p5.translation.x@final back} + 0.1 * frame",
            "k1",
        ),
        formula("p5", "translation.x", "0.3 * travelled({part p1}) + 1", "k2"),
        formula("p5", "translation.y", "0.01 * speed({part p1}) + {part p5.translation.x}", "k3"),
        AddStep("p5", "look", AimSettings((Target("p1", back=True),)), id="k4"),
        formula("p1", "translation.z", "0.1 * {part p5.rotation.y@final back}", "k5"),
    ]


def layers(random: Random) -> list[AnyEdit]:
    """Two layers whose weights are channels of p1, with curves on p4 and p5, and three shapers."""
    edits: list[AnyEdit] = [AddLayer("up", "p1", id="l1"), AddLayer("over", "p1", "replace", "l2")]
    for layer in ("l1", "l2"):
        for part in ("p4", "p5"):
            for frame in random.choice(LAST, 2, replace=False):
                value = float(random.uniform(-2, 2))
                edits.append(KeyValue(float(frame), ((part, "translation.y", value),), layer))
    for n, kind in enumerate(random.choice(sorted(SHAPERS), 3, replace=False)):
        settings = SHAPERS[str(kind)]("translation.y")
        zone = "late" if random.random() < 0.3 else "keyed"
        edits.append(AddStep("p4", f"shape {n}", settings, zone, f"n{n}"))  # type: ignore[arg-type]
    keys = (Key(0.0, 0.0), Key(float(LAST), 1.0))
    return [*edits, PutKeys("p1", "l1.weight", keys), SetValue("p1", "l2.weight", 0.5)]


def leads(random: Random) -> list[AnyEdit]:
    """A lead group of p1, p3 and p5 whose lead changes, at a fraction of a frame too."""
    edits: list[AnyEdit] = [PutLead("crew", "p4", ("p1", "p3", "p5"), "g1", ("m1", "m2", "m3"))]
    for frame in sorted(int(f) for f in random.choice(np.arange(1, LAST), 3, replace=False)):
        part = str(random.choice(["p1", "p3", "p5"]))
        edits.append(KeyLead("g1", frame, part))
    return [*edits, PutKeys("p4", "g1.position", (Key(4.5, 2.0, "hold"),))]


def limbs(random: Random) -> list[AnyEdit]:
    """A limb that hangs on p1, with a part between its base and its middle, whose blend changes,
    and that is out of reach at times; it has another limb of three segments below it."""
    edits: list[AnyEdit] = []
    parents = ("p1", "q1", "q0", "q2", "q3", "q4", "q5")
    for part, parent in zip(("q1", "q0", "q2", "q3", "q4", "q5", "q6"), parents, strict=True):
        numbers = [float(n) for n in random.uniform(-1, 1, 6)]
        rest = Rest((1.0 + numbers[0], *numbers[1:3]), tuple(90 * n for n in numbers[3:]))  # type: ignore[arg-type]
        edits.append(AddPart(f"part {part}", parent, rest=rest, id=part))
        edits += [SetValue(part, f"rotation.{a}", float(random.uniform(-60, 60))) for a in AXES]
    keys = (Key(2.0, 0.0, "linear"), Key(7.5, 1.0, "hold"))
    return [
        *edits,
        PutKeys("q1", "rotation.x", (Key(0.0, -30.0), Key(LAST, 80.0))),
        PutLimb("arm", "p4", ("q1", "q2", "q3"), "p5", "p4", id="i1", steps=("j1", "j2", "j3")),
        PutLimb("tail", "q3", ("q3", "q4", "q5", "q6"), "p5", id="i2", steps=("j4",)),
        PutKeys("p4", "i1.blend", keys),
        SetValue("p4", "i1.soft", 0.2),
        formula("p4", "i1.stretch", "frame / 20", "j9"),
        SetValue("q3", "i2.end follows", 0.5),
    ]


def spaces(random: Random) -> list[AnyEdit]:
    """A part that is handed over three times, once with a blend; a marker."""
    edits: list[AnyEdit] = [AddStep("p1", "spaces", SpaceSettings(("", "0", "p3", "p5")), id="h1")]
    for n, frame in enumerate((3, 6, 9)):
        space = ("p3", "0", "p5")[(n + int(random.integers(3))) % 3]
        edits.append(SwitchSpace("h1", frame, space, blend=2 * (n == 1)))
    return [*edits, PutMarker(6.0, "hand over", "k1")]


def driven(random: Random) -> list[AnyEdit]:
    """Driven keys with rows on two parts, one of which has an opposite whose rest is its
    mirror image, an own channel, a limit, and steps that write and read the channels of steps
    listed behind them."""
    rows = (ChannelRef("p4", "rotation.x"), ChannelRef("p5", "translation.z"))
    return [
        AddChannel("p1", "size", low=0.0, high=9.0, default=1.0, id="c1"),
        AddDriven("spread", "{part p1.translation.x}", -2.0, 5.0, (0.0, 1.0, 4.0), "d1"),
        AddRows("d1", rows, "add"),
        PairParts("p5", "p1"),
        *(ChangePart(part, rest=Rest()) for part in ("p1", "p5")),
        AddStep("p4", "limit", LimitSettings("rotation.x", -20.0, 20.0), id="f1"),
        AddStep("p4", "spaces", SpaceSettings(("", "0")), id="f2"),
        formula("p4", "f2.space", "frame > 5", "f3"),
        formula("p4", "visible", "1", "f4"),
        formula("p4", "f1.weight", "0.25 + 0.5 * {part p4.formula f4.weight}", "f5"),
    ]


def surfaces(random: Random) -> list[AnyEdit]:
    """A surface on p4 with a step of each kind, some of whose numbers are keyed or driven; a bake
    of some parts, and a receiver that moves one by its name."""
    solid = str(random.choice(["box", "tube", "ball", "sheet"]))
    turns = Override("turn", "by input", parts=("part p2", "nobody"), input="turns", factor=20.0)
    return [
        MakeSurface("skin", "p4", solid, divisions=(3.0, 4.0, 2.0), id="y1"),  # type: ignore[arg-type]
        AddDeform("y1", "blend shapes", "shapes", id="d3"),
        PutShape("y1", "d3", "fat", (0, 3, 5), (0.1, 0.0, -0.2), "h1", 0.1),
        AddDeform("y1", "bend by joints", "bend", ("p2", "p3"), "d4"),
        AddDeform("y1", "displace", "ripples", id="d5"),
        PutKeys("p4", "y1.d3.h1", (Key(0.0, 0.0), Key(7.5, 1.0))),
        formula("p4", "y1.d5.shift", "frame / 10 + {part p4.skin.fat}", "y9"),
        PutBake("out", 1, LAST - 1, "by hand", parts=("p2", "p4"), id="z1"),
        PutReceiver(Setup(once=("out",), overrides=(turns,), inputs={"turns": 0.5})),
    ]


Seed = Callable[[Random], list[AnyEdit]]
SEEDS: Mapping[str, Seed] = {
    "bindings": bindings,
    "loops": loops,
    "backs": backs,
    "layers": layers,
    "leads": leads,
    "limbs": limbs,
    "spaces": spaces,
    "driven": driven,
    "surfaces": surfaces,
}


def seeded(random: Random, *kinds: str) -> Scene:
    """The ground with these seeds."""
    edits = ground(random)
    for kind in kinds:
        edits += SEEDS[kind](random)
    with answering(Evaluated()):
        return applied(Scene(), edits)


def drawn(random: Random) -> tuple[str, ...]:
    """One or two kinds of seeds that go together."""
    names = list(SEEDS)
    count = int(random.integers(1, 3))
    kinds = sorted(str(name) for name in random.choice(names, count, replace=False))
    return tuple(kinds)


def curves_of(scene: Scene) -> list[tuple[ChannelRef, Curve]]:
    """All curves, in a fixed order."""
    return sorted(scene.curves.items())
