"""A worker that slow senders cannot hold: what comes in has time limits."""

from __future__ import annotations

import errno
import socket
import time
from typing import Any

from gunicorn.workers.gthread import ThreadWorker

PAUSE = 10.0
"""Seconds within which the next bytes of a request must come."""
WHOLE = 60.0
"""Seconds within which the whole request must have come."""
SENDING = 60.0
"""Seconds within which the other side must take bytes of an answer."""


class BoundedSocket:
    """A socket whose reads end when the request takes too long."""

    def __init__(self, inner: socket.socket) -> None:
        self._inner = inner
        self._until = 0.0

    def begin(self) -> None:
        """A new request begins."""
        self._until = time.monotonic() + WHOLE

    def recv(self, size: int, flags: int = 0) -> bytes:
        """As of a socket.

        Raises:
            ConnectionResetError: when nothing came in time; the connection is then of no use.
        """
        left = self._until - time.monotonic()
        try:
            if left <= 0.0:
                raise TimeoutError
            self._inner.settimeout(min(left, PAUSE))
            return self._inner.recv(size, flags)
        except TimeoutError:
            raise ConnectionResetError(errno.ECONNRESET, "the request came too slowly") from None
        finally:
            if self._inner.fileno() >= 0:
                self._inner.settimeout(SENDING)

    def __getattr__(self, name: str) -> Any:
        return getattr(self._inner, name)


class BoundedWorker(ThreadWorker):  # type: ignore[misc]
    """See the module."""

    def handle(self, conn: Any) -> Any:
        """One request of a connection, on a thread of the pool."""
        if not isinstance(conn.sock, BoundedSocket):
            conn.sock = BoundedSocket(conn.sock)
        conn.sock.begin()
        return super().handle(conn)
