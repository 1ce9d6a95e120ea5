"""The view in space: drawn by software, as on a machine without a graphics card."""

from __future__ import annotations

import pytest
from playwright.sync_api import FloatRect, Locator, Page, expect

from bindu.formats.scene.scene_json import write_scene
from tests.browser.bench import Bench
from tests.conftest import Server
from tests.demos import demo
from tests.wide import only_wide


@pytest.fixture
def bench(page_in_space: Page, server: Server) -> Bench:
    """The ferry, opened nowhere yet."""
    return Bench(page_in_space, server, server.bring(write_scene(demo("ferry-crossing"))))


def canvas(bench: Bench) -> Locator:
    """What the view is drawn on."""
    return bench.page.locator("canvas").first


def settled(bench: Bench) -> bytes:
    """What is drawn, once it does not change any more."""
    expect(canvas(bench)).not_to_have_attribute("data-light", "")
    before = canvas(bench).screenshot()
    while (now := canvas(bench).screenshot()) != before:
        before = now
    return now


def comes_to(bench: Bench, drawn: bytes) -> bool:
    """Whether this is drawn in the end."""
    return any(canvas(bench).screenshot() == drawn for _ in range(60))


def leaves(bench: Bench, drawn: bytes) -> bool:
    """Whether something else than this is drawn in the end."""
    return any(canvas(bench).screenshot() != drawn for _ in range(60))


def place_of(bench: Bench) -> FloatRect:
    """Where the view is on the page."""
    box = canvas(bench).bounding_box()
    assert box
    return box


def turn(bench: Bench, across: float, down: float) -> tuple[float, float]:
    """Turns the view by a drag that begins over the paddle. Returns where it began."""
    box, mouse = place_of(bench), bench.page.mouse
    paddle = box["x"] + 0.6 * box["width"], box["y"] + 0.6 * box["height"]
    mouse.move(*paddle)
    mouse.down()
    mouse.move(paddle[0] + across, paddle[1] + down, steps=4)
    mouse.up()
    return paddle


def test_the_view_is_drawn_and_follows_the_playhead_and_an_edit(bench: Bench) -> None:
    page = bench.page
    # A while after it was opened, the home page has a picture of it.
    with page.expect_response(lambda answer: "/picture" in answer.url and answer.status == 204):
        bench.open("p1", "translation.x", 20)
        drawn = settled(bench)
    blank = page.evaluate("document.createElement('canvas').toDataURL()")
    assert len(drawn) > 10 * len(blank)
    field = bench.field("Frame")
    field.fill("100")
    field.press("Enter")
    assert leaves(bench, drawn)
    image = bench.server.get(f"/scenes/{bench.number}/picture")
    assert image.headers["Content-Type"] == "image/webp" and len(image.content) > 1000
    # Turning the view over the paddle chooses nothing; a click on it does.
    paddle = turn(bench, 8, 0)
    settled(bench)
    expect(bench.field("ferry.translation.z")).to_be_visible()
    page.mouse.click(*paddle)
    expect(bench.field("paddle.translation.z")).to_be_visible()
    page.get_by_role("tree").get_by_text("ferry", exact=True).click()
    expect(bench.field("ferry.translation.z")).to_be_visible()
    later = settled(bench)
    field = bench.field("ferry.translation.z")
    field.click()
    field.fill("2")
    field.press("Enter")
    bench.saved(1)
    assert leaves(bench, later)


@only_wide
def test_nobody_turns_the_view_back_where_it_gets_another_size_and_its_old_one(
    bench: Bench,
) -> None:
    page = bench.page
    bench.open("p1", "translation.x", 20)
    settled(bench)
    width = place_of(bench)["width"]
    turn(bench, 90, 30)
    turned = settled(bench)
    bench.kit("slip probe")
    expect(canvas(bench)).not_to_have_css("width", f"{width:g}px")
    narrow = settled(bench)
    page.get_by_role("button", name="Close the form").click()
    expect(canvas(bench)).to_have_css("width", f"{width:g}px")
    assert narrow != turned and comes_to(bench, turned)
    page.get_by_role("button", name="Wiring").click()
    expect(canvas(bench)).to_have_count(0)
    page.get_by_role("button", name="Bench").click()
    expect(canvas(bench)).to_be_visible()
    assert comes_to(bench, turned)
