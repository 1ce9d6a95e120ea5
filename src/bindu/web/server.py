"""Entry points: the application for gunicorn, and the OpenAPI document."""

from __future__ import annotations

import json
import sys

from flask_openapi3 import OpenAPI
from sqlalchemy import create_engine
from sqlalchemy.exc import SQLAlchemyError

from bindu.demo import demo_scenes
from bindu.store.database import engine_at, migrate, url_from_environment
from bindu.store.scenes import Scenes
from bindu.web.app import create_app
from bindu.web.collector import calm_collector


def application() -> OpenAPI:
    """The application on the database that the environment names."""
    calm_collector()
    return create_app(engine_at(url_from_environment()))


def prepare() -> None:
    """Brings the database up to date, and puts the demo into an empty one."""
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


def openapi() -> str:
    """The OpenAPI document, made from the code; no database is asked."""
    app = create_app(create_engine("mysql+pymysql://nobody@127.0.0.1:1/none"), documented=True)
    document = app.api_doc
    # Nobody signs in; a place for it that holds nothing is not allowed.
    document["components"].pop("securitySchemes", None)
    return json.dumps(document, indent=1) + "\n"


if __name__ == "__main__":
    {"prepare": prepare, "openapi": lambda: print(openapi(), end="")}[sys.argv[1]]()
