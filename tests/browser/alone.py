"""A browser on a server and a database of its own, for scripts and benchmarks."""

from __future__ import annotations

import tempfile
from collections.abc import Iterator, Sequence
from contextlib import contextmanager
from pathlib import Path

from playwright.sync_api import Page, sync_playwright

from bindu.run.mariadb import MariaDB
from bindu.store.database import migrate
from tests.browser.conftest import FLAGS
from tests.conftest import Server


@contextmanager
def browser_alone(flags: Sequence[str] = FLAGS) -> Iterator[tuple[Page, Server]]:
    """An empty page at 1280x800, and a server on an empty database."""
    with tempfile.TemporaryDirectory() as folder, sync_playwright() as playwright:
        database = MariaDB(Path(folder))
        database.start()
        server = Server(database.url)
        try:
            migrate(database.url)
            server.start()
            program = "/usr/bin/chromium"
            browser = playwright.chromium.launch(executable_path=program, args=list(flags))
            yield browser.new_page(viewport={"width": 1280, "height": 800}), server
            browser.close()
        finally:
            # Also when a step in between has failed: nothing goes on running behind it.
            server.kill()
            database.stop()
