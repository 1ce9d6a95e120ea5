"""Numbers of a glTF file that is being written: one buffer, with accessors into it."""

from __future__ import annotations

from typing import Any

import numpy as np
import pygltflib as gltf

TYPES = {1: "SCALAR", 2: "VEC2", 3: "VEC3", 4: "VEC4", 16: "MAT4"}
COMPONENTS = {"<f4": gltf.FLOAT, "<u2": gltf.UNSIGNED_SHORT, "<u4": gltf.UNSIGNED_INT}


class Numbers:
    """Collects arrays; equal ones are kept once."""

    def __init__(self) -> None:
        self.accessors: list[Any] = []
        self.views: list[Any] = []
        self._data: list[bytes] = []
        self._size = 0
        self._known: dict[tuple[bytes, str, int, int | None], int] = {}

    @property
    def blob(self) -> bytes:
        """The buffer."""
        return b"".join(self._data)

    def add(
        self, values: Any, kind: str = "<f4", target: int | None = None, bounds: bool = False
    ) -> int:
        """The accessor of an array, shape (N,) or (N, width).

        Args:
            kind: how its numbers are written.
            target: what a buffer view is for, where that must be said.
            bounds: it tells its least and largest numbers.
        """
        array = np.ascontiguousarray(values, dtype=kind)
        width = 1 if array.ndim == 1 else int(np.prod(array.shape[1:]))
        data = array.tobytes()
        key = (data, kind, width, target)
        if key in self._known:
            return self._known[key]
        view = gltf.BufferView(buffer=0, byteOffset=self._size, byteLength=len(data), target=target)
        rows = array.reshape(len(array), width)
        accessor = gltf.Accessor(
            bufferView=len(self.views),
            byteOffset=0,
            componentType=COMPONENTS[kind],
            count=len(array),
            type=TYPES[width],
        )
        if bounds:
            accessor.min = [float(n) for n in rows.min(axis=0)]
            accessor.max = [float(n) for n in rows.max(axis=0)]
        padded = data + b"\0" * (-len(data) % 4)
        self._data.append(padded)
        self._size += len(padded)
        self.views.append(view)
        self.accessors.append(accessor)
        self._known[key] = len(self.accessors) - 1
        return self._known[key]
