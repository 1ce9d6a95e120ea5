"""Motion of a file onto the parts of a scene that is there, by their names."""

from __future__ import annotations

from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass

import numpy as np

from bindu.core.clips.motion import MotionClip, locals_of
from bindu.core.counted import counted, some_of
from bindu.core.curves.model import Array, Curve
from bindu.core.edits.base import Edit
from bindu.core.edits.channels import SetValue
from bindu.core.edits.keys import PutCurves
from bindu.core.evaluation import Evaluation
from bindu.core.geometry.places import within
from bindu.core.placing.place import local_matrices
from bindu.core.refusal import Refusal
from bindu.core.scene.channels import TRANSFORM_CHANNELS, ChannelRef, layer_and_channel
from bindu.core.scene.model import Scene
from bindu.core.scene.names import channel_names, full_name
from bindu.formats.keying import SAME, channel_rows, keys_on
from bindu.formats.report import Report


@dataclass(frozen=True)
class Match:
    """A part of a file, and the scene's part that it moves; None where none has its name."""

    name: str
    part: str | None


def matches(scene: Scene, clip: MotionClip) -> list[Match]:
    """The parts of a clip by the scene's parts of the same name."""
    return [Match(part.name, scene.part_ids.get(part.name)) for part in clip.parts]


def channel_matches(scene: Scene, clip: MotionClip) -> dict[str, ChannelRef | None]:
    """The clip's channels beside its places, by the scene's of the same names."""
    found: dict[str, ChannelRef | None] = {}
    for name in clip.channels:
        part_name, _, channel = name.partition(".")
        part = scene.part_ids.get(part_name)
        known = channel_names(scene, part) if part is not None else {}
        own = part is not None and channel in known
        found[name] = ChannelRef(part or "", known[channel]) if own else None
    return found


def edits_onto(evaluation: Evaluation, clip: MotionClip, report: Report) -> list[Edit]:
    """The edits that give a scene's parts and channels the motion of a clip's of the same names;
    keys that are there on these frames are replaced, others stay. Locked channels stay as they are.

    A part that hangs from the same part as in the file moves in it as it does there. One that
    hangs elsewhere keeps its place in the world on the file's frames.

    Args:
        evaluation: of the scene as it is.

    Raises:
        Refusal: when no name matches, where a place cannot be reached, or when all that would
            change is locked.
    """
    scene = evaluation.scene
    found, channels = matches(scene, clip), channel_matches(scene, clip)
    if all(one.part is None for one in found) and not any(channels.values()):
        text = "no part or channel of the file has the name of one of this scene; "
        raise Refusal(text + "take it in as a new one.", code="unknown", place="parts")
    frames = clip.frames * scene.fps / clip.fps
    _tell(scene, clip, found, channels, report)
    rows = _rows_of_parts(evaluation, clip, found, frames, report)
    rows |= {ref: clip.channels[name] for name, ref in channels.items() if ref is not None}
    changed = {ref: values for ref, values in rows.items() if _changes(scene, ref, values)}
    locked = [ref for ref in changed if ref.channel in scene.parts[ref.part].locked]
    names = some_of([full_name(scene, ref) for ref in locked])
    if locked and len(locked) == len(changed):
        text = "all that the file would change is locked; unlock what it shall move."
        raise Refusal(text, code="locked", place=names)
    if locked:
        report.lost.append(f"what the file has of locked channels, which stay: {names}")
    return list(_keyed(scene, frames, {ref: changed[ref] for ref in changed if ref not in locked}))


def _rows_of_parts(
    evaluation: Evaluation, clip: MotionClip, found: Sequence[Match], frames: Array, report: Report
) -> dict[ChannelRef, Array]:
    """The values of the channels of the scene's parts on the file's frames, each of shape (F,)."""
    scene, local, worlds = evaluation.scene, clip.local, clip.worlds
    carriers = _Carriers(evaluation, worlds, found, frames)
    rows: dict[ChannelRef, Array] = {}
    sheared: list[str] = []
    for n, one in enumerate(found):
        if one.part is None:
            continue
        part = scene.parts[one.part]
        if not _hangs_elsewhere(scene, clip, n, part.id):
            place = local[n]
        elif part.parent is None:
            place = worlds[n]
        else:
            place = _seen_from(carriers.world(part.parent), worlds[n], part.name)
        values = channel_rows(part, place, clip.scale[n])
        if not np.allclose(local_matrices(part, values)[:, :3], place, 1e-6, 1e-6):
            sheared.append(part.name)
        refs = [ChannelRef(part.id, channel) for channel in TRANSFORM_CHANNELS]
        rows |= dict(zip(refs, values.T, strict=True))
    if sheared:
        text = f"an uneven scale above {some_of(sheared)} shears what no channel holds: they "
        report.otherwise.append(text + "stand there, but not quite as they did")
    return rows


def _hangs_elsewhere(scene: Scene, clip: MotionClip, n: int, part: str) -> bool:
    above, parent = clip.parts[n].parent, scene.parts[part].parent
    hangs = None if parent is None else scene.parts[parent].name
    return hangs != (None if above is None else clip.parts[above].name)


def _tell(
    scene: Scene,
    clip: MotionClip,
    found: Sequence[Match],
    channels: Mapping[str, ChannelRef | None],
    report: Report,
) -> None:
    """What becomes of a clip otherwise than it stands there, and what does not come in."""
    if abs(scene.fps - clip.fps) > 1e-6:
        text = f"{clip.fps:g} frames a second are {scene.fps:g} here: its keys keep their seconds"
        report.otherwise.append(text)
    there = [(n, one.name, one.part) for n, one in enumerate(found) if one.part is not None]
    elsewhere = [name for n, name, part in there if _hangs_elsewhere(scene, clip, n, part)]
    if elsewhere:
        text = f"{some_of(elsewhere)} hang elsewhere here: their places in the world are kept"
        report.otherwise.append(text)
    layered = {ref.part for ref in scene.curves if layer_and_channel(ref.channel)[0] is not None}
    written = [
        name
        for _, name, part in there
        if any(step.on for c in TRANSFORM_CHANNELS for step in scene.writers(ChannelRef(part, c)))
        or part in layered
    ]
    if written:
        text = f"steps and layers go on writing {some_of(written)}: mute them to see what came in"
        report.otherwise.append(text)
    known = sum(ref is not None for ref in channels.values())
    if known:
        report.held.append(f"{counted(known, 'channel')} by name")
    left = [one.name for one in found if one.part is None]
    if left:
        report.lost.append(f"parts without one of their name here: {some_of(left)}")
    unknown = [name for name, ref in channels.items() if ref is None]
    if unknown:
        report.lost.append(f"channels without one of their name here: {some_of(unknown)}")
    if clip.events:
        report.lost.append(f"{counted(len(clip.events), 'marker')}: the scene keeps its own")


def _seen_from(carrier: Array, worlds: Array, name: str) -> Array:
    """Places in the world as seen from a carrier, both of shape (F, 3, 4).

    Raises:
        Refusal: where the carrier is scaled to nothing.
    """
    local: Array = locals_of([None, 0], np.stack([carrier, worlds]))[1]
    if not np.all(np.isfinite(local)):
        text = "what carries it is scaled to nothing on a frame."
        raise Refusal(text, code="choice", place=name)
    return local


class _Carriers:
    """Where the parts of a scene will be, once a clip's parts are where the file has them."""

    def __init__(
        self, evaluation: Evaluation, worlds: Array, found: Sequence[Match], frames: Array
    ) -> None:
        self._evaluation, self._frames = evaluation, frames
        self._given = {one.part: worlds[n] for n, one in enumerate(found) if one.part is not None}

    def world(self, part: str) -> Array:
        """A part in the world on the file's frames, shape (F, 3, 4)."""
        above, parts = part, self._evaluation.scene.parts
        while above not in self._given:
            parent = parts[above].parent
            if parent is None:
                return self._before(part)
            above = parent
        given: Array = self._given[above]
        if above == part:
            return given
        return within(given, _seen_from(self._before(above), self._before(part), parts[part].name))

    def _before(self, part: str) -> Array:
        """The same before anything comes in: straight on between whole frames, and beyond the
        range as at its end."""
        times = self._evaluation.times
        count = len(times.frames)
        worlds = np.broadcast_to(self._evaluation.world(part), (count, 3, 4))
        at = np.clip(self._frames - times.first, 0.0, count - 1.0)
        rows = np.minimum(at.astype(int), max(count - 2, 0))
        share = (at - rows)[:, None, None]
        following = worlds[np.minimum(rows + 1, count - 1)]
        return np.asarray(worlds[rows] * (1.0 - share) + following * share)


def _changes(scene: Scene, ref: ChannelRef, values: Array) -> bool:
    """Whether a channel moves, has keys, or stands elsewhere than the file has it."""
    if ref in scene.curves or np.ptp(values) > SAME:
        return True
    return bool(abs(values[0] - scene.set_value(ref)) > SAME)


def _keyed(scene: Scene, frames: Array, rows: Mapping[ChannelRef, Array]) -> Iterator[Edit]:
    """Keys for what moves or has keys, values for what only stands elsewhere."""
    curves: dict[str, list[tuple[str, Curve]]] = {}
    for ref, values in rows.items():
        old = scene.curves.get(ref)
        if old is not None or np.ptp(values) > SAME:
            curves.setdefault(ref.part, []).append((ref.channel, _over(old, frames, values)))
        else:
            yield SetValue(ref.part, ref.channel, float(values[0]))
    for part, made in curves.items():
        yield PutCurves(part, tuple(made))


def _over(old: Curve | None, frames: Array, values: Array) -> Curve:
    """A curve with keys on frames in the place of what it has between them."""
    if np.ptp(values) <= SAME:
        frames, values = frames[[0, -1]], values[[0, -1]]
        frames, at = np.unique(frames, return_index=True)
        values = values[at]
    kept = [key for key in (old.keys if old else ()) if not frames[0] <= key.frame <= frames[-1]]
    return keys_on(frames, values, kept)
