"""What tests share: a MariaDB and a server of their own, on free ports of 127.0.0.1."""

from __future__ import annotations

import os
import signal
import subprocess
import sys
import time
from collections.abc import Iterator
from pathlib import Path

import pytest
import requests
from hypothesis import settings
from sqlalchemy import Engine

from bindu.run.mariadb import MariaDB, free_port
from bindu.store.database import URL_VARIABLE, engine_at, migrate

ROOT = Path(__file__).parents[1]

# The same examples on every run: a failure is a defect, never luck.
settings.register_profile("bindu", deadline=None, derandomize=True, max_examples=100)
settings.load_profile("bindu")


class Server:
    """A Bindu server process on a database, and requests to it."""

    def __init__(self, database_url: str) -> None:
        self._environment = {**os.environ, URL_VARIABLE: database_url, "PYTHONPATH": "src"}
        self.port = free_port()
        self.url = f"http://127.0.0.1:{self.port}"
        self._process: subprocess.Popen[bytes] | None = None

    def start(self) -> None:
        """Starts the server and waits until it answers."""
        self._process = subprocess.Popen(
            [
                sys.executable,
                "-m",
                "gunicorn",
                f"--bind=127.0.0.1:{self.port}",
                "--threads=4",
                "--log-level=warning",
                "bindu.web.server:application()",
            ],
            cwd=ROOT,
            env=self._environment,
            start_new_session=True,
        )
        end = time.monotonic() + 30
        while True:
            try:
                requests.get(f"{self.url}/api/health", timeout=5)
                return
            except (requests.ConnectionError, requests.Timeout):
                assert self._process.poll() is None, "the server ended"
                assert time.monotonic() < end, "the server does not answer"
                time.sleep(0.02)

    def kill(self, number: int = signal.SIGKILL) -> None:
        """Ends the server at once, with all its workers."""
        if self._process is not None:
            os.killpg(self._process.pid, number)
            self._process.wait()

    def get(self, path: str, status: int = 200) -> requests.Response:
        """GET, with the expected status."""
        answer = requests.get(f"{self.url}/api{path}", timeout=30)
        assert answer.status_code == status, answer.text
        return answer

    def post(self, path: str, body: object = {}, status: int = 200) -> requests.Response:
        """POST of JSON, with the expected status."""
        answer = requests.post(f"{self.url}/api{path}", json=body, timeout=30)
        assert answer.status_code == status, answer.text
        return answer

    def bring(self, text: str) -> int:
        """Imports a scene file. Returns its number."""
        answer = requests.post(f"{self.url}/api/scenes/import", data=text.encode(), timeout=30)
        assert answer.status_code == 201, answer.text
        number: int = answer.json()["id"]
        return number


@pytest.fixture(scope="session")
def database_url(tmp_path_factory: pytest.TempPathFactory) -> Iterator[str]:
    """A MariaDB of the tests' own, migrated."""
    database = MariaDB(tmp_path_factory.mktemp("mariadb"))
    database.start()
    migrate(database.url)
    yield database.url
    database.stop()


@pytest.fixture(scope="session")
def engine(database_url: str) -> Engine:
    """The engine of the tests' database."""
    return engine_at(database_url)


@pytest.fixture(scope="session")
def server(database_url: str) -> Iterator[Server]:
    """A server on the tests' database."""
    made = Server(database_url)
    made.start()
    yield made
    made.kill(signal.SIGTERM)
