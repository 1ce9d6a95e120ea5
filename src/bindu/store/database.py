"""The connection to the database, and its migrations."""

from __future__ import annotations

import os
from pathlib import Path

from alembic import command
from alembic.config import Config
from sqlalchemy import Engine, create_engine

URL_VARIABLE = "BINDU_DATABASE_URL"


def engine_at(url: str) -> Engine:
    """An engine for a MariaDB URL (``mysql+pymysql://…``)."""
    return create_engine(url, pool_pre_ping=True, pool_recycle=1800)


def url_from_environment() -> str:
    """The database's URL, which the start command or the person sets.

    Raises:
        SystemExit: when nobody set it.
    """
    url = os.environ.get(URL_VARIABLE)
    if not url:
        raise SystemExit(f"bindu: set {URL_VARIABLE}, or use ./start, which brings a database.")
    return url


def migrate(url: str, version: str = "head") -> None:
    """Brings the tables up to date, or to an earlier version."""
    config = Config()
    config.set_main_option("script_location", str(Path(__file__).parent / "migrations"))
    config.attributes["url"] = url
    command.upgrade(config, version)
