"""Ferry crossing: a rope ferry with a paddle wheel, a gangway and a lantern."""

from __future__ import annotations

from collections.abc import Iterator

from bindu.core.curves.model import Key
from bindu.core.edits import AnyEdit, applied
from bindu.core.edits.channels import AddChannel, SetValue
from bindu.core.edits.driven import AddDriven
from bindu.core.edits.keys import PutKeys
from bindu.core.edits.parts import AddPart
from bindu.core.edits.probes import PutProbe
from bindu.core.edits.rows import AddRows, Cell, PutCells
from bindu.core.edits.scene import ChangeScene
from bindu.core.edits.steps import AddStep
from bindu.core.scene.channels import ChannelRef
from bindu.core.scene.model import Scene
from bindu.core.scene.parts import Rest, Shape, Side
from bindu.core.scene.settings import FormulaSettings, LimitSettings
from bindu.demo.cargo import cargo

WOOD, DARK, ROPE, FOAM = "#E4D3AC", "#6B5A3E", "#A08B63", "#DDE8E6"
STOPS = (0.0, 2.5, 6.0, 10.0)


def ferry_crossing() -> Scene:
    """A ferry keyed along its rope, with a stop in midstream; the paddle turns by the way, and
    at the far quay the gangway is lowered by driven keys."""
    edits = (
        *_parts(),
        *_motion(),
        *_wiring(),
        *_fittings(),
        *_by_speed(),
        *_gangway(),
        *_probes(),
        *cargo(),
    )
    return applied(Scene(), edits)


def _parts() -> list[AnyEdit]:
    def post(name: str, x: float, part: str) -> AddPart:
        rest = Rest((x, 0.0, -1.6))
        shape = Shape("rod", (0.16, 2.4, 0.16), (0.0, 1.2, 0.0), DARK)
        return AddPart(name, None, "helper", "centre", rest, shape=shape, id=part)

    deck = Shape("box", (3.0, 0.4, 2.2), (0.0, 0.2, 0.0), WOOD)
    wheel = Shape("wheel", (1.1, 1.1, 0.3), colour="#A8562F")
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


def _fittings() -> Iterator[AnyEdit]:
    """Gangway with hook, handrails and step board; rope drum with its belt; bow wave."""
    plank = Shape("box", (1.3, 0.06, 0.9), (0.65, 0.0, 0.0), WOOD)
    hook = Shape("box", (0.06, 0.3, 0.06), (0.0, 0.12, 0.0), DARK)
    rail = Shape("box", (1.2, 0.05, 0.05), (0.6, 0.0, 0.0), DARK)
    board = Shape("box", (0.4, 0.05, 0.7), (0.2, 0.0, 0.0), ROPE)
    drum = Shape("wheel", (0.5, 0.5, 0.3), colour=ROPE)
    belt = Shape("belt", (1.1, 0.22, 0.16), colour=DARK)
    wave = Shape("wing", (1.2, 0.02, 0.7), (0.0, 0.0, -0.35), FOAM)
    yield AddChannel("p1", "landing", low=0.0, high=10.0, id="c3")
    yield AddPart("gangway", "p1", "control", rest=Rest((1.5, 0.42, 0.0)), shape=plank, id="p10")
    yield AddPart("gangway hook", "p10", "joint", rest=Rest((1.3, 0.0, 0.0)), shape=hook, id="p11")
    sides: tuple[tuple[Side, str, float], ...] = (("left", "p12", -0.42), ("right", "p13", 0.42))
    for side, part, z in sides:
        rest = Rest((0.0, 0.05, z))
        yield AddPart(f"handrail {side}", "p10", "joint", side, rest, shape=rail, id=part)
    yield AddPart("step board", "p10", "joint", rest=Rest((1.0, 0.05, 0.0)), shape=board, id="p14")
    yield AddPart("rope drum", "p1", "joint", rest=Rest((-0.7, 0.9, -0.9)), shape=drum, id="p15")
    yield AddPart("drum belt", "p1", "joint", rest=Rest((-0.7, 0.9, -1.15)), shape=belt, id="p16")
    bow = Rest((1.9, 0.02, 0.0), (0.0, 90.0, 0.0))
    yield AddPart("bow wave", "p1", "prop", rest=bow, shape=wave, id="p17")
    yield AddChannel("p6", "brightness", low=0.0, high=1.0, id="c4", shows="brightness")
    yield AddChannel("p16", "belt offset", unit="m", id="c5", shows="strip offset")
    yield PutKeys("p1", "c3", (Key(92.0, 0.0), Key(116.0, 10.0)))


def _by_speed() -> Iterator[AnyEdit]:
    """What the ferry's own way moves: drum, belt, wave."""
    wave = "0.15 + 0.5 * speed({ferry})"
    formulas = (
        ("p15", "haul", "rotation.z", "-degrees(travelled({ferry}) / 0.25)", "s6"),
        ("p16", "run", "c5", "travelled({ferry})", "s7"),
        ("p17", "grow", "scale.x", wave, "s8"),
        ("p17", "grow long", "scale.z", wave, "s9"),
    )
    for part, name, channel, text, step in formulas:
        yield AddStep(part, name, FormulaSettings(channel, text), id=step)


def _probes() -> Iterator[AnyEdit]:
    """Where the paddle's rim meets the water."""
    yield PutProbe("water line", "p3", (0.0, -0.5, 0.0), True, None, "q1")


def _gangway() -> Iterator[AnyEdit]:
    """Six rows over four stops of the landing."""
    rows = (
        ("p10", "rotation.z", (0.0, -18.0, -61.0, -92.0)),
        ("p11", "rotation.z", (0.0, 0.0, -35.0, -110.0)),
        ("p12", "rotation.x", (0.0, 12.0, 40.0, 58.0)),
        ("p13", "rotation.x", (0.0, -12.0, -40.0, -58.0)),
        ("p14", "translation.x", (0.0, 0.04, 0.22, 0.31)),
        ("p6", "c4", (0.0, 0.0, 0.4, 1.0)),
    )
    yield AddDriven("lower gangway", "{ferry.landing}", 0.0, 10.0, STOPS, "d1")
    yield AddRows("d1", tuple(ChannelRef(part, channel) for part, channel, _ in rows))
    cells = []
    for n, (_, _, values) in enumerate(rows, start=10):
        cells += [Cell(f"s{n}", stop, value) for stop, value in zip(STOPS, values, strict=True)]
    yield PutCells(tuple(cells))
