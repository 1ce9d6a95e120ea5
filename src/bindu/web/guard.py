"""Who may speak to Bindu, and what browsers are told: the pages of other sites may do nothing."""

from __future__ import annotations

import os
from urllib.parse import urlsplit

from flask import Response, request
from flask_openapi3 import OpenAPI

from bindu.web.problems import answer
from bindu.web.scene.schemas import Problem

HOSTS_VARIABLE = "BINDU_HOSTS"
LOOPBACK = frozenset({"127.0.0.1", "localhost", "::1"})
CHANGING = frozenset({"POST", "PUT", "PATCH", "DELETE"})
HEADERS = {
    # Styles stand in the page while it runs, scripts never do.
    "Content-Security-Policy": "default-src 'self'; script-src 'self'; "
    "style-src 'self' 'unsafe-inline'; img-src 'self' data: blob:; font-src 'self' data:; "
    "connect-src 'self'; worker-src 'self' blob:; object-src 'none'; base-uri 'none'; "
    "form-action 'self'; frame-ancestors 'none'",
    "X-Content-Type-Options": "nosniff",
    "X-Frame-Options": "DENY",
    "Cross-Origin-Resource-Policy": "same-origin",
    "Cross-Origin-Opener-Policy": "same-origin",
    "Referrer-Policy": "no-referrer",
}


def guard(app: OpenAPI) -> None:
    """Checks every request before anything else, and marks every answer."""
    allowed = LOOPBACK | set(os.environ.get(HOSTS_VARIABLE, "").lower().replace(",", " ").split())

    @app.before_request
    def check() -> Response | None:
        host = _host(request.host)
        if host not in allowed:
            text = f"Bindu does not answer to the name {host[:80]!r}; add it to {HOSTS_VARIABLE}."
            return answer(Problem(error=text), 403)
        if request.method in CHANGING:
            return _refused_sender() or _refused_type()
        return None

    @app.after_request
    def marked(response: Response) -> Response:
        for name, value in HEADERS.items():
            response.headers[name] = value
        return response


def _refused_sender() -> Response | None:
    """The refusal of a request that a page of another site makes."""
    origin = request.headers.get("Origin")
    site = request.headers.get("Sec-Fetch-Site", "same-origin")
    own = f"{request.scheme}://{request.host}".lower()
    if (origin is not None and origin.lower() != own) or site not in ("same-origin", "none"):
        return answer(Problem(error="Only Bindu's own pages may change anything."), 403)
    return None


def _refused_type() -> Response | None:
    """The refusal of a body that is not JSON: a page of another site could send that unasked. The
    bytes of files and pictures are of a type that browsers do not send unasked either."""
    if request.method == "DELETE" and not request.content_length:
        return None
    path = request.path
    file = path.startswith("/api/") and ("/take-in" in path or path.endswith("/picture"))
    if file and request.mimetype == "application/octet-stream":
        return None
    if request.mimetype != "application/json":
        return answer(Problem(error="Send JSON, with Content-Type application/json."), 415)
    return None


def _host(text: str) -> str:
    """The name in a Host header, without its port."""
    try:
        return (urlsplit(f"//{text}").hostname or "").lower()
    except ValueError:
        return ""
