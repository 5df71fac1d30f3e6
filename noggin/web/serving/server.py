"""The server that ships: waitress on one address."""

import errno
import logging
import os
import socket
from typing import Any

import waitress
from flask import Flask

from noggin.services.errors import NogginError
from noggin.web.serving.in_turn import InTurn
from noggin.web.serving.request_log import Logged
from noggin.web.serving.strangers import guarded

THREADS = 8
"""Enough for a browser that asks for a page's files all at once."""


READERS_MOST = 3


def usual_readers() -> int:
    """How many processes beside the server's own this machine has room for; one in any case, so that an
    import can be stopped."""
    return max(1, min(len(os.sched_getaffinity(0)) - 1, READERS_MOST))


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


class PortTaken(NogginError):
    """Another program listens there already."""


def listen(app: Flask, host: str, port: int, readers: int = 0) -> "Server":
    """A server bound to the address, with so many processes beside its own; its `run()` serves. Raises
    PortTaken."""
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
    in_turn = InTurn(app, readers, app.extensions["noggin"].let_go)
    app.extensions["noggin"].memory = in_turn.memory
    log = app.config["REQUEST_LOG"]
    answers = Logged(app, in_turn, log) if log else in_turn
    # From the one proxy before it Noggin takes who asked; from anybody else waitress takes nothing.
    limits = {**LIMITS, "clear_untrusted_proxy_headers": not app.config["BEHIND_PROXY"]}
    inner = waitress.create_server(answers, sockets=[listener], threads=THREADS, **limits)
    if app.extensions["noggin_knows"] is not None:
        inner.channel_class = guarded(app.extensions["noggin_knows"])
    return Server(inner, in_turn)


class Server:
    """A server that is bound to its address."""

    def __init__(self, inner: Any, in_turn: InTurn) -> None:
        self._inner, self.in_turn = inner, in_turn
        self._closed = False

    @property
    def effective_port(self) -> int:
        """The port that it answers at."""
        return int(self._inner.effective_port)

    @property
    def host(self) -> str:
        """The address of this machine that it answers at."""
        return str(self._inner.effective_host)

    def run(self) -> None:
        """Serve until it is stopped from outside."""
        try:
            self._inner.run()
        except OSError:
            # Closed from outside, it may be waiting on sockets that are gone.
            if not self._closed:
                raise
        finally:
            self.in_turn.stop()

    def close(self) -> None:
        """Answer nothing any more."""
        self._closed = True
        self._inner.task_dispatcher.shutdown()  # what is answered now is answered, on sockets still there
        self._inner.close()
        self.in_turn.stop()
