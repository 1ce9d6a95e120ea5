"""Bakes: what leaves a scene, and the curves that were written out for it."""

from __future__ import annotations

import base64
import zlib
from dataclasses import dataclass
from typing import Literal

import numpy as np
import numpy.typing as npt

from bindu.core.curves.model import Array
from bindu.core.refusal import Refusal
from bindu.core.scene.parts import Rest, Role, RotationOrder

By = Literal["joints and props", "all parts", "a set", "by hand"]
Whole = npt.NDArray[np.int32]
LONGEST = 40_000_000
"""Bytes of one packed curve at most, unpacked."""


@dataclass(frozen=True)
class BakedCurve:
    """A curve as packed numbers: frames as whole numbers, values exact, straight between them.

    Attributes:
        channel: a transform channel of the part, or the name of one of its own.
        packed: each frame less the one before it, the first less 0, int32; then values, float64,
            the first bytes of all of them, then the second ones, and so on; little-endian, zlib,
            base64. So laid out they pack twice as fast, into two thirds of the room.
    """

    channel: str
    packed: str

    @staticmethod
    def of(channel: str, frames: Array | Whole, values: Array) -> BakedCurve:
        """A curve of frames and values, shape (N,) each."""
        steps = np.diff(np.asarray(frames, np.int64), prepend=0).astype("<i4")
        planes = np.ascontiguousarray(np.asarray(values, "<f8")).view(np.uint8).reshape(-1, 8).T
        data = steps.tobytes() + planes.tobytes()
        return BakedCurve(channel, base64.b64encode(zlib.compress(data, 1)).decode())

    def unpacked(self) -> tuple[Whole, Array]:
        """Frames and values, shape (N,) each.

        Raises:
            Refusal: where the text is no packed curve.
        """
        try:
            unzip = zlib.decompressobj()
            data = unzip.decompress(base64.b64decode(self.packed, validate=True), LONGEST)
        except (ValueError, zlib.error):
            data = b""
        if not unzip.eof:
            data = b""
        count = len(data) // 12
        steps = np.frombuffer(data[: 4 * count], "<i4")
        planes = np.frombuffer(data[4 * count : 12 * count], np.uint8).reshape(8, count)
        values = np.ascontiguousarray(planes.T).view("<f8")[:, 0]
        frames = np.cumsum(steps, dtype=np.int64)
        far = not count or np.abs(frames).max() >= 2**31
        if far or len(data) != 12 * count or np.any(steps[1:] <= 0):
            raise Refusal("it is no packed curve.", code="text", place=self.channel)
        if not np.all(np.isfinite(values)):
            raise Refusal("it holds what is no number.", code="number", place=self.channel)
        return frames.astype(np.int32), values.astype(np.float64)


@dataclass(frozen=True)
class BakedPart:
    """A part as it was written out.

    Attributes:
        part: its identity; it may be gone meanwhile.
        parent: the place of what carries it among the bake's parts; None: the world.
        rest: as seen from that.
        curves: of its nine transform channels as seen from its rest, and of its own channels.
    """

    part: str
    name: str
    parent: int | None
    role: Role
    rest: Rest
    rotation_order: RotationOrder
    curves: tuple[BakedCurve, ...]


@dataclass(frozen=True)
class Baked:
    """What a bake wrote out.

    Attributes:
        digest: of all that it came from.
        fps, first, last: the rate and the range's span then.
        markers: frames and labels within the span.
    """

    digest: str
    fps: float
    first: int
    last: int
    parts: tuple[BakedPart, ...] = ()
    markers: tuple[tuple[float, str], ...] = ()


@dataclass(frozen=True)
class Bake:
    """Curves of what leaves, linked with what they came from.

    Attributes:
        by: which parts leave.
        set: of *a set*, its identity.
        parts: of *by hand*, the parts.
        own_channels: the parts' own channels leave with them.
        first, last: the span; step: every so many frames.
        tolerance: metres, degrees and factors within which keys are left out; 0: every frame.
        follows: it takes its source over by itself whenever it leaves.
        made: what it wrote out last.
    """

    id: str
    name: str
    first: int
    last: int
    by: By = "joints and props"
    set: str | None = None
    parts: tuple[str, ...] = ()
    own_channels: bool = True
    step: int = 1
    tolerance: float = 0.0
    follows: bool = False
    made: Baked | None = None
