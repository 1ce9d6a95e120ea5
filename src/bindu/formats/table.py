"""CSV: a row for each frame, channels or places in the world in columns, full precision."""

from __future__ import annotations

import csv
import io
from collections import Counter
from collections.abc import Sequence

import numpy as np

from bindu.core.clips.motion import MotionClip, MotionPart, taken_apart
from bindu.core.counted import counted, some_of
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
        report.lost.append(counted(len(clip.events), "marker"))
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
    (_, head), *rows = _lines(data)
    names = [name.strip() for name in head]
    if len(rows) > MOST_ROWS or len(names) > MOST_COLUMNS or len(rows) * len(names) > MOST_NUMBERS:
        text = f"it has over {MOST_ROWS:,} frames or {MOST_COLUMNS:,} columns."
        raise Refusal(text, code="too much", place="file")
    if len(set(names)) < len(names):
        twice = next(name for name, count in Counter(names).items() if count > 1)
        raise Refusal(f"the column {twice!r} stands there twice.", code="taken", place="line 1")
    if over not in names:
        text = f"it has no column {over!r}; commas part the columns."
        raise Refusal(text, code="text", place="line 1")
    table = np.stack([_numbers(names, row, line) for line, row in rows])
    found = dict(zip(names, table.T.copy(), strict=True))
    frames = found.pop(over)
    if np.any(np.diff(frames) <= 0.0):
        line = rows[int(np.argmax(np.diff(frames) <= 0.0)) + 1][0]
        text = f"its {over} is not over that of the line before."
        raise Refusal(text, code="number", place=f"line {line}")
    return frames, found


def _lines(data: bytes) -> list[tuple[int, list[str]]]:
    """The lines that hold anything, each with its number: names, and at least one of numbers.

    Raises:
        Refusal: when it is too large, or no such text.
    """
    if len(data) > LARGEST_FILE:
        raise Refusal(f"it is larger than {LARGEST_FILE // 2**20} MiB.", code="too much")
    try:
        text = data.decode("utf-8-sig")
    except UnicodeDecodeError as error:
        said = f"it is not UTF-8 text (byte {error.start})."
        raise Refusal(said, code="text", place="file") from None
    reader = csv.reader(io.StringIO(text, newline=""))
    try:
        rows = [(reader.line_num, row) for row in reader if row]
    except csv.Error as error:
        raise Refusal(f"it is no CSV: {error}.", code="text", place="file") from None
    if len(rows) < 2:
        said = "a line of names is wanted, and at least one of numbers."
        raise Refusal(said, code="text", place="line 1")
    return rows


def _numbers(names: Sequence[str], row: Sequence[str], line: int) -> Array:
    """The numbers of a line.

    Raises:
        Refusal: with the line and the column.
    """
    if len(row) != len(names):
        text = f"it has {counted(len(row), 'value')} for {len(names)} columns."
        raise Refusal(text, code="text", place=f"line {line}")
    try:
        values = np.array([float(value) for value in row])
    except ValueError:
        n = next(n for n, value in enumerate(row) if not _is_number(value))
        text = f"{row[n].strip()[:40]!r} in the column {names[n]!r} is no number."
        raise Refusal(text, code="number", place=f"line {line}") from None
    # What is no number at all is within nothing.
    far = np.flatnonzero(~(np.abs(values) <= 1e9))
    if len(far):
        text = f"the value in the column {names[far[0]]!r} is not within ±1e9."
        raise Refusal(text, code="number", place=f"line {line}")
    return values


def _is_number(value: str) -> bool:
    try:
        float(value)
    except ValueError:
        return False
    return True


def read_table(data: bytes, fps: float, report: Report) -> list[MotionClip]:
    """The parts that have all nine transform columns, in the world; all other columns
    ``part.channel`` as channels, a few of the nine of a part too.

    Raises:
        Refusal: when the first line names no such columns.
    """
    frames, columns = read_columns(data)
    report.size = len(data)
    if not any("." in name for name in columns):
        text = "no column is called part.channel, as in boat.translation.x."
        raise Refusal(text, code="text", place="line 1")
    alone = [name for name in columns if "." not in name]
    if alone:
        report.lost.append(f"columns of no part's channel: {some_of(alone)}")
    names = dict.fromkeys(name.split(".")[0] for name in columns)
    whole = [n for n in names if all(f"{n}.{c}" in columns for c in TRANSFORM_CHANNELS)]
    clean = unique_names(whole, report)
    local = np.array([_places(columns, name) for name in whole]).reshape(-1, len(frames), 3, 4)
    translation, rotation, scale = taken_apart(local)
    parts = tuple(
        MotionPart(name, None, places[0], "prop") for name, places in zip(clean, local, strict=True)
    )
    known = {f"{name}.{c}" for name in whole for c in TRANSFORM_CHANNELS}
    called = dict(zip(whole, clean, strict=True))
    channels = {
        f"{called.get(part, part)}.{channel}": values
        for name, values in columns.items()
        for part, _, channel in (name.partition("."),)
        if channel and name not in known
    }
    report.parts, report.clips = len(parts), 1
    return [MotionClip("motion", fps, frames, parts, translation, rotation, scale, channels)]


def _places(columns: dict[str, Array], name: str) -> Array:
    rows = np.stack([columns[f"{name}.{channel}"] for channel in TRANSFORM_CHANNELS], axis=1)
    return local_matrices(Part("", name), rows)[:, :3]
