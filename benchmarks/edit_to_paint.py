"""From an acknowledged edit to the painted curve, and how often a drag is painted, in headless
Chromium: on the demo, and on 200 parts over 300 frames.

Run: PYTHONPATH=src:. .venv/bin/python -m benchmarks.edit_to_paint
"""

from __future__ import annotations

import statistics
import time

from benchmarks.rig import rig_scene
from playwright.sync_api import Page
from tests.browser.alone import browser_alone
from tests.browser.conftest import PLAIN
from tests.conftest import Server

from bindu.demo.ferry import ferry_crossing
from bindu.formats.scene.scene_json import write_scene

CHANGES, DRAG_SECONDS = 50, 5.0
NO_VIEW = ("--disable-gpu", "--disable-3d-apis", "--disable-software-rasterizer")
WATCH = """
() => {
  window.painted = [];
  window.acknowledged = performance.now();
  const plain = window.fetch;
  window.fetch = async (...request) => {
    const answer = await plain(...request);
    if (String(request[0]).endsWith("/edits")) window.acknowledged = performance.now();
    return answer;
  };
  const after = new MessageChannel();
  after.port1.onmessage = () => window.painted.push(performance.now() - window.acknowledged);
  new MutationObserver((changes) => {
    if (changes.some((c) => c.target.dataset?.tap === "final"))
      requestAnimationFrame(() => after.port2.postMessage(0));
  }).observe(document.body, { subtree: true, attributes: true, attributeFilter: ["data-key"] });
}
"""
# What the browser itself can paint in this place: a line that moves with the pointer.
FRAMES = """
(seconds) => new Promise((done) => {
  let count = 0;
  const end = performance.now() + 1000 * seconds;
  const tick = () => {
    count += 1;
    document.body.style.outlineOffset = `${count % 2}px`;
    if (performance.now() < end) requestAnimationFrame(tick);
    else done(count / seconds);
  };
  requestAnimationFrame(tick);
})
"""


def open_channel(page: Page, url: str) -> None:
    """Opens a channel and watches its curve."""
    page.goto(url)
    page.locator("path[data-tap='final']").wait_for()
    page.wait_for_load_state("networkidle")
    page.evaluate(WATCH)


def changed(page: Page, name: str, text: str, count: int) -> None:
    """Types another formula and waits until its curve is painted."""
    label = f"Formula of {name}"
    page.get_by_role("button", name=label).click()
    field = page.get_by_role("textbox", name=label)
    field.fill(text)
    field.press("Enter")
    page.wait_for_function("count => window.painted.length >= count", arg=count)


def print_edits(page: Page, what: str, name: str, text: str) -> None:
    """Median and 95th percentile from the acknowledged edit to the painted curve."""
    for n in range(CHANGES):
        changed(page, name, text.replace("FACTOR", f"{4.1 + n / 10:g}"), n + 1)
    times = sorted(page.evaluate("window.painted"))
    middle, high = statistics.median(times), times[int(0.95 * len(times))]
    print(f"{what}: {len(times)} changes of a factor, from acknowledged to painted: ", end="")
    print(f"median {middle:.0f} ms (aim 50), 95th percentile {high:.0f} ms (aim 100)")


def print_drag(page: Page, what: str) -> None:
    """How often a second a dragged key's curve is painted, beside what the browser can do."""
    able = page.evaluate(FRAMES, 2)
    page.evaluate("window.painted = []")
    key = page.locator("circle[data-frame]").nth(3).bounding_box()
    assert key
    x, y = key["x"] + key["width"] / 2, key["y"] + key["height"] / 2
    page.mouse.move(x, y)
    page.mouse.down()
    start, moves = time.monotonic(), 0
    while time.monotonic() - start < DRAG_SECONDS:
        moves += 1
        page.mouse.move(x, y - 5 - (moves * 3) % 60)
    shown = len(page.evaluate("window.painted")) / DRAG_SECONDS
    page.mouse.up()
    print(f"{what}: a dragged key is painted {shown:.1f} times a second, ", end="")
    print(f"an empty animation {able:.0f} times: ratio {shown / able:.2f}")


def measure(page: Page, server: Server, view: str) -> None:
    """Prints both figures for both scenes."""
    number = server.bring(write_scene(ferry_crossing()))
    bench = f"{server.url}/scenes/{number}/bench"
    open_channel(page, f"{bench}?part=p1&channel=translation.x&frame=62")
    print_drag(page, f"ferry, {view}")
    number = server.bring(write_scene(rig_scene(200, 300)))
    bench = f"{server.url}/scenes/{number}/bench"
    open_channel(page, f"{bench}?part=p98&channel=rotation.z&frame=62")
    text = "FACTOR * {part 97.rotation.x} + 3 * sin({part 96.rotation.y})"
    print_edits(page, f"200 parts x 300 frames, {view}", "sway", text)
    print_drag(page, f"200 parts x 300 frames, {view}")


def main() -> None:
    """Once with the view, which software draws where there is no graphics card, once without."""
    with browser_alone() as (page, server):
        measure(page, server, "with the view")
    with browser_alone([*PLAIN, *NO_VIEW]) as (page, server):
        measure(page, server, "without")


if __name__ == "__main__":
    main()
