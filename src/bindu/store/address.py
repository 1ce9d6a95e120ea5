"""Where the database is."""

from __future__ import annotations

import os

URL_VARIABLE = "BINDU_DATABASE_URL"


def url_from_environment() -> str:
    """The database's URL, which the start command or the person sets.

    Raises:
        SystemExit: when nobody set it.
    """
    url = os.environ.get(URL_VARIABLE)
    if not url:
        raise SystemExit(f"bindu: set {URL_VARIABLE}, or use ./start, which brings a database.")
    return url
