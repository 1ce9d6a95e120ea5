"""The view in space: drawn by software, as on a machine without a graphics card."""

from __future__ import annotations

from playwright.sync_api import Page, expect

from bindu.demo.ferry import ferry_crossing
from bindu.formats.scene.scene_json import write_scene
from tests.browser.bench import Bench
from tests.conftest import Server


def test_the_view_is_drawn_and_follows_the_playhead_and_an_edit(
    page_in_space: Page, server: Server
) -> None:
    page = page_in_space
    bench = Bench(page, server, server.bring(write_scene(ferry_crossing())))
    bench.open("p1", "translation.x", 20)
    canvas = page.locator("canvas").first
    expect(canvas).to_be_visible()

    def settled() -> bytes:
        """What is drawn, once it does not change any more."""
        before = canvas.screenshot()
        while (now := canvas.screenshot()) != before:
            before = now
        return now

    drawn = settled()
    blank = page.evaluate("document.createElement('canvas').toDataURL()")
    assert len(drawn) > 10 * len(blank)
    bench.open("p1", "translation.x", 100)
    expect(canvas).to_be_visible()
    later = settled()
    assert later != drawn
    field = bench.field("ferry.translation.z")
    field.click()
    field.fill("2")
    field.press("Enter")
    bench.saved(1)
    assert settled() != later
