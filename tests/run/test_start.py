"""The start command: brings all up on loopback, ends all, keeps all."""

from __future__ import annotations

import os
import signal
import subprocess
import sys
import threading
import time
from collections.abc import Iterator
from contextlib import contextmanager, suppress
from pathlib import Path

import pytest
import requests

from bindu.core.scene.model import Scene
from bindu.run.start import database_for_use
from bindu.store.address import URL_VARIABLE
from bindu.store.database import engine_at
from bindu.store.scenes import Scenes
from bindu.web.prepare import prepare
from tests.conftest import ROOT, free_port, many_sines, open_folder

LISTENING = "0A"


@contextmanager
def started(folder: Path, port: int) -> Iterator[subprocess.Popen[str]]:
    """The start command on a folder and port, once it has printed its address."""
    environment = {k: v for k, v in os.environ.items() if k != URL_VARIABLE}
    environment |= {"BINDU_VAR": str(folder), "BINDU_PORT": str(port), "PYTHONPATH": "src"}
    process = subprocess.Popen(
        [sys.executable, "-m", "bindu.run.start"],
        cwd=ROOT,
        env=environment,
        stdout=subprocess.PIPE,
        stderr=subprocess.STDOUT,
        text=True,
    )
    assert process.stdout
    try:
        first = next((line for line in process.stdout if line.startswith("Bindu is at")), "")
        assert f"http://127.0.0.1:{port}/" in first
        yield process
    finally:
        process.send_signal(signal.SIGINT)
        process.wait(60)


@pytest.fixture
def folder() -> Iterator[Path]:
    """Where a first start will make its private database."""
    with open_folder() as place:
        yield place / "var"


def serving(port: int) -> set[int]:
    """The processes that serve a port."""
    return {
        int(command.parent.name)
        for command in Path("/proc").glob("[0-9]*/cmdline")
        if f"127.0.0.1:{port}".encode() in _read(command)
    }


def listeners(port: int) -> set[str]:
    """The addresses on which something listens on a port, as hexadecimal text."""
    rows = [line.split() for line in Path("/proc/net/tcp").read_text().splitlines()[1:]]
    return {
        row[1].split(":")[0]
        for row in rows
        if row[3] == LISTENING and int(row[1].split(":")[1], 16) == port
    }


def servers_on(folder: Path) -> list[str]:
    """The MariaDB servers that work on a folder."""
    found = []
    for command in Path("/proc").glob("[0-9]*/cmdline"):
        try:
            text = command.read_bytes().replace(b"\0", b" ").decode(errors="replace")
        except OSError:
            continue
        if f"--datadir={folder}" in text:
            found.append(command.parent.name)
    return found


def test_what_was_edited_outlives_whatever_dies(folder: Path) -> None:
    """A first start brings the demo and is killed; a second one has the edit, and brings back its
    database and its server when they are killed; then it is ended in the middle of something long.
    """
    port = free_port()
    with started(folder, port) as process:
        ferry = demo_is_there(port)
        assert listeners(port) == {"0100007F"}
        assert len(servers_on(folder)) == 1
        a_second_start_is_refused(port)
        edit = {"do": "set value", "part": "p3", "channel": "c1", "value": 0.9}
        body = {"revision": 0, "edits": [edit]}
        assert requests.post(f"{at(port)}/{ferry}/edits", json=body, timeout=9).status_code == 200
        process.kill()
        process.wait()
        assert len(servers_on(folder)) == 1  # left over, with nobody to end it
    other = free_port()
    with started(folder, other) as process:
        assert kept(other, ferry) == (1, "set paddle.radius to 0.9")
        for _ in range(2):
            the_database_dies(folder, other)
            assert kept(other, ferry) == (1, "set paddle.radius to 0.9")
        the_server_dies(other)
        assert kept(other, ferry) == (1, "set paddle.radius to 0.9")
        with something_long(other):
            process.send_signal(signal.SIGTERM)
            assert process.wait(30) == 0
    assert not listeners(other)
    assert not servers_on(folder)
    assert not serving(other)
    subprocess.run(["pkill", "-f", f"127.0.0.1:{port}"], check=False)


def at(port: int) -> str:
    """Where the API of a started Bindu is."""
    return f"http://127.0.0.1:{port}/api"


def kept(port: int, scene: str) -> tuple[int, str]:
    """The revision of a scene, and what can be undone in it."""
    header = requests.get(f"{at(port)}/{scene}", timeout=9).json()["header"]
    return header["revision"], header["undo"]


def demo_is_there(port: int) -> str:
    """The demo has its pictures, and says what checks find in it. Returns the ferry's address."""
    listed = requests.get(f"{at(port)}/scenes", timeout=9).json()["scenes"]
    assert listed[0]["name"] == "Ferry crossing"
    assert all(one["pictured"] == 0 and one["findings"] is not None for one in listed)
    assert {one["name"]: one["findings"] for one in listed}["The hurried heron"] > 10
    return f"scenes/{listed[0]['id']}"


def a_second_start_is_refused(port: int) -> None:
    """Where something listens already."""
    again = subprocess.run(
        [sys.executable, "-m", "bindu.run.start"],
        cwd=ROOT,
        env={**os.environ, "BINDU_PORT": str(port), "PYTHONPATH": "src"},
        capture_output=True,
        text=True,
    )
    assert again.returncode == 2
    assert f"listening on 127.0.0.1:{port} already" in again.stderr


def the_database_dies(folder: Path, port: int) -> None:
    """It is killed; until it is back, requests are told so."""
    (pid,) = servers_on(folder)
    os.kill(int(pid), signal.SIGKILL)
    back, end = False, time.monotonic() + 60
    while not back:
        assert time.monotonic() < end, "the database does not come back"
        back = requests.get(f"{at(port)}/health", timeout=9).status_code == 200
        listed = requests.get(f"{at(port)}/scenes", timeout=9)
        assert listed.status_code in (200, 503)
        if listed.status_code == 503:
            assert "database does not answer" in listed.json()["error"]
            back = False
            time.sleep(0.02)


def the_server_dies(port: int) -> None:
    """All its processes are killed; others come in their place."""
    killed = serving(port)
    for worker in killed:
        os.kill(worker, signal.SIGKILL)
    end = time.monotonic() + 60
    while not (serving(port) - killed and _answers(port)):
        assert time.monotonic() < end, "the server does not come back"
        time.sleep(0.05)


@contextmanager
def something_long(port: int) -> Iterator[None]:
    """A request that takes nearly as long as one may is sent, and being computed."""
    statuses: list[int] = []
    sender = threading.Thread(target=_sent, args=(f"{at(port)}/scenes/import", statuses))
    sender.start()
    while not _busy(port):
        assert sender.is_alive(), f"it was answered at once: {statuses}"
    yield
    sender.join()
    # Not answered, or done before the end; never refused, which would take no time.
    assert statuses in ([], [201])


def test_a_database_that_is_there_is_used_as_it_is(
    tmp_path: Path, database_url: str, monkeypatch: pytest.MonkeyPatch
) -> None:
    scenes = Scenes(engine_at(database_url))
    scenes.add(Scene(name="there already"))
    before = [entry.name for entry in scenes.entries()]
    monkeypatch.setenv(URL_VARIABLE, database_url)
    monkeypatch.setenv("BINDU_VAR", str(tmp_path / "var"))
    with database_for_use() as (url, own):
        assert (url, own) == (database_url, None)
    prepare()
    assert [entry.name for entry in scenes.entries()] == before
    assert not (tmp_path / "var").exists()


def _answers(port: int) -> bool:
    with suppress(requests.RequestException):
        return requests.get(f"http://127.0.0.1:{port}/api/scenes", timeout=9).ok
    return False


def _sent(url: str, statuses: list[int]) -> None:
    with suppress(requests.RequestException):
        statuses.append(requests.post(url, json=many_sines(8), timeout=60).status_code)


def _busy(port: int) -> bool:
    """Whether a thread of a process that serves a port computes just now."""
    threads = [stat for pid in serving(port) for stat in Path(f"/proc/{pid}/task").glob("*/stat")]
    return any(" R " in _read(thread).decode(errors="replace") for thread in threads)


def _read(path: Path) -> bytes:
    try:
        return path.read_bytes()
    except OSError:
        return b""
