"""The start command: brings all up on loopback, ends all, keeps all."""

from __future__ import annotations

import os
import signal
import subprocess
import sys
from collections.abc import Iterator
from contextlib import contextmanager
from pathlib import Path

import requests

from bindu.run.mariadb import free_port
from bindu.store.database import URL_VARIABLE
from tests.conftest import ROOT

LISTENING = "0A"


@contextmanager
def started(folder: Path, port: int, **more: str) -> Iterator[subprocess.Popen[str]]:
    """The start command on a folder and port, once it has printed its address."""
    environment = {k: v for k, v in os.environ.items() if k != URL_VARIABLE}
    environment |= {"BINDU_VAR": str(folder), "BINDU_PORT": str(port), "PYTHONPATH": "src", **more}
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


def test_a_start_brings_the_demo_and_keeps_edits_even_when_it_was_killed(tmp_path: Path) -> None:
    port, folder = free_port(), tmp_path / "var"
    api = f"http://127.0.0.1:{port}/api"
    with started(folder, port) as process:
        names = [s["name"] for s in requests.get(f"{api}/scenes", timeout=9).json()["scenes"]]
        assert names[0] == "Ferry crossing"
        assert listeners(port) == {"0100007F"}
        assert len(servers_on(folder)) == 1
        again = subprocess.run(
            [sys.executable, "-m", "bindu.run.start"],
            cwd=ROOT,
            env={**os.environ, "BINDU_PORT": str(port), "PYTHONPATH": "src"},
            capture_output=True,
            text=True,
        )
        assert again.returncode == 1
        assert f"listening on 127.0.0.1:{port} already" in again.stderr
        edit = {"do": "set value", "part": "p3", "channel": "c1", "value": 0.9}
        body = {"revision": 0, "edits": [edit]}
        assert requests.post(f"{api}/scenes/1/edits", json=body, timeout=9).status_code == 200
        process.kill()
        process.wait()
        assert len(servers_on(folder)) == 1  # left over, with nobody to end it
    other = free_port()
    with started(folder, other) as process:
        header = requests.get(f"http://127.0.0.1:{other}/api/scenes/1", timeout=9).json()["header"]
        assert (header["revision"], header["undo"]) == (1, "set paddle.radius to 0.9")
        process.send_signal(signal.SIGINT)
        assert process.wait(60) == 0
    assert not listeners(other)
    assert not servers_on(folder)
    subprocess.run(["pkill", "-f", f"127.0.0.1:{port}"], check=False)


def test_a_database_that_is_there_is_used_as_it_is(tmp_path: Path, database_url: str) -> None:
    port = free_port()
    with started(tmp_path / "var", port, **{URL_VARIABLE: database_url}):
        assert requests.get(f"http://127.0.0.1:{port}/api/scenes", timeout=9).status_code == 200
    assert not (tmp_path / "var").exists()
