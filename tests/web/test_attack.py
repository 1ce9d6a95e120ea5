"""Six hundred of the requests of benchmarks/attack.py, and that they reach what they attack."""

from __future__ import annotations

from benchmarks.attack import Attack
from benchmarks.generated import KINDS

from bindu.demo.ferry import ferry_crossing
from bindu.formats.scene.scene_json import write_scene
from tests.conftest import Server


def test_six_hundred_requests_are_done_or_refused(server: Server) -> None:
    attack = Attack(server.url, number=3)
    attack.edits(400)
    attack.drawn(100)
    attack.files(100)
    told = attack.told
    assert not told.failures, told.failures[:5]
    assert told.count >= 600
    # Enough is done for what is refused to have met something: most kinds of edits, and files.
    statuses = told.statuses
    assert len(told.accepted) > 0.7 * len(KINDS), set(told.accepted)
    assert statuses["edits", 200] > 130 and statuses["edits", 422] > 50
    assert statuses["files", 201] > 3 and statuses["files", 422] > 30
    assert statuses["drawn", 200] > 10 and statuses["drawn", 422] > 10
    number = server.bring(write_scene(ferry_crossing()))
    server.get(f"/scenes/{number}")
