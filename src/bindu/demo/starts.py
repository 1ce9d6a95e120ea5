"""What a new scene may begin with: small rigs, built by edits that one can undo step by step."""

from __future__ import annotations

from collections.abc import Mapping, Sequence

from bindu.core.curves.model import Key
from bindu.core.edits import AnyEdit
from bindu.core.edits.channels import AddChannel, SetValue
from bindu.core.edits.keys import PutKeys
from bindu.core.edits.make_limb import MakeLimb
from bindu.core.edits.parts import AddPart
from bindu.core.edits.steps import AddStep
from bindu.core.scene.parts import Rest, Shape, Side
from bindu.core.scene.settings import FormulaSettings

WOOD, DARK, WATER, IRON = "#E4D3AC", "#6B5A3E", "#9DB8B6", "#5E6A70"


def water_wheel() -> Sequence[AnyEdit]:
    """A wheel that turns by the way that a leaf has gone on the stream under it."""
    turn = "-degrees(travelled_x({leaf}) / {wheel.radius})"
    drift = (Key(0.0, -3.0, "linear"), Key(120.0, 3.0))
    stream = Shape("box", (8.0, 0.1, 1.4), (0.0, -0.05, 0.0), WATER)
    return (
        AddPart("stream", role="prop", shape=stream, id="p1"),
        AddPart("leaf", "p1", shape=Shape("ball", (0.3, 0.06, 0.2), colour="#6E8B3D"), id="p2"),
        PutKeys("p2", "translation.x", drift),
        AddPart(
            "wheel",
            role="joint",
            rest=Rest((0.0, 1.0, 0.0)),
            shape=Shape("wheel", (2.0, 2.0, 0.6), colour=WOOD),
            id="p3",
        ),
        AddChannel("p3", "radius", default=1.0, low=0.05, unit="m", id="c1"),
        AddStep("p3", "turns by the way", FormulaSettings("rotation.z", turn, "set")),
    )


def boom_with_a_hook() -> Sequence[AnyEdit]:
    """A boom on a post; one number lets its rope out, and the hook hangs straight."""
    rope = Shape("rod", (0.03, 1.0, 0.03), (0.0, -0.5, 0.0), DARK)
    hook = Shape("ring", (0.3, 0.3, 0.0), (0.0, -0.15, 0.0), IRON)
    return (
        AddPart("post", shape=Shape("rod", (0.3, 2.0, 0.3), (0.0, 1.0, 0.0), WOOD), id="p1"),
        AddChannel("p1", "rope length", default=1.2, low=0.1, high=3.0, unit="m", id="c1"),
        AddPart(
            "boom",
            "p1",
            rest=Rest((0.0, 2.0, 0.0)),
            shape=Shape("box", (3.0, 0.14, 0.14), (1.5, 0.0, 0.0), WOOD),
            id="p2",
        ),
        AddPart("boom tip", "p2", "helper", rest=Rest((3.0, 0.0, 0.0)), id="p3"),
        AddStep("p3", "hangs straight", FormulaSettings("rotation.z", "-{boom.rotation.z}")),
        AddPart("rope", "p3", "joint", shape=rope, id="p4"),
        AddStep("p4", "is let out", FormulaSettings("scale.y", "{post.rope length}", "set")),
        AddPart("hook", "p3", "joint", shape=hook, id="p5"),
        AddStep("p5", "is let out", FormulaSettings("translation.y", "-{post.rope length}", "set")),
    )


def two_legged_wader() -> Sequence[AnyEdit]:
    """A body on two legs that reach for their goals."""
    body = Shape("ball", (0.5, 0.45, 0.9), (0.0, 0.1, 0.0), "#9FB0B8")
    edits: list[AnyEdit] = [
        AddPart("wader", shape=Shape("ring", (1.4, 1.4, 0.0), colour=IRON), id="p1"),
        AddPart("body", "p1", rest=Rest((0.0, 1.2, 0.0)), shape=body, id="p2"),
    ]
    sides: tuple[tuple[Side, float, int], ...] = (("left", 0.16, 3), ("right", -0.16, 6))
    for side, x, n in sides:
        rests = (Rest((x, 0.0, 0.0)), Rest((0.0, -0.6, 0.0)), Rest((0.0, -0.6, 0.0)))
        above, leg = "p2", Shape("rod", (0.08, 0.6, 0.08), (0.0, -0.3, 0.0), "#D9A441")
        for k, (name, rest) in enumerate(zip(("hip", "knee", "ankle"), rests, strict=True)):
            shape = leg if name != "ankle" else Shape("box", (0.14, 0.04, 0.3), colour="#D9A441")
            part = f"p{n + k}"
            edits.append(
                AddPart(f"{side} {name}", above, "joint", side, rest, shape=shape, id=part)
            )
            above = part
    legs = MakeLimb("left leg", "p2", ("p3", "p4", "p5"), 0, toward=(0.0, 0.0, -1.0), mirror=True)
    return (*edits, legs, SetValue("p2", "translation.y", -0.1))


STARTS: Mapping[str, Sequence[AnyEdit]] = {
    "a water wheel": water_wheel(),
    "a boom with a hook": boom_with_a_hook(),
    "a two-legged wader": two_legged_wader(),
}
"""By what they are called."""
