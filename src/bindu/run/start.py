"""The start command: database, migrations, demo, server; all ended by Ctrl-C."""

from __future__ import annotations

import fcntl
import os
import signal
import socket
import subprocess
import sys
import time
import urllib.error
import urllib.request
from collections.abc import Iterator
from contextlib import contextmanager, suppress
from pathlib import Path
from types import FrameType

from bindu.run.account import account
from bindu.run.mariadb import MariaDB, NoDatabase
from bindu.store.address import URL_VARIABLE

ROOT = Path(__file__).resolve().parents[3]
PATIENCE = 30.0
ENDING = 5.0
"""Seconds that the server has for ending by itself."""
SOONEST, LATEST = 1.0, 30.0
"""Seconds between two starts of what keeps ending: at first, and at most."""
SETTLED = 4.0
"""Seconds after which what was started is taken to go on."""
OURS = {"lock", "mariadb"}
"""What a folder for the private database holds."""


def main() -> int:
    """Runs Bindu until it is told to end. Returns the exit status."""
    for number in (signal.SIGTERM, signal.SIGINT, signal.SIGHUP):
        signal.signal(number, _interrupt)
    try:
        port = _port()
        with database_for_use() as (url, database):
            return _serve(port, {**os.environ, URL_VARIABLE: url}, database)
    except NoDatabase as error:
        print(f"bindu: {error}", file=sys.stderr)
        return 2
    except KeyboardInterrupt:
        return 0


def _port() -> int:
    text = os.environ.get("BINDU_PORT", "8717")
    if not (text.isascii() and text.isdigit() and 1 <= int(text) <= 65535):
        raise NoDatabase(f"BINDU_PORT must be a port from 1 to 65535, not {text!r}.")
    if not _is_free(int(text)):
        raise NoDatabase(
            f"something is listening on 127.0.0.1:{text} already; end it, or set BINDU_PORT "
            "to another port."
        )
    return int(text)


def _is_free(port: int) -> bool:
    with socket.socket() as probe:
        probe.setsockopt(socket.SOL_SOCKET, socket.SO_REUSEADDR, 1)
        try:
            probe.bind(("127.0.0.1", port))
        except OSError:
            return False
        return True


def _interrupt(number: int, frame: FrameType | None) -> None:
    raise KeyboardInterrupt


@contextmanager
def database_for_use() -> Iterator[tuple[str, MariaDB | None]]:
    """The database that the environment names, or a private one for as long as needed: its address,
    and what runs it.

    Raises:
        NoDatabase: when the folder of the private one cannot be used, or it does not start.
    """
    given = os.environ.get(URL_VARIABLE)
    if given:
        yield given, None
        return
    folder = Path(os.environ.get("BINDU_VAR", ROOT / "var")).absolute()
    try:
        _close(folder)
        lock = (folder / "lock").open("w")
    except OSError as error:
        raise NoDatabase(
            f"{error.filename or folder} cannot be used: {error.strerror}. Set BINDU_VAR to a "
            "folder of Bindu's own."
        ) from None
    with lock:
        try:
            fcntl.flock(lock, fcntl.LOCK_EX | fcntl.LOCK_NB)
        except BlockingIOError:
            raise NoDatabase(f"another Bindu is running on {folder}; end it first.") from None
        database = MariaDB(folder / "mariadb")
        try:
            database.start()
            yield database.url, database
        finally:
            database.stop()


def _close(folder: Path) -> None:
    """Makes a folder that only its owner enters; one of an earlier Bindu is brought to that.

    Raises:
        NoDatabase: when it holds what is not Bindu's.
        OSError: when it cannot be made or changed.
    """
    folder.mkdir(mode=0o700, parents=True, exist_ok=True)
    others = sorted(path.name for path in folder.iterdir() if path.name not in OURS)
    if others:
        raise NoDatabase(
            f"{folder} holds other things too ({', '.join(others[:3])}); set BINDU_VAR to a folder "
            "of Bindu's own."
        )
    folder.chmod(0o700)
    account().give(folder)


def _serve(port: int, environment: dict[str, str], database: MariaDB | None) -> int:
    prepared = subprocess.run([sys.executable, "-m", "bindu.web.prepare"], env=environment)
    if prepared.returncode != 0:
        return prepared.returncode
    server = _launched(port, environment)
    pause, launched = SOONEST, time.monotonic()
    try:
        if _answers(server, port):
            print(f"Bindu is at http://127.0.0.1:{port}/ — Ctrl-C ends it.", flush=True)
        while (status := _watch(server, database)) < 0:
            print("bindu: the server was killed; starting it again …", file=sys.stderr, flush=True)
            _end(server)
            settled = time.monotonic() - launched > SETTLED
            pause = SOONEST if settled else min(2.0 * pause, LATEST)
            time.sleep(pause)
            server, launched = _launched(port, environment), time.monotonic()
        return status
    finally:
        _end(server)


def _launched(port: int, environment: dict[str, str]) -> subprocess.Popen[bytes]:
    """The server, in a process group of its own with its workers."""
    return subprocess.Popen(
        [
            sys.executable,
            "-m",
            "gunicorn",
            f"--bind=127.0.0.1:{port}",
            f"--workers={environment.get('BINDU_WORKERS', '1')}",
            "--config=python:bindu.web.gunicorn",
            "bindu.web.server:application()",
        ],
        env=environment,
        start_new_session=True,
    )


def _watch(server: subprocess.Popen[bytes], database: MariaDB | None) -> int:
    """Waits for the server to end (its status: below 0 when it was killed), and starts the private
    database again whenever that ends: at once, then less and less often while it keeps ending."""
    pause, started = SOONEST, time.monotonic()
    while True:
        with suppress(subprocess.TimeoutExpired):
            return server.wait(0.2)
        now = time.monotonic()
        if database is None or database.running:
            pause = SOONEST if now - started > SETTLED else pause
            continue
        if now - started < pause:
            continue
        print("bindu: the database has ended; starting it again …", file=sys.stderr, flush=True)
        started, pause = now, min(2.0 * pause, LATEST)
        try:
            database.start()
        except NoDatabase as error:
            print(f"bindu: {error}\nbindu: trying again later.", file=sys.stderr, flush=True)


def _answers(server: subprocess.Popen[bytes], port: int) -> bool:
    """Waits until the server answers; False when it has ended instead."""
    patient_until = time.monotonic() + PATIENCE
    while server.poll() is None:
        try:
            urllib.request.urlopen(f"http://127.0.0.1:{port}/api/health", timeout=2).close()
            return True
        except (urllib.error.URLError, OSError):
            time.sleep(0.05)
        if time.monotonic() > patient_until:
            print("bindu: the server has not answered yet; still waiting …", file=sys.stderr)
            patient_until += PATIENCE
    return False


def _end(server: subprocess.Popen[bytes]) -> None:
    """Ends the server with all its workers, even those in the middle of something long."""
    if server.poll() is None:
        server.terminate()
        with suppress(subprocess.TimeoutExpired):
            server.wait(ENDING - 1.0)
    with suppress(ProcessLookupError):
        os.killpg(server.pid, signal.SIGKILL)
    server.wait()


if __name__ == "__main__":
    sys.exit(main())
