"""Files that were sent last, so that nothing is written or read twice for one revision."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from threading import Lock
from typing import Generic, TypeVar

from bindu.core.clips.motion import MotionClip
from bindu.core.evaluation import Evaluation
from bindu.core.scene.bakes import Bake
from bindu.formats.gltf import read_gltf
from bindu.formats.report import Report
from bindu.formats.sending import Format, send

MOST_FILES = 2
MOST_CLIPS = 8
T = TypeVar("T")
Key = tuple[int, int, str, tuple[str, ...]]
"""Scene, revision, format, bakes."""


class _Last(Generic[T]):
    """What was made last, by key."""

    def __init__(self, most: int) -> None:
        self._most = most
        self._kept: dict[Key, T] = {}
        self._lock = Lock()

    def get(self, key: Key, make: Callable[[], T]) -> T:
        """What is there, or what is made now."""
        with self._lock:
            found = self._kept.pop(key, None)
        if found is None:
            found = make()
        with self._lock:
            self._kept[key] = found
            while len(self._kept) > self._most:
                self._kept.pop(next(iter(self._kept)))
        return found


class Files:
    """Files of bakes with their reports, and the clips that a receiver finds in them."""

    def __init__(self) -> None:
        self._files: _Last[tuple[bytes, Report]] = _Last(MOST_FILES)
        self._clips: _Last[list[MotionClip]] = _Last(MOST_CLIPS)

    def sent(
        self,
        scene_id: int,
        revision: int,
        evaluation: Evaluation,
        bakes: Sequence[Bake],
        to: Format,
    ) -> tuple[bytes, Report]:
        """The file of bakes and its report; see ``send``."""
        key = (scene_id, revision, to, tuple(bake.id for bake in bakes))
        return self._files.get(key, lambda: send(evaluation, bakes, to))

    def clips(
        self, scene_id: int, revision: int, evaluation: Evaluation, bakes: Sequence[Bake]
    ) -> list[MotionClip]:
        """The clips of bakes, as a program finds them that has only the file."""
        key: Key = (scene_id, revision, "glb", tuple(bake.id for bake in bakes))

        def read() -> list[MotionClip]:
            data, _ = self.sent(scene_id, revision, evaluation, bakes, "glb")
            return read_gltf(data, Report(""))

        return self._clips.get(key, read)
