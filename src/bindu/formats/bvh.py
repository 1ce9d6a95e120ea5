"""BVH: a hierarchy of joints and a table of their channels, as plain text.

Angles are degrees. A joint's matrix is T(offset) · T(position channels) · the rotation channels in
the order in which they are listed, the first one outermost. Names hold no blanks; the part's own
name stands behind a # in the same line, where it had to change.

Source: M. Meredith and S. Maddock, Motion capture file formats explained, University of Sheffield
(2001).
"""

from __future__ import annotations

import re
from collections.abc import Iterator, Sequence
from dataclasses import dataclass, field

import numpy as np

from bindu.core.clips.motion import MotionClip, MotionPart, taken_apart, worlds_of
from bindu.core.counted import counted
from bindu.core.curves.model import Array
from bindu.core.geometry.angles import continuous_angles
from bindu.core.geometry.rotation import matrices_of
from bindu.core.refusal import Refusal
from bindu.core.scene.parts import RotationOrder
from bindu.formats.report import Report, unique_names

LARGEST_FILE = 64 * 2**20
MOST_JOINTS = 5_000
MOST_FRAMES = 100_000
MOST_NUMBERS = 40_000_000
DEEPEST = 500
ROOT = "root"
POSITIONS = ("Xposition", "Yposition", "Zposition")
ROTATIONS = ("Xrotation", "Yrotation", "Zrotation")
SAME = 1e-12


def write_bvh(clip: MotionClip, report: Report) -> bytes:
    """A clip as text: metres, full precision. A joint that does not move against its parent has
    that as its offset and turns only; another has offset 0 and positions.

    Several parts without a parent hang below one more joint.
    """
    roots = [n for n, part in enumerate(clip.parts) if part.parent is None]
    if np.any(np.abs(clip.scale - 1.0) > 1e-9):
        scaled = np.any(np.abs(clip.scale - 1.0) > 1e-9, axis=(1, 2))
        named = ", ".join(clip.parts[n].name for n in np.flatnonzero(scaled)[:5])
        report.lost.append(f"scale of {named}: its parts stand where they would without it")
    if clip.channels:
        report.lost.append(f"{len(clip.channels)} own channels")
    if clip.events:
        report.lost.append(counted(len(clip.events), "marker"))
    report.otherwise.append("rest turns: the format has none, so that all turning is in the frames")
    if len(roots) > 1:
        report.otherwise.append(f"{len(roots)} parts without a parent hang below a joint {ROOT!r}")
    report.otherwise.append("frames count from 0, metres stand for its units")
    names = _words([part.name for part in clip.parts])
    lines = ["HIERARCHY"]
    columns: list[Array] = []
    writer = _Writer(clip, names, lines, columns)
    if len(roots) == 1:
        writer.joint(roots[0], 0, "ROOT")
    else:
        lines += [f"ROOT {ROOT}", "{", "  OFFSET 0 0 0", "  CHANNELS 0"]
        for root in roots:
            writer.joint(root, 1, "JOINT")
        lines.append("}")
    table = np.concatenate(columns, axis=1) if columns else np.zeros((len(clip.frames), 0))
    step = float(np.diff(clip.frames).min()) if len(clip.frames) > 1 else 1.0
    lines += ["MOTION", f"Frames: {len(table)}", f"Frame Time: {step / clip.fps!r}"]
    lines += [" ".join(repr(float(n)) for n in row) for row in table]
    return ("\n".join(lines) + "\n").encode()


def _words(names: Sequence[str]) -> list[str]:
    """Names without blanks, each once."""
    made: list[str] = []
    for name in names:
        word = re.sub(r"\s+", "_", name)
        one, n = word, 2
        while one in made or one == ROOT:
            one, n = f"{word}_{n}", n + 1
        made.append(one)
    return made


class _Writer:
    """Writes joints, each with its children."""

    def __init__(
        self, clip: MotionClip, names: list[str], lines: list[str], columns: list[Array]
    ) -> None:
        self._clip, self._names, self._lines, self._columns = clip, names, lines, columns
        self._below: dict[int, list[int]] = {}
        for n, part in enumerate(clip.parts):
            if part.parent is not None:
                self._below.setdefault(part.parent, []).append(n)

    def joint(self, part: int, depth: int, word: str) -> None:
        """One joint and all below it."""
        pad, data = "  " * depth, self._clip.parts[part]
        said = "" if self._names[part] == data.name else f" # {data.name}"
        places = self._clip.translation[part]
        order = data.rotation_order
        turns = continuous_angles(matrices_of(self._clip.rotation[part]), order, np.zeros(3))
        moves = bool(np.abs(places - places[0]).max() > SAME)
        offset = np.zeros(3) if moves else places[0]
        # The axis that is applied last stands first.
        named = [ROTATIONS["xyz".index(axis)] for axis in reversed(order)]
        channels = [*(POSITIONS if moves else ()), *named]
        turned = turns[:, ["xyz".index(axis) for axis in reversed(order)]]
        self._columns.append(np.concatenate([places, turned], axis=1) if moves else turned)
        self._lines += [
            f"{pad}{word} {self._names[part]}{said}",
            f"{pad}{{",
            f"{pad}  OFFSET {' '.join(repr(float(n)) for n in offset)}",
            f"{pad}  CHANNELS {len(channels)} {' '.join(channels)}",
        ]
        below = self._below.get(part, [])
        for child in below:
            self.joint(child, depth + 1, "JOINT")
        if not below:
            self._lines += [
                f"{pad}  End Site",
                f"{pad}  {{",
                f"{pad}    OFFSET 0 0 0",
                f"{pad}  }}",
            ]
        self._lines.append(f"{pad}}}")


@dataclass
class _Joint:
    name: str
    parent: int | None
    offset: Array = field(default_factory=lambda: np.zeros(3))
    channels: list[str] = field(default_factory=list)


def read_bvh(data: bytes, report: Report) -> list[MotionClip]:
    """The clip of a file.

    Raises:
        Refusal: with the line at fault.
    """
    if len(data) > LARGEST_FILE:
        raise Refusal(f"it is larger than {LARGEST_FILE // 2**20} MiB.", code="too much")
    report.size = len(data)
    try:
        text = data.decode("utf-8-sig")
    except UnicodeDecodeError as error:
        text_ = f"it is not UTF-8 text (byte {error.start})."
        raise Refusal(text_, code="text", place="file") from None
    reader = _Reader(text)
    joints = reader.hierarchy()
    fps, table = reader.motion(sum(len(joint.channels) for joint in joints))
    report.parts, report.clips = len(joints), 1
    names = unique_names([joint.name for joint in joints], report)
    ends = reader.ends
    if ends:
        report.lost.append(f"{ends} end sites: they are points, not parts")
    local, orders = _local(joints, table)
    parts = []
    for n, joint in enumerate(joints):
        rest = np.concatenate([np.eye(3), joint.offset[:, None]], axis=1)
        parts.append(MotionPart(names[n], joint.parent, rest, "joint", orders[n]))
    worlds = worlds_of([joint.parent for joint in joints], local)
    if not np.all(np.isfinite(worlds)) or np.abs(worlds).max() > 1e9:
        raise Refusal("its joints are too far away for numbers.", code="number", place="MOTION")
    translation, rotation, scale = taken_apart(local)
    frames = np.arange(len(table), dtype=np.float64)
    clip = MotionClip("motion", fps, frames, tuple(parts), translation, rotation, scale)
    made = _without_added_root(clip)
    report.parts = len(made.parts)
    return [made]


def _without_added_root(clip: MotionClip) -> MotionClip:
    """The clip without the joint that only held several roots together."""
    first = clip.parts[0]
    below = [part for part in clip.parts if part.parent == 0]
    still = not np.any(clip.local[0] != np.eye(3, 4))
    if first.name != ROOT or len(below) < 2 or not still:
        return clip
    parts = tuple(
        MotionPart(p.name, p.parent - 1 if p.parent else None, p.rest, p.role, p.rotation_order)
        for p in clip.parts[1:]
    )
    return MotionClip(
        clip.name, clip.fps, clip.frames, parts,
        clip.translation[1:], clip.rotation[1:], clip.scale[1:],
    )  # fmt: skip


def _local(joints: Sequence[_Joint], table: Array) -> tuple[Array, list[RotationOrder]]:
    """Each joint as seen from its parent, shape (P, F, 3, 4), and the order of its rotations."""
    local = np.zeros((len(joints), len(table), 3, 4))
    orders: list[RotationOrder] = []
    at = 0
    for n, joint in enumerate(joints):
        linear = np.broadcast_to(np.eye(3), (len(table), 3, 3))
        place = np.broadcast_to(joint.offset, (len(table), 3)).copy()
        axes = ""
        for channel in joint.channels:
            values = table[:, at]
            at += 1
            axis = "XYZ".index(channel[0])
            if channel.endswith("position"):
                place[:, axis] += values
            else:
                linear = linear @ _about(axis, values)
                axes += "xyz"[axis]
        local[n, ..., :3], local[n, ..., 3] = linear, place
        order = axes[::-1]
        orders.append(order if sorted(order) == list("xyz") else "xyz")  # type: ignore[arg-type]
    return local, orders


def _about(axis: int, degrees: Array) -> Array:
    """Turns about an axis, shape (F, 3, 3)."""
    c, s = np.cos(np.radians(degrees)), np.sin(np.radians(degrees))
    made = np.broadcast_to(np.eye(3), (len(degrees), 3, 3)).copy()
    i, j = (axis + 1) % 3, (axis + 2) % 3
    made[:, i, i], made[:, i, j], made[:, j, i], made[:, j, j] = c, -s, s, c
    return made


class _Reader:
    """Reads word by word, and tells lines."""

    def __init__(self, text: str) -> None:
        self._lines = text.split("\n")
        self._words = self._all_words()
        self._next: tuple[int, str] | None = next(self._words, None)
        self._line = 1
        self.ends = 0

    def _all_words(self) -> Iterator[tuple[int, str]]:
        for n, line in enumerate(self._lines, 1):
            for word in line.split("#")[0].split():
                yield n, word

    def _word(self) -> str:
        if self._next is None:
            raise Refusal("it ends too early.", code="text", place=f"line {len(self._lines)}")
        self._line, word = self._next
        self._next = next(self._words, None)
        return word

    def _refuse(self, text: str) -> Refusal:
        return Refusal(text, code="text", place=f"line {self._line}")

    def _expect(self, *wanted: str) -> str:
        word = self._word()
        if word.upper() not in wanted:
            raise self._refuse(f"{' or '.join(wanted)} is wanted here, not {word[:40]!r}.")
        return word.upper()

    def _number(self) -> float:
        word = self._word()
        try:
            number = float(word)
        except ValueError:
            raise self._refuse(f"{word[:40]!r} is no number.") from None
        if not abs(number) <= 1e9:
            raise self._refuse(f"{word[:40]!r} is no number within ±1e9.")
        return number

    def _vector(self) -> Array:
        return np.array([self._number() for _ in range(3)])

    def hierarchy(self) -> list[_Joint]:
        """The joints, parents first."""
        self._expect("HIERARCHY")
        self._expect("ROOT")
        joints: list[_Joint] = []
        open_: list[int | None] = []
        self._named(joints, None)
        open_.append(0)
        while open_:
            word = self._expect("OFFSET", "CHANNELS", "JOINT", "END", "}")
            here = open_[-1]
            if word == "}":
                open_.pop()
            elif word == "OFFSET":
                offset = self._vector()
                if here is not None:
                    joints[here].offset = offset
            elif here is None:
                raise self._refuse("an end site has an offset alone.")
            elif word == "CHANNELS":
                joints[here].channels = self._channels()
            elif word == "JOINT":
                if len(open_) >= DEEPEST or len(joints) >= MOST_JOINTS:
                    raise self._refuse(f"it has over {MOST_JOINTS:,} joints, or is too deep.")
                self._named(joints, here)
                open_.append(len(joints) - 1)
            else:
                self._expect("SITE")
                self._expect("{")
                self.ends += 1
                open_.append(None)
        return joints

    def _named(self, joints: list[_Joint], parent: int | None) -> None:
        """A joint's name, as it stands behind the # where it had to change."""
        words = [self._word()]
        line = self._line
        while self._next is not None and self._next[1] != "{" and self._next[0] == line:
            words.append(self._word())
        _, mark, said = self._lines[line - 1].partition("#")
        joints.append(_Joint(said.strip() if mark and said.strip() else " ".join(words), parent))
        self._expect("{")

    def _channels(self) -> list[str]:
        count = self._number()
        if count not in range(10):
            raise self._refuse("a joint has 0 to 9 channels.")
        known = {one.lower(): one for one in (*POSITIONS, *ROTATIONS)}
        found = []
        for _ in range(int(count)):
            word = self._word()
            if word.lower() not in known:
                raise self._refuse(f"there is no channel {word[:40]!r}.")
            found.append(known[word.lower()])
        return found

    def motion(self, width: int) -> tuple[float, Array]:
        """Frames a second, and the table, shape (F, width)."""
        self._expect("MOTION")
        self._expect("FRAMES:")
        count = self._number()
        if count != int(count) or not 1 <= count <= MOST_FRAMES or count * width > MOST_NUMBERS:
            raise self._refuse(f"it has 1 to {MOST_FRAMES:,} frames, not {count:g}.")
        self._expect("FRAME")
        self._expect("TIME:")
        step = self._number()
        if not 1e-4 <= step <= 100.0:
            raise self._refuse("a frame takes between 0.0001 and 100 seconds.")
        wanted = int(count) * width
        words = [self._next[1]] if self._next is not None else []
        words += [word for _, word in self._words]
        if len(words) < wanted:
            text = f"{int(count)} frames of {width} channels are told of; {len(words)} numbers "
            raise Refusal(text + "are there.", code="text", place=f"line {len(self._lines)}")
        try:
            table = np.array(words[:wanted], dtype=np.float64).reshape(int(count), width)
        except ValueError:
            raise self._refuse("a number of the frames below cannot be read.") from None
        if not np.all(np.abs(table) <= 1e9):
            raise self._refuse("a number of the frames below is not within ±1e9.")
        return _usual(1.0 / step), table


def _usual(rate: float) -> float:
    """A rate as it was meant: a whole number, or one of film and television."""
    for usual in (round(rate), 24000 / 1001, 30000 / 1001, 60000 / 1001):
        if usual > 0 and abs(rate - usual) < 2e-4 * usual:
            return float(usual)
    return rate
