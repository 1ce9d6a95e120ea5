"""What happens before the first server: the database brought up to date, the demo put into an empty
one. It needs nothing of the API, whose types take the longest to make."""

from __future__ import annotations

import sys

from sqlalchemy import Engine, select
from sqlalchemy.exc import SQLAlchemyError
from sqlalchemy.orm import Session

from bindu.store.address import url_from_environment
from bindu.store.database import engine_at
from bindu.store.models import SceneRow
from bindu.store.upgrade import migrate


def prepare() -> None:
    """Brings the database that the environment names up to date, and puts the demo into it if it
    is empty.

    Raises:
        SystemExit: 2, when the database cannot be used; the reason is printed.
    """
    url = url_from_environment()
    try:
        migrate(url)
        engine = engine_at(url)
        with Session(engine) as session:
            empty = session.scalar(select(SceneRow.id).limit(1)) is None
        if empty:
            _put_demo(engine)
    except (SQLAlchemyError, ModuleNotFoundError) as error:
        reason = getattr(error, "orig", None) or error
        print(f"bindu: the database cannot be used: {reason}", file=sys.stderr)
        raise SystemExit(2) from None


def _put_demo(engine: Engine) -> None:
    # Imported here: a start that finds scenes need not wait for all that makes them.
    from bindu.demo import FINDINGS, portrait_file, scene_file
    from bindu.formats.scene.scene_json import read_scene
    from bindu.store.pictures import Pictures
    from bindu.store.scenes import Scenes

    scenes, pictures = Scenes(engine), Pictures(engine)
    # The first of them last: what was changed last is listed first.
    for name, found in reversed(list(FINDINGS.items())):
        number = scenes.add(read_scene(scene_file(name).read_bytes()))
        pictures.put(number, portrait_file(name).read_bytes(), 0)
        scenes.note_findings(number, 0, found)


if __name__ == "__main__":
    prepare()
