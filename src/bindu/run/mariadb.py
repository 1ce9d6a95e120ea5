"""A private MariaDB with its own data folder. It listens on a socket in a closed folder only, never
runs as root, and has one account, with a random password and no rights beyond its own database."""

from __future__ import annotations

import hashlib
import os
import secrets
import shutil
import signal
import stat
import subprocess
import tempfile
import time
from pathlib import Path
from urllib.parse import quote

import pymysql

from bindu.run.account import Account, account

DATABASE = "bindu"
USER = "bindu"
RIGHTS = "SELECT, INSERT, UPDATE, DELETE, CREATE, ALTER, DROP, INDEX, REFERENCES"
PATIENCE = 60.0
ELSEWHERE = Path("/var/lib/bindu-db")
"""Where the data of a folder goes that the unprivileged account cannot enter."""
LONGEST_SOCKET = 100
SYSTEM_TABLES = (
    "mysql_system_tables.sql",
    "mysql_performance_tables.sql",
    "mysql_system_tables_data.sql",
    "mysql_sys_schema.sql",
)
TABLES_FOLDERS = (Path("/usr/share/mysql"), Path("/usr/share/mariadb"))


class NoDatabase(RuntimeError):
    """MariaDB cannot be started; the message says why and what to do."""


class MariaDB:
    """A server on a folder; it ends with ``stop``."""

    def __init__(self, folder: Path) -> None:
        self._account = account()
        self._folder = _home(folder.resolve(), self._account)
        self._process: subprocess.Popen[bytes] | None = None

    @property
    def url(self) -> str:
        """Where SQLAlchemy finds the database; the same after every start."""
        socket = quote(str(self._socket), safe="")
        who = f"{USER}:{self._password()}@localhost"
        return f"mysql+pymysql://{who}/{DATABASE}?unix_socket={socket}&charset=utf8mb4"

    @property
    def running(self) -> bool:
        """Whether the server is there."""
        return self._process is not None and self._process.poll() is None

    def start(self) -> None:
        """Starts the server, with a new data folder where there is none.

        Raises:
            NoDatabase: when the programs are missing, the folder cannot be used, or the server does
                not come up.
        """
        server = _program("mariadbd", "mysqld")
        try:
            self._close_folders()
            self._end_left_over()
            if not (self._folder / "data" / "mysql").is_dir():
                self._install(server)
            setup = self._setup_file()
            log = self._folder / "mariadb.log"
            with log.open("ab") as output:
                command = [server, *self._options(), f"--init-file={setup}"]
                self._process = subprocess.Popen(
                    command,
                    stdout=output,
                    stderr=output,
                    stdin=subprocess.DEVNULL,
                    cwd=self._folder,
                    start_new_session=True,
                    **self._account.popen,
                )
        except OSError as error:
            raise NoDatabase(f"{self._folder} cannot be used: {error.strerror}.") from None
        self._wait(log)
        setup.unlink(missing_ok=True)

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

    @property
    def _socket(self) -> Path:
        return _socket_folder(self._folder, self._account) / "mariadb.sock"

    def _close_folders(self) -> None:
        """Gives all that is there to the account alone."""
        for name in ("", "data", "tmp", "files"):
            place = self._folder / name
            place.mkdir(mode=0o700, parents=True, exist_ok=True)
            place.chmod(0o700)
        if self._account.changed:
            for path in (self._folder, *self._folder.rglob("*")):
                if path.name != "password":
                    os.lchown(path, self._account.uid, self._account.gid)

    def _password(self) -> str:
        """The password of the one account, made at first."""
        file = self._folder / "password"
        try:
            handle = os.open(file, os.O_WRONLY | os.O_CREAT | os.O_EXCL, 0o600)
        except FileExistsError:
            return file.read_text().strip()
        with os.fdopen(handle, "w") as made:
            made.write(password := secrets.token_hex(24))
        return password

    def _setup_file(self) -> Path:
        """What the server does before it answers anybody: the database, and one account."""
        file = self._folder / "setup.sql"
        file.unlink(missing_ok=True)
        handle = os.open(file, os.O_WRONLY | os.O_CREAT | os.O_EXCL, 0o600)
        with os.fdopen(handle, "w") as made:
            made.write(
                f"CREATE DATABASE IF NOT EXISTS {DATABASE};\n"
                "DELETE FROM mysql.global_priv WHERE User NOT IN ('mariadb.sys', 'PUBLIC');\n"
                "DELETE FROM mysql.db;\n"
                "DELETE FROM mysql.proxies_priv;\n"
                "FLUSH PRIVILEGES;\n"
                f"CREATE USER {USER}@localhost IDENTIFIED BY '{self._password()}';\n"
                f"GRANT {RIGHTS} ON {DATABASE}.* TO {USER}@localhost;\n"
            )
        self._account.give(file)
        return file

    def _end_left_over(self) -> None:
        """Ends a server on this folder whose starter was killed before it could end it."""
        record = self._folder / "mariadb.pid"
        text = record.read_text().strip() if record.is_file() else ""
        if not text.isascii() or not text.isdigit():
            return
        command = Path(f"/proc/{int(text)}/cmdline")
        ours = str(self._folder).encode()
        if command.is_file() and ours in command.read_bytes():
            os.kill(int(text), signal.SIGTERM)
            end = time.monotonic() + PATIENCE
            while command.is_file() and command.read_bytes() and time.monotonic() < end:
                time.sleep(0.05)

    def _install(self, server: str) -> None:
        """Makes a new data folder with MariaDB's own tables, as its install script does; no shell
        has a hand in it, so the folder may be called anything."""
        data, making = self._folder / "data", self._folder / "data.new"
        shutil.rmtree(making, ignore_errors=True)
        making.mkdir(mode=0o700)
        self._account.give(making)
        tables = [_system_tables(name).read_text() for name in SYSTEM_TABLES]
        text = "\n".join(["CREATE DATABASE mysql;", "USE mysql;", *tables])
        done = subprocess.run(
            [server, "--no-defaults", "--bootstrap", f"--datadir={making}",
             f"--tmpdir={self._folder / 'tmp'}", "--max-allowed-packet=8M",
             "--net-buffer-length=16K", "--enforce-storage-engine="],
            input=text.encode(),
            capture_output=True,
            cwd=self._folder,
            **self._account.popen,
        )  # fmt: skip
        if done.returncode != 0:
            said = (done.stdout + done.stderr)[-500:].decode(errors="replace")
            raise NoDatabase(f"MariaDB could not make its data folder: {said}")
        shutil.rmtree(data, ignore_errors=True)
        making.rename(data)

    def _options(self) -> list[str]:
        folder = self._folder
        return [
            "--no-defaults",
            f"--datadir={folder / 'data'}",
            f"--tmpdir={folder / 'tmp'}",
            f"--secure-file-priv={folder / 'files'}",
            f"--socket={self._socket}",
            f"--pid-file={folder / 'mariadb.pid'}",
            "--skip-networking",
            "--skip-symbolic-links",
            "--local-infile=0",
            "--max-allowed-packet=256M",
            "--innodb-flush-log-at-trx-commit=1",
            "--innodb-buffer-pool-size=128M",
            "--skip-log-bin",
        ]

    def _wait(self, log: Path) -> None:
        """Waits until the server answers its one account."""
        assert self._process is not None
        end = time.monotonic() + PATIENCE
        while time.monotonic() < end and self._process.poll() is None:
            try:
                pymysql.connect(
                    unix_socket=str(self._socket),
                    user=USER,
                    password=self._password(),
                    database=DATABASE,
                ).close()
                return
            except pymysql.err.OperationalError:
                time.sleep(0.05)
        tail = log.read_text(errors="replace")[-600:]
        self.stop()
        raise NoDatabase(f"MariaDB did not come up. Its log, {log}, ends:\n{tail}")


def _home(folder: Path, owner: Account) -> Path:
    """Where the data of a folder is: in it, unless the unprivileged account cannot get there."""
    if not owner.changed or all(owner.enters(above) for above in folder.parents):
        return folder
    home = ELSEWHERE / hashlib.sha256(str(folder).encode()).hexdigest()[:16]
    ELSEWHERE.mkdir(mode=0o711, parents=True, exist_ok=True)
    if (folder / "data").is_dir() and not home.exists():
        shutil.move(folder, home)
    folder.mkdir(mode=0o700, parents=True, exist_ok=True)
    (folder / "WHERE").write_text(f"The data is in {home}.\n")
    return home


def _socket_folder(folder: Path, owner: Account) -> Path:
    """A closed folder whose sockets have short enough names for the system."""
    if len(str(folder / "mariadb.sock").encode()) < LONGEST_SOCKET:
        return folder
    short = hashlib.sha256(str(folder).encode()).hexdigest()[:16]
    place = Path(tempfile.gettempdir()) / f"bindu-{owner.uid}-{short}"
    place.mkdir(mode=0o700, exist_ok=True)
    owner.give(place)
    found = place.lstat()
    if not stat.S_ISDIR(found.st_mode) or found.st_uid != owner.uid or found.st_mode & 0o077:
        raise NoDatabase(f"{place} belongs to somebody else; delete it, or set BINDU_VAR.")
    return place


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


def _system_tables(name: str) -> Path:
    for folder in TABLES_FOLDERS:
        if (folder / name).is_file():
            return folder / name
    raise NoDatabase(f"MariaDB's {name} is missing; install Debian's mariadb-server-core again.")
