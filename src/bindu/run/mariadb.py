"""A private MariaDB on 127.0.0.1 with its own data folder."""

from __future__ import annotations

import os
import pwd
import shutil
import signal
import socket
import subprocess
import time
from pathlib import Path

import pymysql

DATABASE = "bindu"
USER = "bindu"
PATIENCE = 60.0


class NoDatabase(RuntimeError):
    """MariaDB cannot be started; the message says why and what to do."""


def free_port() -> int:
    """A port on 127.0.0.1 that nobody listens on."""
    with socket.socket() as listener:
        listener.bind(("127.0.0.1", 0))
        port: int = listener.getsockname()[1]
        return port


class MariaDB:
    """A server on a folder. It listens on 127.0.0.1 only, and ends with ``stop``."""

    def __init__(self, folder: Path) -> None:
        self._folder = folder.resolve()
        self._port = free_port()
        self._process: subprocess.Popen[bytes] | None = None

    @property
    def url(self) -> str:
        """Where SQLAlchemy finds the database."""
        return f"mysql+pymysql://{USER}@127.0.0.1:{self._port}/{DATABASE}?charset=utf8mb4"

    def start(self) -> None:
        """Starts the server, with a new data folder where there is none.

        Raises:
            NoDatabase: when the programs are missing or the server does not come up.
        """
        server = _program("mariadbd", "mysqld")
        data = self._folder / "data"
        self._end_left_over()
        if not (data / "mysql").is_dir():
            self._install(data)
        log = self._folder / "mariadb.log"
        with log.open("ab") as output:
            self._process = subprocess.Popen(
                [server, *self._options(data)],
                stdout=output,
                stderr=output,
                start_new_session=True,
            )
        self._wait(log)

    def stop(self) -> None:
        """Ends the server in order; what was committed is on disk either way."""
        if self._process is None:
            return
        self._process.terminate()
        try:
            self._process.wait(30)
        except subprocess.TimeoutExpired:
            self._process.kill()
            self._process.wait()
        self._process = None

    def _end_left_over(self) -> None:
        """Ends a server on this folder whose starter was killed before it could end it."""
        record = self._folder / "mariadb.pid"
        if not record.is_file():
            return
        pid = int(record.read_text().strip() or 0)
        command = Path(f"/proc/{pid}/cmdline")
        ours = str(self._folder).encode()
        if pid and command.is_file() and ours in command.read_bytes():
            os.kill(pid, signal.SIGTERM)
            end = time.monotonic() + PATIENCE
            while command.is_file() and command.read_bytes() and time.monotonic() < end:
                time.sleep(0.05)

    def _install(self, data: Path) -> None:
        self._folder.mkdir(parents=True, exist_ok=True)
        making = self._folder / "data.new"
        shutil.rmtree(making, ignore_errors=True)
        done = subprocess.run(
            [
                _program("mariadb-install-db"),
                "--no-defaults",
                f"--datadir={making}",
                f"--user={_user()}",
                "--auth-root-authentication-method=normal",
                "--skip-test-db",
            ],
            capture_output=True,
            text=True,
        )
        if done.returncode != 0:
            raise NoDatabase(
                f"MariaDB could not make its data folder: {(done.stdout + done.stderr)[-500:]}"
            )
        shutil.rmtree(data, ignore_errors=True)
        making.rename(data)

    def _options(self, data: Path) -> list[str]:
        return [
            "--no-defaults",
            f"--user={_user()}",
            f"--datadir={data}",
            f"--socket={_short_socket(self._folder)}",
            f"--pid-file={self._folder / 'mariadb.pid'}",
            f"--port={self._port}",
            "--bind-address=127.0.0.1",
            "--max-allowed-packet=256M",
            "--innodb-flush-log-at-trx-commit=1",
            "--innodb-buffer-pool-size=128M",
            "--skip-log-bin",
        ]

    def _wait(self, log: Path) -> None:
        """Waits until the server answers, and makes the database and its user."""
        assert self._process is not None
        end = time.monotonic() + PATIENCE
        while time.monotonic() < end:
            if self._process.poll() is not None:
                break
            try:
                with pymysql.connect(
                    unix_socket=str(_short_socket(self._folder)), user="root"
                ) as connection:
                    cursor = connection.cursor()
                    cursor.execute(f"CREATE DATABASE IF NOT EXISTS {DATABASE}")
                    cursor.execute(f"CREATE USER IF NOT EXISTS {USER}@'127.0.0.1'")
                    cursor.execute(f"GRANT ALL ON {DATABASE}.* TO {USER}@'127.0.0.1'")
                return
            except pymysql.err.OperationalError:
                time.sleep(0.05)
        tail = log.read_text(errors="replace")[-600:]
        self.stop()
        raise NoDatabase(f"MariaDB did not come up. Its log, {log}, ends:\n{tail}")


def _program(*names: str) -> str:
    for name in names:
        for folder in (None, "/usr/sbin", "/usr/bin"):
            found = shutil.which(name, path=folder)
            if found:
                return found
    raise NoDatabase(
        f"{names[0]} is not on this machine. Install Debian's packages mariadb-server-core and "
        "mariadb-client-core, or set BINDU_DATABASE_URL to a MariaDB that is there."
    )


def _user() -> str:
    return pwd.getpwuid(os.getuid()).pw_name


def _short_socket(folder: Path) -> Path:
    """A socket path under the system's limit of about 100 characters."""
    usual = folder / "mariadb.sock"
    if len(str(usual)) < 100:
        return usual
    return Path("/tmp") / f"bindu-{abs(hash(str(folder))):x}.sock"
