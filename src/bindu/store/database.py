"""The connection to the database."""

from __future__ import annotations

from sqlalchemy import Engine, create_engine


def engine_at(url: str) -> Engine:
    """An engine for a MariaDB URL (``mysql+pymysql://…``)."""
    return create_engine(url, pool_pre_ping=True, pool_recycle=1800)
