"""The demo's pencil drawings and its metronome, as references of scenes."""

from __future__ import annotations

import base64
from pathlib import Path

from bindu.core.edits.references import PutReference

MEDIA = Path(__file__).parent / "media"


def pinned(name: str, file: str, first: float, last: float | None = None) -> PutReference:
    """A reference of a file of the demo."""
    data = base64.b64encode((MEDIA / file).read_bytes()).decode()
    return PutReference(name, data, first, last, 0.9)
