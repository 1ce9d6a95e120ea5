"""Handing over over HTTP: bakes and their states, files out and in, a receiver's play."""

from __future__ import annotations

from typing import Any

import numpy as np
import pytest
import requests

from bindu.core.clips.baking import baked_clip
from bindu.core.edits import applied
from bindu.core.edits.bakes import PutBake
from bindu.core.evaluation import evaluate
from bindu.core.scene.channels import ChannelRef
from bindu.formats.report import Report
from bindu.formats.scene.scene_json import read_scene, write_scene
from bindu.formats.taking_in import read_file
from tests.conftest import Server
from tests.demos import demo
from tests.web.packed import unpacked


@pytest.fixture
def path(server: Server) -> str:
    """The mooring, with two bakes."""
    edits = [PutBake("drift", 0, 48, "all parts"), PutBake("turn", 40, 96, "all parts")]
    return f"/scenes/{server.bring(write_scene(applied(demo('the-mooring'), edits)))}"


def edit(server: Server, path: str, *edits: dict[str, Any], status: int = 200) -> requests.Response:
    """Sends edits at the present revision."""
    revision = server.get(f"{path}/revision").json()["revision"]
    return server.post(f"{path}/edits", {"revision": revision, "edits": list(edits)}, status)


def send_file(server: Server, way: str, data: bytes) -> requests.Response:
    """Sends the bytes of a file."""
    headers = {"Content-Type": "application/octet-stream"}
    return requests.post(f"{server.url}/api{way}", data, headers=headers, timeout=30)


def bakes(server: Server, path: str) -> list[dict[str, Any]]:
    found: list[dict[str, Any]] = server.get(f"{path}/bakes").json()["bakes"]
    return found


def test_a_bake_is_stale_after_an_edit_and_taken_over(server: Server, path: str) -> None:
    drift, turn = bakes(server, path)
    assert (drift["name"], drift["state"], turn["state"]) == ("drift", "fresh", "fresh")
    key = {"do": "key value", "frame": 20, "values": [["p6", "translation.x", 9.0]], "layer": None}
    edit(server, path, key)
    drift, turn = bakes(server, path)
    assert drift["state"] == "stale" and drift["places"] > 0.5 and 10 < drift["frame"] < 30
    assert {gap["part"] for gap in drift["gaps"]} >= {"drift", "boat"}
    assert drift["gaps"][0]["places"] == pytest.approx(drift["places"])
    edit(server, path, {"do": "take over", "id": drift["id"]})
    assert bakes(server, path)[0]["state"] == "fresh"
    edit(server, path, {"do": "remove parts", "parts": ["p8"], "readers": True})
    asked = bakes(server, path)[0]
    assert asked["state"] == "asks" and "cut mast" in asked["problem"]
    refused = edit(server, path, {"do": "take over", "id": drift["id"]}, status=422).json()
    assert "would cut mast" in refused["error"] and refused["code"] == "choice"
    edit(server, path, {"do": "take over", "id": drift["id"], "agreed": True})
    assert bakes(server, path)[0]["state"] == "fresh"


def test_files_go_out_with_a_report_and_come_in_as_scenes(server: Server, path: str) -> None:
    scene = read_scene(server.get(f"{path}/export").text)
    for kind in ("glb", "csv", "bvh"):
        one = "" if kind == "glb" else f"?bakes={next(iter(scene.bakes))}"
        data = server.get(f"{path}/send/{kind}{one}").content
        report = server.get(f"{path}/report/{kind}{one}").json()
        assert report["size"] == len(data) and report["places"] < 1e-5 and report["lost"]
        clips = read_file(data, kind, 24.0, Report(""))
        assert len(clips) == (2 if kind == "glb" else 1)
        answer = send_file(server, f"/scenes/take-in?file=a.{kind}", data)
        assert answer.status_code == 201, answer.text
        made = read_scene(server.get(f"/scenes/{answer.json()['scene']}/export").text)
        assert {part.name for part in made.parts.values()} == {p.name for p in clips[0].parts}
    refused = server.get(f"{path}/send/csv", 422).json()
    assert "CSV holds one bake; choose one" in refused["error"]
    assert server.get(f"{path}/send/obj", 422).status_code == 422
    gone = server.get(f"{path}/send/glb?bakes=k9", 422).json()
    assert "no bake with the identity 'k9'" in gone["error"]


def test_a_file_is_looked_at_then_taken_in_as_one_edit(server: Server, path: str) -> None:
    data = server.get(f"{path}/send/glb").content
    look = f"{path}/take-in/look?file=mooring.glb&clip=turn"
    seen = send_file(server, look, data).json()
    assert seen["clips"] == ["drift", "turn"] and all(one["part"] for one in seen["matches"])
    assert server.get(f"{path}/revision").json()["revision"] == 0
    onto = f"{path}/take-in?file=mooring.glb&clip=turn&revision=0"
    answer = send_file(server, onto, data)
    assert answer.status_code == 200, answer.text
    assert answer.json()["label"] == "take in mooring.glb"
    found = evaluate(read_scene(server.get(f"{path}/export").text))
    turn = next(one for one in found.scene.bakes.values() if one.name == "turn")
    clip = baked_clip(turn)
    post = [part.name for part in clip.parts].index("post")
    there = np.broadcast_to(found.world("p5"), (97, 3, 4))[40:]
    np.testing.assert_allclose(there, clip.worlds[post], atol=1e-5)
    server.retrace(path, "undo")
    before = read_scene(server.get(f"{path}/export").text)
    assert not any(ref.part == "p5" for ref in before.curves)
    for name, text in (("a.obj", "take in files that end in"), ("a.glb", "byte 0")):
        answer = send_file(server, look.replace("mooring.glb", name), b"nonsense")
        assert answer.status_code == 422, answer.text
        assert text in answer.text or "no glTF" in answer.text


def test_single_channels_and_files_without_a_unit_come_in(server: Server, path: str) -> None:
    rows = b"frame,post.rotation.y,post.glow\n0,5\n"
    refused = send_file(server, f"{path}/take-in/look?file=sway.csv", rows)
    assert "it has 2 values for 3 columns" in refused.text
    rows = b"frame,post.rotation.y,post.glow\n0,5,1\n10,15,2\n"
    seen = send_file(server, f"{path}/take-in/look?file=sway.csv", rows).json()
    assert (seen["matches"], seen["channels"]) == ([], ["post.rotation.y"])
    assert "post.glow" in seen["report"]["lost"][0]
    assert send_file(server, f"{path}/take-in?file=sway.csv&revision=0", rows).status_code == 200
    curve = read_scene(server.get(f"{path}/export").text).curves[ChannelRef("p5", "rotation.y")]
    assert [(key.frame, key.value) for key in curve.keys] == [(0.0, 5.0), (10.0, 15.0)]
    # What cannot come in here can still be looked at, and become a scene of its own.
    lock = {"do": "lock channels", "part": "p5", "channels": ["rotation.y"]}
    server.post(f"{path}/edits", {"revision": 1, "edits": [lock]})
    seen = send_file(server, f"{path}/take-in/look?file=sway.csv", rows).json()
    assert "post.rotation.y: all that the file would change is locked" in seen["report"]["lost"][-1]
    refused = send_file(server, f"{path}/take-in?file=sway.csv&revision=2", rows)
    assert (refused.status_code, refused.json()["place"]) == (422, "post.rotation.y")
    figure = (
        b"HIERARCHY\nROOT a\n{\nOFFSET 0 90 0\nCHANNELS 0\n}\nMOTION\nFrames: 1\nFrame Time: 1\n"
    )
    made = send_file(server, "/scenes/take-in?file=a.bvh&unit=0.01", figure).json()
    found = evaluate(read_scene(server.get(f"/scenes/{made['scene']}/export").text))
    assert found.world("p1")[0, 1, 3] == pytest.approx(0.9)
    for unit in ("0", "-1", "nan", "much"):
        refused = send_file(server, f"/scenes/take-in?file=a.bvh&unit={unit}", figure)
        assert (refused.status_code, refused.json()["place"]) == (422, "unit")


def test_a_bake_is_laid_out_as_a_scene_of_its_own(server: Server, path: str) -> None:
    key = bakes(server, path)[0]["id"]
    made = server.post(f"{path}/bakes/{key}/scene", {}, 201).json()
    found = evaluate(read_scene(server.get(f"/scenes/{made['id']}/export").text))
    scene = applied(demo("the-mooring"), [PutBake("drift", 0, 48, "all parts")])
    clip = baked_clip(next(iter(scene.bakes.values())))
    for part, ours in zip(clip.parts, clip.worlds, strict=True):
        world = found.world(found.scene.part_ids[part.name])
        np.testing.assert_allclose(np.broadcast_to(world, (49, 3, 4)), ours, atol=1e-8)


def test_a_receiver_plays_what_was_sent_and_tells_who_writes(server: Server, path: str) -> None:
    setup: dict[str, Any] = {
        "start": "drift",
        "moves": [{"start": "drift", "to": "turn", "cause": "over", "input": "x", "value": 0.5}],
        "overrides": [{"name": "look", "kind": "look at", "parts": ["lantern"], "place": "eye"}],
    }
    wish = {"setup": setup, "said": {"x": [[1.0, 1.0]]}, "seconds": 3.0, "rate": 24.0}
    head, arrays = unpacked(server.post(f"{path}/receive", wish).content)
    assert [s["clip"] for s in head["stretches"]] == ["drift", "turn"]
    assert {"look", "drift", "turn"} == {w["name"] for w in head["writers"]}
    look = next(w for w in head["writers"] if w["name"] == "look")
    assert look["parts"] == ["lantern"] and look["spans"] == [[0, 72, 1.0]]
    scene = applied(demo("the-mooring"), [PutBake("drift", 0, 48, "all parts")])
    clip = baked_clip(next(iter(scene.bakes.values())))
    boat = [part.name for part in clip.parts].index("boat")
    np.testing.assert_allclose(
        arrays["boat"].reshape(-1, 3, 4)[:24], clip.worlds[boat, :24], atol=1e-5
    )
    bad = {**wish, "setup": {"start": "nothing"}}
    assert "no clip 'nothing'" in server.post(f"{path}/receive", bad, 422).json()["error"]
    bad = {**wish, "said": {"x": [[1.0, 1.0], [0.5, 1.0]]}}
    assert "times ascend" in server.post(f"{path}/receive", bad, 422).json()["error"]
