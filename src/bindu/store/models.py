"""The tables. Each thing of a scene is a row whose ``data`` is its JSON, exact to the last bit."""

from __future__ import annotations

from datetime import UTC, datetime
from typing import Any

from sqlalchemy import DateTime, Double, ForeignKey, Index, Integer, String
from sqlalchemy.dialects.mysql import LONGTEXT, MEDIUMBLOB
from sqlalchemy.orm import DeclarativeBase, Mapped, mapped_column


def now() -> datetime:
    """The present time, UTC."""
    return datetime.now(UTC).replace(tzinfo=None)


MARIADB = {"mysql_charset": "utf8mb4", "mysql_collate": "utf8mb4_bin"}


class Base(DeclarativeBase):
    """All tables."""

    __table_args__: Any = MARIADB


class SceneRow(Base):
    """A scene: its header, the revision that its other rows are at, when it was put into the bin,
    if it is there, its tags, one a line, and how much checks found in the revision ``checked``."""

    __tablename__ = "scenes"

    id: Mapped[int] = mapped_column(primary_key=True)
    name: Mapped[str] = mapped_column(String(80))
    fps: Mapped[float] = mapped_column(Double)
    first: Mapped[int] = mapped_column(Integer)
    last: Mapped[int] = mapped_column(Integer)
    revision: Mapped[int] = mapped_column(Integer, default=0)
    changed: Mapped[datetime] = mapped_column(DateTime, default=now)
    binned: Mapped[datetime | None] = mapped_column(DateTime, default=None)
    tags: Mapped[str] = mapped_column(String(600), default="", server_default="")
    findings: Mapped[int | None] = mapped_column(Integer, default=None)
    checked: Mapped[int | None] = mapped_column(Integer, default=None)


class PictureRow(Base):
    """A small picture of a scene, and the revision that it shows."""

    __tablename__ = "pictures"

    scene_id: Mapped[int] = mapped_column(
        ForeignKey("scenes.id", ondelete="CASCADE"), primary_key=True
    )
    revision: Mapped[int] = mapped_column(Integer)
    image: Mapped[bytes] = mapped_column(MEDIUMBLOB)


class _Row:
    """A row for something of a scene, found by the key that the scene finds it by."""

    scene_id: Mapped[int] = mapped_column(
        ForeignKey("scenes.id", ondelete="CASCADE"), primary_key=True
    )
    key: Mapped[str] = mapped_column("thing", String(100), primary_key=True)
    data: Mapped[str] = mapped_column(LONGTEXT)


class PartRow(_Row, Base):
    """A part; the key is its identity."""

    __tablename__ = "parts"


class CurveRow(_Row, Base):
    """A curve with its keys; the key is ``part/channel``."""

    __tablename__ = "curves"


class ThingRow(_Row, Base):
    """Anything else of a scene; the key is its identity, ``kind`` the scene's table of it."""

    __tablename__ = "things"

    kind: Mapped[str] = mapped_column(String(20), primary_key=True)


class EditRow(Base):
    """One recorded edit: what it changed, so that it can be taken back.

    ``state`` is ``done``, ``undone`` or ``dropped`` (undone, and out of reach since a newer
    edit) for edits that people made; ``undo`` and ``redo`` for edits that took one back or did
    it again, named by ``target``.
    """

    __tablename__ = "edits"
    __table_args__ = (Index("edits_by_state", "scene_id", "state", "revision"), MARIADB)

    scene_id: Mapped[int] = mapped_column(
        ForeignKey("scenes.id", ondelete="CASCADE"), primary_key=True
    )
    revision: Mapped[int] = mapped_column(Integer, primary_key=True)
    label: Mapped[str] = mapped_column(String(300))
    state: Mapped[str] = mapped_column(String(10))
    target: Mapped[int | None] = mapped_column(Integer)
    touched: Mapped[str] = mapped_column(LONGTEXT)
    patch: Mapped[str] = mapped_column(LONGTEXT)
    made: Mapped[datetime] = mapped_column(DateTime, default=now)
