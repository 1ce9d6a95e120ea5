"""Small scenes for the tests of checks, and what one check finds in them."""

from __future__ import annotations

from collections.abc import Callable

import numpy as np

from bindu.core.checks.check import Finding
from bindu.core.checks.registry import findings
from bindu.core.curves.model import Key
from bindu.core.edits import AnyEdit, applied
from bindu.core.edits.keys import PutKeys
from bindu.core.edits.parts import AddPart
from bindu.core.edits.scene import ChangeScene
from bindu.core.evaluation import evaluate
from bindu.core.scene.model import Scene

LAST = 60


def plain(*edits: AnyEdit, last: int = LAST) -> Scene:
    """A part below another, and these edits."""
    parts = [AddPart("body", id="body"), AddPart("foot", "body", id="foot")]
    return applied(Scene(), [ChangeScene(first=0, last=last), *parts, *edits])


def moving(channel: str, values: Callable[[int], float], part: str = "foot") -> PutKeys:
    """Keys on every frame."""
    keys = (Key(float(f), values(f), "linear") for f in range(LAST + 1))
    return PutKeys(part, channel, tuple(keys))


def found(scene: Scene, check: str, part: str | None = None) -> list[Finding]:
    """What one check finds."""
    made = findings(evaluate(scene), only={check})
    return [one for one in made if part is None or one.part == part]


def wave(frame: int) -> float:
    return 0.3 * float(np.sin(frame / 9.0))
