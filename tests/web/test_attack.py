"""Hundreds of the requests of benchmarks/attack.py, and that they reach what they attack."""

from __future__ import annotations

from benchmarks.attack import Attack
from benchmarks.generated import KINDS

from bindu.formats.scene.scene_json import write_scene
from tests.conftest import Server
from tests.demos import demo
from tests.wide import WIDE, cases


def test_hundreds_of_requests_are_done_or_refused(server: Server) -> None:
    attack = Attack(server.url, number=4)
    edits, files = cases(160, 1000), cases(40, 240)
    attack.edits(edits)
    attack.drawn(60)
    attack.files(files)
    told = attack.told
    assert not told.failures, told.failures[:5]
    assert told.count >= edits + files + 70
    # Enough is done for what is refused to have met something: most kinds of edits, and files.
    statuses = told.statuses
    assert len(told.accepted) > (0.85 if WIDE else 0.6) * len(KINDS), set(told.accepted)
    assert statuses["edits", 200] > 0.44 * edits and statuses["edits", 422] > 0.18 * edits
    assert statuses["files", 201] > 0.2 * files and statuses["files", 422] > 0.33 * files
    assert statuses["drawn", 200] > 10 and statuses["drawn", 422] > 10
    number = server.bring(write_scene(demo("ferry-crossing")))
    server.get(f"/scenes/{number}")
