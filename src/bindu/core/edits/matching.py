"""Edits that bring FK and IK of limbs together: matches, and switches that do not jump."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Literal

import numpy as np

from bindu.core.curves.keys import with_keys
from bindu.core.curves.model import Key
from bindu.core.edits.base import unlocked
from bindu.core.edits.heard import heard_keys, stays_unkeyed
from bindu.core.edits.keying import with_value
from bindu.core.edits.limbs import found_limb
from bindu.core.evaluation import Evaluation, evaluated
from bindu.core.evaluation.keyed import own_values
from bindu.core.nodes.operation import Indices
from bindu.core.placing.matching import apart, control_of, fk_values, ik_values, off_pose
from bindu.core.placing.own_channels import Values
from bindu.core.placing.place import with_span_keys, with_stepped
from bindu.core.refusal import Refusal
from bindu.core.scene.changes import with_curve
from bindu.core.scene.channels import ChannelRef, step_channel
from bindu.core.scene.model import Scene
from bindu.core.scene.names import full_name
from bindu.core.scene.things import Limb

Way = Literal["fk", "ik"]
On = Literal["every frame", "keys"]
METRES, DEGREES = 1e-9, 1e-7
"""How far FK and IK may be apart to be one pose."""
LONGEST_SWITCH = 1000
SUDDEN = 0.5
"""The blend from which on a limb is IK rather than FK."""


@dataclass(frozen=True)
class MatchLimbs:
    """Brings limbs' FK and IK together by keys: on one frame, on every frame of a span, or on the
    keyed frames in it.

    Attributes:
        way: ``fk``: FK takes the pose as it is; ``ik``: goal and pole take the FK pose.
    """

    limbs: tuple[str, ...]
    way: Way
    first: int
    last: int | None = None
    on: On = "every frame"
    do: Literal["match limbs"] = "match limbs"

    def label(self, scene: Scene) -> str:
        """See ``Edit``."""
        until = f" to {self.last}" if self.last is not None else ""
        which = _names(scene, self.limbs)
        return f"{self.way.upper()} of {which} takes the pose at {self.first}{until}"

    def apply(self, scene: Scene) -> Scene:
        """See ``Edit``."""
        evaluation = evaluated(scene)
        span = _rows(evaluation, self.first, self.last)
        chosen: list[tuple[Limb, Indices]] = []
        for limb in _found(scene, self.limbs):
            rows = _keyed_rows(evaluation, limb, span) if self.on == "keys" else span
            values = _values(evaluation, limb, self.way, rows)
            scene = _with_values(scene, evaluation, values, rows, self.last is None)
            chosen.append((limb, rows))
        _refuse_apart(evaluation, evaluated(scene), self.way, chosen)
        return scene


@dataclass(frozen=True)
class SwitchLimbs:
    """Switches limbs to FK or IK from a frame on, so that nothing jumps there: what is switched to
    takes the pose, and the blend changes by hold keys on this frame and the one before – or over
    some frames. What was before the frame stays as it was.

    Attributes:
        over: how many frames it takes; 0: at once.
    """

    limbs: tuple[str, ...]
    way: Way
    frame: int
    over: int = 0
    do: Literal["switch limbs"] = "switch limbs"

    def label(self, scene: Scene) -> str:
        """See ``Edit``."""
        return f"{_names(scene, self.limbs)} to {self.way.upper()} at {self.frame}"

    def apply(self, scene: Scene) -> Scene:
        """See ``Edit``."""
        if not 0 <= self.over <= LONGEST_SWITCH:
            text = f"a switch takes 0 to {LONGEST_SWITCH} frames."
            raise Refusal(text, code="number", place="over")
        evaluation = evaluated(scene)
        rows = _rows(evaluation, self.frame, None)
        limbs = _found(scene, self.limbs)
        for limb in limbs:
            scene = _matched_from(scene, evaluation, limb, self.way, self.frame)
            scene = _with_blend(scene, evaluation, limb, self.way, self.frame, self.over)
        _refuse_apart(evaluation, evaluated(scene), self.way, [(limb, rows) for limb in limbs])
        return scene


@dataclass(frozen=True)
class MoveSwitch:
    """Moves a limb's switch to another frame, where it does not jump either."""

    limb: str
    frame: int
    to: int
    do: Literal["move switch"] = "move switch"

    def label(self, scene: Scene) -> str:
        """See ``Edit``."""
        name = found_limb(scene, self.limb).name
        return f"move the switch of {name} from {self.frame} to {self.to}"

    def apply(self, scene: Scene) -> Scene:
        """See ``Edit``."""
        limb = found_limb(scene, self.limb)
        low, high = sorted((self.frame, self.to))
        curve = scene.curves.get(blend_ref(limb))
        keys = curve.keys if curve else ()
        if any(low < k.frame < high and k.frame != self.frame - 1 for k in keys):
            raise Refusal("it would go beyond the next switch.", place=limb.name)
        left, way = _without_switch(scene, limb, self.frame)
        return SwitchLimbs((limb.id,), way, self.to).apply(left)


@dataclass(frozen=True)
class MendSwitch:
    """Matches a limb again where it switches, after something before the switch was changed."""

    limb: str
    frame: int
    do: Literal["mend switch"] = "mend switch"

    def label(self, scene: Scene) -> str:
        """See ``Edit``."""
        return f"match {found_limb(scene, self.limb).name} at its switch on {self.frame}"

    def apply(self, scene: Scene) -> Scene:
        """See ``Edit``."""
        left, way = _without_switch(scene, found_limb(scene, self.limb), self.frame)
        return SwitchLimbs((self.limb,), way, self.frame).apply(left)


@dataclass(frozen=True)
class RemoveSwitch:
    """Takes a limb's switch away: it stays what it was before, up to the next one. The keys of what
    was matched there stay."""

    limb: str
    frame: int
    do: Literal["remove switch"] = "remove switch"

    def label(self, scene: Scene) -> str:
        """See ``Edit``."""
        return f"delete the switch of {found_limb(scene, self.limb).name} on {self.frame}"

    def apply(self, scene: Scene) -> Scene:
        """See ``Edit``."""
        return _without_switch(scene, found_limb(scene, self.limb), self.frame)[0]


MatchEdit = MatchLimbs | SwitchLimbs | MoveSwitch | MendSwitch | RemoveSwitch


def blend_ref(limb: Limb) -> ChannelRef:
    """The channel that mixes FK and IK."""
    return ChannelRef(limb.part, step_channel(limb.id, "blend"))


def _without_switch(scene: Scene, limb: Limb, frame: int) -> tuple[Scene, Way]:
    """The scene without the keys of a limb's switch on a frame, and to what it switches there."""
    ref = blend_ref(limb)
    curve = scene.curves.get(ref)
    key = curve.key_at(frame) if curve else None
    if curve is None or key is None:
        text = f"there is no switch on frame {frame}."
        raise Refusal(text, code="unknown", place=limb.name)
    before = own_values(scene, ref, np.array([float(frame - 1)]))[0]
    held = curve.key_at(frame - 1)
    pair = held is not None and held.interpolation == "hold" and len(curve.keys) > 2
    gone = {float(frame), *([float(frame - 1)] if pair else [])}
    # So do those that only hold what it switched to, up to the next one.
    for later in (k for k in curve.keys if k.frame > frame):
        if later.value != key.value or later.interpolation != "hold":
            break
        gone.add(later.frame)
    left = [k for k in curve.keys if k.frame not in gone]
    left = left or [Key(float(scene.first), float(before), "hold")]
    made = with_curve(scene, ref, with_keys(None, left))
    return made, "ik" if key.value > SUDDEN else "fk"


def _values(evaluation: Evaluation, limb: Limb, way: Way, rows: Indices) -> Values:
    return (fk_values if way == "fk" else ik_values)(evaluation, limb, rows)


def _with_values(
    scene: Scene, evaluation: Evaluation, values: Values, rows: Indices, one: bool
) -> Scene:
    """The scene with keys on some frames; what may not be keyed must be right already."""
    frames = rows + evaluation.times.first
    for base, wanted in values.items():
        if stays_unkeyed(scene, base, wanted):
            continue
        ref, keys = heard_keys(scene, unlocked(scene, base), wanted, frames)
        if one:
            scene = with_value(scene, ref, float(frames[0]), float(keys[0]))
        elif ref not in scene.curves:
            line = [Key(float(f), float(v), "linear") for f, v in zip(frames, keys, strict=True)]
            scene = with_curve(scene, ref, with_keys(None, line))
        else:
            span = int(frames[0]), int(frames[-1])
            scene = with_span_keys(scene, ref, span, frames, keys, kinds=True)
    return scene


def _matched_from(scene: Scene, evaluation: Evaluation, limb: Limb, way: Way, frame: int) -> Scene:
    """The scene in which what is switched to takes the pose on a frame and goes on from there;
    before the frame all stays as it was."""
    rows = _rows(evaluation, frame, None)
    for base, wanted in _values(evaluation, limb, way, rows).items():
        if stays_unkeyed(scene, base, wanted):
            continue
        ref, keys = heard_keys(scene, unlocked(scene, base), wanted, np.array([frame]))
        scene = _stepped(scene, ref, frame, float(keys[0]))
    return scene


def _stepped(scene: Scene, ref: ChannelRef, frame: int, value: float) -> Scene:
    if frame <= scene.first:
        return with_value(scene, ref, float(frame), value)
    old = float(own_values(scene, ref, np.array([float(frame - 1)]))[0])
    return with_stepped(scene, ref, frame, old, value)


def _with_blend(
    scene: Scene, evaluation: Evaluation, limb: Limb, way: Way, frame: int, over: int
) -> Scene:
    ref = blend_ref(limb)
    writers = [step.name for step in scene.writers(ref) if step.on]
    if writers:
        text = f"the blend is written by “{writers[0]}”; mute that step first."
        raise Refusal(text, code="in use", place=full_name(scene, ref))
    unlocked(scene, ref)
    target = 1.0 if way == "ik" else 0.0
    values = np.broadcast_to(evaluation.channel(ref, "final"), len(evaluation.times.frames))
    row = evaluation.index(frame)
    now = float(values[max(row - 1, 0)])
    if now == target and float(values[row]) == target:
        text = f"it is {way.upper()} there already."
        raise Refusal(text, code="choice", place=limb.name)
    curve = scene.curves.get(ref)
    if over:
        keys = [Key(float(frame), now, "linear"), Key(float(frame + over), target, "hold")]
        kept = [k for k in curve.keys if not frame <= k.frame <= frame + over] if curve else []
        kept = kept or [Key(float(scene.first), now, "hold")][: int(frame > scene.first)]
        return with_curve(scene, ref, with_keys(None, [*kept, *keys]))
    keys = [Key(float(frame), target, "hold")]
    if frame > scene.first:
        keys.insert(0, Key(float(frame - 1), now, "hold"))
    if curve is None and frame - 1 > scene.first:
        keys.insert(0, Key(float(scene.first), now, "hold"))
    return with_curve(scene, ref, with_keys(curve, keys))


def _refuse_apart(
    before: Evaluation, evaluation: Evaluation, way: Way, matched: Sequence[tuple[Limb, Indices]]
) -> None:
    """Refuses what did not bring FK and IK together, naming the part, how far it is off, and what
    keeps it: FK must be the pose that was, IK must be FK."""
    scene = evaluation.scene
    for limb, rows in matched:
        if way == "fk":
            metres, degrees = off_pose(before, evaluation, limb, rows)
        else:
            metres, degrees = apart(evaluation, limb, rows)
        bad = (metres > METRES) | (degrees > DEGREES)
        if not bad.any():
            continue
        place, row = np.unravel_index(int(np.argmax(np.where(bad, metres + degrees, 0))), bad.shape)
        part = scene.parts[limb.chain[int(place)]]
        how_far = f"{metres[place, row]:.3g} m and {degrees[place, row]:.3g}°"
        frame = evaluation.times.first + int(rows[int(row)])
        text = f"{way.upper()} would still be {how_far} off the pose at frame {frame}"
        text += f"{_because(scene, limb)}; nothing was changed."
        raise Refusal(text, code="in use", place=part.name)


def _because(scene: Scene, limb: Limb) -> str:
    """What may keep a limb from being matched."""
    steers = [*limb.chain, control_of(scene, limb.goal), *([limb.pole] if limb.pole else [])]
    found = [
        f"“{step.name}” of {scene.parts[part].name}"
        for part in steers
        for step in scene.steps_of.get(part, ())
        if step.on and step.settings.kind not in ("limb", "space")
    ]
    return f" ({', '.join(found[:4])} write there)" if found else ""


def _keyed_rows(evaluation: Evaluation, limb: Limb, rows: Indices) -> Indices:
    """The frames on which what is matched has keys, of either side."""
    scene = evaluation.scene
    parts = {*limb.chain, control_of(scene, limb.goal), limb.pole}
    frames = {
        key.frame for ref, curve in scene.curves.items() if ref.part in parts for key in curve.keys
    }
    keyed = np.array(
        [row for row in rows if float(evaluation.times.first + row) in frames], dtype=int
    )
    if not len(keyed):
        text = "nothing of it has keys there; choose every frame."
        raise Refusal(text, code="choice", place=limb.name)
    return keyed


def _rows(evaluation: Evaluation, first: int, last: int | None) -> Indices:
    start = evaluation.index(first)
    end = start if last is None else evaluation.index(last)
    if end < start:
        raise Refusal("the last frame is before the first.", code="number")
    return np.arange(start, end + 1)


def _found(scene: Scene, limbs: Sequence[str]) -> list[Limb]:
    if not limbs:
        raise Refusal("choose a limb first.", code="choice")
    return [found_limb(scene, limb) for limb in dict.fromkeys(limbs)]


def _names(scene: Scene, limbs: Sequence[str]) -> str:
    names = [found_limb(scene, limb).name for limb in limbs]
    return names[0] if len(names) == 1 else f"{len(names)} limbs"
