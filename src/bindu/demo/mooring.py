"""The mooring: a true loop, a false one, and a tie that must come late."""

from __future__ import annotations

from collections.abc import Iterator

from bindu.core.curves.model import Key
from bindu.core.edits import AnyEdit, applied
from bindu.core.edits.channels import SetValue
from bindu.core.edits.keys import PutKeys
from bindu.core.edits.parts import AddPart
from bindu.core.edits.scene import ChangeScene
from bindu.core.edits.steps import AddStep
from bindu.core.edits.what_ifs import PutWhatIf
from bindu.core.scene.model import Scene
from bindu.core.scene.parts import Rest, Role, Shape
from bindu.core.scene.settings import (
    AimSettings,
    ConstraintSettings,
    FormulaSettings,
    Target,
    Vector,
)
from bindu.core.scene.things import StepVariant
from bindu.demo.eel import eel_skin

WOOD, DARK, RED, WATER = "#E4D3AC", "#6B5A3E", "#D8432B", "#D7E4E4"
ROPE = 3.0
"""How long the boat's rope is, metres."""


def the_mooring() -> Scene:
    """Two buoys and an eel that pull at each other, a mast and a lantern that look at each other,
    and a boat on a rope; the eel has a skin over its joints."""
    edits = (*_parts(), *_motion(), *_loop(), *_looks(), *_tie(), *eel_skin("p4"))
    return applied(Scene(), edits)


def _parts() -> Iterator[AnyEdit]:
    yield ChangeScene(name="The mooring", fps=24.0, first=0, last=96)

    def part(
        name: str, part_id: str, at: Vector, shape: Shape, parent: str | None = None
    ) -> AddPart:
        role: Role = "helper" if name == "drift" else "control"
        return AddPart(name, parent, role, rest=Rest(at), shape=shape, id=part_id)

    ball = Shape("ball", (0.6, 0.6, 0.6), (0.0, 0.1, 0.0), RED)
    pole = Shape("rod", (0.2, 2.2, 0.2), (0.0, 0.6, 0.0), DARK)
    hull = Shape("box", (1.7, 0.4, 0.8), (0.85, 0.1, 0.0), WOOD)
    eel = Shape("axes", (0.4, 0.4, 0.4))
    water = Shape("plate", (14.0, 0.02, 10.0), (0.0, -0.05, 0.0), WATER)
    yield AddPart("water", None, "prop", shape=water, id="p1")
    yield part("buoy", "p2", (-4.0, 0.0, -2.0), ball)
    yield part("far buoy", "p3", (-2.0, 0.0, -3.4), ball)
    yield part("eel", "p4", (-3.0, -0.1, -1.0), eel)
    yield part("post", "p5", (1.0, 0.0, 0.0), pole)
    yield part("drift", "p6", (0.0, 0.0, 0.0), Shape("axes", (0.5, 0.5, 0.5)), "p5")
    yield part("boat", "p7", (0.0, 0.0, 0.0), hull, "p5")
    mast = Shape("rod", (0.1, 2.0, 0.1), (0.0, 1.0, 0.0), DARK)
    lantern = Shape("ball", (0.4, 0.4, 0.4), (0.0, 0.0, 0.0), "#F2BE54")
    yield part("mast", "p8", (-0.5, 0.0, 2.6), mast)
    yield part("lantern", "p9", (-3.0, 1.8, 2.2), lantern)
    rope = Shape("box", (1.0, 0.05, 0.05), (0.5, 0.0, 0.0), "#A08B63")
    yield part("mooring rope", "p10", (0.0, 0.5, 0.0), rope, "p5")


def _motion() -> Iterator[AnyEdit]:
    """The stream carries the drift about the post, farther than the rope reaches."""
    out = (Key(0.0, 2.0), Key(40.0, 4.6), Key(96.0, 2.2))
    across = (Key(0.0, -1.4), Key(48.0, 1.9), Key(96.0, -0.6))
    yield PutKeys("p6", "translation.x", out)
    yield PutKeys("p6", "translation.z", across)
    yield PutKeys("p2", "translation.z", (Key(0.0, 0.0), Key(48.0, 0.5), Key(96.0, 0.0)))
    yield PutKeys("p3", "translation.x", (Key(0.0, 0.0), Key(32.0, 0.6), Key(96.0, -0.2)))
    yield PutKeys("p4", "translation.x", (Key(0.0, -0.4), Key(48.0, 0.8), Key(96.0, -0.4)))
    yield PutKeys("p9", "translation.y", (Key(0.0, 0.0), Key(48.0, 0.7), Key(96.0, 0.0)))


def _loop() -> Iterator[AnyEdit]:
    """Each goes where the next one is, a little beside it: none can come first."""
    pulls = (
        ("p2", "pulled by the eel", "p4", (-1.0, 0.1, -1.0), "s1"),
        ("p4", "pulled by the far buoy", "p3", (-1.0, -0.1, 2.4), "s2"),
        ("p3", "pulled by the buoy", "p2", (2.0, 0.0, -1.4), "s3"),
    )
    for part, name, target, offset, step in pulls:
        settings = ConstraintSettings((Target(target),), offset=offset, kind="position")
        yield AddStep(part, name, settings, id=step)
    for part, step in (("p2", "s1"), ("p3", "s3"), ("p4", "s2")):
        yield SetValue(part, f"{step}.weight", 0.6)


def _looks() -> Iterator[AnyEdit]:
    """The mast leans to the lantern, the lantern looks at the mast: no loop."""
    lean = AimSettings((Target("p9"),), (0.0, 1.0, 0.0), (1.0, 0.0, 0.0), up="none")
    yield AddStep("p8", "lean to the lantern", lean, id="s4")
    yield SetValue("p8", "s4.weight", 0.3)
    yield AddStep("p9", "look at the mast", AimSettings((Target("p8"),)), id="s5")


def _tie() -> Iterator[AnyEdit]:
    """The boat drifts, but no farther than its rope: right only after the drift has been taken
    over."""
    drift = ConstraintSettings((Target("p6"),), axes=("x", "z"), kind="position")
    yield AddStep("p7", "drift", drift, id="s6")
    tie = f"min(1, {ROPE:g} / distance({{drift}}, {{post}}))"
    yield AddStep("p7", "tie", FormulaSettings("translation.x", tie, "scale"), "late", "s7")
    yield AddStep("p7", "tie across", FormulaSettings("translation.z", tie, "scale"), "late", "s8")
    away = AimSettings((Target("p5"),), (-1.0, 0.0, 0.0))
    yield AddStep("p7", "bow to the post", away, id="s9")
    yield AddStep("p10", "along the rope", AimSettings((Target("p7"),)), id="s10")
    stretch = FormulaSettings("scale.x", "distance({post}, {boat})")
    yield AddStep("p10", "as long as it is", stretch, id="s11")
    late = tuple(StepVariant(step, "late") for step in ("s7", "s8"))
    early = tuple(StepVariant(step, "driven") for step in ("s7", "s8"))
    yield PutWhatIf("tied before or after the drift", early, late, "w1")
