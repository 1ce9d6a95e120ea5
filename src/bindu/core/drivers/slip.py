"""How far a point that should stick to its ground moves against it, and the factor for which it
moves least."""

from __future__ import annotations

from dataclasses import dataclass, replace
from typing import Literal

import numpy as np
from scipy.spatial.transform import Rotation

from bindu.core.curves.model import Array
from bindu.core.drivers.copying import alike
from bindu.core.evaluation import Evaluation, evaluate_after
from bindu.core.formula.compiler import compiled
from bindu.core.formula.numbers import written_number
from bindu.core.formula.references import to_names
from bindu.core.formula.scaling import scaled
from bindu.core.geometry.rotation import orthonormal
from bindu.core.placing.place import inverted, square
from bindu.core.refusal import Refusal
from bindu.core.scene.changes import with_step
from bindu.core.scene.channels import AXES, ChannelRef
from bindu.core.scene.model import Scene
from bindu.core.scene.parts import Step
from bindu.core.scene.settings import FormulaSettings
from bindu.core.scene.things import Probe

Why = Literal["across", "off the ground", "along"]


@dataclass(frozen=True)
class Slip:
    """The slip of a probe on each frame: the way against the ground since the frame before.

    Attributes:
        vectors: metres a frame in the ground's axes, shape (F, 3); zero on the first frame.
        points: where the point is in the world, shape (F, 3).
    """

    vectors: Array
    points: Array

    @property
    def amounts(self) -> Array:
        """Metres a frame, shape (F,)."""
        return np.asarray(np.linalg.norm(self.vectors, axis=1))


@dataclass(frozen=True)
class Fit:
    """The factor by which a formula's output makes a probe slip least over a span.

    Attributes:
        factor: what to multiply the formula by; negative where it turned the wrong way.
        text: the formula with that factor, references by name.
        place: which of its numbers took the factor in, if one did.
        value: what that number is then.
        alike: how many formulas are alike, this one counted.
        exact: a formula from the radius and the true distance, where the probe rolls.
        before, after: the sum of the slip over the span, metres.
        left: how far the point still slips along its way, across it, and off the ground, metres.
        reasons: why slip is left, in words.
    """

    factor: float
    text: str
    exact: str | None
    before: float
    after: float
    left: dict[Why, float]
    reasons: tuple[str, ...]
    place: int | None = None
    value: float | None = None
    alike: int = 1


def slip_of(evaluation: Evaluation, probe: Probe) -> Slip:
    """The slip of a probe over the range.

    A *fixed* point belongs to the part: its slip is its own way over the ground. A *rolling* one
    is the place of contact, which stays below the part's origin: its slip is what the origin's
    way and the turn since the frame before leave over, d + ω × r, with ω the rotation vector of
    the turn and r from the origin to the contact (rigid-body velocity, integrated over the frame
    for a constant axis).
    """
    local = _on_ground(evaluation, probe)
    ways = np.zeros((len(local), 3))
    if not probe.rolling:
        places = local[:, :3, :3] @ np.array(probe.point) + local[:, :3, 3]
        ways[1:] = np.diff(places, axis=0)
    else:
        arm = np.array(probe.point)
        places = local[:, :3, 3] + arm
        turns = _turns(evaluation, probe.part, local)
        ways[1:] = np.diff(local[:, :3, 3], axis=0) + np.cross(turns, arm)
    return Slip(ways, _in_world(evaluation, probe, places))


def fitted(evaluation: Evaluation, probe: Probe, step: Step, first: int, last: int) -> Fit:
    """The factor of a formula for which a probe slips least from frame ``first`` to ``last``.

    The slip is linear in the factor for a hinge that turns about one axis, so two evaluations
    give the line, and least squares the factor.

    Raises:
        Refusal: when the step is no formula, or does not move the probe.
    """
    settings = step.settings
    if not isinstance(settings, FormulaSettings):
        raise Refusal("only a formula can be fitted.", code="text", place=step.name)
    if settings.mode == "scale":
        raise Refusal("a formula that scales has no factor to fit.", code="text", place=step.name)
    span = slice(evaluation.index(first) + 1, evaluation.index(last) + 1)
    turned = np.diff(_made(evaluation, step))
    # Small turns, where the line is straight and limits are far.
    little = min(0.1, 6.0 / max(float(np.abs(turned).max(initial=0.0)), 1e-9))
    still = _slip_with(evaluation, probe, step, 0.0)[span]
    effect = (_slip_with(evaluation, probe, step, little)[span] - still) / little
    strength = float((effect * effect).sum())
    if strength < 1e-18:
        raise Refusal("it does not move the probe in this span.", place=step.name)
    factor = -float((effect * still).sum()) / strength
    rest = _slip_with(evaluation, probe, step, factor)[span]
    left = _parts_of(rest, still, probe)
    held = float(np.abs(rest - (still + factor * effect)).max(initial=0.0)) > 1e-6
    later = _later_steps(evaluation.scene, step) if held else ""
    made = scaled(settings.text, factor)
    return Fit(
        factor,
        to_names(evaluation.scene, made.text),
        _exact(evaluation, probe, factor * turned),
        float(slip_of(evaluation, probe).amounts[span].sum()),
        float(np.linalg.norm(rest, axis=1).sum()),
        left,
        (*_held(later), *_reasons(left, float(np.linalg.norm(still, axis=1).sum()))),
        made.place,
        made.value,
        len(alike(evaluation.scene, step)),
    )


def _later_steps(scene: Scene, step: Step) -> str:
    """The names of the steps that write the channel behind a step."""
    writers = scene.writers(ChannelRef(step.part, step.settings.writes[0]))
    behind = writers[writers.index(step) + 1 :]
    return ", ".join(f"“{one.name}”" for one in behind if one.on)


def _held(later: str) -> tuple[str, ...]:
    if not later:
        return ()
    return (f"{later} behind the formula changes what it makes; mute or widen that.",)


def _made(evaluation: Evaluation, step: Step) -> Array:
    """What a formula adds to or sets its channel to, over the range, shape (F,)."""
    assert isinstance(step.settings, FormulaSettings)
    formula = compiled(step.settings.text)
    inputs = [evaluation.read(read) for read in formula.reads]
    values = formula.values(inputs, evaluation.times)
    return np.asarray(np.broadcast_to(values, evaluation.times.frames.shape))


def _on_ground(evaluation: Evaluation, probe: Probe) -> Array:
    """The part's matrices in the ground's axes, shape (F, 4, 4)."""
    frames = len(evaluation.times.frames)
    part = square(evaluation.world(probe.part))
    part = np.broadcast_to(part, (frames, 4, 4))
    if probe.ground is None:
        return part
    ground = square(evaluation.world(probe.ground))
    name = evaluation.scene.parts[probe.ground].name
    return np.asarray(inverted(ground, name) @ part)


def _in_world(evaluation: Evaluation, probe: Probe, places: Array) -> Array:
    if probe.ground is None:
        return places
    ground = evaluation.world(probe.ground)
    return np.asarray((ground[:, :, :3] @ places[:, :, None])[:, :, 0] + ground[:, :, 3])


def _turns(evaluation: Evaluation, part: str, local: Array) -> Array:
    """The rotation vectors of the turns from frame to frame, radians, shape (F - 1, 3).

    Matrices cannot tell a turn from one that is whole turns longer; the rotation channel that
    turns most says how many whole turns a wheel makes.
    """
    linear, _ = orthonormal(local[:, :3, :3])
    if not np.isfinite(linear).all():
        name = evaluation.scene.parts[part].name
        raise Refusal("it is scaled to nothing on a frame; scale it.", code="choice", place=name)
    rotation = Rotation.from_matrix(linear)
    vectors = (rotation[1:] * rotation[:-1].inv()).as_rotvec()
    frames = evaluation.times.frames.shape
    channels = [evaluation.channel(ChannelRef(part, f"rotation.{axis}"), "final") for axis in AXES]
    angles = np.stack([np.broadcast_to(channel, frames) for channel in channels], axis=1)
    turned = np.radians(np.diff(angles, axis=0))
    axis = int(np.abs(turned).sum(axis=0).argmax())
    hinge, by = linear[1:, :, axis], turned[:, axis]
    whole = np.round((by - (vectors * hinge).sum(axis=1)) / (2.0 * np.pi))
    whole = np.where(np.abs(by) > np.pi / 2.0, whole, 0.0)
    return np.asarray(vectors + 2.0 * np.pi * whole[:, None] * hinge)


def _slip_with(evaluation: Evaluation, probe: Probe, step: Step, factor: float) -> Array:
    settings = step.settings
    assert isinstance(settings, FormulaSettings)
    made = replace(
        step, settings=replace(settings, text=f"{written_number(factor)} * ({settings.text})")
    )
    scene = with_step(evaluation.scene, made)
    return slip_of(evaluate_after(evaluation, scene), probe).vectors


def _parts_of(rest: Array, way: Array, probe: Probe) -> dict[Why, float]:
    """What is left, along the way of the part, across it, and along the arm; sums, metres."""
    arm = np.array(probe.point) if probe.rolling else np.array([0.0, 1.0, 0.0])
    up = arm / np.linalg.norm(arm) if np.linalg.norm(arm) > 1e-12 else np.array([0.0, 1.0, 0.0])
    level = way - (way @ up)[:, None] * up
    size = np.linalg.norm(level, axis=1, keepdims=True)
    ahead = np.divide(level, size, out=np.zeros_like(level), where=size > 1e-12)
    along = (rest * ahead).sum(axis=1)
    off = rest @ up
    across = rest - along[:, None] * ahead - off[:, None] * up
    return {
        "along": float(np.abs(along).sum()),
        "across": float(np.linalg.norm(across, axis=1).sum()),
        "off the ground": float(np.abs(off).sum()),
    }


def _reasons(left: dict[Why, float], way: float) -> tuple[str, ...]:
    texts: dict[Why, str] = {
        "along": "its speed does not follow the way: another step turns it too, the radius "
        "changes, or the formula reads another way than the part covers",
        "across": "its axis is tilted against the way, or the path is not straight",
        "off the ground": "it rises or sinks: the path is not level, or the point is not the "
        "place of contact",
    }
    worst = max(sum(left.values()), 1e-30)
    kinds: tuple[Why, ...] = ("along", "across", "off the ground")
    if worst < 1e-6 * max(way, 1.0):
        return ()
    return tuple(
        f"{left[kind]:.4g} m {kind}: {texts[kind]}." for kind in kinds if left[kind] > 0.05 * worst
    )


def _exact(evaluation: Evaluation, probe: Probe, turned: Array) -> str | None:
    """A formula from the radius and the true distance of what carries the part, signed where it
    goes back, with the sense of the fitted turns (degrees from frame to frame)."""
    radius = float(np.linalg.norm(probe.point))
    if not probe.rolling or radius < 1e-9:
        return None
    scene = evaluation.scene
    part = scene.parts[probe.part]
    carrier = scene.parts[part.parent or part.id]
    matrix = np.broadcast_to(evaluation.world(carrier.id), (len(evaluation.times.frames), 3, 4))
    steps = np.diff(matrix[:, :, 3], axis=0)
    shares = (steps[:, :, None] * matrix[1:, :, :3]).sum(axis=1)
    axis = int(np.abs(shares).sum(axis=0).argmax())
    signed = np.sign(shares[:, axis]) * np.linalg.norm(steps, axis=1)
    if not np.any(signed):
        return None
    back = bool(np.any(signed < 0.0) and np.any(signed > 0.0))
    ways = signed if back else np.abs(signed)
    sign = "-" if float((ways * turned).sum()) < 0.0 else ""
    measure = f"travelled_{'xyz'[axis]}" if back else "travelled"
    return f"{sign}degrees({measure}({{{carrier.name}}}) / {radius:g})"


def scene_probe(scene: Scene, probe: str) -> Probe:
    """The slip probe with this id.

    Raises:
        Refusal: when there is none any more.
    """
    if probe not in scene.probes:
        raise Refusal(f"there is no slip probe {probe!r} any more.", code="gone")
    return scene.probes[probe]
