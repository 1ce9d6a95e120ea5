"""The Checks view: a finding, its remedy seen before it is applied, what is accepted, limits."""

from __future__ import annotations

import json
import re

import numpy as np
import pytest
from playwright.sync_api import Page, expect

from bindu.cli import main
from bindu.core.curves.model import Key
from bindu.core.edits import applied
from bindu.core.edits.channels import SetValue
from bindu.core.edits.keys import PutKeys
from bindu.core.edits.parts import AddPart
from bindu.core.edits.probes import PutProbe
from bindu.core.edits.scene import ChangeScene
from bindu.core.scene.model import Scene
from bindu.formats.scene.scene_json import write_scene
from tests.browser.bench import Bench
from tests.conftest import Server
from tests.wide import only_wide


def hurried() -> Scene:
    """Two feet that stand from 0 to 40 below a body that was sped up; a stray key of a head."""
    push = (Key(0.0, 0.0, "linear"), Key(20.0, 0.0, "linear"), Key(40.0, 0.08))
    edits = [ChangeScene(name="hurried", first=0, last=60), AddPart("body", id="body")]
    edits += [AddPart(side, "body", id=side.split()[0]) for side in ("left foot", "right foot")]
    edits += [AddPart("head", "body", id="head"), SetValue("head", "translation.y", 1.0)]
    edits += [
        PutKeys("body", "translation.z", push),
        PutProbe("left sole", "left"),
        PutProbe("right sole", "right"),
        PutKeys("head", "rotation.x", (Key(0.0, 0.0), Key(30.0, 0.5), Key(60.0, 0.0))),
        PutKeys("head", "rotation.x", (Key(31.0, 40.0), Key(32.0, 0.4))),
    ]
    return applied(Scene(), edits)


@pytest.fixture
def checks(page: Page, server: Server) -> Bench:
    """The hurried scene in the Checks view."""
    made = Bench(page, server, server.bring(write_scene(hurried())))
    page.goto(f"{server.url}/scenes/{made.number}/checks")
    expect(page.get_by_text("3 findings on 3 parts, worst first")).to_be_visible()
    return made


def test_findings_are_gone_through_a_slide_is_planted_and_gone_at_both_feet(checks: Bench) -> None:
    page = checks.page
    panel = page.get_by_role("region", name="Chosen finding")
    expect(panel).to_contain_text("left foot slides 80 mm while it stands (left sole)")
    page.get_by_role("button", name="Next finding").focus()
    page.keyboard.press("ArrowDown")
    expect(panel).to_contain_text("right foot slides")
    page.keyboard.press("ArrowDown")
    expect(panel).to_contain_text("head: its rotation pops by")
    expect(page).to_have_url(re.compile("part=head.*frame=3[12]"))
    page.keyboard.press("ArrowDown")
    expect(panel).to_contain_text("head: its rotation pops by")
    for side in ("right", "left"):
        page.keyboard.press("ArrowUp")
        expect(panel).to_contain_text(f"{side} foot slides")
    expect(page.locator("[data-amounts='now']")).to_be_visible()
    remedy = panel.get_by_role("article", name="Remedy 1")
    remedy.get_by_role("button", name="1 · plant left foot").click()
    expect(remedy.get_by_role("status")).to_contain_text("It is found no more.")
    expect(remedy.get_by_role("status")).to_contain_text("left foot moves otherwise.")
    expect(page.locator("[data-amounts='after']")).to_have_count(1)
    checks.saved(0)
    remedy.get_by_role("button", name="Apply 1 to all 2").click()
    checks.saved(1)
    expect(page.get_by_text("1 finding on 1 part, worst first")).to_be_visible()
    made = checks.evaluation()
    for foot in ("left", "right"):
        places = made.world(foot)[20:41, :, 3]
        np.testing.assert_allclose(places, np.broadcast_to(places[0], places.shape), atol=1e-9)
    page.get_by_role("button", name="Undo").click()
    checks.saved(2)
    expect(page.get_by_text("3 findings on 3 parts, worst first")).to_be_visible()
    panel.get_by_role("button", name="Ledger").click()
    expect(page.get_by_role("button", name="Bench")).to_have_attribute("aria-current", "page")
    expect(page.get_by_text("head.rotation.x @ 32")).to_be_visible()


@only_wide
def test_what_is_left_out_what_is_accepted_and_comes_back_and_limits_that_are_typed(
    checks: Bench, capsys: pytest.CaptureFixture[str], tmp_path
) -> None:  # type: ignore[no-untyped-def]
    page = checks.page
    said = page.get_by_text("worst first")
    page.get_by_role("button", name="frames 0 … 60").click()
    page.get_by_role("textbox", name="First frame").fill("45")
    page.keyboard.press("Enter")
    expect(said).to_have_text("2 findings on 2 parts, worst first")
    expect(page.get_by_role("dialog")).to_have_count(0)
    page.get_by_role("button", name="frames 45 … 60").press("Enter")
    page.get_by_role("button", name="All", exact=True).click()
    expect(said).to_have_text("3 findings on 3 parts, worst first")
    page.get_by_role("group", name="Findings of head").get_by_role("button").first.click()
    panel = page.get_by_role("region", name="Chosen finding")
    expect(panel).to_contain_text("head: its rotation pops by")
    panel.get_by_role("button", name="Accept…").click()
    expect(page.get_by_role("button", name="Accept", exact=True)).to_be_disabled()
    page.get_by_role("textbox", name="Reason").fill("it nods on purpose")
    page.keyboard.press("Enter")
    checks.saved(1)
    expect(page.get_by_text("2 findings on 2 parts, worst first")).to_be_visible()
    expect(page.get_by_role("region", name="Accepted")).to_contain_text("“it nods on purpose”")
    # The command line says the same, and holds a build on what is wrong.
    file = tmp_path / "hurried.bindu.json"
    file.write_text(checks.server.get(f"/scenes/{checks.number}/export").text)
    assert main(["check", str(file), "--json"]) == 1
    rows = json.loads(capsys.readouterr().out)["findings"]
    assert [row["accepted"] for row in rows] == [None, None, "it nods on purpose"]
    assert main(["check", str(file), "--only", "pop"]) == 0
    grown = {
        "do": "put keys",
        "part": "head",
        "channel": "rotation.x",
        "keys": [{"frame": 31, "value": 60}],
    }
    checks.server.post(f"/scenes/{checks.number}/edits", {"revision": 1, "edits": [grown]})
    expect(page.get_by_text("3 findings on 3 parts, worst first")).to_be_visible()
    page.get_by_role("button", name="Settings of slide").click()
    field = page.get_by_role("textbox", name="slide: slide")
    field.fill("5")
    field.press("Enter")
    checks.saved(3)
    expect(page.get_by_text("1 finding on 1 part, worst first")).to_be_visible()
    page.keyboard.press("Escape")
    page.get_by_role("button", name="Settings of pop").click()
    page.get_by_role("checkbox", name="look for it in this scene").click()
    checks.saved(4)
    page.keyboard.press("Escape")
    expect(page.get_by_text("found nothing that nobody accepted")).to_be_visible()
    expect(page.get_by_role("button", name="pop off")).to_be_visible()
    assert dict(checks.evaluation().scene.checks["slide"].limits)["slide"] == 5.0
