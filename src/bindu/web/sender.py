"""Whether whoever sent a request still waits for its answer."""

from __future__ import annotations

import select
import socket
import time

from flask import has_request_context, request

from bindu.core.evaluation.work import Watch

EVERY = 0.25
"""Seconds between two looks."""


class SenderGone(Exception):
    """The sender of a request has gone; nobody waits for what it asked for."""


def watch_sender() -> Watch | None:
    """What ends something long when the sender of the present request has gone; None where that
    cannot be known.

    Raises:
        SenderGone: in that work, once the sender has gone.
    """
    inner = request.environ.get("gunicorn.socket") if has_request_context() else None
    if inner is None:
        return None
    next_look = time.monotonic() + EVERY

    def watch() -> None:
        nonlocal next_look
        if time.monotonic() < next_look:
            return
        next_look = time.monotonic() + EVERY
        if _closed(inner):
            raise SenderGone

    return watch


def _closed(inner: socket.socket) -> bool:
    """Whether the other side has closed; asked without waiting, whatever time limits it has."""
    poll = select.poll()
    poll.register(inner.fileno(), select.POLLRDHUP)
    return bool(poll.poll(0))
