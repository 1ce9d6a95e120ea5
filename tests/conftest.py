"""What tests share: a MariaDB and a server of their own, on free ports of 127.0.0.1."""

from __future__ import annotations

import os
import shutil
import signal
import socket
import subprocess
import sys
import tempfile
import time
from collections.abc import Iterator
from contextlib import contextmanager, suppress
from pathlib import Path

import pytest
import requests
from hypothesis import settings
from sqlalchemy import Engine

from bindu.collector import calm_collector
from bindu.run.mariadb import MariaDB
from bindu.store.address import URL_VARIABLE
from bindu.store.database import engine_at
from bindu.store.upgrade import migrate
from tests.wide import cases

ROOT = Path(__file__).parents[1]

# The same examples on every run: a failure is a defect, never luck.
settings.register_profile("bindu", deadline=None, derandomize=True, max_examples=cases(12, 200))
settings.load_profile("bindu")


# As in the server: tests make many small things that live on, and looking through them again and
# again takes a tenth of their time.
calm_collector()


LONGEST = ("tests/run/", "tests/web/test_attack.py")


def pytest_collection_modifyitems(items: list[pytest.Item]) -> None:
    """What takes longest, and waits most, comes first: at the end nothing else would be left for
    the other process meanwhile."""
    items.sort(key=lambda item: not item.nodeid.startswith(LONGEST))


def free_port() -> int:
    """A port on 127.0.0.1 that nobody listens on."""
    with socket.socket() as listener:
        listener.bind(("127.0.0.1", 0))
        port: int = listener.getsockname()[1]
        return port


@contextmanager
def open_folder() -> Iterator[Path]:
    """A folder that other users may go through, where a database that is not root's can be."""
    folder = Path(tempfile.mkdtemp(prefix="bindu-test-", dir="/tmp"))
    folder.chmod(0o711)
    try:
        yield folder
    finally:
        shutil.rmtree(folder, ignore_errors=True)


def many_sines(count: int) -> dict[str, object]:
    """A scene file that takes long: formulas of sixty sines over 100,000 frames."""
    text = " + ".join(f"sin(frame * {n})" for n in range(60))
    rest = {"kind": "formula", "zone": "driven", "channel": "translation.x", "mode": "add"}
    steps = [{"name": f"s {n}", "formula": text, **rest} for n in range(count)]
    head = {"format": "bindu scene", "version": 1, "name": "long", "range": [0, 99_999]}
    return {**head, "parts": [{"name": "one", "steps": steps}]}


class Server:
    """A Bindu server process on a database, and requests to it."""

    def __init__(self, database_url: str, log: Path | None = None) -> None:
        self._log = log
        self._environment = {**os.environ, URL_VARIABLE: database_url, "PYTHONPATH": "src"}
        self.port = free_port()
        self.url = f"http://127.0.0.1:{self.port}"
        self._process: subprocess.Popen[bytes] | None = None

    def start(self) -> None:
        """Starts the server and waits until it answers."""
        log = self._log.open("ab") if self._log else None
        self._process = subprocess.Popen(
            [
                sys.executable,
                "-m",
                "gunicorn",
                f"--bind=127.0.0.1:{self.port}",
                "--config=python:bindu.web.gunicorn",
                "bindu.web.server:application()",
            ],
            cwd=ROOT,
            env=self._environment,
            stderr=log,
            start_new_session=True,
        )
        if log:
            log.close()
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
            self._process = None

    def log(self) -> str:
        """What the server has written about itself; empty where that is not kept."""
        return self._log.read_text(errors="replace") if self._log else ""

    def largest_memory(self) -> int:
        """Bytes: the most that one of its processes has had."""
        assert self._process is not None
        group = self._process.pid
        peaks = [0]
        for status in Path("/proc").glob("[0-9]*/status"):
            with suppress(OSError):
                if os.getpgid(int(status.parent.name)) == group:
                    lines = status.read_text().splitlines()
                    peak = next((x.split()[1] for x in lines if x.startswith("VmHWM")), "0")
                    peaks.append(int(peak) * 1024)
        return max(peaks)

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

    def retrace(self, scene: str, way: str, status: int = 200) -> requests.Response:
        """Undo or redo as somebody does it who has seen all."""
        revision = self.get(f"{scene}/revision").json()["revision"]
        return self.post(f"{scene}/{way}", {"revision": revision}, status)

    def bring(self, text: str) -> int:
        """Imports a scene file. Returns its number."""
        answer = requests.post(
            f"{self.url}/api/scenes/import",
            data=text.encode(),
            headers={"Content-Type": "application/json"},
            timeout=30,
        )
        assert answer.status_code == 201, answer.text
        number: int = answer.json()["id"]
        return number


@pytest.fixture(scope="session")
def database_folder() -> Iterator[Path]:
    """Where the tests' own MariaDB is."""
    with open_folder() as folder:
        yield folder / "mariadb"


@pytest.fixture(scope="session")
def database_url(database_folder: Path) -> Iterator[str]:
    """A MariaDB of the tests' own, migrated."""
    database = MariaDB(database_folder)
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


@pytest.fixture
def own_server(database_url: str) -> Iterator[Server]:
    """A server on the tests' database for one test, which may kill it; it ends with the test."""
    made = Server(database_url)
    try:
        made.start()
        yield made
    finally:
        made.kill()
