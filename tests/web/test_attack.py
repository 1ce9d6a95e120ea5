"""Hundreds of the requests of benchmarks/attack.py, and that they reach what they attack."""

from __future__ import annotations

from benchmarks.attack import Attack
from benchmarks.generated import KINDS

from bindu.formats.scene.scene_json import write_scene
from tests.conftest import Server
from tests.demos import demo
from tests.wide import WIDE, cases, only_wide


def test_hundreds_of_requests_are_done_or_refused(server: Server) -> None:
    attack = Attack(server.url, number=4)
    edits, files = cases(160, 1000), cases(60, 240)
    attack.edits(edits)
    attack.files(files)
    told = attack.told
    assert not told.failures, told.failures[:5]
    assert told.count >= edits + files
    # Enough is done for what is refused to have met something: most kinds of edits, and files.
    statuses = told.statuses
    assert len(told.accepted) > (0.85 if WIDE else 0.6) * len(KINDS), set(told.accepted)
    assert statuses["edits", 200] > 70 and statuses["edits", 422] > 30
    assert statuses["files", 201] > 12 and statuses["files", 422] > 20
    still_serves(server)


@only_wide
def test_whatever_the_document_allows_is_answered(server: Server) -> None:
    attack = Attack(server.url, number=4)
    attack.drawn(400)
    told = attack.told
    assert not told.failures, told.failures[:5]
    assert told.statuses["drawn", 200] > 30 and told.statuses["drawn", 422] > 30
    still_serves(server)


def still_serves(server: Server) -> None:
    """A scene goes in and comes out as before."""
    server.get(f"/scenes/{server.bring(write_scene(demo('ferry-crossing')))}")
