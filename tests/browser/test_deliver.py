"""Handing over by hand: bake, send, see it play; stale after an edit; an override wins and gives
back."""

from __future__ import annotations

import base64
import re
from pathlib import Path

import pytest
from playwright.sync_api import Page, expect

from bindu.core.edits import applied
from bindu.core.edits.bakes import PutBake
from bindu.core.edits.parts import AddPart
from bindu.core.scene.model import Scene
from bindu.core.scene.parts import Rest
from bindu.formats.gltf import read_gltf
from bindu.formats.report import Report
from bindu.formats.scene.scene_json import write_scene
from tests.browser.bench import Bench
from tests.conftest import Server
from tests.demos import demo
from tests.wide import only_wide

FARTHEST = """async ([image, colour]) => {
    const picture = new Image();
    picture.src = `data:image/png;base64,${image}`;
    await picture.decode();
    const paper = new OffscreenCanvas(picture.width, picture.height).getContext("2d");
    paper.drawImage(picture, 0, 0);
    const { data } = paper.getImageData(0, 0, picture.width, picture.height);
    let found = [0, 0];
    for (let n = 0; n < data.length / 4; n++) {
        const near = colour.every((part, k) => Math.abs(data[4 * n + k] - part) < 40);
        const x = n % picture.width;
        if (near && x > found[0]) found = [x, Math.floor(n / picture.width)];
    }
    return found;
}"""
"""Of a picture the place of a colour that stands farthest to the right."""


@pytest.fixture
def bench(page: Page, server: Server) -> Bench:
    """The mooring, handed over."""
    made = Bench(page, server, server.bring(write_scene(demo("the-mooring"))))
    page.goto(f"{server.url}/scenes/{made.number}/deliver?part=p9&frame=40")
    expect(page.get_by_text("Nothing baked yet")).to_be_visible()
    return made


def choose(page: Page, box: str, option: str) -> None:
    """Chooses from a list."""
    page.get_by_role("combobox", name=box, exact=True).first.click()
    page.locator(".ant-select-dropdown:visible").get_by_title(option, exact=True).click()


def all_parts(bench: Bench) -> None:
    """A bake of all parts."""
    page = bench.page
    page.get_by_role("button", name="Bake", exact=True).click()
    bench.saved(1)
    page.get_by_role("button", name="What out holds").click()
    choose(page, "Parts of out", "all parts")
    bench.saved(2)
    page.keyboard.press("Escape")
    card = page.get_by_role("region", name="Bake out")
    expect(card).to_contain_text("would add")
    card.get_by_role("button", name="Take over all the same").click()
    bench.saved(3)
    expect(card).to_contain_text("● fresh 15 parts")


def test_baked_sent_played_stale_and_taken_over(bench: Bench, tmp_path: Path) -> None:
    page = bench.page
    all_parts(bench)
    with page.expect_download() as saved:
        page.get_by_role("button", name="Save glTF 2.0").click()
    file = tmp_path / "mooring.glb"
    saved.value.save_as(file)
    (clip,) = read_gltf(file.read_bytes(), Report(""))
    assert clip.name == "out" and len(clip.parts) == 15
    report = page.get_by_role("complementary", name="Report")
    expect(report).to_contain_text("Read back and compared")
    expect(report).to_contain_text("ripples, which the format has not")
    time = page.get_by_role("slider", name="Time of the receiver")
    page.get_by_role("button", name="Play in the receiver").click()
    expect(time).not_to_have_attribute("aria-valuenow", "0")
    page.get_by_role("button", name="Stop the receiver").click()
    # The source changes: stale, by how much, and taken over by a click.
    page.get_by_role("button", name="Bench").click()
    page.get_by_role("treeitem", name="drift").get_by_text("drift", exact=True).click()
    field = bench.field("drift.translation.x")
    field.fill("7")
    field.press("Enter")
    bench.saved(4)
    page.get_by_role("button", name="Deliver").click()
    card = page.get_by_role("region", name="Bake out")
    expect(card).to_contain_text(re.compile(r"stale, up to .* at \d+"))
    card.get_by_role("button", name="Compare").click()
    table = page.get_by_role("table", name="How far each part is from its source")
    expect(table).to_contain_text("boat")
    card.get_by_role("button", name="Take over", exact=True).click()
    bench.saved(5)
    expect(card).to_contain_text("● fresh")


@only_wide
def test_overrides_have_the_last_word_give_it_back_and_become_rules(
    page: Page, server: Server
) -> None:
    scene = applied(demo("the-mooring"), [PutBake("out", 0, 96, by="all parts")])
    bench = Bench(page, server, server.bring(write_scene(scene)))
    page.goto(f"{server.url}/scenes/{bench.number}/deliver?part=p9&frame=40")
    words = page.get_by_role("region", name="Who writes the part")
    expect(words.get_by_role("listitem")).to_have_count(1)
    expect(words).to_contain_text("has the last word")
    choose(page, "Add an override", "turns a part to a place")
    row = page.get_by_role("group", name="Override look at")
    expect(row).to_contain_text("lantern")
    expect(words.get_by_role("listitem", name="look at has the last word")).to_be_visible()
    expect(words.get_by_role("listitem", name="out gives way")).to_be_visible()
    choose(page, "Add an override", "what somebody tries while it plays")
    expect(words.get_by_role("listitem", name="author has the last word")).to_be_visible()
    page.get_by_role("button", name="give back").click()
    expect(words.get_by_role("listitem", name="look at has the last word")).to_be_visible()
    # It is weighed by an input, which is nothing until it is told.
    row.get_by_label("Input of look at").fill("looks")
    row.get_by_label("Input of look at").press("Enter")
    expect(words.get_by_role("listitem", name="out has the last word")).to_be_visible()
    value = page.get_by_role("textbox", name="Value of looks")
    value.fill("1")
    value.press("Enter")
    expect(words.get_by_role("listitem", name="look at has the last word")).to_be_visible()
    # It is the scene's: an undo takes the last change back.
    page.get_by_role("button", name="Undo").click()
    expect(row.get_by_label("Input of look at")).to_have_value("")
    # Parts are moved by their names too, and rules are made of that.
    choose(page, "Add an override", "moves parts by their names")
    row = page.get_by_role("group", name="Override by input")
    expect(row).to_contain_text("1 of 1 in the file")
    names = row.get_by_role("combobox", name="Parts of by input")
    names.fill("post,whale,")
    expect(row).to_contain_text("2 of 3 in the file; not: whale")
    page.keyboard.press("Escape")
    value = page.get_by_role("textbox", name="Value of speed")
    value.fill("0.5")
    value.press("Enter")
    expect(words.get_by_role("listitem", name="by input has the last word")).to_be_visible()
    # It may do what something in the scene does.
    page.get_by_role("button", name="from the scene…").click()
    choose(page, "Input that is told", "speed")
    choose(page, "Part of the scene", "drift")
    choose(page, "Channel of the part", "translation.x")
    page.get_by_role("button", name="Record").click()
    expect(page.get_by_role("button", name="Record")).to_be_hidden()
    expect(value).to_have_value("2.00")
    row.get_by_role("button", name="make rules").click()
    bench.saved(8)
    expect(page.get_by_text("wire 2 parts to inputs").first).to_be_visible()
    # The scene's input does there what the receiver's does in the file.
    scene = bench.evaluation().scene
    inputs = scene.part_ids["inputs"]
    (speed,) = (one.id for one in scene.channels.values() if one.part == inputs)
    edit = {"do": "set value", "part": inputs, "channel": speed, "value": 0.5}
    bench.server.post(f"/scenes/{bench.number}/edits", {"revision": 8, "edits": [edit]})
    assert bench.value("post.rotation.x", 40) == pytest.approx(45.0)


@only_wide
def test_a_point_that_a_part_looks_at_is_dragged_in_the_view(
    page_in_space: Page, server: Server
) -> None:
    page = page_in_space
    lamp = [
        AddPart("lamp", role="prop", rest=Rest((0.0, 0.2, -0.2)), id="p1"),
        PutBake("out", 0, 9),
    ]
    number = server.bring(write_scene(applied(Scene(last=9), lamp)))
    page.goto(f"{server.url}/scenes/{number}/deliver?part=p1&frame=0")
    choose(page, "Add an override", "turns a part to a place")
    field = page.get_by_role("textbox", name="look x")
    expect(field).to_have_value("0.00")
    canvas = page.locator("canvas").first
    tip = (0, 0)
    while not any(tip):
        # The tip of the arrow along x is what stands farthest to the right of its colour.
        image = base64.b64encode(canvas.screenshot()).decode()
        tip = page.evaluate(FARTHEST, [image, [0xB2, 0x3A, 0x2B]])
    box = canvas.bounding_box()
    assert box
    x, y = box["x"] + tip[0] - 3, box["y"] + tip[1]
    page.mouse.move(x, y)
    page.mouse.down()
    page.mouse.move(x + 30, y + 6, steps=4)
    page.mouse.move(x + 90, y + 18, steps=4)
    expect(field).not_to_have_value("0.00")
    dragged = float(field.input_value())
    page.mouse.up()
    assert 0.2 < dragged < 5.0
    for other in "yz":
        expect(page.get_by_role("textbox", name=f"look {other}")).to_have_value("0.00")
    words = page.get_by_role("region", name="Who writes the part")
    expect(words.get_by_role("listitem", name="look at has the last word")).to_be_visible()
