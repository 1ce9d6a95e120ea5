"""Edits of where parts are: the rest, and moves by hand in the view."""

from __future__ import annotations

from collections.abc import Iterable, Iterator
from dataclasses import dataclass, replace
from typing import Literal

import numpy as np
from scipy.spatial.transform import Rotation

from bindu.core.curves.model import Array
from bindu.core.edits.base import finite, found_part
from bindu.core.edits.keying import KeyValue, SetChannels
from bindu.core.edits.parts import checked_rest
from bindu.core.edits.trees import ancestors, subtree
from bindu.core.evaluation import Evaluation, evaluated, evaluated_nodes
from bindu.core.evaluation.keyed import keyed_values
from bindu.core.geometry.angles import continuous_angles
from bindu.core.geometry.rotation import rotation_matrices
from bindu.core.nodes.identity import NodeId, at_tap
from bindu.core.placing.place import (
    carried_pose,
    channels_of_local,
    final_channels,
    inverted,
    local_matrices,
    refuse_moved,
    rest_matrix,
    rest_of,
    unscaled,
    with_channels,
)
from bindu.core.refusal import Refusal
from bindu.core.scene.changes import with_part
from bindu.core.scene.channels import TRANSFORM_CHANNELS, ChannelRef
from bindu.core.scene.model import Scene
from bindu.core.scene.parts import Part, Step
from bindu.core.scene.settings import Vector

HandleAxes = Literal["local", "parent", "world"]
CARRYING = ("space", "lead", "follow")
BINDING = ("position", "rotation", "scale", "full", "aim", "path")


@dataclass(frozen=True)
class RestFromPose:
    """Makes the pose on a frame the rest, so that its channels are at their defaults there.

    With ``keep``, nothing moves in the world on any frame of the range. Without, keyed channels
    keep their curves, which then move the part from its new rest.
    """

    parts: tuple[str, ...]
    frame: float
    below: bool = False
    keep: bool = True
    do: Literal["rest from pose"] = "rest from pose"

    def label(self, scene: Scene) -> str:
        """See ``Edit``."""
        name = found_part(scene, self.parts[0]).name if self.parts else "nothing"
        more = " and all below it" if self.below else ""
        more = f" and {len(self.parts) - 1} more" if len(self.parts) > 1 else more
        return f"make the pose of {name}{more} the rest"

    def apply(self, scene: Scene) -> Scene:
        """See ``Edit``."""
        evaluation = evaluated(scene)
        place = evaluation.index(self.frame)
        made = scene
        for part_id in _chosen(scene, self.parts, self.below):
            made = self._rested(made, evaluation, scene.parts[part_id], place)
        if self.keep:
            refuse_moved(evaluation, evaluated(made))
        return made

    def _rested(self, made: Scene, evaluation: Evaluation, part: Part, place: int) -> Scene:
        old = final_channels(evaluation, part.id)
        unscaled = old.copy()
        unscaled[:, 6:9] = 1.0
        local = local_matrices(part, unscaled)
        rested = replace(part, rest=checked_rest(rest_of(local[place], part), part.name))
        if self.keep:
            near = unscaled.copy()
            near[0, 3:6] -= old[place, 3:6]
            new = channels_of_local(rested, local, near)
            new[:, 3:6] -= 360.0 * np.round(new[place, 3:6] / 360.0)
            new[:, 6:9] = old[:, 6:9]
            made = with_channels(made, part.id, old, new)
        else:
            values = {c: v for c, v in part.values.items() if c not in TRANSFORM_CHANNELS[:6]}
            made = with_part(made, replace(part, values=values))
        part = made.parts[part.id]
        part = replace(part, rest=rested.rest, pose=carried_pose(part, rested))
        return with_part(made, part)


@dataclass(frozen=True)
class PlacePart:
    """Moves, turns and scales parts by hand on a frame, along the axes of the part itself, its
    parent or the world. Children move with their parents, so parts below a chosen one are left
    to it.

    Amounts: metres along x, y, z; a turn in degrees about the vector ``turn``; factors along
    the part's own axes.
    """

    parts: tuple[str, ...]
    frame: float
    move: Vector = (0.0, 0.0, 0.0)
    turn: Vector = (0.0, 0.0, 0.0)
    size: Vector = (1.0, 1.0, 1.0)
    axes: HandleAxes = "world"
    layer: str | None = None
    key: bool = False
    do: Literal["place part"] = "place part"

    def label(self, scene: Scene) -> str:
        """See ``Edit``."""
        done = [
            word
            for word, amount, still in (
                ("move", self.move, (0.0, 0.0, 0.0)),
                ("turn", self.turn, (0.0, 0.0, 0.0)),
                ("scale", self.size, (1.0, 1.0, 1.0)),
            )
            if tuple(amount) != still
        ]
        more = f" and {len(self.parts) - 1} more" if len(self.parts) > 1 else ""
        name = found_part(scene, self.parts[0]).name if self.parts else "nothing"
        return f"{' and '.join(done) or 'place'} {name}{more} at {self.frame:g}"

    def apply(self, scene: Scene) -> Scene:
        """See ``Edit``."""
        for amount in (*self.move, *self.turn, *self.size):
            finite(amount, "amount")
        chosen = set(self.parts)
        parents = [p for p in (found_part(scene, i).parent for i in self.parts) if p]
        wanted = [*parents, *(p for p in self.parts if _carrying(scene, p))]
        evaluation = evaluated_nodes(
            scene, [NodeId(p, "world matrix", at_tap("final")) for p in wanted]
        )
        place = evaluation.index(self.frame)
        above = [p for p in self.parts if not chosen & ancestors(scene, p)]
        values = [
            one for p in above for one in self._values(evaluation, found_part(scene, p), place)
        ]
        if self.key:
            return KeyValue(self.frame, tuple(values), self.layer).apply(scene)
        return SetChannels(self.frame, tuple(values), self.layer).apply(scene)

    def _values(
        self, evaluation: Evaluation, part: Part, place: int
    ) -> Iterable[tuple[str, str, float]]:
        """What the part's channels come to. A handle keys its whole group where it keys, also what
        stays as it is: else a pose would fall apart when its keys are moved."""
        scene = evaluation.scene
        at = np.array([float(self.frame)])
        refs = [ChannelRef(part.id, channel) for channel in TRANSFORM_CHANNELS]
        now = np.array([keyed_values(scene, ref, at)[0] for ref in refs])
        new = self._placed(evaluation, part, now, place)
        changed = np.abs(new - now) > 1e-12
        groups = changed.reshape(3, 3).any(axis=1).repeat(3)
        for n, ref in enumerate(refs):
            if changed[n]:
                _refuse_set(scene, ref)
                yield part.id, ref.channel, float(np.round(new[n], 12))
            elif groups[n] and self._keys(scene, ref) and not _is_kept(scene, ref):
                yield part.id, ref.channel, float(now[n])

    def _keys(self, scene: Scene, ref: ChannelRef) -> bool:
        """Whether a value by hand becomes a key of this channel."""
        return self.key or self.layer is not None or ref in scene.curves

    def _placed(self, evaluation: Evaluation, part: Part, now: Array, place: int) -> Array:
        """The nine channel values after the move, from those before it."""
        scene = evaluation.scene
        parent = np.eye(3)
        if part.parent:
            world = evaluation.world(part.parent)
            parent = world[place if len(world) > 1 else 0][:, :3]
        rest = rest_matrix(part)[:3, :3]
        turned = rotation_matrices(now[None, 3:6], part.rotation_order)[0]
        if _carrying(scene, part.id):
            # A space or a lead carries the part: its channels count in what carries it.
            world = evaluation.world(part.id)
            carried = world[place if len(world) > 1 else 0][:, :3]
            own = np.eye(4)[None].copy()
            own[0, :3, :3] = rest @ turned * now[6:9]
            parent = carried @ inverted(own, part.name)[0, :3, :3]
        # From the axes of the handles to those in which the translation channels count.
        inside = np.eye(4)[None].copy()
        inside[0, :3, :3] = parent @ rest
        name = scene.parts[part.parent].name if part.parent else part.name
        back = inverted(inside, name)[0, :3, :3] if self.axes == "world" else rest.T
        own = turned if self.axes == "local" else back
        new = now.copy()
        new[:3] += own @ np.array(self.move)
        new[6:9] *= np.array(self.size)
        if any(self.turn):
            axes = {"local": np.eye(3), "parent": rest, "world": unscaled(parent) @ rest}
            turn = Rotation.from_rotvec(np.array(self.turn), degrees=True).as_matrix()
            frame = axes[self.axes]
            local = self.axes == "local"
            matrix = turned @ turn if local else frame.T @ turn @ frame @ turned
            new[3:6] = continuous_angles(matrix[None], part.rotation_order, now[3:6])[0]
        return new


PlaceEdit = RestFromPose | PlacePart


def _chosen(scene: Scene, parts: Iterable[str], below: bool) -> list[str]:
    chosen: set[str] = set()
    for part in parts:
        found_part(scene, part)
        chosen |= subtree(scene, part) if below else {part}
    if not chosen:
        raise Refusal("choose a part first.", code="choice")
    return sorted(chosen, key=scene.tree_order.__getitem__)


def _carrying(scene: Scene, part: str) -> bool:
    """Whether a step carries the part as a whole, so that it still moves by its channels."""
    steps = scene.steps_of.get(part, ())
    return any(step.on and step.settings.kind in CARRYING for step in steps)


def _setters(scene: Scene, ref: ChannelRef) -> Iterator[Step]:
    """The steps that set a channel whatever comes in."""
    for step in scene.writers(ref):
        sets = getattr(step.settings, "mode", "") == "set" or step.settings.kind in BINDING
        if step.on and sets:
            yield step


def _is_kept(scene: Scene, ref: ChannelRef) -> bool:
    """Whether a key would mean nothing, or may not be put, on this channel."""
    locked = ref.channel in scene.parts[ref.part].locked
    return locked or any(True for _ in _setters(scene, ref))


def _refuse_set(scene: Scene, ref: ChannelRef) -> None:
    """Refuses to move by hand what a step sets whatever comes in."""
    for step in _setters(scene, ref):
        verb = "binds" if step.settings.kind in BINDING else "sets"
        raise Refusal(
            f"“{step.name}” {verb} it; change that step, or mute it.",
            place=f"{scene.parts[ref.part].name}.{ref.channel}",
        )
