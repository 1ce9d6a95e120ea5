"""What happens before the first server: the database brought up to date, the demo put into an empty
one. It needs nothing of the API, whose types take the longest to make."""

from __future__ import annotations

import sys

from sqlalchemy.exc import SQLAlchemyError

from bindu.demo import demo_scenes
from bindu.store.database import engine_at, migrate, url_from_environment
from bindu.store.scenes import Scenes


def prepare() -> None:
    """Brings the database that the environment names up to date, and puts the demo into it if it
    is empty.

    Raises:
        SystemExit: 2, when the database cannot be used; the reason is printed.
    """
    url = url_from_environment()
    try:
        migrate(url)
        scenes = Scenes(engine_at(url))
        if not scenes.entries():
            for scene in demo_scenes():
                scenes.add(scene)
    except (SQLAlchemyError, ModuleNotFoundError) as error:
        reason = getattr(error, "orig", None) or error
        print(f"bindu: the database cannot be used: {reason}", file=sys.stderr)
        raise SystemExit(2) from None


if __name__ == "__main__":
    prepare()
