"""The server that ships: waitress on one address."""

import errno
import logging
import socket
from collections.abc import Iterable, Iterator
from contextlib import contextmanager
from threading import Lock
from typing import Any

import waitress
from flask import Flask

from noggin.services.errors import NogginError

THREADS = 8
"""Enough for a browser that asks for a page's files all at once."""


LIMITS: dict[str, Any] = {
    "channel_timeout": 60,
    "cleanup_interval": 10,
    "connection_limit": 400,
    "backlog": 256,
    "max_request_header_size": 64 * 1024,
    "max_request_body_size": 80 * 1024 * 1024,
}
"""A request that is sent slowly or only by half keeps no thread, and its connection is closed after a
minute; bodies have their own limit page by page, this one holds before a page is known."""


class InTurn:
    """Requests answered one after another, however many come at once: Python works on one at a time anyhow,
    and passing the work back and forth between threads costs more than a third of it. Who waits for
    something else, such as another process, lets the next one in meanwhile with `aside`."""

    def __init__(self, app: Flask) -> None:
        self._app, self._turn = app.wsgi_app, Lock()
        app.extensions["noggin_turn"] = self

    def __call__(self, environ: dict[str, Any], start_response: Any) -> Iterable[bytes]:
        with self._turn:
            # A page is made by then; files are handed over by the server, which needs no turn for that.
            return self._app(environ, start_response)

    @contextmanager
    def aside(self) -> Iterator[None]:
        """Within a request: let others in."""
        self._turn.release()
        try:
            yield
        finally:
            self._turn.acquire()


class PortTaken(NogginError):
    """Another program listens there already."""


def listen(app: Flask, host: str, port: int) -> Any:
    """A server bound to the address; its `run()` serves. Raises PortTaken."""
    # Bound here and not by waitress, which leaves its sockets open when the port is taken.
    family, kind, *_, address = socket.getaddrinfo(host, port, type=socket.SOCK_STREAM)[0]
    listener = socket.socket(family, kind)
    try:
        listener.setsockopt(socket.SOL_SOCKET, socket.SO_REUSEADDR, 1)
        listener.bind(address)
    except OSError as error:
        listener.close()
        if error.errno != errno.EADDRINUSE:
            raise
        problem = f"Port {port} is in use. Choose another: make demo PORT={port + 1}"
        raise PortTaken(problem) from None
    # It is no news that requests wait for each other for a moment.
    logging.getLogger("waitress.queue").setLevel(logging.ERROR)
    app.wsgi_app = InTurn(app)  # type: ignore[method-assign]
    return waitress.create_server(app, sockets=[listener], threads=THREADS, **LIMITS)
