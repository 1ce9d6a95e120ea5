"""Takes the pictures of docs/screenshots again, from the demo, with a database of its own.

Run: PYTHONPATH=src:. .venv/bin/python scripts/screenshots.py
"""

from __future__ import annotations

import tempfile
from pathlib import Path

from playwright.sync_api import Page, sync_playwright
from tests.browser.conftest import FLAGS
from tests.conftest import ROOT, Server

from bindu.demo import demo_scenes
from bindu.formats.scene_json import write_scene
from bindu.run.mariadb import MariaDB
from bindu.store.database import migrate

SHOTS = ROOT / "docs" / "screenshots"


def shoot(page: Page, name: str) -> None:
    """Saves what is seen once everything has come and been drawn."""
    page.wait_for_load_state("networkidle")
    page.wait_for_timeout(1000)
    page.screenshot(path=SHOTS / f"{name}.png")


def main() -> None:
    """One picture of each main view."""
    with tempfile.TemporaryDirectory() as folder, sync_playwright() as playwright:
        database = MariaDB(Path(folder))
        database.start()
        migrate(database.url)
        server = Server(database.url)
        server.start()
        browser = playwright.chromium.launch(executable_path="/usr/bin/chromium", args=FLAGS)
        page = browser.new_page(viewport={"width": 1280, "height": 800})
        ferry = [server.bring(write_scene(scene)) for scene in demo_scenes()][0]
        page.goto(server.url)
        shoot(page, "home")
        bench = f"{server.url}/scenes/{ferry}/bench"
        page.goto(f"{bench}?part=p3&channel=rotation.z&frame=106")
        shoot(page, "bench")
        page.goto(f"{bench}?part=p1&channel=translation.x&frame=62")
        page.locator("circle[data-frame='50']").click()
        shoot(page, "keys")
        browser.close()
        server.kill()
        database.stop()


if __name__ == "__main__":
    main()
