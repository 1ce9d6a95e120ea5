"""Drivers over HTTP: sheets, captures, slip, copies, rules, and edits that are only checked."""

from __future__ import annotations

import numpy as np
import pytest
import requests

from bindu.core.drivers.sheets import mapping_of, sheet_of
from bindu.core.drivers.slip import fitted, slip_of
from bindu.core.evaluation import evaluate
from bindu.core.scene.names import parts_by_name
from bindu.formats.scene.scene_json import read_scene, write_scene
from tests.conftest import Server
from tests.demos import demo


@pytest.fixture
def ferry(server: Server) -> int:
    """The number of a new ferry."""
    return server.bring(write_scene(demo("ferry-crossing")))


def test_a_sheet_is_that_of_the_core_also_of_what_is_tried(server: Server, ferry: int) -> None:
    scene = demo("ferry-crossing")
    expected = sheet_of(evaluate(scene), scene.driven["d1"], 4.2)
    wish = {"driven": "d1", "at": 4.2}
    found = server.post(f"/scenes/{ferry}/sheet", wish).json()
    np.testing.assert_allclose(found["inputs"], expected.inputs)
    np.testing.assert_allclose(found["driver"], expected.driver)
    assert [row["row"] for row in found["rows"]] == [row.row.id for row in expected.rows]
    for got, row in zip(found["rows"], expected.rows, strict=True):
        np.testing.assert_allclose(got["values"], row.values)
        assert got["now"] == pytest.approx(row.now)
    assert [f["text"] for f in found["findings"]] == [f.text for f in expected.findings]
    cell = {"do": "put cells", "cells": [{"row": "s10", "stop": 6.0, "value": -1.0}]}
    tried = server.post(f"/scenes/{ferry}/sheet", {**wish, "at": 6.0, "trying": [cell]}).json()
    row = next(r for r in tried["rows"] if r["row"] == "s10")
    assert row["now"] == -1.0
    assert server.get(f"/scenes/{ferry}/revision").json() == {"revision": 0}
    problem = server.post(f"/scenes/{ferry}/sheet", {**wish, "driven": "d9"}, 422).json()
    assert "no set 'd9'" in problem["error"]


def test_a_driver_that_is_not_finite_has_gaps_in_its_sheet(server: Server, ferry: int) -> None:
    odd = {"do": "change driven keys", "driven": "d1", "driver": "1 / (frame - 9)"}
    wish = {"driven": "d1", "at": 0.0, "trying": [odd]}
    driver = server.post(f"/scenes/{ferry}/sheet", wish).json()["driver"]
    assert driver[9] is None
    assert driver[10] == 1.0


def test_slip_and_fit_are_those_of_the_core(server: Server, ferry: int) -> None:
    evaluation = evaluate(demo("ferry-crossing"))
    probe, step = evaluation.scene.probes["q1"], evaluation.scene.steps["s1"]
    expected = slip_of(evaluation, probe)
    wish = {"probe": "q1", "first": 0, "last": 120, "step": "s1"}
    found = server.post(f"/scenes/{ferry}/slip", wish).json()
    np.testing.assert_allclose(found["amounts"], expected.amounts, atol=1e-12)
    np.testing.assert_allclose(np.reshape(found["points"], (-1, 3)), expected.points, atol=1e-12)
    assert found["sum"] == pytest.approx(float(expected.amounts.sum()))
    assert found["worst_frame"] == int(expected.amounts.argmax())
    fit = fitted(evaluation, probe, step, 0, 120)
    assert found["fit"]["factor"] == pytest.approx(fit.factor)
    assert found["fit"]["exact"] == fit.exact
    assert found["fit"]["reasons"] == list(fit.reasons)
    for wrong, says in (
        ({"probe": "q7"}, "no slip probe 'q7'"),
        ({"step": "s2"}, "only a formula can be fitted"),
        ({"step": "s77"}, "no step with the identity"),
        ({"first": -5}, "no whole frame of the scene's range"),
    ):
        problem = server.post(f"/scenes/{ferry}/slip", {**wish, **wrong}, 422).json()
        assert says in problem["error"]


def test_copies_are_seen_before_they_are_made(server: Server, ferry: int) -> None:
    wish = {"step": "s1", "parts": ["p6", "p3", "p99"], "rule": "own part"}
    copies = server.post(f"/scenes/{ferry}/copies", wish).json()["copies"]
    assert [copy["part"] for copy in copies] == ["p6", "p3", "p99"]
    assert copies[0]["text"] is None
    assert "it has no channel 'radius'" in copies[0]["problem"]
    assert copies[1]["text"].startswith("-degrees(travelled({ferry})")
    assert "p99" in copies[2]["problem"]
    assert server.get(f"/scenes/{ferry}/revision").json() == {"revision": 0}


def test_rules_tell_what_they_would_wire_and_wire_it(server: Server) -> None:
    number = server.bring(write_scene(demo("heron-at-the-shallows")))
    rule = {"name": "open", "pattern": "* feather [1-6]", "channel": "rotation.x",
            "formula": "{body.spread} * <2>"}  # fmt: skip
    matches = server.post(f"/scenes/{number}/rules", {"rules": [rule]}).json()["matches"]
    assert len(matches) == 12
    assert {match["problem"] for match in matches} == {None}
    edit = {"revision": 0, "edits": [{"do": "apply rules", "rules": [rule]}]}
    view = server.post(f"/scenes/{number}/edits", edit).json()
    assert view["label"] == "wire 12 parts by name"
    scene = read_scene(server.get(f"/scenes/{number}/export").text)
    feather = parts_by_name(scene)["right feather 2"]
    assert any(step.name == "open" for step in scene.steps_of[feather])
    twice = {"rules": [rule, {**rule, "name": "again", "pattern": "left*"}]}
    found = server.post(f"/scenes/{number}/rules", twice).json()["matches"]
    both = [m["rule"] for m in found if m["part"] == parts_by_name(scene)["left feather 1"]]
    assert both == ["open", "again"]
    bad = {"rules": [{**rule, "pattern": "a [9-2]"}]}
    assert "goes down" in server.post(f"/scenes/{number}/rules", bad, 422).json()["error"]


def test_a_capture_is_stored_undone_and_kept_over_a_reload(server: Server, ferry: int) -> None:
    capture = {"do": "capture stop", "driven": "d1", "stop": 6.0, "frame": 104.0,
               "values": [["p10", "rotation.z", -70.0]]}  # fmt: skip
    server.post(f"/scenes/{ferry}/edits", {"revision": 0, "edits": [capture]})
    assert cell(server, ferry) == -70.0
    server.retrace(f"/scenes/{ferry}", "undo")
    assert cell(server, ferry) == -61.0
    server.retrace(f"/scenes/{ferry}", "redo")
    assert cell(server, ferry) == -70.0


def cell(server: Server, number: int) -> float:
    """What the gangway's row is at the stop 6, as the server holds it."""
    scene = read_scene(server.get(f"/scenes/{number}/export").text)
    row = next(r for r in scene.rows_of["d1"] if r.part == "p10")
    key = mapping_of(row).key_at(6.0)
    assert key is not None
    return key.value


def test_edits_are_checked_without_being_saved(server: Server, ferry: int) -> None:
    settings = {"kind": "formula", "channel": "rotation.z", "text": "1 + sqr(4)"}
    edit = {"do": "change step", "step": "s1", "settings": settings}
    problem = server.post(f"/scenes/{ferry}/check", {"edits": [edit]}, 422).json()
    assert problem["column"] == 5
    assert "sqrt" in problem["nearest"]
    good = {**edit, "settings": {**settings, "text": "1 + sqrt(4)"}}
    answer = requests.post(
        f"{server.url}/api/scenes/{ferry}/check", json={"edits": [good]}, timeout=30
    )
    assert answer.status_code == 204
    assert server.get(f"/scenes/{ferry}/revision").json() == {"revision": 0}
    server.get("/scenes/999999/revision", 404)


def test_the_view_of_a_scene_tells_of_drivers(server: Server, ferry: int) -> None:
    view = server.get(f"/scenes/{ferry}").json()
    (driven,) = view["header"]["driven"]
    assert (driven["name"], driven["driver"]) == ("lower gangway", "{ferry.landing}")
    assert driven["stops"] == [0.0, 2.5, 6.0, 10.0]
    assert {row["part"] for row in driven["rows"]} == {"p6", "p10", "p11", "p12", "p13", "p14"}
    assert [probe["name"] for probe in view["header"]["probes"]] == ["water line"]
    parts = {part["name"]: part for part in view["parts"]}
    glow = next(c for c in parts["lantern"]["channels"] if c["name"] == "brightness")
    assert glow["shows"] == "brightness"
    assert all(step["alike"] == 1 for step in parts["paddle"]["steps"])
