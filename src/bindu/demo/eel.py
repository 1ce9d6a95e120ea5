"""The eel's skin: five joints that swim, two blend shapes, ripples, and an order that shows."""

from __future__ import annotations

import math
from collections.abc import Iterator

from bindu.core.curves.model import Key
from bindu.core.edits import AnyEdit
from bindu.core.edits.channels import SetValue
from bindu.core.edits.deforms import AddDeform, OrderDeforms, PutShape, SmoothWeights
from bindu.core.edits.keys import PutKeys
from bindu.core.edits.parts import AddPart
from bindu.core.edits.steps import AddStep
from bindu.core.edits.surfaces import MakeSurface
from bindu.core.scene.parts import Rest, Shape
from bindu.core.scene.settings import FormulaSettings

RINGS, SIDES = 12, 8
LENGTH = 1.5
HIGH = 0.16
"""How high above the part it swims, so that the water does not hide it, metres."""
JOINTS = tuple(f"p{number}" for number in range(11, 16))


def eel_skin(eel: str) -> Iterator[AnyEdit]:
    """Joints from the head back along −x, each turning a little later than the one before, and a
    skin over them."""
    yield from _joints(eel)
    green = "#5B7F3A"
    size = (LENGTH, 0.26, 0.2)
    yield MakeSurface("skin", eel, "tube", size, (0.0, HIGH, 0.0), (RINGS, SIDES, 1), green, "f1")
    yield AddDeform("f1", "blend shapes", "shapes", id="d3")
    yield AddDeform("f1", "bend by joints", "bend", JOINTS, "d4")
    yield SmoothWeights("f1", "d4", 2)
    yield AddDeform("f1", "displace", "ripples", id="d5")
    yield OrderDeforms("f1", ("d3", "d4", "d5", "d1", "d2"))
    yield from _shapes()
    yield SetValue(eel, "f1.d5.amplitude", 0.022)
    yield SetValue(eel, "f1.d5.length", 0.3)
    yield PutKeys(eel, "f1.d5.shift", (Key(0.0, 0.0, "linear"), Key(96.0, 4.0, "linear")))
    breath = ((0.0, 0.0), (24.0, 1.0), (48.0, 0.1), (72.0, 0.9), (96.0, 0.0))
    yield PutKeys(eel, "f1.d3.h1", tuple(Key(frame, value) for frame, value in breath))
    bite = ((40.0, 0.0), (46.0, 1.0), (52.0, 0.0))
    yield PutKeys(eel, "f1.d3.h2", tuple(Key(frame, value) for frame, value in bite))


def _joints(eel: str) -> Iterator[AnyEdit]:
    shape = Shape("axes", (0.12, 0.12, 0.12))
    step = LENGTH / len(JOINTS)
    for n, joint in enumerate(JOINTS):
        first = n == 0
        rest = Rest((LENGTH / 2.0 - step / 2.0, HIGH, 0.0) if first else (-step, 0.0, 0.0))
        parent = eel if first else JOINTS[n - 1]
        yield AddPart(f"eel {n + 1}", parent, "joint", rest=rest, shape=shape, id=joint)
        swing = FormulaSettings("rotation.y", f"{6 + 4 * n} * sin(15 * frame - {55 * n})")
        yield AddStep(joint, "swim", swing, id=f"s{20 + n}")


def _shapes() -> Iterator[AnyEdit]:
    """Puffed: the rings of the belly go outwards. Open mouth: the head's lower rim goes down."""
    for side in range(SIDES):
        angle = 2.0 * math.pi * side / SIDES
        belly = tuple(ring * SIDES + side for ring in range(5, 10))
        out = (0.0, round(0.05 * math.cos(angle), 6), round(0.05 * math.sin(angle), 6))
        yield PutShape("f1", "d3", "puffed", belly, out, "h1")
    lower = tuple(RINGS * SIDES + side for side in (3, 4, 5))
    yield PutShape("f1", "d3", "open mouth", lower, (0.04, -0.08, 0.0), "h2")
