"""The server that ships: waitress on one address."""

import errno
import socket
from typing import Any

import waitress
from flask import Flask

from noggin.services.errors import NogginError

THREADS = 8
"""Enough for a browser that asks for a page's files all at once."""


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
    return waitress.create_server(app, sockets=[listener], threads=THREADS)
