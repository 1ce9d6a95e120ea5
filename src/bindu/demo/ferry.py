"""Ferry crossing: a rope ferry with a paddle wheel and a lantern."""

from __future__ import annotations

from bindu.core.curves.model import Key
from bindu.core.edits import AnyEdit, applied
from bindu.core.edits.channels import AddChannel, SetValue
from bindu.core.edits.keys import PutKeys
from bindu.core.edits.parts import AddPart
from bindu.core.edits.scene import ChangeScene
from bindu.core.edits.steps import AddStep
from bindu.core.scene.model import FormulaSettings, LimitSettings, Rest, Scene, Shape

WOOD, DARK, ROPE = "#E4D3AC", "#6B5A3E", "#A08B63"


def ferry_crossing() -> Scene:
    """A ferry keyed along its rope, with a stop in midstream; the paddle turns by the way."""
    return applied(Scene(), [*_parts(), *_motion(), *_wiring()])


def _parts() -> list[AnyEdit]:
    def post(name: str, x: float, part: str) -> AddPart:
        rest = Rest((x, 0.0, -1.6))
        shape = Shape("rod", (0.16, 2.4, 0.16), (0.0, 1.2, 0.0), DARK)
        return AddPart(name, None, "helper", "centre", rest, shape=shape, id=part)

    deck = Shape("box", (3.0, 0.4, 2.2), (0.0, 0.2, 0.0), WOOD)
    wheel = Shape("wheel", (1.1, 1.1, 0.3), colour="#D8432B")
    mast = Shape("rod", (0.12, 2.2, 0.12), (0.0, 1.1, 0.0), DARK)
    lantern = Shape("ball", (0.42, 0.42, 0.42), (0.0, -0.35, 0.0), "#F2BE54")
    arm = Shape("box", (0.8, 0.06, 0.06), (0.35, 0.0, 0.0), DARK)
    rope = Shape("box", (12.0, 0.05, 0.05), (0.0, 0.0, 0.0), ROPE)
    return [
        ChangeScene(name="Ferry crossing", fps=24.0, first=0, last=120),
        AddPart("ferry", role="control", shape=Shape("ring", (3.6, 3.6, 0.0)), id="p1"),
        AddPart("deck", "p1", "joint", shape=deck, id="p2"),
        AddPart("paddle", "p1", "control", rest=Rest((0.0, 0.2, 1.3)), shape=wheel, id="p3"),
        AddPart("mast", "p1", "joint", rest=Rest((0.4, 0.4, 0.0)), shape=mast, id="p4"),
        AddPart("lantern arm", "p4", "joint", rest=Rest((0.0, 2.1, 0.0)), shape=arm, id="p5"),
        AddPart("lantern", "p5", "control", rest=Rest((0.7, 0.0, 0.0)), shape=lantern, id="p6"),
        post("near post", -6.0, "p7"),
        post("far post", 6.0, "p8"),
        AddPart("rope", None, "prop", rest=Rest((0.0, 2.2, -1.6)), shape=rope, id="p9"),
        AddChannel("p3", "radius", default=0.5, low=0.05, high=5.0, unit="m", id="c1"),
        AddChannel("p3", "bite depth", default=0.35, low=0.0, high=1.0, unit="m", id="c2"),
    ]


def _motion() -> list[AnyEdit]:
    crossing = (Key(10.0, -4.5), Key(50.0, 0.0), Key(70.0, 0.0), Key(110.0, 4.5))
    look = (Key(0.0, 0.0), Key(48.0, 25.0), Key(72.0, 25.0), Key(120.0, -15.0))
    return [
        PutKeys("p1", "translation.x", crossing),
        PutKeys("p5", "rotation.y", look),
        SetValue("p3", "translation.y", 0.15),
    ]


def _wiring() -> list[AnyEdit]:
    turn = "-degrees(travelled({ferry}) / {paddle.radius}) / 4"
    sway = "1.2 * sin(75 * seconds)"
    swing = "-7 * speed({ferry}) + 3 * sin(150 * seconds)"
    return [
        AddStep("p3", "turn by distance", FormulaSettings("rotation.z", turn), id="s1"),
        AddStep("p3", "stop pin", LimitSettings("rotation.z", -240.0, 20.0), id="s2"),
        AddStep("p4", "stream sway", FormulaSettings("rotation.x", sway), id="s3"),
        AddStep("p6", "trail behind", FormulaSettings("rotation.z", swing, "add"), id="s4"),
        AddStep("p6", "chain stop", LimitSettings("rotation.z", -14.0, 14.0), id="s5"),
    ]
