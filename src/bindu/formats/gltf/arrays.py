"""Arrays of a glTF file that is being read, each checked against the bytes that are there."""

from __future__ import annotations

import base64
import binascii

import numpy as np

from bindu.core.curves.model import Array
from bindu.core.refusal import Refusal
from bindu.formats.gltf.document import Accessor, BufferView, Document

WIDTHS = {"SCALAR": 1, "VEC2": 2, "VEC3": 3, "VEC4": 4, "MAT2": 4, "MAT3": 9, "MAT4": 16}
NUMBERS = {5120: "<i1", 5121: "<u1", 5122: "<i2", 5123: "<u2", 5125: "<u4", 5126: "<f4"}
LARGEST = {5120: 127.0, 5121: 255.0, 5122: 32767.0, 5123: 65535.0}
MOST_NUMBERS = 40_000_000
EMBEDDED = "data:"


class Arrays:
    """The arrays of a document."""

    def __init__(self, document: Document, blob: bytes) -> None:
        self._document, self._blob = document, blob
        self._buffers: dict[int, bytes] = {}
        self._found: dict[int, Array] = {}
        self._total = 0

    def times(self, accessor: int, place: str) -> Array:
        """Times of keys, seconds, ascending, shape (N,).

        Raises:
            Refusal: when they are not finite or do not ascend.
        """
        values = self.values(accessor, place)
        where = f"accessors.{accessor}"
        if values.shape[1] != 1 or not np.all(np.isfinite(values)):
            raise Refusal("times are finite single numbers.", code="number", place=where)
        flat = values[:, 0]
        if flat[0] < 0.0 or np.any(np.diff(flat) <= 0.0) or flat[-1] > 1e6:
            text = "times begin at 0 or later and ascend."
            raise Refusal(text, code="number", place=where)
        return flat

    def values(self, accessor: int, place: str) -> Array:
        """The numbers of an accessor, shape (N, width).

        Raises:
            Refusal: when there is no such accessor.
        """
        if accessor not in self._found:
            if accessor >= len(self._document.accessors):
                raise Refusal(f"there is no accessor {accessor}.", code="unknown", place=place)
            self._found[accessor] = self._made(accessor, self._document.accessors[accessor])
        return self._found[accessor]

    def matrices(self, accessor: int, place: str) -> Array:
        """The places that an accessor holds as matrices, shape (N, 4, 4).

        Raises:
            Refusal: when it holds something else.
        """
        values = self.values(accessor, place)
        if values.shape[1] != 16:
            raise Refusal("it holds no matrices.", code="number", place=f"accessors.{accessor}")
        return np.asarray(values.reshape(-1, 4, 4).transpose(0, 2, 1))

    def _made(self, number: int, accessor: Accessor) -> Array:
        place, width = f"accessors.{number}", WIDTHS[accessor.type]
        if accessor.type in ("MAT2", "MAT3"):
            raise Refusal("it holds matrices of 2 or 3 rows, which nothing needs.", place=place)
        self._total += accessor.count * width
        if self._total > MOST_NUMBERS:
            text = f"it holds more than {MOST_NUMBERS:,} numbers."
            raise Refusal(text, code="too much", place=place)
        kind = NUMBERS[accessor.componentType]
        if accessor.bufferView is None:
            made = np.zeros((accessor.count, width))
        else:
            rows = self._rows(
                accessor.bufferView, accessor.byteOffset, accessor.count, width, kind, place
            )
            made = rows.astype(np.float64)
        if accessor.sparse is not None:
            self._put_sparse(accessor, made, width, kind, place)
        if accessor.normalized and accessor.componentType in LARGEST:
            made = np.maximum(made / LARGEST[accessor.componentType], -1.0)
        if not np.all(np.isfinite(made)):
            raise Refusal("it holds what is no number.", code="number", place=place)
        return made

    def _put_sparse(
        self, accessor: Accessor, made: Array, width: int, kind: str, place: str
    ) -> None:
        sparse = accessor.sparse
        assert sparse is not None
        if not 1 <= sparse.count <= accessor.count:
            raise Refusal("more numbers are given apart than there are.", place=f"{place}.sparse")
        indices, values = sparse.indices, sparse.values
        at = self._rows(
            indices.bufferView, indices.byteOffset, sparse.count, 1,
            NUMBERS[indices.componentType], f"{place}.sparse.indices",
        )[:, 0].astype(np.int64)  # fmt: skip
        if np.any(np.diff(at) <= 0) or at[-1] >= accessor.count:
            text = "places ascend, and lie within the array."
            raise Refusal(text, code="number", place=f"{place}.sparse.indices")
        made[at] = self._rows(
            values.bufferView,
            values.byteOffset,
            sparse.count,
            width,
            kind,
            f"{place}.sparse.values",
        )

    def _rows(
        self, view: int, offset: int, count: int, width: int, kind: str, place: str
    ) -> np.ndarray:
        """Rows of numbers in a buffer view, shape (count, width)."""
        if view >= len(self._document.bufferViews):
            raise Refusal(f"there is no buffer view {view}.", code="unknown", place=place)
        piece = self._document.bufferViews[view]
        data = self._piece(view, piece)
        number = np.dtype(kind)
        row = number.itemsize * width
        stride = piece.byteStride or row
        if stride < row or offset + (count - 1) * stride + row > len(data):
            text = f"it reaches behind its buffer view of {len(data):,} bytes."
            raise Refusal(text, code="number", place=place)
        return np.ndarray((count, width), number, data, offset, (stride, number.itemsize))

    def _piece(self, number: int, view: BufferView) -> bytes:
        place = f"bufferViews.{number}"
        if view.buffer >= len(self._document.buffers):
            raise Refusal(f"there is no buffer {view.buffer}.", code="unknown", place=place)
        data = self._buffer(view.buffer)
        if view.byteOffset + view.byteLength > len(data):
            text = f"it reaches behind its buffer of {len(data):,} bytes."
            raise Refusal(text, code="number", place=place)
        return data[view.byteOffset : view.byteOffset + view.byteLength]

    def _buffer(self, number: int) -> bytes:
        if number not in self._buffers:
            uri, place = self._document.buffers[number].uri, f"buffers.{number}"
            if uri is None:
                found = self._blob if number == 0 else b""
            elif uri.startswith(EMBEDDED):
                found = _embedded(uri, place)
            else:
                text = f"its numbers are in another file, {uri[:80]!r}, and nothing is fetched. "
                text += "Save it as one .glb file."
                raise Refusal(text, code="impossible", place=f"{place}.uri")
            if len(found) < self._document.buffers[number].byteLength:
                text = f"{self._document.buffers[number].byteLength:,} bytes are told of, "
                raise Refusal(text + f"{len(found):,} are there.", code="number", place=place)
            self._buffers[number] = found
        return self._buffers[number]


def _embedded(uri: str, place: str) -> bytes:
    head, comma, data = uri.partition(",")
    if not comma or not head.endswith(";base64"):
        raise Refusal("a buffer within the file is base64.", code="text", place=f"{place}.uri")
    try:
        return base64.b64decode(data, validate=True)
    except (binascii.Error, ValueError):
        raise Refusal("it is no base64.", code="text", place=f"{place}.uri") from None
