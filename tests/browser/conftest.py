"""A headless Chromium, and a Bench opened in it."""

from __future__ import annotations

import shutil
from collections.abc import Iterator

import pytest
from playwright.sync_api import Browser, Page, expect, sync_playwright

from bindu.demo.ferry import ferry_crossing
from bindu.formats.scene.scene_json import write_scene
from tests.browser.bench import Bench
from tests.conftest import Server

# No display and no graphics card are needed; nothing of the browser's own goes out.
PLAIN = [
    "--no-sandbox",
    "--disable-quic",
    "--no-first-run",
    "--disable-background-networking",
    "--disable-component-update",
    "--disable-sync",
]
# Software draws the view in space; the page around it is put together without that detour.
FLAGS = [
    *PLAIN,
    "--use-angle=swiftshader",
    "--enable-unsafe-swiftshader",
    "--disable-gpu-compositing",
]
# Tests read what is drawn by its words and places: smooth edges would only cost time.
ROUGH = ["--webgl-antialiasing-mode=none", "--webgl-msaa-sample-count=0"]


@pytest.fixture(scope="session")
def browser() -> Iterator[Browser]:
    """Debian's Chromium."""
    program = shutil.which("chromium")
    assert program, "install Debian's package chromium"
    expect.set_options(timeout=15_000)
    with sync_playwright() as playwright:
        made = playwright.chromium.launch(executable_path=program, args=[*FLAGS, *ROUGH])
        yield made
        made.close()


@pytest.fixture
def page(browser: Browser) -> Iterator[Page]:
    """An empty page at 1280x800; an error in the page fails the test."""
    context = browser.new_context(viewport={"width": 1280, "height": 800}, accept_downloads=True)
    made = context.new_page()
    errors: list[str] = []
    made.on("pageerror", lambda error: errors.append(str(error)))
    yield made
    context.close()
    assert not errors


@pytest.fixture
def bench(page: Page, server: Server) -> Bench:
    """The ferry, new, on the Bench."""
    number = server.bring(write_scene(ferry_crossing()))
    return Bench(page, server, number)
