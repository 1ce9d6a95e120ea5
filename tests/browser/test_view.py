"""The view in space: drawn by software, as on a machine without a graphics card."""

from __future__ import annotations

from playwright.sync_api import Page, expect

from bindu.formats.scene.scene_json import write_scene
from tests.browser.bench import Bench
from tests.conftest import Server
from tests.demos import demo


def test_the_view_is_drawn_and_follows_the_playhead_and_an_edit(
    page_in_space: Page, server: Server
) -> None:
    page = page_in_space
    bench = Bench(page, server, server.bring(write_scene(demo("ferry-crossing"))))
    canvas = page.locator("canvas").first

    def settled() -> bytes:
        """What is drawn, once it does not change any more."""
        expect(canvas).not_to_have_attribute("data-light", "")
        before = canvas.screenshot()
        while (now := canvas.screenshot()) != before:
            before = now
        return now

    def comes_to(drawn: bytes) -> bool:
        """Whether this is drawn in the end."""
        return any(canvas.screenshot() == drawn for _ in range(60))

    def leaves(drawn: bytes) -> bool:
        """Whether something else than this is drawn in the end."""
        return any(canvas.screenshot() != drawn for _ in range(60))

    # A while after it was opened, the home page has a picture of it.
    with page.expect_response(lambda answer: "/picture" in answer.url and answer.status == 204):
        bench.open("p1", "translation.x", 20)
        drawn = settled()
    blank = page.evaluate("document.createElement('canvas').toDataURL()")
    assert len(drawn) > 10 * len(blank)
    field = bench.field("Frame")
    field.fill("100")
    field.press("Enter")
    assert leaves(drawn)
    image = server.get(f"/scenes/{bench.number}/picture")
    assert image.headers["Content-Type"] == "image/webp" and len(image.content) > 1000
    # Turning the view over the paddle chooses nothing; a click on it does.
    box = canvas.bounding_box()
    assert box
    paddle = box["x"] + 0.6 * box["width"], box["y"] + 0.6 * box["height"]
    page.mouse.move(*paddle)
    page.mouse.down()
    page.mouse.move(paddle[0] + 8, paddle[1], steps=4)
    page.mouse.up()
    settled()
    expect(bench.field("ferry.translation.z")).to_be_visible()
    page.mouse.click(*paddle)
    expect(bench.field("paddle.translation.z")).to_be_visible()
    page.get_by_role("tree").get_by_text("ferry", exact=True).click()
    expect(bench.field("ferry.translation.z")).to_be_visible()
    later = settled()
    field = bench.field("ferry.translation.z")
    field.click()
    field.fill("2")
    field.press("Enter")
    bench.saved(1)
    assert leaves(later)
    # Where the view gets another size, and its old one back, nobody turns it back.
    page.mouse.move(*paddle)
    page.mouse.down()
    page.mouse.move(paddle[0] + 90, paddle[1] + 30, steps=4)
    page.mouse.up()
    turned = settled()
    bench.kit("slip probe")
    expect(canvas).not_to_have_css("width", f"{box['width']:g}px")
    narrow = settled()
    page.get_by_role("button", name="Close the form").click()
    expect(canvas).to_have_css("width", f"{box['width']:g}px")
    assert narrow != turned and comes_to(turned)
    page.get_by_role("button", name="Wiring").click()
    expect(canvas).to_have_count(0)
    page.get_by_role("button", name="Bench").click()
    expect(canvas).to_be_visible()
    assert comes_to(turned)
