"""As whom the database runs: the present user, or, for root, a system user without rights."""

from __future__ import annotations

import os
import pwd
import subprocess
from dataclasses import dataclass
from pathlib import Path
from typing import Any

NAME = "bindu-db"


@dataclass(frozen=True)
class Account:
    """A user of this machine; ``changed``: another one than runs this process."""

    uid: int
    gid: int
    changed: bool

    @property
    def popen(self) -> dict[str, Any]:
        """Arguments of ``subprocess.Popen`` that run a program as this user from its first step."""
        if not self.changed:
            return {}
        return {"user": self.uid, "group": self.gid, "extra_groups": []}

    def give(self, path: Path) -> None:
        """Makes this user the owner."""
        if self.changed:
            os.lchown(path, self.uid, self.gid)

    def enters(self, folder: Path) -> bool:
        """Whether this user may go through a folder."""
        found = folder.stat() if folder.exists() else None
        if found is None:
            return True
        bit = 0o100 if found.st_uid == self.uid else 0o010 if found.st_gid == self.gid else 0o001
        return bool(found.st_mode & bit)


def account() -> Account:
    """The user that the database is to run as; made on this machine where root has none yet."""
    if os.geteuid() != 0:
        return Account(os.geteuid(), os.getegid(), changed=False)
    found = _entry(NAME)
    if found is None:
        subprocess.run(
            ["useradd", "--system", "--no-create-home", "--home-dir=/nonexistent",
             "--shell=/usr/sbin/nologin", NAME],
            capture_output=True,
            env={**os.environ, "PATH": f"{os.environ.get('PATH', '')}:/usr/sbin"},
        )  # fmt: skip
        found = _entry(NAME) or pwd.getpwnam("nobody")
    return Account(found.pw_uid, found.pw_gid, changed=True)


def _entry(name: str) -> pwd.struct_passwd | None:
    try:
        return pwd.getpwnam(name)
    except KeyError:
        return None
