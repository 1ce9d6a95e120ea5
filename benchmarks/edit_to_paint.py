"""From an acknowledged edit to the painted curve, in headless Chromium on the demo.

Run: PYTHONPATH=src .venv/bin/python -m benchmarks.edit_to_paint
"""

from __future__ import annotations

import statistics
import tempfile
from pathlib import Path

from playwright.sync_api import Page, sync_playwright
from tests.browser.conftest import FLAGS
from tests.conftest import Server

from bindu.demo.ferry import ferry_crossing
from bindu.formats.scene_json import write_scene
from bindu.run.mariadb import MariaDB
from bindu.store.database import migrate

CHANGES = 50
WATCH = """
() => {
  window.painted = [];
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


def changed(page: Page, factor: float, count: int) -> None:
    """Types another factor into the formula and waits until its curve is painted."""
    name = "Formula of turn by distance"
    page.get_by_role("button", name=name).click()
    field = page.get_by_role("textbox", name=name)
    field.fill(f"-degrees(travelled({{ferry}}) / {{paddle.radius}}) / {factor}")
    field.press("Enter")
    page.wait_for_function("count => window.painted.length >= count", arg=count)


def main() -> None:
    """Prints the median and the 95th percentile."""
    with tempfile.TemporaryDirectory() as folder, sync_playwright() as playwright:
        database = MariaDB(Path(folder))
        database.start()
        migrate(database.url)
        server = Server(database.url)
        server.start()
        browser = playwright.chromium.launch(executable_path="/usr/bin/chromium", args=FLAGS)
        page = browser.new_page(viewport={"width": 1280, "height": 800})
        number = server.bring(write_scene(ferry_crossing()))
        page.goto(f"{server.url}/scenes/{number}/bench?part=p3&channel=rotation.z&frame=62")
        page.locator("path[data-tap='final']").wait_for()
        page.evaluate(WATCH)
        for n in range(CHANGES):
            changed(page, 4 + n / 10, n + 1)
        times = sorted(page.evaluate("window.painted"))
        browser.close()
        server.kill()
        database.stop()
    middle, high = statistics.median(times), times[int(0.95 * len(times))]
    print(f"{len(times)} changes of a factor: median {middle:.0f} ms (aim 50), ", end="")
    print(f"95th percentile {high:.0f} ms (aim 100)")


if __name__ == "__main__":
    main()
