"""References: pictures and sounds pinned to frames, kept with the scene, bounded, and never run."""

from __future__ import annotations

import base64
from typing import Any

import pytest
from benchmarks.generated import DOT

from bindu.core.edits import applied
from bindu.core.edits.patch import patch_between
from bindu.core.edits.references import PutReference, RemoveReference
from bindu.core.refusal import Refusal
from bindu.core.scene.model import Scene
from bindu.core.scene.references import LARGEST, Medium
from bindu.formats.scene.scene_json import read_scene, write_scene
from tests.demos import demo

WAVE = base64.b64encode(b"RIFF\x24\0\0\0WAVEfmt " + bytes(30)).decode()


def encoded(data: bytes) -> str:
    return base64.b64encode(data).decode()


def test_what_is_pinned_is_kept_with_the_scene_and_shared_bytes_are_kept_once() -> None:
    pins = [PutReference("one", DOT, 2.5, 9.0, 0.4, "behind"), PutReference("two", DOT)]
    scene = applied(Scene(), [*pins, PutReference("beat", WAVE, 4.0)])
    assert read_scene(write_scene(scene)) == scene
    kinds = {one.name: scene.media[one.medium].kind for one in scene.references.values()}
    assert kinds == {"one": "picture", "two": "picture", "beat": "sound"}
    assert len(scene.media) == 2
    (first, second, beat) = (one.id for one in scene.references.values())
    # A change of what it looks like writes no bytes once more.
    faint = applied(scene, [PutReference("one", first=3.0, opacity=0.2, id=first)])
    assert {change.table for change in patch_between(scene, faint)} == {"references"}
    assert faint.references[first].medium == scene.references[first].medium
    left = applied(faint, [RemoveReference(first)])
    assert len(left.media) == 2
    assert not applied(left, [RemoveReference(second), RemoveReference(beat)]).media


@pytest.mark.parametrize(
    ("change", "text"),
    [
        ({"data": encoded(b"<svg onload='alert(1)'/>")}, "no picture"),
        ({"data": encoded(b"RIFF\0\0\0\0AVI LIST")}, "no picture"),
        ({"data": "not base64!"}, "no base64"),
        ({"data": encoded(b"\x89PNG\r\n\x1a\n" + bytes(LARGEST))}, "4 MiB"),
        ({"data": None}, "give it a picture or a sound"),
        ({"first": 4.0, "last": 3.0}, "before its first"),
        ({"opacity": 1.5}, "between 0 and 1"),
        ({"name": "{"}, "no name"),
        ({"name": "taken"}, "of this name"),
        ({"first": float("nan")}, "number"),
    ],
)
def test_what_cannot_be_pinned_is_refused_with_the_reason(
    change: dict[str, Any], text: str
) -> None:
    scene = applied(Scene(), [PutReference("taken", DOT)])
    with pytest.raises(Refusal, match=text):
        applied(scene, [PutReference(**{"name": "new", "data": DOT, **change})])


def test_all_together_are_bounded() -> None:
    scene = Scene()
    picture = b"\x89PNG\r\n\x1a\n"
    for n in range(4):
        data = encoded(picture + bytes([n]) * (LARGEST - 8))
        scene = applied(scene, [PutReference(f"large {n}", data)])
    with pytest.raises(Refusal, match="at most 16 MiB"):
        applied(scene, [PutReference("one more", DOT)])


def test_the_demo_has_drawings_and_a_metronome() -> None:
    media = [*demo("heron-at-the-shallows").media.values(), *demo("the-heron-walks").media.values()]
    assert sorted(one.type for one in media) == ["audio/wav", "image/png", "image/png", "image/png"]
    assert all(isinstance(one, Medium) and len(one.plain) < 30_000 for one in media)
