"""Order and cause over HTTP: wiring, loops, order, lanes, words, causes, What ifs, relations."""

from __future__ import annotations

from itertools import pairwise
from typing import Any

import numpy as np
import pytest

from bindu.core.edits import applied
from bindu.core.edits.steps import ChangeStep
from bindu.core.evaluation import evaluate
from bindu.core.scene.names import channel_named
from bindu.formats.scene.scene_json import read_scene, write_scene
from tests.conftest import Server
from tests.demos import demo
from tests.web.packed import unpacked


def bring(server: Server, scene: Any) -> str:
    """The path of a scene brought in."""
    return f"/scenes/{server.bring(write_scene(scene))}"


def test_the_wiring_has_every_read_and_columns_that_go_right(server: Server) -> None:
    path = bring(server, demo("the-mooring"))
    wiring = server.get(f"{path}/wiring").json()
    column = {card["id"]: card["column"] for card in wiring["cards"]}
    ports = {port["id"] for card in wiring["cards"] for port in card["ports"]}
    for wire in wiring["wires"]:
        assert {wire["source"], wire["target"]} <= ports
        if not wire["looped"] and wire["source_card"] != wire["target_card"]:
            assert column[wire["source_card"]] < column[wire["target_card"]], wire["text"]
    looped = {wire["text"] for wire in wiring["wires"] if wire["looped"]}
    assert "“pulled by the eel” (bound) of buoy reads eel world position at final" in looped
    assert len(looped) == 3
    # Mast and lantern read each other: each stands before its steps, and after.
    halves = [card["id"] for card in wiring["cards"] if card["part"] in ("p8", "p9")]
    assert sorted(halves) == ["p8", "p8/before", "p9", "p9/before"]


def test_a_remedy_is_compared_then_sent_as_it_came(server: Server) -> None:
    path = bring(server, demo("the-mooring"))
    answer = server.get(f"{path}/loops").json()
    (loop,) = answer["loops"]
    assert loop["frames"] == 97 and len(loop["why"]) == 3
    assert [pair["reason"][:22] for pair in answer["pairs"]] == ["They aim at each other"]
    remedy = next(one for one in loop["remedies"] if one["kind"] == "one frame back")
    wish = {"one": {}, "other": {"edits": remedy["edits"]}, "channels": loop["channels"]}
    compared = server.post(f"{path}/what-if", wish).json()
    assert compared["loops"] == [1, 0]
    assert server.get(path).json()["header"]["revision"] == 0
    server.post(f"{path}/edits", {"revision": 0, "edits": remedy["edits"]})
    assert server.get(f"{path}/loops").json()["loops"] == []
    found = evaluate(read_scene(server.get(f"{path}/export").text))
    for one in compared["differences"]:
        ref = channel_named(found.scene, one["name"])
        values = np.broadcast_to(found.channel(ref, "final"), 97)
        np.testing.assert_allclose(one["other"], values)


def test_order_words_and_causes_are_those_of_the_core(server: Server) -> None:
    scene = demo("ferry-crossing")
    path = bring(server, scene)
    rows = server.get(f"{path}/order").json()["rows"]
    graph = evaluate(scene).graph
    assert [row["rank"] for row in rows] == [graph.ranks[node] for node in graph.order]
    assert any(row["cost"] for row in rows)
    words = server.get(f"{path}/words?part=p3&channel=rotation.z").json()["words"]
    assert [w["name"] for w in words] == ["value", "turn by distance", "stop pin"]
    assert [words[0]["first"], words[-1]["last"]] == [0, 120]
    assert all(b["first"] == a["last"] + 1 for a, b in pairwise(words))
    query = "part=p3&channel=rotation.z&frame=62"
    causes = server.get(f"{path}/causes?{query}").json()
    keys = {cause["label"]: cause["keys"] for cause in causes["causes"] if cause["kind"] == "keys"}
    assert keys["ferry.translation.x @keyed"] == [50.0, 70.0]
    reached = server.get(f"{path}/causes?part=p1&channel=translation.x&frame=0").json()["reaches"]
    labels = {one["label"] for one in reached}
    assert "paddle.rotation.z @driven · turn by distance" in labels and "crate's place" in labels


def test_lanes_tell_limbs_spaces_and_leads(server: Server) -> None:
    lanes = server.get(f"{bring(server, demo('heron-at-the-shallows'))}/lanes").json()["lanes"]
    left, right = (lane for lane in lanes if lane["kind"] == "limb")
    assert [strip["name"] for strip in left["strips"]] == ["IK", "FK", "IK"]
    assert [one["frame"] for one in left["handovers"]] == [40, 72]
    assert not any(one["jumps"] for one in left["handovers"])
    assert [strip["name"] for strip in right["strips"]] == ["IK"]
    (fish,) = (lane for lane in lanes if lane["name"].startswith("fish"))
    position, rotation = (lane for lane in lanes if lane["kind"] == "lead")
    assert [strip["name"] for strip in fish["strips"]] == ["world", "beak", "nest"]
    assert not any(one["jumps"] for one in fish["handovers"])
    for lane in (position, rotation):
        assert [s["name"] for s in lane["strips"]] == ["left foot", "right foot"]
    crate = server.get(f"{bring(server, demo('ferry-crossing'))}/lanes").json()["lanes"][0]
    assert len(crate["handovers"]) == 4
    assert [s["name"] for s in crate["strips"]] == ["world", "hook", "deck", "hook", "world"]


def test_lanes_tell_when_feet_are_on_the_ground(server: Server) -> None:
    path = bring(server, demo("the-heron-walks"))
    scene = demo("the-heron-walks")
    (gait,) = scene.gaits.values()
    lanes = [one for one in server.get(f"{path}/lanes").json()["lanes"] if one["kind"] == "gait"]
    assert [lane["keys"] for lane in lanes] == [[foot.part] for foot in gait.feet]
    evaluation = evaluate(scene)
    for lane in lanes:
        world = evaluation.world(lane["keys"][0])[:, :, 3]
        names = [strip["name"] for strip in lane["strips"]]
        assert len(names) > 6 and all(a != b for a, b in zip(names, names[1:], strict=False))
        for strip in lane["strips"]:
            if strip["name"] == "ground":
                stood = world[strip["first"] : strip["last"] + 1]
                np.testing.assert_allclose(stood, np.broadcast_to(stood[0], stood.shape), atol=1e-9)
    step = scene.members_of[gait.id][gait.feet[0].part]
    edits = [{"do": "change step", "step": step.id, "on": False}]
    server.post(f"{path}/edits", {"revision": 0, "edits": edits})
    kinds = [one["kind"] for one in server.get(f"{path}/lanes").json()["lanes"]]
    assert kinds.count("gait") == len(gait.feet) - 1


def test_a_limb_is_a_card_between_what_steers_it_and_its_chain(server: Server) -> None:
    number = server.bring(write_scene(demo("heron-at-the-shallows")))
    wiring = server.get(f"/scenes/{number}/wiring").json()
    cards = {card["id"]: card for card in wiring["cards"]}
    limbs = [card for card in wiring["cards"] if card["thing"]]
    assert len(limbs) == 2
    for card in limbs:
        comes = [w for w in wiring["wires"] if w["target_card"] == card["id"]]
        goes = [w for w in wiring["wires"] if w["source_card"] == card["id"]]
        assert all(w["text"].startswith("the limb “") for w in comes) and len(comes) >= 2
        assert len(goes) == 4 and all(w["tap"] == "solved" for w in goes)
        for wire in goes:
            assert cards[wire["target_card"]]["column"] > card["column"]
    # What steers it is read at another tap by the wire as it came.
    wire = next(w for w in wiring["wires"] if w["target_card"] == limbs[0]["id"])
    part, rest = wire["source"].split("/")
    quantity, tap = rest.rsplit("@", 1)
    step = wire["target"].split("/")[1]
    edit = {"do": "reread", "step": step, "part": part, "quantity": quantity, "tap": tap}
    edits = [{**edit, "to": "driven"}]
    server.post(f"/scenes/{number}/edits", {"revision": 0, "edits": edits})
    wires = server.get(f"/scenes/{number}/wiring").json()["wires"]
    assert (wire["source"].replace("@final", "@driven"), wire["target"]) in {
        (w["source"], w["target"]) for w in wires
    }
    edits = [{**edit, "quantity": "solve", "to": "driven"}]
    refused = server.post(f"/scenes/{number}/edits", {"revision": 1, "edits": edits}, 422).json()
    assert "cannot read this at another tap" in str(refused)


def test_a_saved_what_if_says_why_the_tie_must_be_late(server: Server) -> None:
    path = bring(server, demo("the-mooring"))
    side = {"saved": "w1"}
    wish = {"one": {**side, "side": "one"}, "other": {**side, "side": "other"}}
    view = server.post(f"{path}/what-if", wish).json()
    boat = next(one for one in view["differences"] if one["name"] == "boat.translation.x")
    assert max(boat["one"]) > 4.5 and max(boat["other"]) <= 3.0 + 1e-9
    gone = server.post(f"{path}/what-if", {"one": {"saved": "w9"}, "other": {}}, 422)
    assert "no such What if" in gone.json()["error"]


def test_both_poses_of_a_what_if_are_those_of_the_core(server: Server) -> None:
    path = bring(server, demo("the-mooring"))
    mute = ({"do": "change step", "step": "s6", "on": False},)
    server.post(f"{path}/edits", {"revision": 0, "edits": list(mute)})
    now = read_scene(server.get(f"{path}/export").text)
    other = {"do": "change step", "step": "s7", "on": False}
    third = applied(now, [ChangeStep("s7", on=False)])
    sides = [({"revision": 0}, demo("the-mooring")), ({}, now), ({"edits": [other]}, third)]
    for side, scene in sides:
        wants = [{"part": "*", "quantity": "world matrix", "stage": "final"}]
        body = {"side": side, "wants": wants}
        _, blocks = unpacked(server.post(f"{path}/what-if/samples", body).content)
        expected = evaluate(scene)
        for part in scene.parts:
            world = expected.world(part)
            found = blocks[f"{part}/world matrix/final"].reshape(-1, 3, 4)
            np.testing.assert_allclose(found, world[: len(found)], atol=1e-5)


def test_back_to_an_earlier_edit_is_an_edit(server: Server) -> None:
    path = bring(server, demo("the-mooring"))
    names = ["dinghy", "skiff"]
    for revision, name in enumerate(names):
        edit = {"do": "rename part", "part": "p7", "name": name}
        server.post(f"{path}/edits", {"revision": revision, "edits": [edit]})
    file = server.get(f"{path}/export").text
    answer = server.post(f"{path}/restore", {"revision": 2, "to": 0}).json()
    assert (answer["header"]["revision"], answer["label"]) == (3, "back to edit 0")
    assert server.get(f"{path}/export").text == write_scene(demo("the-mooring"))
    server.retrace(path, "undo")
    assert server.get(f"{path}/export").text == file
    gone = server.post(f"{path}/restore", {"revision": 4, "to": 9}, 422)
    assert "the scene has the revisions 0 to 4" in gone.json()["error"]
    # What somebody else did meanwhile is not taken back unseen.
    stale = server.post(f"{path}/restore", {"revision": 0, "to": 0}, 409).json()
    assert stale["revision"] == 4


ITSELF = {"kind": "full", "targets": [{"part": "p7"}]}
ALONG = {"kind": "aim", "targets": [{"part": "p5"}], "up_axis": [2, 0, 0]}
READ = "it is read by “drift” of boat, “tie” of boat.translation.x"
ZONE = "belongs to bound or late, not driven: a constraint works on whole transforms"


def bind(settings: dict[str, Any]) -> dict[str, Any]:
    """The edit that binds the boat."""
    return {"do": "bind", "part": "p7", "name": "own", "settings": settings}


@pytest.mark.parametrize(
    ("edit", "reason"),
    [
        (bind(ITSELF), "boat cannot be a target of its own"),
        (bind(ALONG), "must not lie along the axis"),
        ({"do": "remove parts", "parts": ["p6"]}, READ),
        ({"do": "move step", "step": "s6", "zone": "driven"}, ZONE),
        ({"do": "pick and carry", "part": "p7", "by": "p6", "first": 900}, "frame 899 is no whole"),
    ],
)
def test_bad_bindings_are_refused_with_their_reason(
    server: Server, edit: dict[str, Any], reason: str
) -> None:
    path = bring(server, demo("the-mooring"))
    answer = server.post(f"{path}/edits", {"revision": 0, "edits": [edit]}, 422)
    assert reason in answer.json()["error"]
    assert server.get(path).json()["header"]["revision"] == 0
