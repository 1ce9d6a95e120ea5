"""Hundreds of the requests of benchmarks/attack.py, and that they reach what they attack."""

from __future__ import annotations

from benchmarks.attack import Attack
from benchmarks.generated import KINDS

from bindu.formats.scene.scene_json import write_scene
from tests.conftest import Server
from tests.demos import demo


def test_hundreds_of_requests_are_done_or_refused(server: Server) -> None:
    attack = Attack(server.url, number=4)
    attack.edits(250)
    attack.drawn(60)
    attack.files(60)
    told = attack.told
    assert not told.failures, told.failures[:5]
    assert told.count >= 380
    # Enough is done for what is refused to have met something: most kinds of edits, and files.
    statuses = told.statuses
    assert len(told.accepted) > 0.8 * len(KINDS), set(told.accepted)
    assert statuses["edits", 200] > 110 and statuses["edits", 422] > 45
    assert statuses["files", 201] > 12 and statuses["files", 422] > 20
    assert statuses["drawn", 200] > 10 and statuses["drawn", 422] > 10
    number = server.bring(write_scene(demo("ferry-crossing")))
    server.get(f"/scenes/{number}")
