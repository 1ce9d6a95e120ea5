"""Several people and random requests at once: nothing lost, nothing half saved, no traceback."""

from __future__ import annotations

from concurrent.futures import ThreadPoolExecutor
from typing import Any

import requests
from hypothesis import HealthCheck, given, settings
from hypothesis import strategies as st

from bindu.core.evaluation import evaluate
from bindu.formats.scene.scene_json import read_scene, write_scene
from tests.conftest import Server
from tests.demos import demo

FERRY = write_scene(demo("ferry-crossing"))


def test_edits_at_once_are_all_kept_or_refused(server: Server) -> None:
    number = server.bring(FERRY)
    parts = ["p1", "p2", "p4", "p6", "p7", "p8"]

    def edit(n: int) -> int:
        value = {"do": "set value", "part": parts[n % 6], "channel": "scale.x", "value": 1.0 + n}
        body = {"revision": 0, "edits": [value]}
        url = f"{server.url}/api/scenes/{number}/edits"
        return requests.post(url, json=body, timeout=60).status_code

    with ThreadPoolExecutor(8) as hands:
        codes = list(hands.map(edit, range(24)))
    # Each part is touched by four edits from the same revision: the first is kept.
    assert codes.count(200) == 6
    assert codes.count(409) == 18
    scene = read_scene(server.get(f"/scenes/{number}/export").text)
    assert server.get(f"/scenes/{number}").json()["header"]["revision"] == 6
    for place, part in enumerate(parts):
        kept = scene.parts[part].values["scale.x"] - 1.0
        assert kept % 6 == place


def test_readers_see_whole_revisions_while_others_edit(server: Server) -> None:
    number = server.bring(FERRY)

    def write(n: int) -> None:
        pair = [
            {"do": "set value", "part": part, "channel": "scale.y", "value": 1.0 + n}
            for part in ("p2", "p6")
        ]
        server.post(f"/scenes/{number}/edits", {"revision": n, "edits": pair})

    def read(_: int) -> None:
        scene = read_scene(server.get(f"/scenes/{number}/export").text)
        both = [scene.parts[part].values.get("scale.y") for part in ("p2", "p6")]
        assert both[0] == both[1]

    with ThreadPoolExecutor(4) as hands:
        readings = [hands.submit(read, n) for n in range(20)]
        for n in range(8):
            write(n)
        for reading in readings:
            reading.result()


simple = st.one_of(
    st.none(),
    st.booleans(),
    st.integers(-5, 200),
    st.floats(allow_nan=False, allow_infinity=False),
    st.sampled_from(["p1", "p3", "s1", "c1", "rotation.z", "translation.x", "late", "", "x" * 90]),
)
words = st.sampled_from(
    ["do", "part", "channel", "value", "keys", "frames", "frame", "step", "settings", "name",
     "parent", "zone", "position", "changes", "on", "rest", "shape"]
)  # fmt: skip
doings = st.sampled_from(
    ["add part", "rename part", "change part", "move part", "remove parts", "duplicate part",
     "lock channels", "set value", "add channel", "change channel", "remove channel", "put keys",
     "insert key", "change keys", "remove keys", "set outside", "add step", "change step",
     "move step", "remove step", "change scene"]
)  # fmt: skip
nested = st.recursive(
    simple,
    lambda inner: st.lists(inner, max_size=3) | st.dictionaries(words, inner, max_size=4),
    max_leaves=6,
)


@settings(suppress_health_check=[HealthCheck.function_scoped_fixture])
@given(st.dictionaries(words, nested, max_size=6), doings)
def test_random_edits_are_taken_or_refused_and_the_scene_stays_whole(
    server: Server, fields: dict[str, Any], do: str
) -> None:
    number = shared(server)
    revision = server.get(f"/scenes/{number}").json()["header"]["revision"]
    body = {"revision": revision, "edits": [{**fields, "do": do}]}
    url = f"{server.url}/api/scenes/{number}/edits"
    answer = requests.post(url, json=body, timeout=60)
    assert answer.status_code in (200, 422), answer.text
    if answer.status_code == 422:
        assert answer.json()["error"]
    text = server.get(f"/scenes/{number}/export").text
    evaluate(read_scene(text))


_numbers: dict[str, int] = {}


def shared(server: Server) -> int:
    """One scene for all random edits against a server."""
    if server.url not in _numbers:
        _numbers[server.url] = server.bring(FERRY)
    return _numbers[server.url]
