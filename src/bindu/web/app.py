"""The application: the API over a database's scenes, and the built front end."""

from __future__ import annotations

from pathlib import Path

from flask import Request, Response, request, send_from_directory
from flask_openapi3 import Info, OpenAPI
from sqlalchemy import Engine
from werkzeug.exceptions import BadRequest, NotFound

from bindu.formats.scene.scene_json import LARGEST_FILE
from bindu.store.pictures import Pictures
from bindu.store.scenes import Scenes
from bindu.web import problems
from bindu.web.checks.routes import check_routes
from bindu.web.deliver.routes import deliver_routes, onto_routes, receiver_routes, take_in_routes
from bindu.web.desk import Desk
from bindu.web.drivers.routes import driver_routes
from bindu.web.guard import guard
from bindu.web.order.routes import cause_routes, order_routes, what_if_routes
from bindu.web.scene.pictures import picture_routes
from bindu.web.scene.references import reference_routes
from bindu.web.scene.routes import edit_routes, file_routes, number_routes
from bindu.web.scene.schemas import Problem
from bindu.web.scene.shelf import shelf_routes
from bindu.web.surface.routes import surface_routes

FRONT_END = Path(__file__).resolve().parents[3] / "frontend" / "dist"


class JsonRequest(Request):
    """A request whose JSON is parsed where its fields are checked, with one set of rules."""

    def get_json(self, *_: object, **__: object) -> str:
        """The body as text.

        Raises:
            BadRequest: when it is not UTF-8.
        """
        try:
            return self.get_data().decode("utf-8")
        except UnicodeDecodeError as error:
            raise BadRequest(f"It is not UTF-8 text (byte {error.start}).") from None


def create_app(engine: Engine, documented: bool = False) -> OpenAPI:
    """The application on a database; ``documented``: with its OpenAPI document."""
    app = OpenAPI(
        __name__,
        info=Info(title="Bindu", version="0.1.0"),
        doc_ui=False,
        static_folder=None,
        validation_error_callback=problems.invalid,
    )
    app.request_class = JsonRequest
    app.config["MAX_CONTENT_LENGTH"] = LARGEST_FILE
    guard(app)
    problems.register(app)
    desk = Desk(Scenes(engine), Pictures(engine), documented)
    for routes in (
        file_routes,
        shelf_routes,
        picture_routes,
        reference_routes,
        edit_routes,
        number_routes,
        driver_routes,
        order_routes,
        check_routes,
        cause_routes,
        what_if_routes,
        surface_routes,
        deliver_routes,
        onto_routes,
        receiver_routes,
        take_in_routes,
    ):
        app.register_api(routes(desk))
    _serve_front_end(app)
    return app


def _serve_front_end(app: OpenAPI) -> None:
    """The built pages: plain Flask rules, since they are no part of the API."""

    def asset(name: str) -> Response:
        return send_from_directory(FRONT_END / "assets", name, max_age=31_536_000)

    def page(place: str = "") -> Response:
        return send_from_directory(FRONT_END, "index.html", max_age=0)

    @app.errorhandler(NotFound)
    def nowhere(error: NotFound) -> Response:
        """For people Bindu's own page, which says that there is nothing here."""
        if request.path.startswith(("/api/", "/assets/")):
            return problems.answer(Problem(error=error.description or error.name), 404)
        made = page()
        made.status_code = 404
        return made

    app.add_url_rule("/assets/<path:name>", view_func=asset)
    app.add_url_rule("/", view_func=page)
    app.add_url_rule("/scenes/<path:place>", view_func=page)
