"""A server, and a browser on it, with a database of their own, for scripts and benchmarks."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from contextlib import contextmanager

from playwright.sync_api import Page, sync_playwright

from bindu.run.mariadb import MariaDB
from bindu.store.upgrade import migrate
from tests.browser.conftest import FLAGS, chromium
from tests.conftest import Server, open_folder


@contextmanager
def server_alone() -> Iterator[Server]:
    """A server on an empty database; its log is kept."""
    with open_folder() as folder:
        database = MariaDB(folder / "mariadb")
        database.start()
        server = Server(database.url, folder / "server.log")
        try:
            migrate(database.url)
            server.start()
            yield server
        finally:
            # Also when a step in between has failed: nothing goes on running behind it.
            server.kill()
            database.stop()


@contextmanager
def browser_alone(flags: Sequence[str] = FLAGS) -> Iterator[tuple[Page, Server]]:
    """An empty page at 1280x800, and a server on an empty database."""
    with server_alone() as server, sync_playwright() as playwright:
        browser = playwright.chromium.launch(executable_path=chromium(), args=list(flags))
        yield browser.new_page(viewport={"width": 1280, "height": 800}), server
        browser.close()
