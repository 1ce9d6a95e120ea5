"""Checks over HTTP: findings, one with its remedies, what a remedy would make, refusals."""

from __future__ import annotations

import gc
from urllib.parse import quote
from weakref import ref

import pytest

from bindu.core.checks.registry import CHECKS, findings
from bindu.core.edits import applied
from bindu.core.edits.spaces import MoveHandover, SwitchSpace
from bindu.core.evaluation import evaluate
from bindu.formats.scene.scene_json import write_scene
from bindu.web.checks.kept import KeptFindings
from bindu.web.checks.views import tried_view
from tests.conftest import Server
from tests.core.troubles import passing
from tests.demos import demo


@pytest.fixture
def heron(server: Server) -> str:
    """The path of the hurried heron, brought in."""
    return f"/scenes/{server.bring(write_scene(demo('the-hurried-heron')))}"


def test_findings_are_those_of_the_core_with_names_for_checks(server: Server, heron: str) -> None:
    view = server.get(f"{heron}/checks").json()
    assert [check["name"] for check in view["checks"]] == [check.name for check in CHECKS]
    expected = findings(evaluate(demo("the-hurried-heron")))
    assert [one["text"] for one in view["findings"]] == [one.text for one in expected]
    (kept,) = view["accepted"]
    said = [one for one in view["findings"] if one["accepted"] == kept["id"]]
    assert view["revision"] == 0 and [one["check"] for one in said] == ["unkeyed switch"]
    # An edit answers without waiting for them; they follow with its revision.
    mute = {"do": "set check", "check": "without effect", "on": False, "limits": []}
    answer = server.post(f"{heron}/edits", {"revision": 0, "edits": [mute]}).json()
    assert "findings" not in answer["header"]
    after = server.get(f"{heron}/checks").json()
    assert after["revision"] == 1
    assert not [one for one in after["findings"] if one["check"] == "without effect"]
    assert len(after["findings"]) < len(view["findings"])
    spin = next(one for one in view["findings"] if one["check"] == "tilted spin")
    ways = server.get(f"{heron}/checks/finding?id={quote(spin['id'])}").json()["ways"]
    assert [way["dashed"] for way in ways] == [False, True]
    assert len({len(way["points"]) for way in ways}) == 1 and len(ways[0]["points"]) > 30


def test_the_list_of_scenes_says_how_much_was_found_until_an_edit(server: Server) -> None:
    number = server.bring(write_scene(demo("the-hurried-heron")))

    def listed() -> int | None:
        (entry,) = [one for one in server.get("/scenes").json()["scenes"] if one["id"] == number]
        found: int | None = entry["findings"]
        return found

    assert listed() is None
    view = server.get(f"/scenes/{number}/checks").json()
    left = [one for one in view["findings"] if one["accepted"] is None]
    assert listed() == len(left) > 10
    what = {key: left[0][key] for key in ("check", "part", "what", "cause", "amount")}
    accept = {"do": "accept finding", **what, "reason": "so"}
    server.post(f"/scenes/{number}/edits", {"revision": 0, "edits": [accept]})
    assert listed() is None
    server.get(f"/scenes/{number}/checks")
    assert listed() == len(left) - 1


def test_a_remedy_is_tried_and_says_what_else_it_would_change(server: Server, heron: str) -> None:
    view = server.get(f"{heron}/checks").json()
    slide = next(one for one in view["findings"] if one["check"] == "slide")
    details = server.get(f"{heron}/checks/finding?id={quote(slide['id'])}").json()
    assert len(details["amounts"]) == 145 and max(details["amounts"]) > details["level"] == 2.0
    offer = details["offers"][0]
    tried = server.post(
        f"{heron}/checks/tried", {"id": slide["id"], "edits": offer["edits"]}
    ).json()
    assert tried["left"] is None and tried["gone"] >= 1 and "left leg goal" in tried["moved"]
    assert server.get(f"{heron}/revision").json()["revision"] == 0
    server.post(f"{heron}/edits", {"revision": 0, "edits": offer["edits"]})
    left = server.get(f"{heron}/checks").json()["findings"]
    assert slide["id"] not in {one["id"] for one in left}
    gone = server.get(f"{heron}/checks/finding?id={quote(slide['id'])}", 422).json()
    assert "not found any more" in gone["error"]


def test_what_a_remedy_leaves_of_the_trouble_elsewhere_is_told_as_new() -> None:
    scene = passing(SwitchSpace("s1", 32, "boat", "jump", 2))
    (before, after) = (evaluate(scene), evaluate(applied(scene, [MoveHandover("s1", 32, 24)])))
    (old,), (new,) = (findings(one, only={"pop"}) for one in (before, after))
    tried = tried_view(old, (before, (old,)), (after, (new,)))
    assert tried.left is None and tried.new == [new.text] and tried.moved == ["foot"]


def test_what_checks_keep_of_a_scene_goes_with_it() -> None:
    kept = KeptFindings()
    evaluation = evaluate(demo("the-hurried-heron"))
    found = kept.of(1, evaluation)
    assert kept.of(1, evaluation) is found
    assert kept.tried(1, evaluation) == found
    seen = ref(evaluation)
    del evaluation
    gc.collect()
    assert seen() is None
    kept.forget(1)
    assert not kept._found


def test_a_loop_offers_the_remedies_that_wiring_does(server: Server) -> None:
    path = f"/scenes/{server.bring(write_scene(demo('the-mooring')))}"
    (loop,) = (f for f in server.get(f"{path}/checks").json()["findings"] if f["check"] == "loop")
    details = server.get(f"{path}/checks/finding?id={quote(loop['id'])}").json()
    remedies = server.get(f"{path}/loops").json()["loops"][0]["remedies"]
    assert [one["text"] for one in details["offers"]] == [one["text"] for one in remedies]


@pytest.mark.parametrize(
    ("edit", "place", "problem"),
    [
        ({"do": "accept finding", "check": "pop", "part": "p8", "what": "rotation", "reason": ""},
         "reason", "missing"),
        ({"do": "accept finding", "check": "pop", "part": "x", "what": "rotation", "reason": "so"},
         "", "no part"),
        ({"do": "set check", "check": "pop", "on": True, "limits": [["times", -1.0]]},
         "times", "negative"),
        ({"do": "set check", "check": "pop ", "on": True, "limits": []}, "check", "is no name"),
        ({"do": "take back acceptance", "id": "a99"}, "", "not accepted"),
        ({"do": "plant part", "part": "p8", "first": 9, "last": 3}, "span 9", "before it begins"),
        ({"do": "continuous angles", "parts": ["p8"]}, "", "jumps"),
    ],
)  # fmt: skip
def test_bad_edits_of_checks_name_what_is_wrong(
    server: Server, heron: str, edit: dict[str, object], place: str, problem: str
) -> None:
    refused = server.post(f"{heron}/edits", {"revision": 0, "edits": [edit]}, 422).json()
    assert problem in refused["error"] and place in refused.get("place", "")
    assert server.get(f"{heron}/revision").json()["revision"] == 0
