"""What the settings of all binding steps are checked for."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import replace

import numpy as np

from bindu.core.refusal import Refusal
from bindu.core.scene.channels import TAPS
from bindu.core.scene.model import Scene
from bindu.core.scene.settings import Space, Target, Vector

MOST_TARGETS = 100


def found_target(scene: Scene, part: str | None, field: str) -> None:
    """Refuses a part that is not there."""
    if part is not None and part not in scene.parts:
        raise Refusal(
            f"there is no part with the identity {part!r} any more.", code="gone", place=field
        )


def checked_targets(scene: Scene, part: str, targets: Sequence[Target]) -> None:
    """Refuses targets that are none, too many, the owner itself, twice the same, or gone."""
    if not targets:
        raise Refusal("choose at least one target.", code="choice", place="targets")
    if len(targets) > MOST_TARGETS:
        raise Refusal(f"has at most {MOST_TARGETS} targets.", code="too much", place="targets")
    seen: set[str | None] = set()
    for target in targets:
        found_target(scene, target.part, "targets")
        name = scene.parts[target.part].name if target.part is not None else "the world"
        if target.part == part:
            raise Refusal(
                f"{name} cannot be a target of its own; choose another.",
                code="choice",
                place="targets",
            )
        if target.part in seen:
            raise Refusal(f"{name} is a target twice; give it more weight.", place="targets")
        seen.add(target.part)
        checked_tap(target.tap, "targets")
        offset = target.offset
        for vector in (offset.translation, offset.rotation, offset.scale):
            checked_vector(vector, "offset")


def checked_space(scene: Scene, part: str, space: Space, field: str) -> Space:
    """Refuses a space that is gone, or the owner itself. A part that is not read is not named."""
    if space.kind != "part":
        return replace(space, part=None)
    if space.part is None:
        raise Refusal("choose the part whose space it is.", code="choice", place=field)
    found_target(scene, space.part, field)
    if space.part == part:
        name = scene.parts[part].name
        raise Refusal(
            f"{name} cannot be a space of its own; choose another part.", code="choice", place=field
        )
    return space


def checked_vector(vector: Vector, field: str) -> None:
    """Refuses numbers that are not within ±1e9."""
    if not all(math.isfinite(v) and abs(v) <= 1e9 for v in vector):
        raise Refusal("must be numbers within ±1e9.", code="number", place=field)


def checked_direction(vector: Vector, field: str) -> None:
    """Refuses a direction that has no length."""
    checked_vector(vector, field)
    if np.linalg.norm(vector) < 1e-9:
        raise Refusal("a direction needs some length.", code="number", place=field)


def checked_axes(axis: Vector, up_axis: Vector) -> None:
    """Refuses a pair of axes that lie on one line."""
    checked_direction(axis, "axis")
    checked_direction(up_axis, "up axis")
    if np.linalg.norm(np.cross(axis, up_axis)) < 1e-6 * np.linalg.norm(axis) * np.linalg.norm(
        up_axis
    ):
        raise Refusal(
            "must not lie along the axis itself; choose another.", code="choice", place="up axis"
        )


def checked_tap(tap: str, field: str) -> None:
    """Refuses what is no tap."""
    if tap not in TAPS:
        raise Refusal(f"{tap!r} is no tap.", place=field, nearest=TAPS)


def target_names(scene: Scene, targets: Sequence[Target]) -> str:
    """The targets as people see them, with taps that are not final."""
    found = []
    for target in targets:
        name = scene.parts[target.part].name if target.part is not None else "the world"
        at = f" at {target.tap}" if target.tap != "final" else ""
        found.append(f"{name}{at}{', one frame back' if target.back else ''}")
    return ", ".join(found)
