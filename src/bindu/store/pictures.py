"""Small pictures of scenes."""

from __future__ import annotations

from sqlalchemy import Engine, select
from sqlalchemy.orm import Session

from bindu.store.models import PictureRow
from bindu.store.scenes import scene_row


class Pictures:
    """The pictures of the scenes of a database, one of each."""

    def __init__(self, engine: Engine) -> None:
        self._engine = engine

    def put(self, scene_id: int, image: bytes, revision: int) -> None:
        """Keeps a picture in place of the one before, unless that shows a later revision.

        Raises:
            NoSuchScene: also for one in the bin.
        """
        with Session(self._engine) as session, session.begin():
            scene_row(session, scene_id, lock=True)
            row = session.get(PictureRow, scene_id)
            if row is None:
                session.add(PictureRow(scene_id=scene_id, revision=revision, image=image))
            elif row.revision <= revision:
                row.revision, row.image = revision, image

    def of(self, scene_id: int) -> bytes | None:
        """A scene's picture; also of one in the bin."""
        with Session(self._engine) as session:
            return session.scalar(select(PictureRow.image).where(PictureRow.scene_id == scene_id))
