"""What makes a scene come out otherwise than anybody meant: loops, no numbers, jumps."""

from __future__ import annotations

from bindu.core.checks.check import Finding
from bindu.core.checks.registry import findings
from bindu.core.curves.model import Key
from bindu.core.edits import AnyEdit, applied
from bindu.core.edits.keys import PutKeys
from bindu.core.edits.parts import AddPart
from bindu.core.edits.scene import ChangeScene
from bindu.core.edits.steps import AddStep
from bindu.core.evaluation import Evaluation
from bindu.core.scene.model import Scene
from bindu.core.scene.settings import SpaceSettings

CHECKS = {
    "loop",
    "no number",
    "switch",
    "handover",
    "uneven limb",
    "reach",
    "pole",
    "aim",
    "shear",
}


def troubles(evaluation: Evaluation) -> tuple[Finding, ...]:
    """What these checks find in a scene."""
    return findings(evaluation, only=CHECKS)


def passing(handover: AnyEdit) -> Scene:
    """A foot stands still, and goes on with a boat that passes it on frame 24."""
    boat = (Key(0.0, -2.4, "linear"), Key(60.0, 3.6, "linear"))
    return applied(
        Scene(),
        [
            ChangeScene(first=0, last=60),
            *(AddPart(name, id=name) for name in ("body", "boat")),
            AddPart("foot", "body", id="foot"),
            PutKeys("boat", "translation.x", boat),
            AddStep("foot", "spaces", SpaceSettings(("body", "boat")), id="s1"),
            handover,
        ],
    )
