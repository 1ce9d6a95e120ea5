"""A small rig built from nothing on the Bench, as a technical animator does."""

from __future__ import annotations

import csv
import io
from pathlib import Path

import pytest
from playwright.sync_api import Locator, Page, expect

from bindu.cli import main
from tests.browser.bench import Bench, shown
from tests.conftest import Server


def tree(page: Page, part: str) -> Locator:
    """A part in the tree."""
    return page.get_by_role("tree").get_by_text(part, exact=True)


@pytest.fixture
def bench(bench: Bench) -> Bench:
    """The ferry on the Bench, with room for the whole tree."""
    bench.page.set_viewport_size({"width": 1280, "height": 1200})
    bench.page.goto(f"{bench.server.url}/api/health")
    bench.page.evaluate("localStorage.setItem('bindu.panels.left', '[1000, 100]')")
    return bench


def parent(bench: Bench, name: str) -> str | None:
    """The name of a part's parent."""
    parts = bench.evaluation().scene.parts
    found = next(part for part in parts.values() if part.name == name)
    return parts[found.parent].name if found.parent else None


def add_part(page: Page, name: str) -> None:
    """Adds a part below the chosen one and types its name."""
    page.get_by_role("button", name="Add a part").first.click()
    page.get_by_label("Name of part").fill(name)
    page.keyboard.press("Enter")
    expect(tree(page, name)).to_be_visible()


def choose_channel(page: Page, name: str) -> None:
    """Chooses a channel of the chosen part."""
    page.get_by_title(f"Show the ledger and curve of {name}").click()


def test_a_rig_from_an_empty_scene_to_the_command_line(
    page: Page, server: Server, tmp_path: Path, capsys: pytest.CaptureFixture[str]
) -> None:
    number = server.post("/scenes", {"name": "from nothing"}, 201).json()["id"]
    bench = Bench(page, server, number)
    page.goto(f"{server.url}/scenes/{number}/bench")
    add_part(page, "raft")
    add_part(page, "sweep oar")
    tree(page, "raft").click()
    choose_channel(page, "raft.translation.x")
    page.get_by_role("button", name="Add key").click()
    expect(bench.key(0)).to_be_visible()
    frame = page.get_by_role("textbox", name="Frame", exact=True)
    frame.fill("48")
    frame.press("Enter")
    field = bench.field("raft.translation.x")
    field.fill("6.5")
    field.press("Enter")
    expect(bench.key(48)).to_be_visible()
    tree(page, "sweep oar").click()
    page.get_by_role("button", name="Add…").click()
    page.get_by_role("textbox", name="name", exact=True).fill("reach")
    page.get_by_role("textbox", name="from", exact=True).fill("none")
    expect(page.get_by_role("button", name="Add", exact=True)).to_be_disabled()
    page.get_by_role("textbox", name="from", exact=True).fill("")
    page.get_by_role("textbox", name="default", exact=True).fill("12.5")
    page.get_by_role("textbox", name="unit", exact=True).fill("°")
    page.get_by_role("button", name="Add", exact=True).click()
    expect(bench.field("sweep oar.reach")).to_have_value("12.50°")
    choose_channel(page, "sweep oar.rotation.y")
    page.get_by_role("button", name="+ formula").first.click()
    page.get_by_role("textbox", name="Formula of formula").fill(
        "{sweep oar.reach} * sin(60 * {raft.translation.x})"
    )
    page.keyboard.press("Enter")
    page.get_by_role("button", name="+ limit").click()
    low = page.get_by_role("textbox", name="limit low")
    low.fill("-5")
    low.press("Enter")
    expect(low).to_have_value("−5.00°")
    frame.fill("30")
    frame.press("Enter")
    value = bench.value("sweep oar.rotation.y", 30)
    expect(bench.field("sweep oar.rotation.y")).to_have_value(shown(value))
    path = tmp_path / "raft.bindu.json"
    path.write_text(server.get(f"/scenes/{number}/export").text)
    main(["curves", str(path), "--channel", "sweep oar.rotation.y", "--frames", "30:30"])
    rows = list(csv.DictReader(io.StringIO(capsys.readouterr().out)))
    assert shown(float(rows[0]["value"])) == bench.field("sweep oar.rotation.y").input_value()


def test_parts_are_locked_renamed_duplicated_moved_dragged_and_deleted(bench: Bench) -> None:
    bench.open("p4", "rotation.x", 30)
    page = bench.page
    page.get_by_role("button", name="Lock", exact=True).click()
    bench.saved(1)
    expect(page.get_by_label("rotation.x: locked against edits by hand")).to_be_visible()
    page.get_by_role("button", name="Duplicate the part").click()
    bench.saved(2)
    expect(tree(page, "lantern 2")).to_be_visible()
    tree(page, "mast 2").dblclick()
    page.get_by_label("Name of mast 2").fill("spare mast")
    page.keyboard.press("Enter")
    bench.saved(3)
    # Dragged out of its parent, its place stays, unless that is said not to.
    tree(page, "lantern").drag_to(tree(page, "rope"))
    refused = "it is written by “trail behind”, “chain stop”; mute those steps"
    expect(page.get_by_text(refused)).to_be_visible()
    page.get_by_role("button", name="Keep the place under another parent").click()
    tree(page, "lantern").drag_to(tree(page, "rope"))
    bench.saved(4)
    assert parent(bench, "lantern") is None
    tree(page, "spare mast").click()
    page.get_by_role("button", name="part…").click()
    page.get_by_role("combobox", name="parent").fill("rope")
    option = page.get_by_title("rope", exact=True).last
    expect(option).to_be_in_viewport()
    option.click()
    bench.saved(5)
    assert parent(bench, "spare mast") == "rope"
    tree(page, "ferry").click()
    page.get_by_role("button", name="Delete the part").click()
    page.get_by_role("button", name="Delete", exact=True).last.click()
    expect(page.get_by_text("“trail behind” of lantern 2.rotation.z, “")).to_be_visible()
    page.get_by_role("button", name="Cancel").last.click()
    tree(page, "spare mast").click()
    page.get_by_role("button", name="Delete the part").click()
    page.get_by_role("button", name="Delete", exact=True).last.click()
    bench.saved(6)
    expect(tree(page, "lantern 2")).to_have_count(0)
