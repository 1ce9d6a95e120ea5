"""The tables brought to what this version needs."""

from __future__ import annotations

from pathlib import Path

from alembic import command
from alembic.config import Config


def migrate(url: str, version: str = "head") -> None:
    """Brings the tables up to date, or to an earlier version."""
    config = Config()
    config.set_main_option("script_location", str(Path(__file__).parent / "migrations"))
    config.attributes["url"] = url
    command.upgrade(config, version)
