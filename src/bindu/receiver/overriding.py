"""What comes after the clips: look at, hold, add a clip, show what an author tries."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from scipy.spatial.transform import Rotation

from bindu.core.clips.motion import MotionClip, locals_of, same_signs, taken_apart, worlds_of
from bindu.core.curves.model import Array
from bindu.core.geometry.rotation import between, matrices_of, rotation_matrices
from bindu.core.geometry.turning import shortest_turn
from bindu.core.scene.channels import AXES
from bindu.core.scene.receivers import Override
from bindu.receiver.poses import Sampler, matrices, mixed
from bindu.receiver.setup import Inputs
from bindu.receiver.writers import Writer


@dataclass(frozen=True)
class Show:
    """What overrides work on beside the places.

    Attributes:
        parents, rests: of the parts; rests shape (P, 3, 4).
        times: seconds, shape (F,).
    """

    parents: Sequence[int | None]
    rests: Array
    times: Array
    inputs: Inputs
    clips: Sequence[MotionClip]
    samplers: Sequence[Sampler]


def overridden(override: Override, writer: Writer, local: Array, show: Show) -> Array:
    """The local places after an override has had its say, shape (P, F, 3, 4)."""
    made = local.copy()
    if override.kind == "add clip":
        n = next(k for k, clip in enumerate(show.clips) if clip.name == override.clip)
        _add_clip(made, writer, show.samplers[n], show.times)
        return made
    for part in writer.parts:
        if override.kind == "by input":
            _move_by_input(made[part], show.rests[part], override, writer, show)
        else:
            wanted = _wanted(override, writer, made, part, show)
            made[part] = _towards(made[part], wanted, writer.shares)
    return made


def _wanted(override: Override, writer: Writer, local: Array, part: int, show: Show) -> Array:
    """Where an override wants a part, as seen from its parent, shape (F, 3, 4)."""
    worlds = worlds_of(show.parents, local)
    above = show.parents[part]
    still = np.broadcast_to(np.eye(3, 4), worlds[part].shape)
    if override.kind == "look at":
        axes = [show.inputs.at(f"{override.place}.{axis}", show.times) for axis in AXES]
        wanted = _looking(worlds[part], np.stack(axes, axis=1), override.axis)
    elif override.kind == "hold":
        rises = (writer.shares > 0.0) & ~np.concatenate([[False], writer.shares[:-1] > 0.0])
        since = np.maximum.accumulate(np.where(rises, np.arange(len(show.times)), 0))
        wanted = worlds[part][since]
    else:
        wanted = worlds[part].copy()
        turn = rotation_matrices(np.array([override.turn]), "xyz")[0]
        wanted[..., :3] = wanted[..., :3] @ turn
    outer = still if above is None else worlds[above]
    return np.asarray(locals_of([None, 0], np.stack([outer, wanted]))[1])


def _move_by_input(
    local: Array, rest: Array, override: Override, writer: Writer, show: Show
) -> None:
    """Moves a part's channel on by an input, in place."""
    assert override.input is not None
    group, axis = override.channel.split(".")
    far = override.factor * writer.shares * show.inputs.at(override.input, show.times)
    along = AXES.index(axis)
    if group == "translation":
        direction = rest[:, along] / np.linalg.norm(rest[:, along])
        local[..., 3] += far[:, None] * direction
        return
    angles = np.zeros((len(far), 3))
    angles[:, along] = far
    scale = np.linalg.norm(local[..., :3], axis=1, keepdims=True)
    # A part may be as thin as nothing; what has no direction is not turned.
    turned = (local[..., :3] / np.where(scale > 0.0, scale, 1.0)) @ rotation_matrices(angles, "xyz")
    local[..., :3] = turned * scale


def _looking(world: Array, point: Array, axis: Sequence[float]) -> Array:
    """A part turned by the shortest way so that its axis points to a place, shape (F, 3, 4)."""
    ahead = world[..., :3] @ np.array(axis)
    way = point - world[..., 3]
    # Where the place is right behind, it turns about that of its axes which is most across.
    about = world[..., :, (int(np.argmax(np.abs(axis))) + 1) % 3]
    turn = shortest_turn(ahead, way, about)
    made = world.copy()
    made[..., :3] = matrices_of(turn) @ world[..., :3]
    return made


def _towards(before: Array, after: Array, shares: Array) -> Array:
    """Places as far towards others as shares say, shape (F, 3, 4)."""
    one, other = taken_apart(before[None]), taken_apart(after[None])
    made = matrices(mixed(one, other, shares))[0]
    # Nothing of a share of 0 or 1 goes through a decomposition.
    made = np.where((shares <= 0.0)[:, None, None], before, made)
    return np.asarray(np.where((shares >= 1.0)[:, None, None], after, made))


def _add_clip(local: Array, writer: Writer, sampler: Sampler, times: Array) -> None:
    """Adds what a clip does since its first frame, in place."""
    rises = (writer.shares > 0.0) & ~np.concatenate([[False], writer.shares[:-1] > 0.0])
    began = np.maximum.accumulate(np.where(rises, times, 0.0))
    moved, first = sampler.at(times - began), sampler.at(np.zeros(1))
    for part in writer.parts:
        if part not in sampler.parts:
            continue
        turned = Rotation.from_quat(first[1][part, 0]).inv() * Rotation.from_quat(moved[1][part])
        still = np.broadcast_to([0.0, 0.0, 0.0, 1.0], (len(times), 4))
        turn = matrices_of(between(still, same_signs(turned.as_quat()), writer.shares))
        local[part, ..., :3] = local[part, ..., :3] @ turn
        way = moved[0][part] - first[0][part]
        local[part, ..., 3] += writer.shares[:, None] * way
