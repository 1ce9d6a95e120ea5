"""Files damaged at random: read or refused, never anything else."""

from __future__ import annotations

import copy
import json
from typing import Any

from hypothesis import given, settings
from hypothesis import strategies as st

from bindu.core.evaluation import evaluate
from bindu.core.refusal import Refusal
from bindu.formats.scene.scene_json import read_scene, write_scene
from tests.demos import demo
from tests.wide import cases

DOCUMENT = json.loads(write_scene(demo("ferry-crossing")))
TEXT = write_scene(demo("ferry-crossing"))

odd = st.one_of(
    st.none(),
    st.booleans(),
    st.integers(-(10**30), 10**30),
    st.floats(),
    st.text(max_size=12),
    st.lists(st.integers(), max_size=3),
    st.dictionaries(st.text(max_size=4), st.integers(), max_size=2),
)


def places(value: Any, path: tuple[Any, ...] = ()) -> list[tuple[Any, ...]]:
    """The paths of all values in a document."""
    found = [path] if path else []
    if isinstance(value, dict | list):
        children = value.items() if isinstance(value, dict) else enumerate(value)
        for key, child in children:
            found += places(child, (*path, key))
    return found


PLACES = places(DOCUMENT)


def outcome(text: str) -> str:
    """What reading comes to; a scene that is read can be evaluated and written."""
    try:
        scene = read_scene(text)
    except Refusal as refusal:
        assert str(refusal).strip()
        assert refusal.place
        return "refused"
    evaluate(scene)
    assert read_scene(write_scene(scene)) == scene
    return "read"


@settings(max_examples=cases(45, 600))
@given(st.sampled_from(PLACES), odd)
def test_any_value_put_anywhere_is_taken_or_refused_with_its_place(
    path: tuple[Any, ...], value: Any
) -> None:
    damaged = copy.deepcopy(DOCUMENT)
    here = damaged
    for step in path[:-1]:
        here = here[step]
    here[path[-1]] = value
    outcome(json.dumps(damaged))


@settings(max_examples=cases(25, 300))
@given(st.sampled_from(PLACES))
def test_anything_may_be_missing(path: tuple[Any, ...]) -> None:
    damaged = copy.deepcopy(DOCUMENT)
    here = damaged
    for step in path[:-1]:
        here = here[step]
    del here[path[-1]]
    outcome(json.dumps(damaged))


@settings(max_examples=cases(35, 500))
@given(st.integers(0, len(TEXT) - 1), st.text(max_size=3), st.integers(0, 40))
def test_text_cut_and_overwritten_anywhere_is_taken_or_refused(
    at: int, put: str, gone: int
) -> None:
    outcome(TEXT[:at] + put + TEXT[at + gone :])


def test_the_whole_file_is_read() -> None:
    assert outcome(TEXT) == "read"
