"""Scene files: exact round trips, the published schema, and what is refused."""

from __future__ import annotations

import json
from collections.abc import Callable
from pathlib import Path
from typing import Any

import jsonschema
import pytest
from hypothesis import given

from bindu.core.evaluation import evaluate
from bindu.core.refusal import Refusal
from bindu.core.scene.model import Scene
from bindu.demo import demo_scenes, scene_file
from bindu.demo.ferry import ferry_crossing
from bindu.formats.scene.scene_json import read_scene, schema_text, write_scene
from tests.strategies import histories

ROOT = Path(__file__).parents[2]
SCHEMA = ROOT / "docs" / "scene.schema.json"
SHAPE = json.loads(SCHEMA.read_text())
VALIDATOR = jsonschema.validators.validator_for(SHAPE)(SHAPE)
EXAMPLES = sorted((ROOT / "examples").glob("*.bindu.json"))


@given(histories(20))
def test_a_round_trip_is_exact(history: list[Scene]) -> None:
    scene = history[-1]
    text = write_scene(scene)
    again = read_scene(text)
    assert write_scene(again) == text
    a, b = evaluate(scene), evaluate(again)
    assert a.graph.order == b.graph.order
    for node_id in a.graph.order:
        assert a.results[node_id].values.tobytes() == b.results[node_id].values.tobytes()
    VALIDATOR.validate(json.loads(text))


def test_the_published_schema_and_examples_are_those_of_the_code() -> None:
    assert SCHEMA.read_text() == schema_text()
    written = {scene_file(scene.name): write_scene(scene) for scene in demo_scenes()}
    assert {path: path.read_text() for path in EXAMPLES} == written


def test_a_file_by_hand_needs_no_identities() -> None:
    scene = read_scene(
        json.dumps(
            {
                "format": "bindu scene",
                "version": 1,
                "name": "by hand",
                "range": [0, 10],
                "parts": [
                    {
                        "name": "a",
                        "steps": [
                            {
                                "name": "f",
                                "kind": "formula",
                                "zone": "driven",
                                "channel": "rotation.x",
                                "formula": "{b.size} * 2",
                            }
                        ],
                    },
                    {"name": "b", "parent": "a", "channels": [{"name": "size", "default": 4}]},
                ],
            }
        )
    )
    evaluation = evaluate(scene)
    a = next(p for p in scene.parts.values() if p.name == "a")
    assert evaluation.world(a.id)[0, 1, 1] == pytest.approx(0.99026806874157)


def example() -> dict[str, Any]:
    """The ferry's document, to be spoiled."""
    found: dict[str, Any] = json.loads(write_scene(ferry_crossing()))
    return found


def part(document: dict[str, Any], name: str) -> dict[str, Any]:
    """A part of a document."""
    return next(p for p in document["parts"] if p["name"] == name)


SPOILED: dict[str, Callable[[dict[str, Any]], Any]] = {
    r"parts\[2\] \(paddle\).rotation_order: Input should be": lambda d: part(d, "paddle").update(
        rotation_order="xxy"
    ),
    r"parts\[1\] \(ferry\).*there is a part with this name already": lambda d: part(
        d, "deck"
    ).update(name="ferry"),
    r"parts\[0\] \(ferry\).parent: .*never its own ancestor": lambda d: part(d, "ferry").update(
        parent="deck"
    ),
    r"parts\[1\] \(deck\).parent: there is no part 'fery'. Nearest: ferry": lambda d: part(
        d, "deck"
    ).update(parent="fery"),
    r"parts\[0\] \(ferry\).curves.translation.x: two keys stand at frame 10": lambda d: part(
        d, "ferry"
    )["curves"]["translation.x"]["keys"].append({"frame": 10.0, "value": 0}),
    r"has no channel 'translation.w'. Nearest": lambda d: part(d, "ferry")["curves"].update(
        {"translation.w": {"keys": [{"frame": 0, "value": 0}]}}
    ),
    r"steps \(turn by distance\).*formula: column 2": lambda d: part(d, "paddle")["steps"][
        0
    ].update(formula="1 +* 2"[2:]),
    r"parts\[2\] \(paddle\).steps\[0\] \(turn by distance\).*zone: Input should be": lambda d: part(
        d, "paddle"
    )["steps"][0].update(zone="sometimes"),
    r"wheels: Extra inputs": lambda d: part(d, "ferry").update(wheels=4),
    r"range\[1\]: Input should be a valid integer": lambda d: d.update(range=[0, "many"]),
    r"scene · last: .*lies before": lambda d: d.update(range=[5, 1]),
    r"version: Input should be 1": lambda d: d.update(version=9),
    r"it is no Bindu scene": lambda d: d.update(format="other"),
    r"identity 'p1' stands for two things": lambda d: part(d, "deck").update(id="p1"),
}


@pytest.mark.parametrize("says", SPOILED)
def test_spoiled_documents_are_refused_with_their_place(says: str) -> None:
    document = example()
    SPOILED[says](document)
    with pytest.raises(Refusal, match=says):
        read_scene(json.dumps(document))


@pytest.mark.parametrize(
    ("text", "says"),
    [
        ("", "line 1: column 1: it is not JSON"),
        ('{"format": "bindu scene",\n "version": }', "line 2: column 13: it is not JSON"),
        (b"\xff\xfe", "not UTF-8"),
        ("[" * 100_000, "little but brackets"),
        ("[          " * 100_000, "nested too deep"),
        ('{"format": "bindu scene", "version": 1, "name": "x", "fps": NaN}', "NaN is no JSON"),
        ('{"format": "bindu scene", "name": "a", "name": "b"}', "'name' stands twice"),
        ("[1]", "it is no Bindu scene"),
        (b" " * (64 * 1024 * 1024 + 1), "at most 64 MiB"),
    ],
)
def test_broken_files_are_refused_with_their_line(text: str | bytes, says: str) -> None:
    with pytest.raises(Refusal, match=says):
        read_scene(text)
