"""References: pictures and sounds that are pinned to frames, to work by. Nothing is computed from
them."""

from __future__ import annotations

import base64
import hashlib
from dataclasses import dataclass
from typing import Literal

from bindu.core.refusal import Refusal

Kind = Literal["picture", "sound"]
Beside = Literal["beside", "behind"]
LARGEST = 4 * 2**20
"""Bytes that a picture or a sound has at most."""
LARGEST_TOGETHER = 16 * 2**20
"""Bytes that all of a scene have at most."""
TYPES: dict[str, tuple[int, bytes, Kind]] = {
    "image/png": (0, b"\x89PNG\r\n\x1a\n", "picture"),
    "image/jpeg": (0, b"\xff\xd8\xff", "picture"),
    "image/webp": (8, b"WEBP", "picture"),
    "audio/wav": (8, b"WAVE", "sound"),
    "audio/ogg": (0, b"OggS", "sound"),
}
"""The types that a reference may have: where in its bytes which ones stand, and what it is."""


@dataclass(frozen=True)
class Medium:
    """The bytes of a picture or a sound; several references may show the same.

    Attributes:
        id: found by the bytes.
        data: base64.
    """

    id: str
    data: str

    @staticmethod
    def of(data: str) -> Medium:
        """The medium of some base64.

        Raises:
            Refusal: where it is none, too large, or neither picture nor sound.
        """
        try:
            plain = base64.b64decode(data, validate=True)
        except ValueError:
            raise Refusal("it is no base64.", code="text", place="data") from None
        if len(plain) > LARGEST:
            text = f"it has {len(plain):,} bytes, of at most {LARGEST // 2**20} MiB."
            raise Refusal(text, code="too much", place="data")
        media_type(plain)
        return Medium(hashlib.blake2b(plain, digest_size=16).hexdigest(), data)

    @property
    def plain(self) -> bytes:
        """Its bytes."""
        return base64.b64decode(self.data)

    @property
    def size(self) -> int:
        """How many bytes it has."""
        return 3 * len(self.data) // 4 - self.data[-2:].count("=")

    @property
    def type(self) -> str:
        """Its media type."""
        return media_type(self.plain[:16])

    @property
    def kind(self) -> Kind:
        """Whether it is looked at or heard."""
        return TYPES[self.type][2]


@dataclass(frozen=True)
class PinnedReference:
    """A picture or a sound that is pinned to frames.

    Attributes:
        medium: the identity of its bytes.
        first: the frame from which on it is seen, or on which it begins to sound.
        last: the last one; None: to the end.
        opacity: how much a picture covers, or how loud a sound is, 0 to 1.
        place: of a picture: beside what the view shows, or behind it.
    """

    id: str
    name: str
    medium: str
    first: float = 0.0
    last: float | None = None
    opacity: float = 1.0
    place: Beside = "beside"


def media_type(data: bytes) -> str:
    """The media type of a picture or a sound, by how its bytes begin.

    Raises:
        Refusal: when it is none of those that browsers show and play.
    """
    for name, (at, mark, _) in TYPES.items():
        if data[at : at + len(mark)] == mark and (at == 0 or data[:4] == b"RIFF"):
            return name
    text = "it is no picture (PNG, JPEG, WebP) and no sound (WAV, Ogg)."
    raise Refusal(text, code="choice", place="data")
