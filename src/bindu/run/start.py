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
from contextlib import contextmanager
from pathlib import Path
from types import FrameType

from bindu.run.mariadb import MariaDB, NoDatabase
from bindu.store.database import URL_VARIABLE

ROOT = Path(__file__).resolve().parents[3]
PATIENCE = 30.0


def main() -> int:
    """Runs Bindu until it is told to end. Returns the exit status."""
    for number in (signal.SIGTERM, signal.SIGINT, signal.SIGHUP):
        signal.signal(number, _interrupt)
    port = os.environ.get("BINDU_PORT", "8717")
    if not port.isdigit() or not 1 <= int(port) <= 65535:
        print(f"bindu: BINDU_PORT must be a port from 1 to 65535, not {port!r}.", file=sys.stderr)
        return 2
    if not _is_free(int(port)):
        print(
            f"bindu: something is listening on 127.0.0.1:{port} already; end it, or set BINDU_PORT "
            "to another port.",
            file=sys.stderr,
        )
        return 1
    try:
        with _database() as url:
            return _serve(int(port), {**os.environ, URL_VARIABLE: url})
    except NoDatabase as error:
        print(f"bindu: {error}", file=sys.stderr)
        return 1
    except KeyboardInterrupt:
        return 0


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
def _database() -> Iterator[str]:
    """The database that the environment names, or a private one for as long as needed."""
    given = os.environ.get(URL_VARIABLE)
    if given:
        yield given
        return
    folder = Path(os.environ.get("BINDU_VAR", ROOT / "var"))
    folder.mkdir(parents=True, exist_ok=True)
    with (folder / "lock").open("w") as lock:
        try:
            fcntl.flock(lock, fcntl.LOCK_EX | fcntl.LOCK_NB)
        except BlockingIOError:
            raise NoDatabase(f"another Bindu is running on {folder}; end it first.") from None
        database = MariaDB(folder / "mariadb")
        try:
            database.start()
            yield database.url
        finally:
            database.stop()


def _serve(port: int, environment: dict[str, str]) -> int:
    prepared = subprocess.run(
        [sys.executable, "-m", "bindu.web.server", "prepare"], env=environment
    )
    if prepared.returncode != 0:
        return prepared.returncode
    server = subprocess.Popen(
        [
            sys.executable,
            "-m",
            "gunicorn",
            f"--bind=127.0.0.1:{port}",
            f"--workers={environment.get('BINDU_WORKERS', '1')}",
            "--threads=8",
            "--timeout=120",
            "--log-level=warning",
            "bindu.web.server:application()",
        ],
        env=environment,
        start_new_session=True,
    )
    try:
        if _answers(server, port):
            print(f"Bindu is at http://127.0.0.1:{port}/ — Ctrl-C ends it.", flush=True)
        return server.wait()
    finally:
        _end(server)


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
    if server.poll() is None:
        server.terminate()
        try:
            server.wait(10)
        except subprocess.TimeoutExpired:
            server.kill()
            server.wait()


if __name__ == "__main__":
    sys.exit(main())
