"""Who may speak to the server, what holds it up, and what a scene that cannot be shown does."""

from __future__ import annotations

import json
import re
import socket
import threading
import time
from concurrent.futures import ThreadPoolExecutor
from contextlib import ExitStack
from types import SimpleNamespace

import pytest
import requests
from flask import Flask
from openapi_spec_validator import OpenAPIV31SpecValidator
from sqlalchemy import Engine

from bindu.core.edits.channels import SetValue
from bindu.core.evaluation import Evaluation
from bindu.core.evaluation.work import Watch
from bindu.core.scene.model import Scene
from bindu.formats.scene.scene_json import write_scene
from bindu.store.scenes import Scenes
from bindu.web import evaluations, sender
from bindu.web.app import create_app
from tests.conftest import ROOT, Server, many_sines
from tests.demos import demo

FERRY = write_scene(demo("ferry-crossing"))
JSON = {"Content-Type": "application/json"}


def set_value(value: float, revision: int = 0) -> dict[str, object]:
    edit = {"do": "set value", "part": "p4", "channel": "scale.x", "value": value}
    return {"revision": revision, "edits": [edit]}


@pytest.mark.parametrize(
    ("headers", "status"),
    [
        (JSON, 201),
        ({"Content-Type": "application/json; charset=utf-8"}, 201),
        ({**JSON, "Origin": "{own}", "Sec-Fetch-Site": "same-origin"}, 201),
        ({"Content-Type": "text/plain"}, 415),
        ({"Content-Type": "application/x-www-form-urlencoded"}, 415),
        ({"Content-Type": "multipart/form-data"}, 415),
        ({}, 415),
        ({**JSON, "Origin": "http://elsewhere.example"}, 403),
        ({**JSON, "Origin": "null"}, 403),
        ({**JSON, "Origin": "{own}.example"}, 403),
        ({**JSON, "Origin": "http://127.0.0.1:1"}, 403),
        ({**JSON, "Sec-Fetch-Site": "cross-site"}, 403),
        ({**JSON, "Sec-Fetch-Site": "same-site"}, 403),
        ({**JSON, "Host": "elsewhere.example"}, 403),
        ({**JSON, "Host": "127.0.0.1.elsewhere.example"}, 403),
        ({**JSON, "Host": "[::1"}, 403),
        ({**JSON, "Host": "localhost:80"}, 201),
    ],
)
def test_only_bindus_own_pages_change_anything(
    server: Server, headers: dict[str, str], status: int
) -> None:
    sent = {name: text.replace("{own}", server.url) for name, text in headers.items()}
    before = len(server.get("/scenes").json()["scenes"])
    url = f"{server.url}/api/scenes/import"
    answer = requests.post(url, data=FERRY.encode(), headers=sent, timeout=30)
    assert answer.status_code == status, answer.text
    assert len(server.get("/scenes").json()["scenes"]) == before + (status == 201)


def test_a_page_of_another_site_deletes_and_reads_nothing(server: Server) -> None:
    number = server.bring(FERRY)
    url = f"{server.url}/api/scenes/{number}"
    foreign = {"Origin": "http://elsewhere.example"}
    assert requests.delete(url, headers=foreign, timeout=9).status_code == 403
    named = requests.get(url, headers={"Host": "elsewhere.example"}, timeout=9)
    assert named.status_code == 403 and "BINDU_HOSTS" in named.json()["error"]
    server.get(f"/scenes/{number}")


def test_names_that_are_set_are_answered(engine: Engine, monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setenv("BINDU_HOSTS", "rig.example, Second.example")
    client = create_app(engine).test_client()
    for name, status in (("rig.example", 200), ("second.example:80", 200), ("third.example", 403)):
        assert client.get("/api/health", headers={"Host": name}).status_code == status


@pytest.mark.parametrize("path", ["/", "/api/scenes", "/api/nothing", "/assets/nothing.js"])
def test_every_answer_says_what_a_browser_may_do_with_it(server: Server, path: str) -> None:
    headers = requests.get(f"{server.url}{path}", timeout=9).headers
    policy = headers["Content-Security-Policy"]
    assert "script-src 'self';" in policy and "frame-ancestors 'none'" in policy
    assert headers["X-Content-Type-Options"] == "nosniff"
    assert headers["X-Frame-Options"] == "DENY"
    assert headers["Cross-Origin-Resource-Policy"] == "same-origin"


def test_slow_senders_hold_nobody_up(server: Server) -> None:
    """Eight bodies and eight heads that never end."""
    with ExitStack() as open_ones:
        for n in range(16):
            stalled = open_ones.enter_context(socket.create_connection(("127.0.0.1", server.port)))
            head = f"POST /api/scenes HTTP/1.1\r\nHost: 127.0.0.1:{server.port}\r\n"
            body = "Content-Type: application/json\r\nContent-Length: 400\r\n\r\n{"
            stalled.sendall((head + (body if n % 2 else "X-")).encode())
        for _ in range(20):
            assert requests.get(f"{server.url}/api/health", timeout=5).status_code == 200


def test_a_scene_being_evaluated_holds_up_no_other(monkeypatch: pytest.MonkeyPatch) -> None:
    kept = evaluations.Evaluations()
    inside, go_on = threading.Event(), threading.Event()

    def slow(scene: Scene, *_: object) -> Evaluation:
        if scene.name == "slow":
            inside.set()
            assert go_on.wait(30)
        return SimpleNamespace(results={}, scene=scene)  # type: ignore[return-value]

    monkeypatch.setattr(evaluations, "evaluate", slow)
    with ThreadPoolExecutor(1) as other:
        waiting = other.submit(kept.of, 1, Scene("slow"))
        assert inside.wait(30)
        assert kept.of(2, Scene("quick")).scene.name == "quick"
        go_on.set()
        assert waiting.result(30).scene.name == "slow"


def test_what_nobody_waits_for_ends() -> None:
    ours, theirs = socket.socketpair()
    ours.settimeout(60)  # As a server's; looking at it does not wait for that.
    with Flask(__name__).test_request_context(environ_base={"gunicorn.socket": ours}):
        watch: Watch | None = sender.watch_sender()
        assert watch is not None
        begun = time.monotonic()
        until = begun + 2 * sender.EVERY
        while time.monotonic() < until:
            watch()
        theirs.sendall(b"the next request")
        while time.monotonic() < until + 2 * sender.EVERY:
            watch()
        assert time.monotonic() < begun + 30
        theirs.close()
        with pytest.raises(sender.SenderGone):  # noqa: PT012
            while time.monotonic() < until + 30:
                watch()
    ours.close()


def test_what_would_take_too_long_is_refused_at_import_and_as_an_edit(server: Server) -> None:
    document = many_sines(40)
    refused = server.post("/scenes/import", document, 422).json()["error"]
    assert "calculations" in refused and "Shorten its range" in refused
    number = server.post("/scenes/import", {**document, "range": [0, 99]}, 201).json()["id"]
    longer = {"do": "change scene", "first": 0, "last": 99_999}
    edit = {"revision": 0, "edits": [longer]}
    assert "calculations" in server.post(f"/scenes/{number}/edits", edit, 422).json()["error"]
    assert server.get(f"/scenes/{number}/revision").json()["revision"] == 0


def test_a_failure_after_an_edit_was_saved_does_not_say_that_it_was_not(
    engine: Engine, monkeypatch: pytest.MonkeyPatch
) -> None:
    client = create_app(engine).test_client()
    scenes = Scenes(engine)
    number = scenes.add(demo("ferry-crossing"))

    def failing(*_: object) -> None:
        raise ZeroDivisionError

    def told(edit: dict[str, object]) -> str:
        answer = client.post(f"/api/scenes/{number}/edits", json=edit)
        assert answer.status_code == 500
        return str(answer.get_json()["error"])

    # Before it is stored, and after: when the answer is made.
    with monkeypatch.context() as broken:
        broken.setattr("bindu.store.scenes._store", failing)
        assert "nothing of this request was saved" in told(set_value(2.0))
    assert scenes.revision(number) == 0
    with monkeypatch.context() as broken:
        broken.setattr("bindu.web.desk.patch_between", failing)
        assert told(set_value(2.0)) == (
            "It was saved, but its answer could not be made; load the page again."
        )
    assert scenes.revision(number) == 1
    assert scenes.load(number).scene.parts["p4"].values["scale.x"] == 2.0


def test_a_scene_that_cannot_be_shown_is_refused_and_can_be_undone(
    engine: Engine, monkeypatch: pytest.MonkeyPatch
) -> None:
    """Something in Bindu fails on one value: nothing leads there, and from there a way back."""
    real = evaluations.Evaluations.of

    def failing(self: object, scene_id: int, scene: Scene, watch: object = None) -> Evaluation:
        if scene.parts["p4"].values.get("scale.x") == 13.0:
            raise ZeroDivisionError
        return real(self, scene_id, scene, watch)  # type: ignore[arg-type]

    monkeypatch.setattr(evaluations.Evaluations, "of", failing)
    client = create_app(engine).test_client()
    scenes = Scenes(engine)
    number = scenes.add(demo("ferry-crossing"))
    url = f"/api/scenes/{number}"
    refused = client.post(f"{url}/edits", json=set_value(13.0))
    assert refused.status_code == 422
    assert "nothing of it was saved" in refused.get_json()["error"]
    assert scenes.revision(number) == 0
    # KeptResults by an older version, say.
    scenes.edit(number, 0, [SetValue("p4", "scale.x", 13.0)])
    broken = client.get(url)
    assert broken.status_code == 500 and "Traceback" not in broken.text
    assert client.post(f"{url}/undo", json={"revision": 1}).status_code == 200
    assert client.get(url).status_code == 200


def test_undo_takes_back_only_what_its_sender_saw(server: Server) -> None:
    number = server.bring(FERRY)
    url = f"/scenes/{number}"
    server.post(f"{url}/edits", set_value(2.0))
    server.post(f"{url}/edits", set_value(3.0, revision=1))
    refused = server.post(f"{url}/undo", {"revision": 1}, 409).json()
    assert refused["revision"] == 2 and len(refused["changed"]) == 1
    assert "somebody else's edit" in refused["error"]
    server.post(f"{url}/undo", {}, 422)
    server.post(f"{url}/undo", {"revision": 2})
    server.post(f"{url}/redo", {"revision": 1}, 409)
    server.post(f"{url}/redo", {"revision": 3})
    scene = server.get(f"{url}/export").json()
    part = next(p for p in scene["parts"] if p["id"] == "p4")
    assert part["values"]["scale.x"] == 3.0


def test_the_openapi_document_is_valid_and_has_every_route(engine: Engine) -> None:
    document = json.loads((ROOT / "docs" / "openapi.json").read_text())
    OpenAPIV31SpecValidator(document).validate()
    listed = {
        (path, method.upper()) for path, methods in document["paths"].items() for method in methods
    }
    served = {
        (re.sub("<(int:|string:)?", "{", str(rule)).replace(">", "}"), method)
        for rule in create_app(engine).url_map.iter_rules()
        for method in rule.methods or ()
        if method not in ("HEAD", "OPTIONS") and str(rule).startswith("/api")
    }
    assert listed == served


@pytest.mark.parametrize(
    ("edit", "told"),
    [
        ({"do": "change scene", "fps": True}, "fps"),
        ({"do": "change scene", "fps": "24"}, "fps"),
        ({"do": "change scene", "last": 12.5}, "last"),
        ({"do": "set value", "part": "p4", "channel": "scale.x", "value": "1"}, "value"),
        ({"do": "set value", "part": 4, "channel": "scale.x", "value": 1}, "part"),
        ({"do": "lock channels", "part": "p4", "channels": ["scale.x"], "on": 1}, "on"),
    ],
)
def test_a_value_of_another_type_is_refused_with_its_field(
    server: Server, edit: dict[str, object], told: str
) -> None:
    number = server.bring(FERRY)
    answer = server.post(f"/scenes/{number}/edits", {"revision": 0, "edits": [edit]}, 422)
    assert told in answer.text


def test_descending_stops_and_odd_digits_are_refused_in_files(server: Server) -> None:
    document = json.loads(FERRY)
    held = next(one for one in document["driven"] if len(one["stops"]) > 1)
    held["stops"].reverse()
    assert "lowest first" in server.post("/scenes/import", document, 422).text
    document = json.loads(FERRY)
    document["parts"][0]["id"] = "p١"
    assert "p١" in server.post("/scenes/import", document, 422).json()["error"]
    document = json.loads(FERRY)
    document["fps"] = True
    assert "fps" in server.post("/scenes/import", document, 422).text


def test_who_waits_long_gets_an_answer(server: Server) -> None:
    """Some seconds of work, longer than several looks at whether its sender is still there."""
    document = many_sines(3)
    server.post("/scenes/import", document, 201)
