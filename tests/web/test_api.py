"""The server as a browser uses it: over HTTP, on a real MariaDB."""

from __future__ import annotations

from pathlib import Path
from typing import Any

import numpy as np
import pytest
import requests

from bindu.core.evaluation import evaluate
from bindu.core.scene.channels import ChannelRef
from bindu.demo import portrait_file
from bindu.demo.starts import STARTS
from bindu.formats.scene.scene_json import read_scene, write_scene
from bindu.web.server import openapi
from tests.conftest import ROOT, Server
from tests.demos import demo
from tests.web.packed import unpacked

FERRY = write_scene(demo("ferry-crossing"))
MOVE = {
    "do": "change keys",
    "part": "p1",
    "channel": "translation.x",
    "changes": [{"frame": 50, "value": 1.0}],
}


def samples(server: Server, number: int, **body: object) -> tuple[dict[str, Any], dict[str, Any]]:
    """The paddle's rotation, driven and final."""
    wants = [{"part": "p3", "quantity": "rotation.z", "stage": s} for s in ("driven", "final")]
    return unpacked(server.post(f"/scenes/{number}/samples", {"wants": wants, **body}).content)


def test_scenes_are_listed_made_exported_and_deleted(server: Server) -> None:
    made = server.post("/scenes", {"name": "<b>bold</b>"}, 201).json()
    assert made["name"] == "<b>bold</b>"
    number = server.bring(FERRY)
    listed = {entry["id"]: entry for entry in server.get("/scenes").json()["scenes"]}
    assert listed[number]["parts"] == 22
    exported = server.get(f"/scenes/{number}/export")
    assert exported.text == FERRY
    assert "ferry-crossing.bindu.json" in exported.headers["Content-Disposition"]
    assert requests.delete(f"{server.url}/api/scenes/{number}", timeout=9).status_code == 204
    server.get(f"/scenes/{number}", 404)


def test_a_scene_begins_with_a_small_rig_that_is_undone_step_by_step(server: Server) -> None:
    for start, edits in STARTS.items():
        made = server.post("/scenes", {"name": "beginning", "start": start}, 201).json()
        assert made["revision"] == len(edits) and made["parts"] >= 3
        path = f"/scenes/{made['id']}"
        for n in range(len(edits)):
            header = server.retrace(path, "undo").json()["header"]
            assert header["revision"] == len(edits) + n + 1
        assert header["undo"] is None and not server.get(path).json()["order"]
    refused = server.post("/scenes", {"name": "x", "start": "a water whel"}, 422).json()
    assert "no scene begins with" in refused["error"] and "a water wheel" in str(refused)


def numbers(server: Server, path: str) -> set[int]:
    """The scenes of a list."""
    return {entry["id"] for entry in server.get(path).json()["scenes"]}


def test_a_deleted_scene_waits_in_the_bin_with_its_history(server: Server) -> None:
    number = server.bring(FERRY)
    server.post(f"/scenes/{number}/edits", {"revision": 0, "edits": [MOVE]})
    url = f"{server.url}/api"
    # What is not in the bin neither comes back nor goes for good.
    server.post(f"/bin/{number}/back", {}, 404)
    assert requests.delete(f"{url}/bin/{number}", timeout=9).status_code == 404
    assert requests.delete(f"{url}/scenes/{number}", timeout=9).status_code == 204
    assert number in numbers(server, "/bin") and number not in numbers(server, "/scenes")
    for path in ("", "/revision", "/export", "/bakes", "/checks"):
        server.get(f"/scenes/{number}{path}", 404)
    server.post(f"/scenes/{number}/edits", {"revision": 1, "edits": [MOVE]}, 404)
    server.post(f"/scenes/{number}/undo", {"revision": 1}, 404)
    assert requests.delete(f"{url}/scenes/{number}", timeout=9).status_code == 404
    back = server.post(f"/bin/{number}/back").json()
    assert (back["id"], back["revision"]) == (number, 1)
    assert server.retrace(f"/scenes/{number}", "undo").json()["header"]["revision"] == 2
    assert server.get(f"/scenes/{number}/export").text == FERRY
    requests.delete(f"{url}/scenes/{number}", timeout=9)
    assert requests.delete(f"{url}/bin/{number}", timeout=9).status_code == 204
    assert number not in numbers(server, "/bin") | numbers(server, "/scenes")
    server.post(f"/bin/{number}/back", {}, 404)


def test_a_scenes_picture_is_kept_bounded_and_never_goes_back(server: Server) -> None:
    number = server.bring(write_scene(demo("ferry-crossing")))
    path = f"/scenes/{number}/picture"

    def entry() -> dict[str, Any]:
        return next(one for one in server.get("/scenes").json()["scenes"] if one["id"] == number)

    def put(image: bytes, revision: int, kind: str = "application/octet-stream") -> int:
        address = f"{server.url}/api{path}?revision={revision}"
        headers = {"Content-Type": kind}
        return requests.put(address, data=image, headers=headers, timeout=30).status_code

    assert entry()["pictured"] is None
    assert "no picture" in server.get(path, 422).json()["error"]
    png, webp = b"\x89PNG\r\n\x1a\n" + bytes(50), b"RIFF\0\0\0\0WEBP" + bytes(50)
    assert put(png, 3) == 204
    assert put(webp, 2) == 204
    assert entry()["pictured"] == 3
    shown = server.get(path)
    assert shown.content == png and shown.headers["Content-Type"] == "image/png"
    assert put(webp, 3) == 204
    assert server.get(path).headers["Content-Type"] == "image/webp"
    for image in (b"", b"<svg onload='alert(1)'/>", png + bytes(200_000)):
        assert put(image, 9) == 422
    assert put(png, -1) == 422 and put(png, 9, "image/png") == 415
    assert server.get(path).content == webp
    requests.delete(f"{server.url}/api/scenes/{number}", timeout=30)
    assert put(png, 9) == 404
    (binned,) = [one for one in server.get("/bin").json()["scenes"] if one["id"] == number]
    assert binned["pictured"] == 3
    requests.delete(f"{server.url}/api/bin/{number}", timeout=30)
    server.get(path, 422)


def test_a_scene_has_tags_that_stay(server: Server) -> None:
    number = server.bring(FERRY)

    def put(tags: object) -> requests.Response:
        address = f"{server.url}/api/scenes/{number}/tags"
        return requests.put(address, json={"tags": tags}, timeout=30)

    assert put([" water ", "wheel", "Water", "ü 水"]).json()["tags"] == ["water", "wheel", "ü 水"]
    for bad in (["a\nb"], [""], ["x" * 41], ["a"] * 13, "water", [3]):
        assert put(bad).status_code == 422, bad
    server.post(f"/scenes/{number}/edits", {"revision": 0, "edits": [MOVE]})
    (entry,) = [one for one in server.get("/scenes").json()["scenes"] if one["id"] == number]
    assert entry["tags"] == ["water", "wheel", "ü 水"] and entry["revision"] == 1
    longest = [f"{n:02}" + "水" * 38 for n in range(12)]
    assert put(longest).json()["tags"] == longest
    assert put([]).json()["tags"] == []


def test_a_scene_is_duplicated_and_an_example_opened_again(server: Server) -> None:
    number = server.bring(FERRY)
    copy = server.post(f"/scenes/{number}/duplicate", {}, 201).json()
    assert copy["name"] == "Ferry crossing copy" and copy["id"] != number
    twice = server.post(f"/scenes/{copy['id']}/duplicate", {}, 201).json()
    text = server.get(f"/scenes/{twice['id']}/export").text
    assert text == FERRY.replace("Ferry crossing", "Ferry crossing copy copy", 1)
    names = server.get("/examples").json()["names"]
    assert len(server.get("/examples").json()["starts"]) == 3
    assert names[0] == "Ferry crossing" and len(names) == 9
    made = server.post("/examples", {"name": "Ferry crossing"}, 201).json()
    # It begins with a picture, which a copy has too.
    assert made["pictured"] == 0
    again = server.post(f"/scenes/{made['id']}/duplicate", {}, 201).json()
    image = server.get(f"/scenes/{again['id']}/picture")
    assert image.headers["Content-Type"] == "image/webp"
    assert image.content == portrait_file("Ferry crossing").read_bytes()
    assert all(portrait_file(name).exists() for name in names)
    assert server.get(f"/scenes/{made['id']}/export").text == FERRY
    refused = server.post("/examples", {"name": "Fery crossing"}, 422).json()
    assert "no example 'Fery crossing'" in refused["error"] and "Ferry crossing" in str(refused)


def test_an_edit_answers_with_what_changed(server: Server) -> None:
    number = server.bring(FERRY)
    view = server.post(f"/scenes/{number}/edits", {"revision": 0, "edits": [MOVE]}).json()
    assert view["header"]["revision"] == 1
    assert view["header"]["undo"] == "move the key of ferry.translation.x at 50"
    assert [part["name"] for part in view["parts"]] == ["ferry"]
    assert not view["whole"]
    rename = {"do": "rename part", "part": "p1", "name": "raft"}
    view = server.post(f"/scenes/{number}/edits", {"revision": 1, "edits": [rename]}).json()
    paddle = next(part for part in view["parts"] if part["name"] == "paddle")
    assert paddle["steps"][0]["description"].startswith("-degrees(travelled({raft})")


def test_samples_are_those_of_the_core_and_come_only_once(server: Server) -> None:
    number = server.bring(FERRY)
    head, arrays = samples(server, number)
    expected = evaluate(demo("ferry-crossing"))
    for tap in ("driven", "final"):
        values = expected.channel(ChannelRef("p3", "rotation.z"), tap)
        np.testing.assert_array_equal(arrays[f"p3/rotation.z/{tap}"], values.astype("<f4"))
    have = {block["want"]: block["key"] for block in head["blocks"]}
    left, again = samples(server, number, have={**have, "p99/x/final": "gone"})
    assert not again and left["blocks"] == [] and left["missing"] == ["p99/x/final"]
    pin = {"do": "change step", "step": "s2", "on": False}
    server.post(f"/scenes/{number}/edits", {"revision": 0, "edits": [pin]})
    changed, fresh = samples(server, number, have=have)
    assert not fresh  # final is now what driven was, and that is there already
    assert [block["want"] for block in changed["blocks"]] == ["p3/rotation.z/final"]
    assert changed["blocks"][0]["key"] == have["p3/rotation.z/driven"]


def test_trying_saves_nothing(server: Server) -> None:
    number = server.bring(FERRY)
    _, before = samples(server, number)
    head, tried = samples(server, number, trying=[MOVE])
    assert head["revision"] == 0
    assert not np.array_equal(before["p3/rotation.z/driven"], tried["p3/rotation.z/driven"])
    _, after = samples(server, number)
    assert np.array_equal(before["p3/rotation.z/driven"], after["p3/rotation.z/driven"])
    wants = [
        {"part": "*", "quantity": "world matrix", "stage": "final"},
        {"part": "p3", "quantity": "rotation.z", "stage": "s99"},
    ]
    head, world = unpacked(server.post(f"/scenes/{number}/samples", {"wants": wants}).content)
    assert len(world) == 22
    assert head["missing"] == ["p3/rotation.z/s99"]


def test_the_ledger_names_steps_reads_and_nodes(server: Server) -> None:
    number = server.bring(FERRY)
    ledger = server.get(f"/scenes/{number}/ledger?part=p3&channel=rotation.z").json()
    assert [bead["name"] for bead in ledger["beads"]] == ["value", "turn by distance", "stop pin"]
    assert ledger["beads"][1]["reads"][1]["label"] == "paddle.radius"
    assert ledger["taps"][5]["node"] == "p3/rotation.z/step s2"
    server.get(f"/scenes/{number}/ledger?part=p3&channel=c99", 422)


def test_undo_and_redo_over_http(server: Server) -> None:
    number = server.bring(FERRY)
    server.post(f"/scenes/{number}/edits", {"revision": 0, "edits": [MOVE]})
    assert (
        server.retrace(f"/scenes/{number}", "undo")
        .json()["label"]
        .startswith("undone: move the key")
    )
    assert server.get(f"/scenes/{number}/export").text == FERRY
    server.retrace(f"/scenes/{number}", "redo")
    answer = server.retrace(f"/scenes/{number}", "redo", 422).json()
    assert answer["error"] == "nothing to redo."


def test_findings_tell_of_loops_and_of_what_is_not_finite(server: Server) -> None:
    number = server.bring(FERRY)

    def add(name: str, text: str) -> dict[str, Any]:
        return {
            "do": "add step",
            "part": "p2",
            "name": name,
            "settings": {"kind": "formula", "channel": "translation.y", "text": text},
        }

    body = {
        "revision": 0,
        "edits": [add("divide", "1 / (frame - 7)"), add("feed", "{deck.translation.y} + 1")],
    }
    server.post(f"/scenes/{number}/edits", body)
    found = server.get(f"/scenes/{number}/checks").json()["findings"]
    assert "deck.translation.y @driven · feed" in found[0]["text"]
    assert found[1]["frame"] == 7


BAD_EDITS = [
    ({"revision": 0, "edits": [{"do": "dance"}]}, 422, "edits.0", "does not match"),
    ({"revision": 0, "edits": []}, 422, "edits", "at least 1"),
    ({"revision": 0}, 422, "edits", "required"),
    ({"revision": 99, "edits": [MOVE]}, 422, "revision", "not yet at 99"),
    ({"revision": 0, "edits": [{**MOVE, "colour": "red"}]}, 422, "colour", "nexpected"),
    ({"revision": 0, "edits": [{**MOVE, "part": "p99"}]}, 422, "", "no part with the identity"),
    ({"revision": 0, "edits": [{"do": "set value", "part": "p3", "channel": "c1", "value": "x"}]},
     422, "value", "valid number"),
    ({"revision": 0, "edits": [{"do": "set value", "part": "p3", "channel": "c1", "value": 1e300}]},
     422, "paddle.radius", "within"),
    ({"revision": 0, "edits": [{"do": "change step", "step": "s1", "settings": {
        "kind": "formula", "channel": "rotation.z", "text": "1 + " * 2500 + "1"}}]},
     422, "paddle · turn by distance · formula", "at most 2,000"),
    ({"revision": 0, "edits": [{"do": "change step", "step": "s1", "settings": {
        "kind": "formula", "channel": "rotation.z", "text": "(" * 200 + "1" + ")" * 200}}]},
     422, "paddle · turn by distance · formula", "nested"),
]  # fmt: skip


@pytest.mark.parametrize(("body", "status", "place", "says"), BAD_EDITS)
def test_bad_edits_are_refused_and_save_nothing(
    server: Server, body: object, status: int, place: str, says: str
) -> None:
    number = server.bring(FERRY)
    answer = server.post(f"/scenes/{number}/edits", body, status).json()
    assert place in answer.get("place", "")
    assert says in answer["error"]
    assert server.get(f"/scenes/{number}/export").text == FERRY


@pytest.mark.parametrize(
    "sent", [b"", b"not json", b"[1, 2", b"\xff\xfe", b"null", b"[" * 50_000, b'{"revision": NaN}']
)
def test_what_is_no_json_is_refused_without_a_traceback(server: Server, sent: bytes) -> None:
    number = server.bring(FERRY)
    for headers in ({"Content-Type": "application/json"}, {}):
        for path in (f"/api/scenes/{number}/edits", "/api/scenes/import"):
            answer = requests.post(server.url + path, data=sent, headers=headers, timeout=30)
            assert 400 <= answer.status_code < 500, (path, answer.status_code, answer.text)
            assert answer.json()["error"]
            assert "Traceback" not in answer.text


def test_a_stale_edit_is_refused_with_what_changed(server: Server) -> None:
    number = server.bring(FERRY)
    server.post(f"/scenes/{number}/edits", {"revision": 0, "edits": [MOVE]})
    other = {**MOVE, "changes": [{"frame": 70, "value": 2.0}]}
    body = {"revision": 0, "edits": [other]}
    answer = server.post(f"/scenes/{number}/edits", body, 409).json()
    assert answer["revision"] == 1
    assert answer["changed"] == ["move the key of ferry.translation.x at 50"]


def test_several_processes_agree_and_what_one_acknowledged_outlives_it(
    server: Server, own_server: Server
) -> None:
    other = own_server
    number = server.bring(FERRY)
    for n, one in enumerate([server, other, server, other]):
        edit = {"do": "set value", "part": "p3", "channel": "c1", "value": 1.0 + n}
        one.post(f"/scenes/{number}/edits", {"revision": n, "edits": [edit]})
    exported = [one.get(f"/scenes/{number}/export").text for one in (server, other)]
    assert exported[0] == exported[1]
    edit = {"do": "set value", "part": "p3", "channel": "c1", "value": 0.5}
    other.post(f"/scenes/{number}/edits", {"revision": 4, "edits": [edit]})
    other.kill()
    header = server.get(f"/scenes/{number}").json()["header"]
    assert (header["revision"], header["undo"]) == (5, "set paddle.radius to 0.5")
    scene = read_scene(server.get(f"/scenes/{number}/export").text)
    assert scene.parts["p3"].values["c1"] == 0.5


def test_the_openapi_document_is_that_of_the_code() -> None:
    assert (ROOT / "docs" / "openapi.json").read_text() == openapi()


def test_the_page_asks_nobody_else_for_anything(server: Server) -> None:
    page = requests.get(f"{server.url}/scenes/1/bench?frame=3", timeout=9)
    assert page.status_code == 200
    built = ROOT / "frontend" / "dist"
    assert Path(built, "index.html").read_text() == page.text
    assert "http" not in page.text.replace("http://www.w3.org/2000/svg", "")
    assert requests.get(f"{server.url}/assets/../../pyproject.toml", timeout=9).status_code == 404


def test_what_was_changed_on_a_frame_since_a_revision(server: Server) -> None:
    path = f"/scenes/{server.bring(FERRY)}"
    edits = [{"do": "set value", "part": "p1", "channel": "translation.z", "value": 2.0}]
    server.post(f"{path}/edits", {"revision": 0, "edits": edits})
    keyed = [{"do": "key value", "frame": 50, "values": [["p1", "translation.x", 7.0]]}]
    server.post(f"{path}/edits", {"revision": 1, "edits": keyed})
    found = server.get(f"{path}/changed?frame=50&since=0").json()
    told = {one["name"]: (one["before"], one["after"]) for one in found["channels"]}
    assert told["ferry.translation.z"] == (0.0, 2.0) and told["ferry.translation.x"][1] == 7.0
    assert len(told) == 2 and found["revision"] == 2
    later = server.get(f"{path}/changed?frame=50&since=1").json()["channels"]
    assert [one["name"] for one in later] == ["ferry.translation.x"]
    assert server.get(f"{path}/changed?frame=110&since=1").json()["channels"] == []
    for query in ("frame=50&since=9", "frame=x&since=0", "frame=50", "frame=50&since=-1"):
        server.get(f"{path}/changed?{query}", 422)


def test_paths_are_counted_in_the_world_or_in_a_part(server: Server) -> None:
    number = server.bring(FERRY)
    wants = ["0 0 0 0", "0 0.5 0 0", "p1 0 0 0", "p1 0 0", "p99 0 0 0", "0 nan 0 0", "0 1e99 0 0"]
    body = {"wants": [{"part": "p2", "quantity": "path", "stage": one} for one in wants]}
    head, found = unpacked(server.post(f"/scenes/{number}/samples", body).content)
    places = {name: values.reshape(-1, 4)[:, :3] for name, values in found.items()}
    world = evaluate(demo("ferry-crossing")).world("p2")
    np.testing.assert_allclose(places["p2/path/0 0 0 0"], world[:, :, 3], atol=1e-6)
    point = world[:, :, 3] + 0.5 * world[:, :, 0]
    np.testing.assert_allclose(places["p2/path/0 0.5 0 0"], point, atol=1e-6)
    inside = places["p2/path/p1 0 0 0"]
    np.testing.assert_allclose(inside, np.broadcast_to(inside[0], inside.shape), atol=1e-6)
    assert head["missing"] == [f"p2/path/{one}" for one in wants[3:]]
