"""The home page: list, open, start, import, export, delete."""

from __future__ import annotations

import re
from pathlib import Path

import pytest
import requests
from playwright.sync_api import Page, expect
from sqlalchemy import Engine, delete

from bindu.core.edits import applied
from bindu.core.edits.scene import ChangeScene
from bindu.formats.scene.scene_json import write_scene
from bindu.store.models import SceneRow
from bindu.store.scenes import Scenes
from tests.browser.bench import Bench
from tests.conftest import Server, many_sines
from tests.demos import demo
from tests.wide import only_wide


@pytest.fixture(autouse=True)
def nothing_of_others(engine: Engine) -> None:
    """The list holds no scenes of other tests: a long one takes long to draw."""
    with engine.begin() as connection:
        connection.execute(delete(SceneRow))


def test_a_file_goes_in_is_opened_comes_out_and_is_deleted(
    page: Page, server: Server, tmp_path: Path
) -> None:
    text = write_scene(applied(demo("ferry-crossing"), [ChangeScene(name="Ferry by file")]))
    path = tmp_path / "ferry.bindu.json"
    path.write_text(text)
    page.goto(server.url)
    # The machine has lost its network: Bindu, which stands on it, works on.
    page.evaluate("window.dispatchEvent(new Event('offline'))")
    page.locator("input[type=file]").set_input_files(path)
    row = page.get_by_role("row", name="Ferry by file")
    expect(row).to_contain_text("0 … 120")
    with page.expect_download() as download:
        row.get_by_role("link", name="Export").click()
    assert download.value.suggested_filename == "ferry-by-file.bindu.json"
    assert Path(download.value.path()).read_text() == text
    row.get_by_role("link", name="Ferry by file").click()
    expect(page.get_by_role("tree")).to_contain_text("lantern arm")
    page.get_by_title("All scenes").click()
    row.get_by_role("button", name="Delete").click()
    page.get_by_role("tooltip").get_by_role("button", name="Delete").click()
    expect(row).to_have_count(0)
    # It waits in the bin, comes back as it was, is found by its name, and is copied.
    page.get_by_text(re.compile(r"^Bin \(\d+\)$")).click()
    page.get_by_role("button", name="Bring Ferry by file back").last.click()
    expect(row).to_have_count(1)
    page.get_by_label("Find a scene").fill("ferry file")
    expect(page.get_by_role("row", name="fps")).to_have_count(1)
    row.get_by_role("button", name="Duplicate").click()
    expect(page.get_by_role("row", name="Ferry by file copy")).to_be_visible()


def test_a_scene_that_cannot_be_shown_says_why_and_takes_its_last_edit_back(
    page: Page, server: Server, engine: Engine
) -> None:
    made = server.post("/scenes/import", {**many_sines(40), "range": [0, 99]}, 201).json()
    Scenes(engine).edit(made["id"], 0, [ChangeScene(first=0, last=99_999)])
    page.goto(f"{server.url}/scenes/{made['id']}/bench")
    expect(page.get_by_text("Shorten its range")).to_be_visible()
    page.get_by_role("button", name="Take its last edit back").click()
    expect(page.get_by_role("tree")).to_contain_text("one")


@only_wide
def test_a_scene_that_is_deleted_elsewhere_is_left(bench: Bench) -> None:
    bench.open("p1", "translation.x", 0)
    requests.delete(f"{bench.server.url}/api/scenes/{bench.number}", timeout=10)
    expect(bench.page.get_by_text("“Ferry crossing” was deleted elsewhere.")).to_be_visible()
    expect(bench.page.get_by_role("heading", name="Scenes")).to_be_visible()
