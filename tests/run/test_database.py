"""The private database: closed to every other user, without rights beyond its own tables."""

from __future__ import annotations

import os
import pwd
import stat
import subprocess
import sys
from collections.abc import Iterator
from contextlib import contextmanager
from pathlib import Path

import pymysql
import pytest
from sqlalchemy import create_engine, text
from sqlalchemy.exc import DBAPIError

from bindu.run.account import account
from bindu.run.mariadb import MariaDB, NoDatabase
from bindu.store.database import engine_at
from bindu.store.upgrade import migrate
from tests.conftest import ROOT, open_folder

AS_ROOT = os.geteuid() == 0
NOBODY = pwd.getpwnam("nobody")


@contextmanager
def running(folder: Path) -> Iterator[MariaDB]:
    """A database on a folder, for a while."""
    database = MariaDB(folder)
    database.start()
    try:
        yield database
    finally:
        database.stop()


def owner_of(folder: Path) -> int:
    """As whom the server on a folder runs."""
    pid = (folder / "mariadb.pid").read_text().strip()
    status = Path(f"/proc/{pid}/status").read_text()
    return int(next(line.split()[1] for line in status.splitlines() if line.startswith("Uid:")))


def looked_at_by_another(path: Path) -> str:
    """What a user who has nothing to do with Bindu is told about a file."""
    done = subprocess.run(
        ["/bin/ls", "-l", str(path)],
        capture_output=True,
        text=True,
        cwd="/",
        user=NOBODY.pw_uid,
        group=NOBODY.pw_gid,
        extra_groups=[],
    )
    return done.stdout + done.stderr


@pytest.mark.skipif(not AS_ROOT, reason="only root can be another user")
def test_another_user_gets_nowhere(database_url: str, database_folder: Path) -> None:
    for path in ("mariadb.sock", "password", "data/mysql", "mariadb.log"):
        told = looked_at_by_another(database_folder / path)
        assert "Permission denied" in told, path
    # TCP is not listened to at all, and nobody else gets in by the socket either.
    with engine_at(database_url).connect() as connection:
        assert connection.execute(text("SELECT @@skip_networking")).scalar() == 1
    assert owner_of(database_folder) != 0


def test_folders_are_closed_and_the_account_has_no_more_than_it_needs(
    database_url: str, database_folder: Path
) -> None:
    for name in ("", "data", "tmp", "files"):
        assert stat.S_IMODE((database_folder / name).stat().st_mode) == 0o700, name
    assert stat.S_IMODE((database_folder / "password").stat().st_mode) == 0o600
    assert not list((database_folder / "files").iterdir())
    assert not (database_folder / "setup.sql").exists()
    with engine_at(database_url).connect() as connection:
        grants = [row[0] for row in connection.execute(text("SHOW GRANTS"))]
        assert len(grants) == 2 and "USAGE ON *.*" in grants[0] and "FILE" not in str(grants)
        place = connection.execute(text("SELECT @@secure_file_priv")).scalar()
        assert Path(str(place)) == database_folder / "files"
        assert connection.execute(text("SELECT load_file('/etc/passwd')")).scalar() is None
        for forbidden in (
            f"SELECT 1 INTO OUTFILE '{database_folder}/files/x'",
            "SELECT * FROM mysql.global_priv",
            "CREATE USER someone@localhost",
            "CREATE DATABASE other",
        ):
            with pytest.raises(DBAPIError):
                connection.execute(text(forbidden))
    socket = str(database_folder / "mariadb.sock")
    for user, password in (("root", ""), ("bindu", ""), ("", ""), ("bindu", "guess")):
        with pytest.raises(pymysql.err.OperationalError):
            pymysql.connect(unix_socket=socket, user=user, password=password)


def test_an_older_folder_is_brought_to_this_and_keeps_what_it_holds() -> None:
    with open_folder() as base:
        folder = base / "mariadb"
        with running(folder) as database:
            migrate(database.url)
            with create_engine(database.url).begin() as connection:
                connection.execute(text("CREATE TABLE kept (n INT)"))
                connection.execute(text("INSERT INTO kept VALUES (7)"))
        # As it was left by a Bindu that let everybody in: open folders, root without a password.
        (folder / "password").unlink()
        for path in (folder, folder / "data"):
            path.chmod(0o755)
            os.chown(path, os.geteuid(), os.getegid())
        old = MariaDB(folder)
        old._close_folders()
        account_of_old = "INSERT INTO mysql.global_priv VALUES ('%', 'root', '{\"access\":1}');"
        boot = subprocess.run(
            ["/usr/sbin/mariadbd", "--no-defaults", "--bootstrap",
             f"--datadir={folder / 'data'}", f"--tmpdir={folder / 'tmp'}"],
            input=account_of_old.encode(), capture_output=True, **account().popen,
        )  # fmt: skip
        assert boot.returncode == 0, boot.stderr
        with running(folder) as database:
            assert stat.S_IMODE(folder.stat().st_mode) == 0o700
            assert account().uid == folder.stat().st_uid
            with pytest.raises(pymysql.err.OperationalError):
                pymysql.connect(unix_socket=str(folder / "mariadb.sock"), user="root")
            with create_engine(database.url).connect() as connection:
                assert connection.execute(text("SELECT n FROM kept")).scalar() == 7


def test_a_folder_may_be_called_anything() -> None:
    name = '-with a blank, it\'s "quoted" مجلد' + "a" * 142
    with open_folder() as base:
        beside = base / "-with"
        beside.mkdir()
        before = beside.stat()
        with running(base / name / "mariadb") as database, engine_at(database.url).connect() as one:
            assert one.execute(text("SELECT 1")).scalar() == 1
        after = beside.stat()
        assert (before.st_uid, before.st_mode) == (after.st_uid, after.st_mode)


@pytest.mark.skipif(not AS_ROOT, reason="root may go anywhere, its database may not")
def test_a_folder_that_the_account_cannot_enter_is_served_from_elsewhere() -> None:
    with open_folder() as base:
        closed = base / "closed"
        closed.mkdir(mode=0o700)
        with running(closed / "mariadb") as database:
            migrate(database.url)
        home = Path((closed / "mariadb" / "WHERE").read_text().split()[-1].rstrip("."))
        assert stat.S_IMODE(home.stat().st_mode) == 0o700
        subprocess.run(["rm", "-rf", "--", str(home)], check=True)


def test_a_broken_record_of_a_server_is_passed_over() -> None:
    with open_folder() as base:
        (base / "mariadb").mkdir()
        for record in ("", "٣", "1"):
            (base / "mariadb" / "mariadb.pid").write_text(record)
            with running(base / "mariadb"):
                pass


def test_a_file_in_the_place_of_the_folder_is_said() -> None:
    with open_folder() as base:
        (base / "mariadb").write_text("")
        with pytest.raises(NoDatabase, match="cannot be used"):
            MariaDB(base / "mariadb").start()


def start_says(expected: str, **environment: str) -> None:
    """The start command refuses with one line."""
    done = subprocess.run(
        [sys.executable, "-m", "bindu.run.start"],
        cwd=ROOT,
        env={**os.environ, "PYTHONPATH": "src", **environment},
        capture_output=True,
        text=True,
        timeout=60,
    )
    assert done.returncode == 2, done.stderr
    assert expected in done.stderr and "Traceback" not in done.stderr
    assert done.stderr.count("\n") == 1, done.stderr


def test_a_start_that_cannot_be_says_why_in_one_line() -> None:
    start_says("must be a port", BINDU_PORT="٨٧١٧")
    start_says("must be a port", BINDU_PORT="0")
    with open_folder() as base:
        (base / "file").write_text("")
        (base / "mine").mkdir()
        (base / "mine" / "letter.txt").write_text("")
        start_says("cannot be used", BINDU_VAR=str(base / "file"))
        start_says("holds other things too (letter.txt)", BINDU_VAR=str(base / "mine"))
        start_says("cannot be used", BINDU_VAR="/proc/nowhere/var")
    gone = "mysql+pymysql://nobody@127.0.0.1:1/none"
    start_says("the database cannot be used", BINDU_DATABASE_URL=gone)
