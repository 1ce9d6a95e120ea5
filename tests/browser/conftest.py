"""A headless Chromium, and a Bench opened in it."""

from __future__ import annotations

import shutil
from collections.abc import Iterator

import pytest
from playwright.sync_api import (
    Browser,
    BrowserContext,
    Error,
    Page,
    Playwright,
    ViewportSize,
    expect,
    sync_playwright,
)

from bindu.formats.scene.scene_json import write_scene
from tests.browser.bench import Bench
from tests.conftest import Server
from tests.demos import demo

SIZE: ViewportSize = {"width": 1280, "height": 800}
# No display and no graphics card are needed; nothing of the browser's own goes out.
PLAIN = [
    "--no-sandbox",
    "--disable-quic",
    "--no-first-run",
    "--disable-background-networking",
    "--disable-component-update",
    "--disable-sync",
]
# A page lives too short for the optimising compilers to earn what they cost.
QUICK = ["--js-flags=--no-maglev --no-opt"]
# All pages of a worker share a process: a new one takes a third of a page's time.
SHARED = ["--renderer-process-limit=1"]
# Drawing the view in space by software takes half of the time of a test; only tests that look at it
# draw it.
FLAT = [
    *PLAIN,
    *QUICK,
    *SHARED,
    "--disable-gpu",
    "--disable-3d-apis",
    "--disable-software-rasterizer",
]
FLAGS = [
    *PLAIN,
    "--use-angle=swiftshader",
    "--enable-unsafe-swiftshader",
    "--disable-gpu-compositing",
]
# Tests read what is drawn by its words and places: smooth edges would only cost time.
ROUGH = ["--webgl-antialiasing-mode=none", "--webgl-msaa-sample-count=0"]


def chromium() -> str:
    """Debian's Chromium, the build without windows: it makes none of the pages of the browser's own
    that the other makes for each tab, which takes a fifth of the time of a test."""
    program = shutil.which("chromium-headless-shell")
    assert program, "install Debian's package chromium-headless-shell"
    return program


@pytest.fixture(scope="session")
def playwright() -> Iterator[Playwright]:
    """What steers browsers."""
    expect.set_options(timeout=15_000)
    with sync_playwright() as made:
        yield made


@pytest.fixture(scope="session")
def browser(playwright: Playwright) -> Iterator[Browser]:
    """A browser that draws no view in space."""
    made = playwright.chromium.launch(executable_path=chromium(), args=FLAT)
    yield made
    made.close()


@pytest.fixture
def page_in_space(playwright: Playwright) -> Iterator[Page]:
    """An empty page at 1280x800 of a browser that draws the view in space."""
    made = playwright.chromium.launch(executable_path=chromium(), args=[*FLAGS, *ROUGH])
    page = made.new_page(viewport=SIZE)
    errors: list[str] = []
    page.on("pageerror", lambda error: errors.append(str(error)))
    yield page
    made.close()
    assert not errors


@pytest.fixture(scope="session")
def context(browser: Browser) -> Iterator[BrowserContext]:
    """One profile for all tests of a worker, so that the application is read and compiled once."""
    made = browser.new_context(viewport=SIZE, accept_downloads=True)
    yield made
    made.close()


@pytest.fixture
def page(context: BrowserContext, request: pytest.FixtureRequest) -> Iterator[Page]:
    """An empty page at 1280x800, with nothing remembered of other tests; an error in the page fails
    the test. It is the tab of the test before, as somebody would use it, unless that one failed:
    a new one takes a quarter of the time of opening the Bench."""
    made = context.pages[0] if context.pages else context.new_page()
    errors: list[str] = []

    def note(error: Error) -> None:
        errors.append(str(error))

    made.on("pageerror", note)
    failed = request.session.testsfailed
    yield made
    if made.url.startswith("http"):
        made.evaluate("localStorage.clear(); sessionStorage.clear()")
    for other in context.pages[1:]:
        other.close()
    context.clear_cookies()
    made.remove_listener("pageerror", note)
    if errors or request.session.testsfailed > failed:
        made.close()
    else:
        made.unroute_all()
        # First: on an empty page nothing follows the size, the paper and the mouse.
        made.goto("about:blank")
        made.emulate_media(color_scheme="null")
        made.set_viewport_size(SIZE)
        made.mouse.move(0, 0)
    assert not errors


@pytest.fixture
def bench(page: Page, server: Server) -> Bench:
    """The ferry, new, on the Bench."""
    number = server.bring(write_scene(demo("ferry-crossing")))
    return Bench(page, server, number)


@pytest.fixture
def heron(page: Page, server: Server) -> Bench:
    """The heron, new, on the Bench."""
    return Bench(page, server, server.bring(write_scene(demo("heron-at-the-shallows"))))
