"""CSV: a row for each frame, channels or places in the world in columns, full precision."""

from __future__ import annotations

import csv
import io
from collections.abc import Sequence

import numpy as np

from bindu.core.clips.motion import MotionClip, MotionPart, locals_of, taken_apart
from bindu.core.curves.model import Array
from bindu.core.geometry.angles import continuous_angles
from bindu.core.geometry.rotation import matrices_of
from bindu.core.placing.place import local_matrices
from bindu.core.refusal import Refusal
from bindu.core.scene.channels import TRANSFORM_CHANNELS
from bindu.core.scene.parts import Part
from bindu.formats.report import Report, unique_names

LARGEST_FILE = 64 * 2**20
MOST_COLUMNS = 50_000
MOST_ROWS = 100_000
MOST_NUMBERS = 20_000_000
FRAME = "frame"


def write_table(clip: MotionClip, report: Report) -> bytes:
    """``part.translation.x`` and so on in the world: metres, degrees (x is applied first),
    factors; and the parts' own channels."""
    worlds = clip.worlds
    translation, rotation, scale = taken_apart(worlds)
    names, columns = [FRAME], [clip.frames]
    for n, part in enumerate(clip.parts):
        turns = continuous_angles(matrices_of(rotation[n]), "xyz", np.zeros(3))
        rows = np.concatenate([translation[n], turns, scale[n]], axis=1)
        names += [f"{part.name}.{channel}" for channel in TRANSFORM_CHANNELS]
        columns += list(rows.T)
    for name, values in clip.channels.items():
        names.append(name)
        columns.append(values)
    report.otherwise.append("places are those in the world; who carries whom is not held")
    if clip.events:
        report.lost.append(f"{len(clip.events)} markers")
    return _written(names, columns)


def write_columns(frames: Array, columns: Sequence[tuple[str, Array]], over: str = FRAME) -> bytes:
    """Named columns over frames, or over what ``over`` says."""
    return _written([over, *(name for name, _ in columns)], [frames, *(v for _, v in columns)])


def _written(names: Sequence[str], columns: Sequence[Array]) -> bytes:
    text = io.StringIO()
    writer = csv.writer(text, lineterminator="\n")
    writer.writerow(names)
    for row in np.stack(columns, axis=1).tolist():
        writer.writerow([repr(value) for value in row])
    return text.getvalue().encode()


def read_columns(data: bytes, over: str = FRAME) -> tuple[Array, dict[str, Array]]:
    """Frames, shape (F,), or what ``over`` says, and the other columns by their names.

    Raises:
        Refusal: with the line or the column at fault.
    """
    if len(data) > LARGEST_FILE:
        raise Refusal(f"it is larger than {LARGEST_FILE // 2**20} MiB.", code="too much")
    try:
        text = data.decode("utf-8-sig")
    except UnicodeDecodeError as error:
        said = f"it is not UTF-8 text (byte {error.start})."
        raise Refusal(said, code="text", place="file") from None
    try:
        rows = [row for row in csv.reader(io.StringIO(text, newline="")) if row]
    except csv.Error as error:
        raise Refusal(f"it is no CSV: {error}.", code="text", place="file") from None
    if len(rows) < 2:
        raise Refusal("it has a line of names and at least one frame.", code="text", place="line 1")
    names = [name.strip() for name in rows[0]]
    if (
        len(rows) - 1 > MOST_ROWS
        or len(names) > MOST_COLUMNS
        or len(rows) * len(names) > MOST_NUMBERS
    ):
        text_ = f"it has over {MOST_ROWS:,} frames or {MOST_COLUMNS:,} columns."
        raise Refusal(text_, code="too much", place="file")
    twice = (
        next((name for name in names if names.count(name) > 1), None) if len(names) < 2000 else None
    )
    if twice is not None or len(set(names)) < len(names):
        raise Refusal(
            f"the column {twice or ''!r} stands there twice.", code="taken", place="line 1"
        )
    if over not in names:
        raise Refusal(f"it has no column {over!r}.", code="text", place="line 1")
    table = np.empty((len(rows) - 1, len(names)))
    for n, row in enumerate(rows[1:]):
        if len(row) != len(names):
            text_ = f"it has {len(row)} values for {len(names)} columns."
            raise Refusal(text_, code="text", place=f"line {n + 2}")
        try:
            table[n] = [float(value) for value in row]
        except ValueError:
            raise Refusal("a value is no number.", code="number", place=f"line {n + 2}") from None
    if not np.all(np.abs(table) <= 1e9):
        line = int(np.argmax(~np.all(np.abs(table) <= 1e9, axis=1))) + 2
        raise Refusal("a value is not within ±1e9.", code="number", place=f"line {line}")
    found = dict(zip(names, table.T.copy(), strict=True))
    frames = found.pop(over)
    if np.any(np.diff(frames) <= 0.0):
        line = int(np.argmax(np.diff(frames) <= 0.0)) + 3
        raise Refusal(f"its {over} ascend.", code="number", place=f"line {line}")
    return frames, found


def read_table(data: bytes, fps: float, report: Report) -> list[MotionClip]:
    """The parts that have all nine transform columns, in the world, and other columns of theirs.

    Raises:
        Refusal: when the first line names no such columns.
    """
    frames, columns = read_columns(data)
    report.size = len(data)
    names = dict.fromkeys(name.split(".")[0] for name in columns)
    whole = [n for n in names if all(f"{n}.{c}" in columns for c in TRANSFORM_CHANNELS)]
    if not whole:
        text = "no part has all its columns, from translation.x to scale.z."
        raise Refusal(text, code="text", place="line 1")
    left = [name for name in names if name not in whole]
    if left:
        report.lost.append(f"columns of {', '.join(left[:5])}: they are no whole places")
    clean = unique_names(whole, report)
    local = np.stack([_places(columns, name) for name in whole])
    translation, rotation, scale = taken_apart(locals_of([None] * len(whole), local))
    rests = local[:, 0]
    parts = tuple(MotionPart(n, None, rest, "prop") for n, rest in zip(clean, rests, strict=True))
    known = {f"{name}.{c}" for name in whole for c in TRANSFORM_CHANNELS}
    channels = {
        f"{clean[whole.index(part)]}.{channel}": values
        for name, values in columns.items()
        for part, _, channel in (name.partition("."),)
        if part in whole and name not in known
    }
    report.parts, report.clips = len(parts), 1
    return [MotionClip("motion", fps, frames, parts, translation, rotation, scale, channels)]


def _places(columns: dict[str, Array], name: str) -> Array:
    rows = np.stack([columns[f"{name}.{channel}"] for channel in TRANSFORM_CHANNELS], axis=1)
    return local_matrices(Part("", name), rows)[:, :3]
