"""Entry points: the application for gunicorn, and the OpenAPI document."""

from __future__ import annotations

import json

from flask_openapi3 import OpenAPI
from sqlalchemy import create_engine

from bindu.collector import calm_collector
from bindu.store.address import url_from_environment
from bindu.store.database import engine_at
from bindu.web.app import create_app


def application() -> OpenAPI:
    """The application on the database that the environment names."""
    calm_collector()
    return create_app(engine_at(url_from_environment()))


def openapi() -> str:
    """The OpenAPI document, made from the code; no database is asked."""
    app = create_app(create_engine("mysql+pymysql://nobody@127.0.0.1:1/none"), documented=True)
    document = app.api_doc
    # Nobody signs in; a place for it that holds nothing is not allowed.
    document["components"].pop("securitySchemes", None)
    return json.dumps(document, indent=1) + "\n"


if __name__ == "__main__":
    print(openapi(), end="")
