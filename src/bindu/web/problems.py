"""Answers to what cannot be done: clear, as JSON, without a traceback."""

from __future__ import annotations

import logging
from typing import Any

from flask import Response, g, request
from flask_openapi3 import OpenAPI
from pydantic import BaseModel, ValidationError
from sqlalchemy.exc import DBAPIError
from sqlalchemy.exc import TimeoutError as NoConnection
from werkzeug.exceptions import HTTPException

from bindu.core.refusal import Refusal
from bindu.store.history import StaleEdit
from bindu.store.scenes import NoSuchScene
from bindu.web.scene.schemas import Problem
from bindu.web.sender import SenderGone

Answers = dict[str | int, type[BaseModel] | dict[Any, Any] | None]
REFUSALS: Answers = {404: Problem, 409: Problem, 422: Problem, 503: Problem}
"""What every route of a scene may answer instead, for the OpenAPI document."""
SILENT = "The database does not answer just now."
NO_ROOM = ((1114,), (1021,))
"""How MariaDB says that its disk is full."""
LOG = logging.getLogger("bindu")


class Unshowable(Exception):
    """A change that leads to a scene which cannot be shown."""


def answer(problem: Problem, status: int) -> Response:
    """A problem as a response."""
    text = problem.model_dump_json(exclude_defaults=True)
    return Response(text, status=status, mimetype="application/json")


def invalid(error: ValidationError) -> Response:
    """A request whose fields do not fit."""
    first = error.errors(include_url=False)[0]
    loc = first["loc"]
    # What is wrong with the address has nothing to do with what is sent to it, which may be a file.
    in_address = error.title.endswith(("Query", "Path"))
    if not request.is_json and request.method == "POST" and not in_address:
        return answer(Problem(error="Send JSON, with Content-Type application/json."), 400)
    place = ".".join(str(step) for step in loc)
    return answer(Problem(error=f"{first['msg']}.", place=place), 422)


def register(app: OpenAPI) -> None:
    """Sets the answers up."""
    _answer_refusals(app)
    _answer_requests(app)
    _answer_trouble(app)


def _answer_refusals(app: OpenAPI) -> None:
    """What the rules of scenes refuse."""

    @app.errorhandler(Refusal)
    def refused(error: Refusal) -> Response:
        problem = Problem(
            error=error.message,
            place=error.place,
            column=error.column,
            nearest=list(error.nearest),
            code=error.code,
        )
        return answer(problem, 422)

    @app.errorhandler(StaleEdit)
    def stale(error: StaleEdit) -> Response:
        text = "Somebody changed the same thing meanwhile; look at it and try again."
        if request.path.endswith(("/undo", "/redo")):
            text = "That would be somebody else's edit, which you have not seen; look at it first."
        return answer(
            Problem(error=text, code="stale", revision=error.revision, changed=error.labels), 409
        )

    @app.errorhandler(NoSuchScene)
    def missing(error: NoSuchScene) -> Response:
        return answer(Problem(error=f"There is no scene {error.args[0]}."), 404)

    @app.errorhandler(Unshowable)
    def unshowable(error: Unshowable) -> Response:
        LOG.error("%s %s: cannot be shown", request.method, request.path, exc_info=error.__cause__)
        text = "After this the scene could not be shown any more; nothing of it was saved."
        return answer(Problem(error=text), 422)


def _answer_requests(app: OpenAPI) -> None:
    """What is wrong with a request itself."""

    @app.errorhandler(SenderGone)
    def gone(error: SenderGone) -> Response:
        return answer(Problem(error="Nobody waits for this any more."), 499)

    @app.errorhandler(ConnectionError)
    def cut_off(error: ConnectionError) -> Response:
        return answer(Problem(error="The request came too slowly, or not whole."), 408)

    @app.errorhandler(RecursionError)
    def too_deep(error: RecursionError) -> Response:
        return answer(Problem(error="The request is nested too deep."), 400)

    @app.errorhandler(HTTPException)
    def refused_by_protocol(error: HTTPException) -> Response:
        return answer(Problem(error=error.description or error.name), error.code or 500)


def _answer_trouble(app: OpenAPI) -> None:
    """What fails although nobody did anything wrong."""

    @app.errorhandler(DBAPIError)
    @app.errorhandler(NoConnection)
    def without_database(error: Exception) -> Response:
        reason = getattr(error, "orig", error)
        LOG.warning("the database does not answer: %s", reason)
        full = isinstance(reason, Exception) and reason.args[:1] in NO_ROOM
        text = "The database has no room left on its disk." if full else SILENT
        if request.method != "GET":
            text += " Nothing of this request was saved; try again soon."
        return answer(Problem(error=_said(text)), 503)

    @app.errorhandler(Exception)
    def unexpected(error: Exception) -> Response:
        LOG.exception("%s %s failed", request.method, request.path, exc_info=error)
        text = "Something went wrong in Bindu itself; nothing of this request was saved."
        return answer(Problem(error=_said(text)), 500)


def _said(text: str) -> str:
    """The text, unless the request has been saved all the same."""
    if not g.get("saved"):
        return text
    return "It was saved, but its answer could not be made; load the page again."
