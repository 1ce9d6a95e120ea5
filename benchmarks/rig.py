"""The rig that the benchmarks evaluate, as a scene and as hand-written NumPy."""

from __future__ import annotations

from dataclasses import replace

import numpy as np

from bindu.core.curves.keys import with_keys
from bindu.core.curves.model import Curve, Key
from bindu.core.scene.channels import AXES, ChannelRef
from bindu.core.scene.model import Scene
from bindu.core.scene.parts import Part, Rest, Step
from bindu.core.scene.settings import FormulaSettings

CHAIN = 10
KEYS = 8


def key_table(parts: int, frames: int) -> np.ndarray:
    """Made-up key values in degrees, shape (parts, 3, KEYS)."""
    return np.random.default_rng(7).uniform(-40.0, 40.0, (parts, 3, KEYS))


def key_frames(frames: int) -> np.ndarray:
    """The frames of the keys, shape (KEYS,)."""
    return np.round(np.linspace(0, frames - 1, KEYS))


def rig_scene(parts: int, frames: int) -> Scene:
    """Chains of ten parts, keys on every rotation, a formula on the ninth of each chain, so that it
    reaches two parts."""
    values, when = key_table(parts, frames), key_frames(frames)
    scene = Scene(name="rig", first=0, last=frames - 1)
    made: dict[str, Part] = {}
    curves: dict[ChannelRef, Curve] = {}
    steps: dict[str, Step] = {}
    for n in range(parts):
        parent = f"p{n - 1}" if n % CHAIN else None
        rest = Rest((0.0, 1.0, 0.0)) if parent else Rest((float(n), 0.0, 0.0))
        made[f"p{n}"] = Part(f"p{n}", f"part {n}", parent, n, rest=rest)
        for a, axis in enumerate(AXES):
            keys = [Key(float(f), float(v)) for f, v in zip(when, values[n, a], strict=True)]
            curves[ChannelRef(f"p{n}", f"rotation.{axis}")] = with_keys(None, keys)
        if n % CHAIN == CHAIN - 2:
            text = f"0.5 * {{p{n - 1}.rotation.x}} + 3 * sin({{p{n - 2}.rotation.y}})"
            settings = FormulaSettings("rotation.z", text, "add")
            steps[f"s{n}"] = Step(f"s{n}", f"p{n}", "sway", "driven", settings)
    return replace(scene, parts=made, curves=curves, steps=steps)


def with_factor(scene: Scene, step_id: str, factor: float) -> Scene:
    """The scene with another factor in one formula."""
    step = scene.steps[step_id]
    text = step.settings.text.replace("0.5", repr(factor), 1)  # type: ignore[union-attr]
    settings = replace(step.settings, text=text)
    return replace(scene, steps={**scene.steps, step_id: replace(step, settings=settings)})


def by_hand(parts: int, frames: int) -> np.ndarray:
    """The same rig as straight NumPy: world matrices, shape (parts, F, 4, 4).

    One function solves a curve, one makes a local matrix, one loop walks the chains, as one
    writes it for this rig alone.
    """
    values, when = key_table(parts, frames), key_frames(frames)
    grid = np.arange(frames, dtype=float)
    angles = np.empty((parts, 3, frames))
    for n in range(parts):
        for a in range(3):
            angles[n, a] = _smooth_curve(when, values[n, a], grid)
    for n in range(CHAIN - 2, parts, CHAIN):
        swing = 3.0 * np.sin(np.radians(angles[n - 2, 1]))
        angles[n, 2] += 0.5 * angles[n - 1, 0] + swing
    world = np.empty((parts, frames, 4, 4))
    for n in range(parts):
        rest = (0.0, 1.0, 0.0) if n % CHAIN else (float(n), 0.0, 0.0)
        local = _local(angles[n], rest)
        world[n] = world[n - 1] @ local if n % CHAIN else local
    return world


def _smooth_curve(when: np.ndarray, values: np.ndarray, grid: np.ndarray) -> np.ndarray:
    span, rise = np.diff(when), np.diff(values)
    slope = rise / span
    tangent = np.zeros(len(when))
    w1, w2 = 2.0 * span[1:] + span[:-1], span[1:] + 2.0 * span[:-1]
    turning = slope[:-1] * slope[1:] <= 0.0
    with np.errstate(all="ignore"):
        mean = (w1 + w2) / (w1 / slope[:-1] + w2 / slope[1:])
    tangent[1:-1] = np.where(turning, 0.0, mean)
    i = np.minimum(np.searchsorted(when, grid, side="right") - 1, len(span) - 1)
    start = when[i]
    y0, y3 = values[i], values[i + 1]
    y1, y2 = y0 + tangent[i] * span[i] / 3.0, y3 - tangent[i + 1] * span[i] / 3.0
    x1, x2 = start + span[i] / 3.0, start + 2.0 * span[i] / 3.0
    s = (grid - start) / span[i]
    for _ in range(8):
        r = 1.0 - s
        x = r**3 * start + 3.0 * r * r * s * x1 + 3.0 * r * s * s * x2 + s**3 * when[i + 1]
        error = x - grid
        if np.abs(error).max() < 1e-9:
            break
        slope_x = 3.0 * (
            r * r * (x1 - start) + 2.0 * r * s * (x2 - x1) + s * s * (when[i + 1] - x2)
        )
        s = s - error / slope_x
    r = 1.0 - s
    return r**3 * y0 + 3.0 * r * r * s * y1 + 3.0 * r * s * s * y2 + s**3 * y3


def _local(angles: np.ndarray, rest: tuple[float, float, float]) -> np.ndarray:
    sx, sy, sz = np.sin(np.radians(angles))
    cx, cy, cz = np.cos(np.radians(angles))
    local = np.zeros((angles.shape[1], 4, 4))
    local[:, 0, 0], local[:, 0, 1], local[:, 0, 2] = (
        cy * cz,
        sx * sy * cz - cx * sz,
        cx * sy * cz + sx * sz,
    )
    local[:, 1, 0], local[:, 1, 1], local[:, 1, 2] = (
        cy * sz,
        sx * sy * sz + cx * cz,
        cx * sy * sz - sx * cz,
    )
    local[:, 2, 0], local[:, 2, 1], local[:, 2, 2] = -sy, cy * sx, cy * cx
    local[:, :3, 3] = rest
    local[:, 3, 3] = 1.0
    return local


def stacked_by_hand(parts: int, frames: int) -> np.ndarray:
    """The same as one writes it for speed: all curves in one stack, then all parts of one depth in
    one stack. World matrices, upper three rows, shape (parts, F, 3, 4)."""
    values, when = key_table(parts, frames), key_frames(frames)
    grid = np.arange(frames, dtype=float)
    angles = smooth_curves(when, values.reshape(-1, KEYS), grid).reshape(parts, 3, frames)
    ninth = np.arange(CHAIN - 2, parts, CHAIN)
    swing = 3.0 * np.sin(np.radians(angles[ninth - 2, 1]))
    angles[ninth, 2] += 0.5 * angles[ninth - 1, 0] + swing
    world = np.empty((parts, frames, 3, 4))
    for depth in range(CHAIN):
        here = np.arange(depth, parts, CHAIN)
        local = np.empty((len(here), frames, 3, 4))
        local[..., :3] = stacked_rotations(angles[here, 0], angles[here, 1], angles[here, 2])
        local[..., 3] = (0.0, 1.0, 0.0) if depth else 0.0
        if depth:
            world[here] = stacked_within(world[here - 1], local)
        else:
            local[:, :, 0, 3] = here[:, None]
            world[here] = local
    return world


def stacked_rotations(a: np.ndarray, b: np.ndarray, c: np.ndarray) -> np.ndarray:
    """Rotation matrices, shape (…, 3, 3), from degrees about x, then y, then z, each (…)."""
    sx, sy, sz = (np.sin(np.radians(angle)) for angle in (a, b, c))
    cx, cy, cz = (np.cos(np.radians(angle)) for angle in (a, b, c))
    made = np.empty((*a.shape, 3, 3))
    made[..., 0, 0], made[..., 0, 1] = cy * cz, sx * sy * cz - cx * sz
    made[..., 0, 2] = cx * sy * cz + sx * sz
    made[..., 1, 0], made[..., 1, 1] = cy * sz, sx * sy * sz + cx * cz
    made[..., 1, 2] = cx * sy * sz - sx * cz
    made[..., 2, 0], made[..., 2, 1], made[..., 2, 2] = -sy, cy * sx, cy * cx
    return made


def stacked_within(outer: np.ndarray, inner: np.ndarray) -> np.ndarray:
    """Places in places, shape (…, 3, 4)."""
    made = np.matmul(outer[..., :3], inner)
    made[..., 3] += outer[..., 3]
    return made


def smooth_curves(when: np.ndarray, values: np.ndarray, grid: np.ndarray) -> np.ndarray:
    """Smooth curves through keys on the same frames, shape (C, F) from values of (C, KEYS)."""
    span, rise = np.diff(when), np.diff(values, axis=1)
    slope = rise / span
    tangent = np.zeros(values.shape)
    w1, w2 = 2.0 * span[1:] + span[:-1], span[1:] + 2.0 * span[:-1]
    turning = slope[:, :-1] * slope[:, 1:] <= 0.0
    with np.errstate(all="ignore"):
        mean = (w1 + w2) / (w1 / slope[:, :-1] + w2 / slope[:, 1:])
    tangent[:, 1:-1] = np.where(turning, 0.0, mean)
    i = np.minimum(np.searchsorted(when, grid, side="right") - 1, len(span) - 1)
    y0, y3 = values[:, i], values[:, i + 1]
    y1 = y0 + tangent[:, i] * span[i] / 3.0
    y2 = y3 - tangent[:, i + 1] * span[i] / 3.0
    s = (grid - when[i]) / span[i]
    r = 1.0 - s
    return r**3 * y0 + 3.0 * r * r * s * y1 + 3.0 * r * s * s * y2 + s**3 * y3
