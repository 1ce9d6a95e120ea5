"""A receiver that plays what was sent, for the browser to draw."""

from __future__ import annotations

import hashlib
from collections.abc import Sequence

import numpy as np

from bindu.core.clips.motion import MotionClip
from bindu.core.curves.model import Array
from bindu.core.refusal import Refusal
from bindu.receiver.moving import length_of
from bindu.receiver.player import Played, play
from bindu.receiver.writers import Writer
from bindu.web.deliver.schemas import ReceiveWish
from bindu.web.scene.samples import packed


def packed_play(clips: Sequence[MotionClip], wish: ReceiveWish, revision: int) -> bytes:
    """What a receiver shows: the worlds of all parts by their names, which clip plays when, and
    who would write what."""
    played = play(clips, wish.setup, _said(wish), wish.seconds, wish.rate)
    head = {
        "revision": revision,
        "first": 0,
        "last": len(played.times) - 1,
        "rate": wish.rate,
        "clips": [
            {"name": clip.name, "seconds": length_of(clip), "fps": clip.fps} for clip in clips
        ],
        "stretches": [
            {"clip": clips[one.clip].name, "first": one.first, "end": one.end, "blend": one.blend}
            for one in played.stretches
        ],
        "chases": [vars(one) for one in played.chases],
        "missing": list(played.missing),
        "names": list(played.names),
        "writers": [_writer(one, played) for one in played.writers],
    }
    worlds = played.worlds
    blocks = ((name, _key(worlds[n]), worlds[n]) for n, name in enumerate(played.names))
    return packed(head, blocks, ())


def _said(wish: ReceiveWish) -> dict[str, tuple[Array, Array]]:
    found = {}
    for name, rows in wish.said.items():
        table = np.array(rows, dtype=np.float64).reshape(-1, 2)
        if not np.all(np.isfinite(table)) or np.any(np.diff(table[:, 0]) < 0.0):
            text = "times ascend, and all numbers are finite."
            raise Refusal(text, code="number", place=f"said.{name[:80]}")
        found[name] = (table[:, 0], table[:, 1])
    return found


def _key(values: Array) -> str:
    return hashlib.blake2b(np.ascontiguousarray(values).tobytes(), digest_size=16).hexdigest()


def _writer(writer: Writer, played: Played) -> dict[str, object]:
    """A writer with the spans of frames on which it goes any way, and how far at most there."""
    on = np.concatenate([[False], writer.shares > 0.0, [False]])
    edges = np.flatnonzero(on[1:] != on[:-1]).reshape(-1, 2)
    every = len(writer.parts) == len(played.names)
    return {
        "name": writer.name,
        "kind": writer.kind,
        "parts": None if every else [played.names[n] for n in writer.parts],
        "spans": [
            [int(a), int(b) - 1, round(float(writer.shares[a:b].max()), 4)] for a, b in edges
        ],
    }
